import type { Device, Past, ShareLink } from '@jaunty-sparrow/contract'
import { describeAge } from '@jaunty-sparrow/core/time'
import { useState } from 'react'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { CopyLine } from '../design/CopyLine.tsx'
import { counted } from '../design/counted.ts'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { Notice } from '../design/Notice.tsx'
import { QrCode } from '../design/QrCode.tsx'
import { Sheet } from '../design/Sheet.tsx'
import { signalTitle } from '../language/signalTitle.ts'
import { useReachQuery } from '../reach/reachApi.ts'
import { inUse } from '../signals/inUse.ts'
import { serverNow, useNow } from '../time/clock.ts'
import { embedSnippet } from './embedSnippet.ts'
import { useCreateShareLinkMutation, useShareLinksQuery, useWithdrawShareLinkMutation } from './shareApi.ts'

const day = 86_400_000
const pasts: Record<Past, string> = {
  none: 'Nothing: the present and the hour before',
  day: 'The last day',
  all: 'All there is',
}
const ends = {
  day: ['In a day', day],
  week: ['In a week', 7 * day],
  month: ['In 30 days', 30 * day],
  never: ['Never, until I withdraw it', null],
} as const
type End = keyof typeof ends
const whole = ''

/** The page of a device for anybody who has a link, or one signal of it within a page of one's own. */
export function ShareSheet({ device, onClose }: { device: Device; onClose: () => void }) {
  const { data: links = [] } = useShareLinksQuery({ address: device.address }, { pollingInterval: 5000 })
  const [made, setMade] = useState<{ token: string; link: ShareLink }>()
  return (
    <Sheet open onClose={onClose} title={`Share ${device.name}`}>
      <div className="grid gap-5">
        {made ? (
          <MadeLink {...made} onDone={() => setMade(undefined)} />
        ) : (
          <NewLink device={device} onMade={setMade} />
        )}
        {links.length > 0 && <Links links={links} device={device} />}
      </div>
    </Sheet>
  )
}

function NewLink({
  device,
  onMade,
}: {
  device: Device
  onMade: (made: { token: string; link: ShareLink }) => void
}) {
  const accepted = inUse(device)
  const [name, setName] = useState(device.name)
  const [signal, setSignal] = useState(whole)
  const [past, setPast] = useState<Past>('day')
  const [end, setEnd] = useState<End>('month')
  const [origins, setOrigins] = useState('')
  const [create, { isLoading, error }] = useCreateShareLinkMutation()
  const save = async () => {
    const length = ends[end][1]
    const made = await create({
      address: device.address,
      body: {
        name,
        signalId: signal === whole ? null : Number(signal),
        past,
        frameAncestors: origins.split(/[\s,]+/).filter(Boolean),
        expiresAt: length === null ? null : Math.round(serverNow() + length),
      },
    }).unwrap()
    onMade(made)
  }
  return (
    <form
      className="grid gap-4"
      onSubmit={(event) => {
        event.preventDefault()
        save().catch(() => undefined)
      }}
    >
      <p className="text-sm text-ink-soft">
        Anybody who has the link may look, without signing in, and do nothing else.
      </p>
      <TextField
        label="Title"
        value={name}
        onChange={(event) => setName(event.target.value)}
        required
        maxLength={80}
      />
      <ChoiceField label="What is shown" value={signal} onChange={({ target }) => setSignal(target.value)}>
        <option value={whole}>The whole page</option>
        {accepted.map((each) => (
          <option key={each.id} value={each.id}>
            {signalTitle(each)} alone, to embed
          </option>
        ))}
      </ChoiceField>
      <ChoiceField
        label="How much of the past"
        value={past}
        onChange={({ target }) => setPast(target.value as Past)}
      >
        {Object.entries(pasts).map(([key, label]) => (
          <option key={key} value={key}>
            {label}
          </option>
        ))}
      </ChoiceField>
      <ChoiceField label="Ends" value={end} onChange={({ target }) => setEnd(target.value as End)}>
        {Object.entries(ends).map(([key, [label]]) => (
          <option key={key} value={key}>
            {label}
          </option>
        ))}
      </ChoiceField>
      {signal !== whole && (
        <TextField
          label="Pages that may embed it"
          hint="Their addresses up to the first slash, such as https://farm.example."
          placeholder="https://farm.example"
          value={origins}
          onChange={(event) => setOrigins(event.target.value)}
        />
      )}
      {Boolean(error) && <Notice tone="trouble" title={problemText(error)} />}
      <Button type="submit" weight="strong" disabled={isLoading}>
        Make the link
      </Button>
    </form>
  )
}

function MadeLink({ token, link, onDone }: { token: string; link: ShareLink; onDone: () => void }) {
  const { data: reach } = useReachQuery()
  const url = `${reach?.people.url ?? window.location.origin}/shared/${token}`
  return (
    <div className="grid justify-items-start gap-3">
      <p className="text-sm text-ink-soft">The link, shown here and never again:</p>
      <CopyLine text={url} label="link" />
      {link.signalId === null ? (
        <QrCode text={url} label="The link, to be scanned" />
      ) : (
        <>
          <p className="text-sm text-ink-soft">To paste into a page of yours:</p>
          <CopyLine text={embedSnippet(url, link.name)} label="snippet" />
        </>
      )}
      {reach?.isLocalOnly && (
        <Notice tone="trouble" title="Nobody else can open it yet">
          This server listens to its own machine only: start it with HOST=0.0.0.0.
        </Notice>
      )}
      <Button onClick={onDone}>Done</Button>
    </div>
  )
}

function Links({ links, device }: { links: readonly ShareLink[]; device: Device }) {
  const [withdraw] = useWithdrawShareLinkMutation()
  const now = useNow()
  const titleOf = (signalId: number | null) => {
    const signal = device.signals.find(({ id }) => id === signalId)
    return signal ? signalTitle(signal) : 'the whole page'
  }
  return (
    <section className="grid gap-1 border-t border-rule pt-4">
      <h3 className="text-base">Links that hold</h3>
      <ul className="divide-y divide-rule text-sm">
        {links.map(({ id, name, signalId, looks, lookedAt, lookingOn, expiresAt }) => (
          <li key={id} className="flex items-center gap-3 py-2">
            <span className="flex-1">
              <strong>{name}</strong>, {titleOf(signalId)}
              <span className="block text-ink-soft">
                {looks === 0 || lookedAt === null
                  ? 'nobody has looked yet'
                  : `opened ${counted(looks, 'time')}, last ${describeAge(Math.max(0, now - lookedAt))}`}
                {lookingOn > 0 && ` · ${lookingOn} looking on now`}
                {expiresAt !== null && ` · ${until(expiresAt - now)}`}
              </span>
            </span>
            <Button weight="quiet" onClick={() => void withdraw(id)} aria-label={`Withdraw ${name}`}>
              Withdraw
            </Button>
          </li>
        ))}
      </ul>
    </section>
  )
}

const until = (left: number): string =>
  left <= 0
    ? 'has ended'
    : left < 2 * day
      ? `${Math.ceil(left / 3_600_000)} h left`
      : `${Math.ceil(left / day)} days left`
