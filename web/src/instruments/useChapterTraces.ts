import type { Trace } from '@jaunty-sparrow/contract'
import type { SpanName } from '@jaunty-sparrow/drawings/instrument'
import { useTraces } from '../signals/useTraces.ts'
import { type Stretch, spans } from '../signals/view.ts'

/** As finely as the widest drawing shows it. */
const columns = 240
/** A picture in the size of a word is made anew so seldom, ms. */
const beat = 15_000

/** What instruments of a chapter draw over time, and over which stretch. */
export type TracesOf = Readonly<
  Record<
    SpanName,
    { readonly traces: readonly Trace[] | undefined; readonly stretch: Stretch; readonly hidden: number }
  >
>

/**
 * The courses that the instruments of a chapter need, one question for each span.
 * @param moment where the courses end, epoch ms; undefined for now
 */
export function useChapterTraces(
  wanted: Readonly<Record<SpanName, readonly number[]>>,
  moment: number | undefined,
): TracesOf {
  const hour = useSpan('hour', wanted.hour, moment)
  const day = useSpan('day', wanted.day, moment)
  const week = useSpan('week', wanted.week, moment)
  const month = useSpan('month', wanted.month, moment)
  return { hour, day, week, month }
}

function useSpan(span: SpanName, signals: readonly number[], moment: number | undefined) {
  const { length } = spans[span]
  const view = moment === undefined ? ({ span } as const) : { from: moment - length, to: moment }
  const { traces, shown } = useTraces(signals, columns, view, span === 'hour' ? beat : undefined)
  return {
    traces,
    stretch: moment === undefined ? shown : { from: moment - length, to: moment },
    // What a pixel column hides is no silence.
    hidden: (2 * length) / columns,
  }
}
