import type { Device } from '@jaunty-sparrow/contract'
import { describeAge } from '@jaunty-sparrow/core/time'
import { PresenceShape, PresenceWord, presenceLooks, presenceWords } from '../live/PresenceWord.tsx'
import { useDeviceState } from '../live/useLive.ts'
import { useNow } from '../time/clock.ts'

/** The small mark of a device in lists. */
export const PresenceMark = ({ device }: { device: Device }) => (
  <PresenceWord presence={useDeviceState(device).presence} />
)

/** How a device does, and when it was last heard, in words. */
export function DevicePresence({ device }: { device: Device }) {
  const now = useNow()
  const { presence, heardAt } = useDeviceState(device)
  if (heardAt === null) return <span className="text-sm text-ink-soft">not heard from yet</span>
  const age = describeAge(now - heardAt)
  if (presence === 'on-time') return <span className="text-sm text-ink-soft">heard {age}</span>
  return (
    <span className={`inline-flex items-center gap-1.5 text-sm ${presenceLooks[presence]}`}>
      <PresenceShape presence={presence} />
      {presenceWords[presence]}, last heard {age}
      {presence === 'down' && returnsOf(device)}
    </span>
  )
}

/** How a device returns that was shut down, as somebody said of what shuts it down. */
function returnsOf({ signals }: Device): string {
  const says = signals.find(({ control }) => control?.shutsDown)?.control?.shutsDown
  return says ? `. It returns: ${says}` : ''
}
