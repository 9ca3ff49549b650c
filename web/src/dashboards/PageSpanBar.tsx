import { lazy, Suspense, useState } from 'react'
import { SpanButton } from '../signals/SpanButton.tsx'
import { type SpanName, spans } from '../signals/view.ts'
import { serverNow } from '../time/clock.ts'
import { useMoment } from '../time/moment.ts'
import { lengthOf, usePageSpan } from './usePageSpan.ts'

/** Seldom opened, and heavier than all the rest of the bar. */
const AnySpan = lazy(async () => ({ default: (await import('../signals/AnySpan.tsx')).AnySpan }))

/** Over which span all courses of a page are shown: each its own, one up to its moment, or from when to when. */
export function PageSpanBar({ timeZone }: { readonly timeZone: string }) {
  const { span, choose } = usePageSpan()
  const { at } = useMoment()
  const to = at ?? Math.round(serverNow())
  const [isAskedFor, setAskedFor] = useState(false)
  const look = `min-h-8 rounded px-2 hover:bg-well hover:text-ink ${typeof span === 'number' ? 'font-semibold text-ink underline decoration-chestnut decoration-2 underline-offset-6' : ''}`
  const button = (
    <button type="button" className={look} aria-haspopup="dialog" onClick={() => setAskedFor(true)}>
      From … to …
    </button>
  )
  return (
    <nav aria-label="What the courses show" className="-ml-2 flex flex-wrap gap-1 text-sm text-ink-soft">
      <SpanButton isChosen={span === undefined} onClick={() => choose(undefined)}>
        Each its own span
      </SpanButton>
      {(Object.keys(spans) as SpanName[]).map((name) => (
        <SpanButton key={name} isChosen={span === name} onClick={() => choose(name)}>
          {spans[name].name}
        </SpanButton>
      ))}
      {isAskedFor ? (
        <Suspense fallback={button}>
          <AnySpan
            shown={{ from: to - lengthOf(span ?? 'day'), to }}
            show={(view) => 'from' in view && choose(view)}
            timeZone={timeZone}
            isAskedFor
            className={look}
          />
        </Suspense>
      ) : (
        button
      )}
    </nav>
  )
}
