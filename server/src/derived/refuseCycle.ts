import { findCycle } from '@jaunty-sparrow/core/derived'
import { eq, inArray } from 'drizzle-orm'
import { ProblemError } from '../http/problemResponse.ts'
import type { Database } from '../store/database.ts'
import { derivedInput, device, rule, ruleInput, signal, signalDefinition } from '../store/schema.ts'

/**
 * Refuses what would lead back to itself: signals that follow from each other, or that rules ask by what they say.
 * @throws ProblemError with the way
 */
export async function refuseCycle(tx: Pick<Database, 'select'>): Promise<void> {
  const edges = [
    ...(await tx.select().from(derivedInput)),
    ...(await tx
      .select({ signalId: rule.signalId, inputId: ruleInput.signalId })
      .from(ruleInput)
      .innerJoin(rule, eq(rule.id, ruleInput.ruleId))),
  ]
  const next = new Map<number, number[]>()
  for (const { signalId, inputId } of edges) {
    const known = next.get(signalId)
    if (known) known.push(inputId)
    else next.set(signalId, [inputId])
  }
  const cycle = findCycle(next)
  if (!cycle) return
  const names = await tx
    .select({ id: signal.id, name: signalDefinition.name, part: signal.part, device: device.name })
    .from(signal)
    .innerJoin(signalDefinition, eq(signalDefinition.id, signal.definitionId))
    .innerJoin(device, eq(device.id, signal.deviceId))
    .where(inArray(signal.id, cycle))
  const byId = new Map(names.map((row) => [row.id, row]))
  const way = cycle.map((id) => {
    const { name = '', part = '', device: of = '' } = byId.get(id) ?? {}
    return `"${name}${part === '' ? '' : ` ${part}`}" of ${of}`
  })
  throw new ProblemError('conflict', `It would follow from itself: ${way.join(' from ')}.`)
}
