import type { SignalDefinition } from './signal.ts'
import { isPosition, type SignalValue } from './value.ts'

/** As many decimals as tell something at this magnitude: tenths, and hundredths below ten. */
const decimalsAt = (magnitude: number): number => (magnitude >= 10 ? 1 : 2)

/**
 * Finds how finely a signal is resolved: the decimals its values really use. A stirrer at 0 or 62 % needs none, and a
 * live number keeps its decimals even when the last one happens to be zero.
 */
export function resolutionOf(values: Iterable<number>): number {
  let decimals = 0
  for (const value of values) {
    const most = decimalsAt(Math.abs(value))
    while (decimals < most && Math.abs(value * 10 ** decimals - Math.round(value * 10 ** decimals)) > 1e-6)
      decimals++
    if (decimals === 2) break
  }
  return decimals
}

/**
 * Writes a signal's value for the eye.
 * @param decimals how finely the signal is resolved, see `resolutionOf`; what the value itself needs where it is left out
 */
export function formatValue(
  value: SignalValue,
  { kind, choices }: Pick<SignalDefinition, 'kind' | 'choices'>,
  decimals?: number | null,
): string {
  if (typeof value === 'string') return value
  if (isPosition(value)) return formatPosition(value)
  if (kind === 'switch') return value === 0 ? 'off' : 'on'
  // What was stored under a state that is no more is told by its code.
  if (kind === 'choice') return choices.find(({ code }) => code === value)?.name ?? `state ${value}`
  return formatNumber(value, decimals ?? resolutionOf([value]))
}

/** Five decimals of a degree are a metre. */
const formatPosition = ({ lat, lon }: { readonly lat: number; readonly lon: number }): string =>
  `${Math.abs(lat).toFixed(5)}°\u00a0${lat < 0 ? 'S' : 'N'} ${Math.abs(lon).toFixed(5)}°\u00a0${lon < 0 ? 'W' : 'E'}`

function formatNumber(value: number, decimals: number): string {
  const magnitude = Math.abs(value)
  if (magnitude >= 1e7 || (magnitude > 0 && magnitude < 0.005)) return value.toExponential(2)
  const [whole = '', fraction] = value.toFixed(Math.min(decimals, decimalsAt(magnitude))).split('.')
  // Thousands are set apart by a thin space (ISO 80000-1), which is right in every country.
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, '\u202f')
  return fraction === undefined ? grouped : `${grouped}.${fraction}`
}
