import type { Unclaimed } from '@jaunty-sparrow/contract'
import { describeAge } from '@jaunty-sparrow/core/time'
import { useState } from 'react'
import { Link } from 'react-router'
import { Button, buttonLook } from '../design/Button.tsx'
import { counted } from '../design/counted.ts'
import { Notice } from '../design/Notice.tsx'
import { useMay } from '../people/useMay.ts'
import { useNow } from '../time/clock.ts'
import { type Claimed, ClaimSheet } from './ClaimSheet.tsx'
import { useUnclaimedQuery } from './claimsApi.ts'

/** What is counted while nobody looks is asked for again this often, ms. */
const recountEvery = 10_000
const shownAtFirst = 4

const whoseIs = ({ topic, sender, keyId }: Unclaimed): string => {
  if (topic !== '') return `with the key of ${sender}`
  return keyId === null ? 'an address no device has' : 'speaks for something nobody has claimed'
}

/** What talks without being known: topics nobody has claimed, and addresses nobody has. */
export function UnclaimedPanel({ openedAt }: { openedAt: number }) {
  const isOwner = useMay('owner')
  const { data: all = [] } = useUnclaimedQuery(undefined, { pollingInterval: recountEvery, skip: !isOwner })
  const now = useNow()
  const [showAll, setShowAll] = useState(false)
  const [claiming, setClaiming] = useState<Unclaimed>()
  const [done, setDone] = useState<Claimed>()
  const notice = done && (
    <Notice tone="info" title={done.said}>
      {done.device && (
        <Link to={`/devices/${done.device.address}`} className="font-semibold text-chestnut underline">
          See {done.device.name}
        </Link>
      )}
    </Notice>
  )
  if (all.length === 0) return notice
  const shown = showAll ? all : all.slice(0, shownAtFirst)
  return (
    <section
      aria-label="Something new is talking"
      className="grid gap-3 rounded-lg border border-late bg-sheet p-4 shadow-sheet"
    >
      <div className="grid gap-0.5">
        <h2 className="text-lg">Something new is talking</h2>
        <p className="text-sm text-ink-soft">
          Nobody has claimed it yet. It is kept as long as any message, and counts from its first message on
          as soon as you say whose it is.
        </p>
      </div>
      {notice}
      <ul className="divide-y divide-rule">
        {shown.map((group) => (
          <li
            key={`${group.keyId} ${group.sender} ${group.topic}`}
            className="grid items-center gap-x-4 gap-y-1 py-2 text-sm sm:grid-cols-[1fr_auto_auto]"
          >
            <div className="grid min-w-0 gap-0.5">
              <p className="flex min-w-0 flex-wrap items-center gap-x-2">
                <code className="truncate font-mono font-semibold">{group.topic || group.sender}</code>
                <span className="text-ink-soft">{whoseIs(group)}</span>
                {group.firstAt >= openedAt && (
                  <span className="rounded-sm bg-late-wash px-1 text-xs font-semibold text-late">new</span>
                )}
              </p>
              {group.sample && (
                <code className="truncate font-mono text-[0.8125rem] text-ink-soft">{group.sample}</code>
              )}
            </div>
            <p className="text-ink-soft">
              {counted(group.messages, 'message')}, {describeAge(now - group.lastAt)}
            </p>
            {isOwner &&
              (group.topic ? (
                <Button onClick={() => setClaiming(group)} aria-label={`Claim ${group.topic}`}>
                  Claim it
                </Button>
              ) : group.keyId !== null ? (
                <Link to={`/devices/${group.sender}`} className={buttonLook('plain')}>
                  See the gateway
                </Link>
              ) : (
                <Link
                  to={`/devices/new?address=${encodeURIComponent(group.sender)}`}
                  className={buttonLook('plain')}
                >
                  Make the device
                </Link>
              ))}
          </li>
        ))}
      </ul>
      {all.length > shown.length && (
        <p>
          <Button weight="quiet" onClick={() => setShowAll(true)}>
            Show all {all.length}
          </Button>
        </p>
      )}
      {claiming && (
        <ClaimSheet group={claiming} all={all} onClaimed={setDone} onClose={() => setClaiming(undefined)} />
      )}
    </section>
  )
}
