import { pointerSegments } from '../message/field.ts'
import type { SignalDefinition } from '../signal/signal.ts'

/** What a board tells of itself, and not of what it measures. */
export const vitals = ['signal strength', 'battery', 'firmware'] as const
export type Vital = (typeof vitals)[number]

const named: readonly (readonly [vital: Vital, name: RegExp, unit: RegExp])[] = [
  [
    'signal strength',
    /^(rssi|lqi|snr|wi_?fi_?(signal|strength)|signal_?strength)(_?db_?m?)?$/,
    /^(dB.*|B\[mW\]|%|)$/,
  ],
  ['battery', /^(v_?)?bat(t|tery)?(_?(v|volt(s|age)?|level|charge|pct|percent|soc))?$/, /^(m?V|%|)$/],
  ['firmware', /^(fw|firmware|sketch)(_?(version|ver|rev))?$|^version$/, /^$/],
]

/** Which of a board's own affairs a signal tells, by the name of its field and its unit; undefined where it measures something. */
export function vitalOf({
  field,
  unit,
  origin,
}: Pick<SignalDefinition, 'field' | 'unit' | 'origin'>): Vital | undefined {
  if (origin !== 'measured') return undefined
  const last = (pointerSegments(field).at(-1) ?? '').replace(/([a-z])([A-Z])/g, '$1_$2').toLowerCase()
  return named.find(([, name, unitOf]) => name.test(last) && unitOf.test(unit ?? ''))?.[0]
}
