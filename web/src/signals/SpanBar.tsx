import { useNavigate } from 'react-router'
import { problemText } from '../api/problemText.ts'
import { Notice } from '../design/Notice.tsx'
import { dateFormat } from '../language/dateFormat.ts'
import { serverNow } from '../time/clock.ts'
import { AnySpan } from './AnySpan.tsx'
import { SpanButton } from './SpanButton.tsx'
import { useLazyFirstReadingQuery } from './signalsApi.ts'
import { type SpanName, type Stretch, spans, type View } from './view.ts'

interface SpanBarProps {
  readonly view: View
  readonly shown: Stretch
  readonly show: (view: View) => void
  readonly signals: readonly number[]
  readonly timeZone: string
  /** Whether no more than a day can be looked back on. */
  readonly isLimited?: boolean
}

/** What the charts below show, and the ways to something else. */
export function SpanBar({ view, shown, show, signals, timeZone, isLimited = false }: SpanBarProps) {
  const navigate = useNavigate()
  const [findFirst, { error }] = useLazyFirstReadingQuery()
  const showAll = async () => {
    const first = await findFirst(signals)
      .unwrap()
      .catch(() => null)
    if (first !== null) show({ from: first, to: Math.max(first + 60_000, Math.round(serverNow())) })
  }
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 pb-2 text-sm text-ink-soft">
      <nav aria-label="What the charts show" className="flex flex-wrap gap-1">
        {(isLimited ? (['hour', 'day'] as const) : (Object.keys(spans) as SpanName[])).map((span) => (
          <SpanButton
            key={span}
            isChosen={'span' in view && view.span === span}
            onClick={() => show({ span })}
          >
            {spans[span].name}
          </SpanButton>
        ))}
        {!isLimited && (
          <>
            <SpanButton isChosen={false} onClick={() => void showAll()}>
              All
            </SpanButton>
            <AnySpan
              shown={shown}
              show={show}
              timeZone={timeZone}
              className="min-h-8 rounded px-2 hover:bg-well hover:text-ink"
            />
          </>
        )}
        {!('span' in view) && (
          <button
            type="button"
            className="min-h-8 rounded px-2 font-semibold text-chestnut hover:bg-well"
            onClick={() => void navigate(-1)}
          >
            Back
          </button>
        )}
      </nav>
      <span className="ml-auto">
        {'span' in view
          ? `up to now, ${timeZone.replaceAll('_', ' ')} time`
          : `${describe(shown, timeZone)}, not live`}
      </span>
      {error !== undefined && <Notice tone="trouble" title={problemText(error)} />}
    </div>
  )
}

function describe({ from, to }: Stretch, timeZone: string): string {
  const isShort = to - from < 60 * 60_000
  return dateFormat({
    timeZone,
    dateStyle: 'medium',
    timeStyle: isShort ? 'medium' : 'short',
  }).formatRange(from, to)
}
