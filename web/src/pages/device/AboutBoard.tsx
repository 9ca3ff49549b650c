import type { Device } from '@jaunty-sparrow/contract'
import { useState } from 'react'
import { Link } from 'react-router'
import { Skeleton } from '../../design/Skeleton.tsx'
import { Built } from '../../kits/Built.tsx'
import { KitPicture } from '../../kits/KitPicture.tsx'
import { useKitQuery } from '../../kits/kitsApi.ts'
import { DoneItem } from '../../log/DoneItem.tsx'
import { useLogQuery } from '../../log/logApi.ts'
import { serverNow } from '../../time/clock.ts'

/** So many of the last changes are shown here; all of them are among what was done. */
const mostShown = 20

/** What is known of the board itself: how it looks, how it is wired, what to mind, and what was done with it. */
export function AboutBoard({ device }: { device: Device }) {
  const [isOpen, setOpen] = useState(false)
  return (
    <details onToggle={({ currentTarget }) => setOpen(currentTarget.open)}>
      <summary className="cursor-pointer text-ink-soft">Wiring, notes, and what was done with it</summary>
      {isOpen && <Known device={device} />}
    </details>
  )
}

function Known({ device }: { device: Device }) {
  const { data: kit } = useKitQuery(device.kit.id)
  // When it was opened.
  const [to] = useState(() => Math.ceil(serverNow() + 1))
  const { data: done } = useLogQuery({ from: 0, to, changes: true, deviceId: device.id })
  if (!kit || !done) return <Skeleton className="h-40" />
  return (
    <div className="grid gap-4 pt-4">
      <section aria-label="Wiring and notes" className="grid gap-2">
        <h2 className="text-lg">
          Built as{' '}
          <Link to={`/bench/kits/${kit.id}`} className="text-chestnut hover:underline">
            {kit.name === null ? 'its own kit' : `the kit “${kit.name}”`}
          </Link>
        </h2>
        <KitPicture kit={kit} canChange={false} />
        <Built kit={kit} />
      </section>
      <section aria-label="What was done" className="grid gap-2">
        <h2 className="text-lg">What was done</h2>
        <ul className="divide-y divide-rule border-y border-rule text-sm empty:hidden">
          {done.slice(0, mostShown).map((event) => (
            <DoneItem key={event.id} event={event} />
          ))}
        </ul>
      </section>
    </div>
  )
}
