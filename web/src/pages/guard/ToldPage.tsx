import type { Way } from '@jaunty-sparrow/contract'
import { mayAt, mayEverywhere, maySomewhere } from '@jaunty-sparrow/core/access'
import { useState } from 'react'

import { problemText } from '../../api/problemText.ts'
import { HoldButton } from '../../commands/HoldButton.tsx'
import { Button } from '../../design/Button.tsx'
import { Notice } from '../../design/Notice.tsx'
import { Skeleton } from '../../design/Skeleton.tsx'
import { useDeleteWayMutation, useTestWayMutation, useWaysQuery } from '../../notices/noticesApi.ts'
import { PushHere } from '../../notices/PushHere.tsx'
import { tellingWords } from '../../notices/tellingWords.ts'
import { WaySheet } from '../../notices/WaySheet.tsx'
import { useAccess } from '../../people/useMay.ts'
import { useSitesQuery } from '../../sites/sitesApi.ts'
import { GuardTabs } from './GuardTabs.tsx'
import { OnTheSpot } from './OnTheSpot.tsx'

/** Who is told of alarms, by which way, of what and when. */
export function ToldPage() {
  const { data, error } = useWaysQuery()
  const [changing, setChanging] = useState<Way | 'new'>()
  const access = useAccess()
  const canMake = maySomewhere(access, 'owner')
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-5">
      <GuardTabs />
      <header className="flex flex-wrap items-baseline gap-x-4 gap-y-2">
        <div className="grid flex-1 gap-1">
          <h1 className="text-3xl">Who is told</h1>
          <p className="max-w-prose text-ink-soft">
            Several alarms at once come as one notice. When it is over, one word follows. Whoever is told can
            say by a link that they see to it.
          </p>
        </div>
        {canMake && (
          <Button weight="strong" onClick={() => setChanging('new')}>
            Tell somebody
          </Button>
        )}
      </header>
      {error && <Notice tone="trouble" title={problemText(error)} />}
      {!data && !error && <Skeleton className="h-40" />}
      {data && !data.mail && (
        <Notice tone="info" title="No mail can be sent yet">
          Set MAIL_URL and MAIL_FROM and start the server again; docs/alarms.md tells how. Webhooks need
          nothing.
        </Notice>
      )}
      {data && <PushHere ways={data.ways} />}
      {data?.ways.length === 0 && (
        <p className="max-w-prose text-ink-soft">
          Nobody yet: alarms stand on their page, and whoever does not look at it does not know. Name somebody
          with an address of mail, or a program of yours.
        </p>
      )}
      <ul className="divide-y divide-rule border-y border-rule empty:hidden">
        {data?.ways.map((way) => (
          <WayRow key={way.id} way={way} onChange={() => setChanging(way)} />
        ))}
      </ul>
      <OnTheSpot />
      {changing && (
        <WaySheet way={changing === 'new' ? undefined : changing} onClose={() => setChanging(undefined)} />
      )}
    </div>
  )
}

function WayRow({ way, onChange }: { readonly way: Way; readonly onChange: () => void }) {
  const { data: sites = [] } = useSitesQuery()
  const access = useAccess()
  const [test, testing] = useTestWayMutation()
  const [remove] = useDeleteWayMutation()
  const mayChange = way.siteId === null ? mayEverywhere(access, 'owner') : mayAt(access, 'owner', way.siteId)
  const where = way.siteId === null ? 'all sites' : (sites.find(({ id }) => id === way.siteId)?.name ?? '')
  return (
    <li className="grid gap-x-4 gap-y-2 py-3 sm:grid-cols-[minmax(0,1fr)_auto]" data-way={way.id}>
      <div className="grid min-w-0 gap-0.5">
        <p>
          <strong>{way.name}</strong>{' '}
          <span className="text-sm text-ink-soft">
            by {way.kind} to <span className="break-all">{way.target}</span> · {where}
          </span>
        </p>
        <ul className="text-sm text-ink-soft">
          {way.tellings.map((telling) => (
            <li key={JSON.stringify(telling)}>{tellingWords(telling)}</li>
          ))}
          {way.tellings.length === 0 && <li>of nothing yet</li>}
        </ul>
        {way.failing !== null && (
          <p className="text-sm font-semibold text-trouble">
            <span aria-hidden="true">✕ </span>The last notice was not taken: {way.failing}
          </p>
        )}
        {testing.data && (
          <p role="status" className="text-sm text-ink-soft">
            A test is on its way; what comes back stands under What was sent.
          </p>
        )}
        {testing.error && <Notice tone="trouble" title={problemText(testing.error)} />}
      </div>
      <div className="flex flex-wrap items-start gap-2">
        <Button disabled={testing.isLoading} onClick={() => void test(way.id)}>
          Send a test
        </Button>
        {mayChange && <Button onClick={onChange}>Change</Button>}
        {mayChange && <HoldButton onHeld={() => void remove(way.id)}>Delete</HoldButton>}
      </div>
    </li>
  )
}
