import type { KeptDashboard } from '@jaunty-sparrow/contract'
import { instrumentOf, instruments, settingsSchema } from '@jaunty-sparrow/drawings/registry'
import { Ajv } from 'ajv'
import { uniq } from 'lodash-es'
import { ProblemError } from '../http/problemResponse.ts'

const ajv = new Ajv({ strict: false })
const checks = new Map(
  instruments.map((instrument) => [instrument.kind, ajv.compile(settingsSchema(instrument))]),
)

/**
 * Looks whether what a dashboard shows can be drawn.
 * @throws ProblemError that says where it cannot
 */
export function checkDashboard({ chapters }: KeptDashboard['shows']): void {
  const all = chapters.flatMap(({ instruments: there }) => there ?? [])
  for (const ids of [chapters.map(({ id }) => id), all.map(({ id }) => id)])
    if (uniq(ids).length < ids.length)
      throw new ProblemError('invalid', 'Two things on this dashboard have the same id; each needs its own.')
  for (const { repeat, instruments: there } of chapters)
    if (repeat === null && there === null)
      throw new ProblemError('invalid', 'A chapter that does not repeat has to say which instruments it has.')
  for (const { id, kind, settings } of all) {
    if (!instrumentOf(kind))
      throw new ProblemError(
        'invalid',
        `The instrument "${id}" is of the kind "${kind}", which there is not.`,
      )
    for (const [of, stated] of Object.entries(settings)) {
      const check = checks.get(of)
      if (check && !check(stated)) {
        const [error] = check.errors ?? []
        const where = error?.instancePath.slice(1) || String(error?.params.additionalProperty ?? '')
        throw new ProblemError(
          'invalid',
          `The setting "${where}" of the instrument "${id}" cannot be taken: it ${error?.message ?? 'is not valid'}.`,
        )
      }
    }
  }
}
