import type { Device } from '@jaunty-sparrow/contract'
import { describeAge, isLate } from '@jaunty-sparrow/core'
import { useNow } from '../time/clock.ts'

type PresenceState = 'silent' | 'talking' | 'late'

/** How a device stands at an instant: never heard of, talking, or overdue. */
export const presenceOf = ({ lastSeenAt, cadence }: Device, now: number): PresenceState =>
  lastSeenAt === null ? 'silent' : isLate(lastSeenAt, now, cadence?.seconds ?? null) ? 'late' : 'talking'

/** The small mark of a device in lists: nothing while all is well, since only the abnormal should draw the eye. */
export function PresenceMark({ device }: { device: Device }) {
  const state = presenceOf(device, useNow())
  if (state === 'talking') return null
  return state === 'late' ? (
    <span className="rounded-sm bg-late-wash px-1.5 text-xs font-semibold text-late">late</span>
  ) : (
    <span className="text-xs text-ink-soft">not heard yet</span>
  )
}

/** When a device was last heard, in words. */
export function Presence({ device }: { device: Device }) {
  const now = useNow()
  const state = presenceOf(device, now)
  if (device.lastSeenAt === null) return <span className="text-sm text-ink-soft">not heard from yet</span>
  const age = describeAge(now - device.lastSeenAt)
  if (state === 'late') {
    return (
      <span className="inline-flex items-center gap-1.5 rounded-sm bg-late-wash px-2 py-0.5 text-sm font-semibold text-late">
        <svg viewBox="0 0 12 12" className="size-3" aria-hidden="true">
          <path
            d="M2 1.5h8L6 6l4 4.5H2L6 6Z"
            fill="none"
            stroke="currentColor"
            strokeWidth="1.4"
            strokeLinejoin="round"
          />
        </svg>
        late, last heard {age}
      </span>
    )
  }
  return <span className="text-sm text-ink-soft">heard {age}</span>
}
