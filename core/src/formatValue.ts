import type { SignalKind } from './signal.ts'

/**
 * Writes a signal's value for the eye: three to five figures, the same number of decimals as long as the magnitude stays,
 * so that a live number does not dance.
 */
export function formatValue(value: number, kind: SignalKind): string {
  if (kind === 'switch') return value === 0 ? 'off' : 'on'
  const magnitude = Math.abs(value)
  const decimals = magnitude >= 100 && Number.isInteger(value) ? 0 : magnitude >= 1000 ? 0 : magnitude >= 10 ? 1 : 2
  if (magnitude >= 1e7 || (magnitude > 0 && magnitude < 0.005)) return value.toExponential(2)
  const [whole = '', fraction] = value.toFixed(decimals).split('.')
  // Thousands are set apart by a thin space (ISO 80000-1), which is right in every country.
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, '\u202f')
  return fraction === undefined ? grouped : `${grouped}.${fraction}`
}
