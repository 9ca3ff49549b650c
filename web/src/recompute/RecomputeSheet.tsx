import type { ResponseOf, routes, Signal } from '@jaunty-sparrow/contract'
import { signalTitle } from '@jaunty-sparrow/core/signal'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import { tracePath } from '@jaunty-sparrow/drawings/chart'
import { extent } from 'd3-array'
import { useState } from 'react'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { counted } from '../design/counted.ts'
import { ChoiceField } from '../design/Field.tsx'
import { Notice } from '../design/Notice.tsx'
import { Sheet } from '../design/Sheet.tsx'
import { Skeleton } from '../design/Skeleton.tsx'
import { dateFormat } from '../language/dateFormat.ts'
import { serverNow } from '../time/clock.ts'
import {
  useRecomputationPreviewQuery,
  useRecomputationsQuery,
  useRecomputeMutation,
  useUndoRecomputationMutation,
} from './recomputeApi.ts'

const day = 86_400_000
const spans = {
  day: ['The last day', day],
  week: ['The last seven days', 7 * day],
  month: ['The last 30 days', 30 * day],
  all: ['From the start', undefined],
} as const
type Span = keyof typeof spans
/** Nobody's records are older. */
const longAgo = Date.UTC(1900, 0)
const moment = dateFormat({ dateStyle: 'medium', timeStyle: 'short' })

/** Makes the past of a signal anew by the formula that holds now: shown before, put back after. */
export function RecomputeSheet({ signal, onClose }: { signal: Signal; onClose: () => void }) {
  const [span, setSpan] = useState<Span>('month')
  // Held from when it was opened: what comes in meanwhile is made by the new formula already.
  const [to] = useState(() => Math.ceil(serverNow()))
  const length = spans[span][1]
  const asked = { signalId: signal.id, from: length === undefined ? longAgo : to - length, to }
  const { data: preview, error } = useRecomputationPreviewQuery(asked)
  const [recompute, made] = useRecomputeMutation()
  const isWorth = preview?.points.some(([, before, after]) => before !== after) ?? false
  return (
    <Sheet open title={`Make the past of ${signalTitle(signal)} anew`} onClose={onClose} wide>
      <div className="grid grid-cols-[minmax(0,1fr)] gap-4">
        <p className="text-sm text-ink-soft">
          What was sent is kept beside every converted value, so the past can be made right by the formula
          that holds now: <code className="font-mono text-ink">{signal.conversion ?? 'x'}</code>
        </p>
        <ChoiceField label="Span" value={span} onChange={({ target }) => setSpan(target.value as Span)}>
          {Object.entries(spans).map(([key, [label]]) => (
            <option key={key} value={key}>
              {label}
            </option>
          ))}
        </ChoiceField>
        {error ? <Notice tone="trouble" title={problemText(error)} /> : null}
        {!preview && !error && <Skeleton className="h-40" />}
        {preview && <Preview preview={preview} signal={signal} />}
        {made.error ? <Notice tone="trouble" title={problemText(made.error)} /> : null}
        {made.data && (
          <Notice
            tone="info"
            title={
              made.data.isDone
                ? `${counted(made.data.changed, 'reading')} changed.`
                : 'It is being done; it goes on when you leave.'
            }
          />
        )}
        <Button
          weight="strong"
          className="justify-self-start"
          disabled={!isWorth || made.isLoading || made.data !== undefined}
          onClick={() => void recompute(asked)}
        >
          {made.isLoading ? 'Making it anew …' : 'Make it anew'}
        </Button>
        <Done signal={signal} />
      </div>
    </Sheet>
  )
}

const width = 640
const height = 140

type PreviewData = ResponseOf<typeof routes.previewRecomputation>

/** The values as they are, dotted, and as they would be. */
function Preview({ preview: { readings, points }, signal }: { preview: PreviewData; signal: Signal }) {
  const changing = points.filter(([, before, after]) => before !== after).length
  if (readings === 0)
    return <p className="text-sm text-ink-soft">Of nothing in this span it is kept what was sent.</p>
  const [from = 0, to = 1] = extent(points, ([at]) => at)
  const [low = 0, high = 1] = extent(points.flatMap(([, before, after]) => [before, after]))
  const x = (at: number) => ((at - from) / (to - from || 1)) * width
  const y = (value: number) => height - 18 - ((value - low) / (high - low || 1)) * (height - 36)
  const path = (which: 1 | 2) =>
    tracePath(
      points.map((point) => [point[0], point[which]]),
      x,
      y,
      Infinity,
      false,
    )
  const unit = signal.unit ? unitSymbol(signal.unit) : ''
  const [first] = points
  return (
    <div className="grid gap-1">
      <svg
        viewBox={`0 0 ${width} ${height}`}
        className="w-full"
        role="img"
        aria-label="Values as they are and as they would be"
      >
        <path d={path(1)} fill="none" stroke="var(--ink-soft)" strokeWidth="1.25" strokeDasharray="2 3" />
        <path d={path(2)} fill="none" stroke="var(--ink)" strokeWidth="1.5" />
        <text x={0} y={12} className="fill-(--ink-soft) text-[12px]">
          {low.toPrecision(4)} to {high.toPrecision(4)} {unit}
        </text>
        <text x={0} y={height - 3} className="fill-(--ink-soft) text-[12px]">
          {moment.format(from)}
        </text>
        <text x={width} y={height - 3} textAnchor="end" className="fill-(--ink-soft) text-[12px]">
          {moment.format(to)}
        </text>
      </svg>
      <p className="text-sm">
        {changing === 0
          ? `Nothing would change in ${counted(readings, 'reading')}: this formula made them.`
          : `${counted(readings, 'reading')}; dotted as they are, the line as they would be. The first goes from ${Number(first?.[1].toPrecision(6))} to ${Number(first?.[2].toPrecision(6))} ${unit}.`}
      </p>
    </div>
  )
}

/** What was made anew before, each to be put back. */
function Done({ signal }: { signal: Signal }) {
  const { data: done = [] } = useRecomputationsQuery(signal.id)
  const [undo, { error, isLoading }] = useUndoRecomputationMutation()
  if (done.length === 0) return null
  return (
    <section className="grid gap-2 border-t border-rule pt-3 text-sm">
      <h3 className="font-semibold">Made anew before</h3>
      {error ? <Notice tone="trouble" title={problemText(error)} /> : null}
      <ul className="divide-y divide-rule">
        {done.map(({ id, createdAt, person, changed, conversion, undoneAt, isDone }) => (
          <li key={id} className="flex flex-wrap items-center gap-x-4 py-1.5">
            <span className="min-w-0 flex-1">
              {moment.format(createdAt)}
              {person && ` by ${person}`}: {counted(changed, 'reading')} by{' '}
              <code className="font-mono break-words">{conversion ?? 'x'}</code>
            </span>
            {undoneAt === null ? (
              <Button
                weight="quiet"
                disabled={isLoading || !isDone}
                onClick={() => void undo({ signalId: signal.id, recomputationId: id })}
              >
                Put back
              </Button>
            ) : (
              <span className="text-ink-soft">put back</span>
            )}
          </li>
        ))}
      </ul>
    </section>
  )
}
