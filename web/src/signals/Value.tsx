import type { Signal } from '@jaunty-sparrow/contract'
import { formatValue, unitSymbol } from '@jaunty-sparrow/core'

interface ValueProps {
  readonly signal: Signal
  /** How many decimals the signal uses; without it, those of this one value. */
  readonly decimals?: number | undefined
  readonly size?: 'row' | 'hero'
}

/** A signal's latest value with its unit; a value beyond the sensor's range says so in a word. */
export function Value({ signal, decimals, size = 'row' }: ValueProps) {
  const { latest, kind, unit } = signal
  const number = size === 'hero' ? 'text-4xl tracking-tight' : 'text-lg'
  if (!latest) return <span className="text-ink-soft">no value yet</span>
  return (
    <span className="inline-flex items-baseline gap-1 whitespace-nowrap">
      <span className={`${number} font-semibold`} data-testid={`value-${signal.field}`}>
        {formatValue(latest.value, kind, decimals)}
      </span>
      {unit && (
        <span className={`${size === 'hero' ? 'text-lg' : 'text-sm'} text-ink-soft`}>{unitSymbol(unit)}</span>
      )}
      {latest.quality === 1 && (
        <span className="ml-1 self-center rounded-sm border border-late px-1 text-xs font-semibold text-late">
          beyond range
        </span>
      )}
    </span>
  )
}
