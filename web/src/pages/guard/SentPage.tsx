import type { Notice as Sent } from '@jaunty-sparrow/contract'
import { useState } from 'react'
import { problemText } from '../../api/problemText.ts'
import { Button } from '../../design/Button.tsx'
import { Notice } from '../../design/Notice.tsx'
import { Skeleton } from '../../design/Skeleton.tsx'
import { dateFormat } from '../../language/dateFormat.ts'
import { useNoticesQuery, useWaysQuery } from '../../notices/noticesApi.ts'
import { GuardTabs } from './GuardTabs.tsx'

const moment = dateFormat({ dateStyle: 'medium', timeStyle: 'medium' })
const clock = dateFormat({ timeStyle: 'medium' })
/** So many are told at once. */
const longestPage = 100

/** What was sent to whom, when, and what came back. */
export function SentPage() {
  const [before, setBefore] = useState<number>()
  const { data, error } = useNoticesQuery(before === undefined ? {} : { before })
  // It also hears when there is something new.
  useWaysQuery()
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-5">
      <GuardTabs />
      <h1 className="text-3xl">What was sent</h1>
      {error && <Notice tone="trouble" title={problemText(error)} />}
      {!data && !error && <Skeleton className="h-40" />}
      {data?.length === 0 && (
        <p className="max-w-prose text-ink-soft">
          Nothing yet. Every notice stands here with whom it went to, when, and what their side answered; also
          what waits to be tried again.
        </p>
      )}
      <ul className="divide-y divide-rule border-y border-rule text-sm empty:hidden">
        {data?.map((notice) => (
          <li
            key={notice.id}
            data-notice={notice.state}
            className="grid gap-x-4 gap-y-0.5 py-2.5 sm:grid-cols-[12rem_minmax(0,1fr)_16rem]"
          >
            <span className="text-ink-soft">{moment.format(notice.sentAt ?? notice.createdAt)}</span>
            <span className="min-w-0">
              <strong>{notice.subject === '' ? 'alarms, being gathered' : notice.subject}</strong>
              <span className="block text-ink-soft">
                to {notice.wayName} by {notice.wayKind}
                {notice.seenAt !== null && `, answered by its link at ${clock.format(notice.seenAt)}`}
              </span>
            </span>
            <State notice={notice} />
          </li>
        ))}
      </ul>
      <div className="flex gap-2 empty:hidden">
        {before !== undefined && <Button onClick={() => setBefore(undefined)}>The newest</Button>}
        {data?.length === longestPage && <Button onClick={() => setBefore(data.at(-1)?.id)}>Older</Button>}
      </div>
    </div>
  )
}

function State({ notice: { state, attempts, answer, dueAt } }: { readonly notice: Sent }) {
  const tries = attempts === 1 ? 'once' : `${attempts} times`
  const words = {
    gathers: `goes out at ${dueAt === null ? '' : clock.format(dueAt)}`,
    waits:
      attempts === 0 ? 'on its way' : `tried ${tries}, again at ${dueAt === null ? '' : clock.format(dueAt)}`,
    sent: attempts > 1 ? `sent, tried ${tries}` : 'sent',
    'given-up': `given up, tried ${tries}`,
  }
  const isTrouble = state === 'given-up' || (state === 'waits' && attempts > 0)
  return (
    <span className={`min-w-0 break-words sm:text-right ${isTrouble ? 'text-trouble' : 'text-ink-soft'}`}>
      <strong>{words[state]}</strong>
      {answer !== '' && <span className="block">{answer}</span>}
    </span>
  )
}
