import type { Refusal } from '../interpret/interpret.ts'
import { fieldLabel } from '../message/field.ts'

/**
 * Says by line of a file what was refused of one of its pieces.
 * @param lines the line in the file of each record of the piece; a piece of one record names no record
 */
export function rowRefusals(
  refused: readonly Refusal[],
  lines: readonly number[],
): { line: number; reason: string }[] {
  const isBacklog = lines.length > 1
  return refused.map(({ field, reason }) => {
    const [, first = '', ...rest] = field.split('/')
    const called = fieldLabel(`/${(isBacklog ? rest : [first, ...rest]).join('/')}`)
    return { line: lines[isBacklog ? Number(first) : 0] ?? 0, reason: `${called}: ${reason}` }
  })
}
