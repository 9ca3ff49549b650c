import type { Way } from '@jaunty-sparrow/contract'
import { mayEverywhere } from '@jaunty-sparrow/core/access'
import { useState } from 'react'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { Notice } from '../design/Notice.tsx'
import { browserName } from '../people/browserName.ts'
import { useSessionQuery } from '../people/peopleApi.ts'
import { useAccess } from '../people/useMay.ts'
import { useSitesQuery } from '../sites/sitesApi.ts'
import { useCreateWayMutation, useLazyPushKeyQuery } from './noticesApi.ts'
import { usualTelling } from './usualTelling.ts'

const canBePushedTo = 'serviceWorker' in navigator && 'PushManager' in window && window.isSecureContext

/** Lets this browser be told, also while no page of it is open; why it cannot be, where it cannot. */
export function PushHere({ ways }: { readonly ways: readonly Way[] }) {
  const { data: session } = useSessionQuery()
  const { data: sites = [] } = useSitesQuery()
  const access = useAccess()
  const [askKey] = useLazyPushKeyQuery()
  const [create, creating] = useCreateWayMutation()
  const [problem, setProblem] = useState<string>()
  const here = browserName(navigator.userAgent)
  const name = session?.state === 'signed-in' ? `${session.person.name}, ${here}` : here
  if (!canBePushedTo)
    return (
      <p className="text-sm text-ink-soft">
        This browser can be told itself where the pages are asked for over HTTPS: docs/operate.md tells how.
      </p>
    )
  if (ways.some((way) => way.kind === 'push' && way.name === name)) return null
  const tell = async () => {
    setProblem(undefined)
    const { key } = await askKey().unwrap()
    const registration = await navigator.serviceWorker.ready
    const subscription = await registration.pushManager.subscribe({
      userVisibleOnly: true,
      applicationServerKey: key,
    })
    const { endpoint = '', keys = {} } = subscription.toJSON()
    await create({
      siteId: mayEverywhere(access, 'operator') ? null : (sites[0]?.id ?? null),
      kind: 'push',
      name: name.slice(0, 60),
      target: here,
      tellings: [usualTelling],
      subscription: { endpoint, keys: { p256dh: keys.p256dh ?? '', auth: keys.auth ?? '' } },
    }).unwrap()
  }
  return (
    <div className="grid justify-items-start gap-2">
      <Button
        disabled={creating.isLoading}
        onClick={() =>
          void tell().catch((error: unknown) =>
            setProblem(error instanceof Error ? whyNot(error) : problemText(error)),
          )
        }
      >
        Tell me in this browser
      </Button>
      {problem !== undefined && <Notice tone="trouble" title={problem} />}
    </div>
  )
}

const whyNot = ({ name, message }: Error): string =>
  name === 'NotAllowedError'
    ? 'The browser was told not to show notices of this page: allow them in its settings.'
    : `The browser cannot be pushed to: ${message}`
