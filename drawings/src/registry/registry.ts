import type { Importance } from '@jaunty-sparrow/core/layout'
import type { Instrument } from '../instrument/index.ts'
import { instruments } from './instruments.ts'

const byKind = new Map(instruments.map((instrument) => [instrument.kind, instrument]))

/** An instrument by what dashboards call it; undefined where this program has none such. */
export const instrumentOf = (kind: string): Instrument | undefined => byKind.get(kind)

/** The settings of an instrument as one JSON Schema. */
export const settingsSchema = ({ settings }: Instrument): object => ({
  type: 'object',
  properties: settings,
  additionalProperties: false,
})

/** What a dashboard says of settings, with what is usual where it says nothing. */
export const settingsOf = (
  { settings }: Instrument,
  stated: Readonly<Record<string, unknown>> = {},
): Record<string, unknown> => ({
  ...Object.fromEntries(Object.entries(settings).map(([name, { default: usual }]) => [name, usual])),
  ...stated,
})

/** Which instrument fits a signal best, and how important it is. */
export function proposed(signal: Parameters<Instrument['fit']>[0]): {
  readonly kind: string
  readonly importance: Importance
} {
  const [first, ...others] = instruments.filter(({ takes }) => takes.kinds.includes(signal.kind))
  if (!first) throw new Error(`there is no instrument for a signal of the kind "${signal.kind}"`)
  const best = others.reduce((best, each) => (each.fit(signal) > best.fit(signal) ? each : best), first)
  return { kind: best.kind, importance: best.importance }
}
