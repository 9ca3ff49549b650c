import type { Signal, Trace } from '@jaunty-sparrow/contract'
import { gapOf, signalTitle, storedEvery } from '@jaunty-sparrow/core/signal'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import type { TrialRow } from '@jaunty-sparrow/drawings/trial'
import { extent } from 'd3-array'
import type { AlarmDraft } from './newAlarm.ts'

/** Limits lie within the picture, with some room to drag them, as part of what is seen. */
const room = 0.12

/** Where an alarm returns: the limit, and back by the deadband. */
export function returnsAt({ alarm: { occasion }, limits }: AlarmDraft): number | null {
  if (occasion.by !== 'limit' || !limits) return null
  const limit = limits[occasion.limit]
  if (limit === null) return null
  return isUpper(occasion.limit) ? limit - limits.deadband : limit + limits.deadband
}

const isUpper = (limit: string): boolean => limit === 'high' || limit === 'highHigh'

/** What a signal said, with the limit it is held against, and where it is back. */
export function alarmRow(draft: AlarmDraft, signal: Signal, trace: Trace | undefined): TrialRow {
  const { alarm, limits } = draft
  const { occasion } = alarm
  const isSwitch = signal.kind !== 'number'
  const points = trace ? [trace.before, ...trace.points, trace.after].filter((point) => point !== null) : []
  const limit = occasion.by === 'limit' ? (limits?.[occasion.limit] ?? null) : null
  const back = returnsAt(draft)
  const side = occasion.by === 'limit' && isUpper(occasion.limit) ? ('above' as const) : ('below' as const)
  const bounds =
    limit === null || back === null
      ? []
      : [
          { id: 'limit', value: limit, side, isLimit: true },
          {
            id: 'back',
            value: back,
            side: side === 'above' ? ('below' as const) : ('above' as const),
          },
        ]
  const [low = 0, high = 1] = extent([
    ...points.map(([, value]) => value),
    ...bounds.map(({ value }) => value),
  ])
  const around = (high - low || Math.abs(high) || 1) * room
  return {
    name:
      signal.unit && !isSwitch ? `${signalTitle(signal)}, ${unitSymbol(signal.unit)}` : signalTitle(signal),
    points,
    isSwitch,
    gap: Math.max(gapOf(storedEvery(signal, null)), trace?.width ?? 0),
    low: isSwitch ? 0 : low - around,
    high: isSwitch ? Math.max(1, high) : high + around,
    bounds,
  }
}
