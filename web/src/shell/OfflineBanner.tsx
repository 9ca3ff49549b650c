import { mostSubscriptions } from '@jaunty-sparrow/contract'
import { WifiOff } from 'lucide-react'
import { useAppSelector } from '../store.ts'
import { useNow } from '../time/clock.ts'

/** Says plainly that the page is not live, or not all of it, since when, and that it is being taken care of. */
export function OfflineBanner() {
  const live = useAppSelector((state) => state.live)
  useNow()
  if (live.state === 'live' && live.left) {
    return (
      <p role="status" className="border-b border-late bg-late-wash px-4 py-2.5 text-sm lg:px-8">
        <strong>Not all of this is live.</strong> A page hears of {mostSubscriptions} signals as they come;{' '}
        {live.left} more show what they were when the page was opened.
      </p>
    )
  }
  if (live.state === 'outdated') {
    return (
      <p role="status" className="border-b border-late bg-late-wash px-4 py-2.5 text-sm lg:px-8">
        <strong>The server was renewed.</strong> Load this page again to be live with it.
      </p>
    )
  }
  if (live.state !== 'lost') return null
  const seconds = Math.max(0, Math.ceil((live.nextTryAt - Date.now()) / 1000))
  const since = new Date(live.since).toLocaleTimeString()
  return (
    <div
      role="status"
      className="flex items-center gap-3 border-b border-trouble bg-trouble-wash px-4 py-2.5 text-sm lg:px-8"
    >
      <WifiOff aria-hidden="true" className="size-4 shrink-0 text-trouble" />
      <p>
        <strong>Not live since {since}.</strong> Values stand still until the server answers again;{' '}
        {seconds > 0 ? `trying in ${seconds} s.` : 'trying now.'}
      </p>
    </div>
  )
}
