import type { SharedPage as Shown, Signal } from '@jaunty-sparrow/contract'
import { useEffect } from 'react'
import { problemText } from '../../api/problemText.ts'
import { sharedToken } from '../../api/sharedToken.ts'
import { Sparrow } from '../../design/Sparrow.tsx'
import { live } from '../../live/connection.ts'
import { Door } from '../../people/Door.tsx'
import { useSharedPageQuery } from '../../share/shareApi.ts'
import { LiveMark } from '../../shell/LiveMark.tsx'
import { OfflineBanner } from '../../shell/OfflineBanner.tsx'
import { chartColumns, SignalTrack } from '../../signals/SignalTrack.tsx'
import { SpanBar } from '../../signals/SpanBar.tsx'
import { useTraces } from '../../signals/useTraces.ts'
import { useView } from '../../signals/useView.ts'
import { useAppSelector } from '../../store.ts'

const askAgain = 30_000

/** What anybody sees who has the link. */
export function SharedPage() {
  const { data: page, error } = useSharedPageQuery(sharedToken ?? '', { pollingInterval: askAgain })
  const isEnded = useAppSelector(({ live: line }) => line.state === 'ended')
  useEffect(() => {
    live.open()
    return () => live.close()
  }, [])
  if (isEnded || (error && !page)) {
    return (
      <Door
        title="Nothing is shown here any more"
        lead={isEnded ? 'The link was withdrawn, or its time is over.' : problemText(error)}
      />
    )
  }
  if (!page) return <div role="status" className="min-h-dvh" aria-label="Loading" />
  return page.isSingle ? <Single page={page} /> : <Whole page={page} />
}

function Whole({ page }: { page: Shown }) {
  return (
    <div className="mx-auto grid max-w-5xl gap-5 px-4 py-5 lg:px-8">
      <header className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <h1 className="flex-1 text-3xl">{page.name}</h1>
        <LiveMark />
      </header>
      <OfflineBanner />
      <Signals page={page} />
      <footer className="flex flex-wrap items-center gap-2 border-t border-rule pt-3 text-sm text-ink-soft">
        <Sparrow className="size-5 text-chestnut" />
        <span className="flex-1">Shown by Jaunty Sparrow, live</span>
        {page.lookingOn > 1 && <span>{page.lookingOn} looking on</span>}
      </footer>
    </div>
  )
}

/** One signal, as large as there is room: the way it stands within another page. */
const Single = ({ page }: { page: Shown }) => (
  <div className="px-3 pt-1">
    <Signals page={page} />
    <footer className="flex items-center gap-3 text-sm">
      <h1 className="flex-1 truncate font-sans text-sm font-normal tracking-normal text-ink-soft">
        {page.name}
      </h1>
      <LiveMark />
    </footer>
  </div>
)

function Signals({ page }: { page: Shown }) {
  const { signals, timeZone, past, isSingle } = page
  const [view, show] = useView()
  const ids = signals.filter(isDrawn).map(({ id }) => id)
  const { traces, shown } = useTraces(ids, chartColumns, view)
  return (
    <section aria-label="Signals" className="@container grid">
      {past !== 'none' && !isSingle && (
        <SpanBar
          view={view}
          shown={shown}
          show={show}
          signals={ids}
          timeZone={timeZone}
          isLimited={past === 'day'}
        />
      )}
      {signals.map((signal) => (
        <SignalTrack
          key={signal.id}
          device={undefined}
          signal={signal}
          trace={traces?.find((trace) => trace.signal === signal.id)}
          timeZone={timeZone}
          shown={shown}
          view={view}
          show={show}
          canChange={false}
        />
      ))}
    </section>
  )
}

const isDrawn = ({ kind }: Signal): boolean => kind === 'number' || kind === 'switch' || kind === 'choice'
