import type { Trace } from '@jaunty-sparrow/contract'
import { type SpanName, spanNames } from '@jaunty-sparrow/drawings/instrument'
import { useMemo } from 'react'
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
 * The courses that the instruments of a chapter need, one question for each span; one for all, where the page has a span.
 * @param moment where the courses end, epoch ms; undefined for now
 * @param length of the span of the page, ms; undefined where each instrument has its own
 */
export function useChapterTraces(
  wanted: Readonly<Record<SpanName, readonly number[]>>,
  moment: number | undefined,
  length: number | undefined,
): TracesOf {
  const own = length === undefined ? wanted : nothing
  const hour = useSpan('hour', own.hour, moment)
  const day = useSpan('day', own.day, moment)
  const week = useSpan('week', own.week, moment)
  const month = useSpan('month', own.month, moment)
  const all = useMemo(
    () => (length === undefined ? [] : [...new Set(spanNames.flatMap((name) => wanted[name]))]),
    [wanted, length],
  )
  const named = spanNames.find((name) => spans[name].length === length) ?? 'hour'
  const ofPage = useSpan(named, all, moment, length)
  return length === undefined
    ? { hour, day, week, month }
    : { hour: ofPage, day: ofPage, week: ofPage, month: ofPage }
}

const nothing: Readonly<Record<SpanName, readonly number[]>> = { hour: [], day: [], week: [], month: [] }

function useSpan(
  span: SpanName,
  signals: readonly number[],
  moment: number | undefined,
  length: number = spans[span].length,
) {
  const view = moment === undefined ? ({ span } as const) : { from: moment - length, to: moment }
  const { traces, shown } = useTraces(signals, columns, view, span === 'hour' ? beat : undefined)
  return {
    traces,
    stretch: moment === undefined ? shown : { from: moment - length, to: moment },
    // What a pixel column hides is no silence.
    hidden: (2 * length) / columns,
  }
}
