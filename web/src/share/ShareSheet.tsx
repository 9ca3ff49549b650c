import type { Past, ShareLink } from '@jaunty-sparrow/contract'
import { describeAge } from '@jaunty-sparrow/core/time'
import { lazy, Suspense, useState } from 'react'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { CopyLine } from '../design/CopyLine.tsx'
import { counted } from '../design/counted.ts'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { Notice } from '../design/Notice.tsx'
import { QrCode } from '../design/QrCode.tsx'
import { Sheet } from '../design/Sheet.tsx'
import { useReachQuery } from '../reach/reachApi.ts'
import { serverNow, useNow } from '../time/clock.ts'
import { embedSnippet } from './embedSnippet.ts'
import { useWithdrawShareLinkMutation } from './shareApi.ts'

const PaperDisplay = lazy(async () => ({ default: (await import('./PaperDisplay.tsx')).PaperDisplay }))

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

/** What is said of a link that is made. */
interface Stated {
  readonly name: string
  /** The one part that is shown; null for the whole page. */
  readonly part: string | null
  readonly past: Past
  readonly frameAncestors: string[]
  readonly expiresAt: number | null
}

interface Made {
  readonly token: string
  readonly link: ShareLink
}

interface ShareSheetProps {
  /** What is shared. */
  readonly title: string
  /** What of it can be shared alone. */
  readonly parts: readonly { readonly id: string; readonly name: string }[]
  readonly links: readonly ShareLink[]
  readonly partOf: (link: ShareLink) => string | null
  /** Whether it can be had as a still picture. */
  readonly hasPicture?: boolean
  readonly onMake: (stated: Stated) => Promise<Made>
  readonly onClose: () => void
}

/** A page for anybody who has a link, or one part of it within a page of one's own. */
export function ShareSheet(props: ShareSheetProps) {
  const { title, links, parts, partOf, onClose, hasPicture = false } = props
  const [made, setMade] = useState<Made>()
  return (
    <Sheet open onClose={onClose} title={`Share ${title}`}>
      <div className="grid gap-5">
        {made ? (
          <MadeLink
            {...made}
            isPart={partOf(made.link) !== null}
            hasPicture={hasPicture}
            onDone={() => setMade(undefined)}
          />
        ) : (
          <NewLink {...props} onMade={setMade} />
        )}
        {links.length > 0 && (
          <Links
            links={links}
            titleOf={(link) => parts.find(({ id }) => id === partOf(link))?.name ?? 'the whole page'}
          />
        )}
      </div>
    </Sheet>
  )
}

function NewLink({
  title,
  parts,
  onMake,
  onMade,
}: ShareSheetProps & { readonly onMade: (made: Made) => void }) {
  const [name, setName] = useState(title)
  const [part, setPart] = useState(whole)
  const [past, setPast] = useState<Past>('day')
  const [end, setEnd] = useState<End>('month')
  const [origins, setOrigins] = useState('')
  const [isBusy, setBusy] = useState(false)
  const [error, setError] = useState<unknown>()
  const save = async () => {
    const length = ends[end][1]
    setBusy(true)
    try {
      const made = await onMake({
        name,
        part: part === whole ? null : part,
        past,
        frameAncestors: origins.split(/[\s,]+/).filter(Boolean),
        expiresAt: length === null ? null : Math.round(serverNow() + length),
      })
      onMade(made)
    } catch (failed) {
      setError(failed)
    } finally {
      setBusy(false)
    }
  }
  return (
    <form
      className="grid gap-4"
      onSubmit={(event) => {
        event.preventDefault()
        void save()
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
      <ChoiceField label="What is shown" value={part} onChange={({ target }) => setPart(target.value)}>
        <option value={whole}>The whole page</option>
        {parts.map((each) => (
          <option key={each.id} value={each.id}>
            {each.name} alone, to embed
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
      {part !== whole && (
        <TextField
          label="Pages that may embed it"
          hint="Their addresses up to the first slash, such as https://farm.example."
          placeholder="https://farm.example"
          value={origins}
          onChange={(event) => setOrigins(event.target.value)}
        />
      )}
      {Boolean(error) && <Notice tone="trouble" title={problemText(error)} />}
      <Button type="submit" weight="strong" disabled={isBusy}>
        Make the link
      </Button>
    </form>
  )
}

function MadeLink({
  token,
  link,
  isPart,
  hasPicture,
  onDone,
}: Made & { readonly isPart: boolean; readonly hasPicture: boolean; readonly onDone: () => void }) {
  const { data: reach } = useReachQuery()
  const url = `${reach?.people.url ?? window.location.origin}/shared/${token}`
  return (
    <div className="grid justify-items-start gap-3">
      <p className="text-sm text-ink-soft">The link, shown here and never again:</p>
      <CopyLine text={url} label="link" />
      {!isPart ? (
        <QrCode text={url} label="The link, to be scanned" />
      ) : (
        <>
          <p className="text-sm text-ink-soft">To paste into a page of yours:</p>
          <CopyLine text={embedSnippet(url, link.name)} label="snippet" />
        </>
      )}
      {hasPicture && (
        <Suspense>
          <PaperDisplay url={reach?.people.url ?? window.location.origin} token={token} />
        </Suspense>
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

function Links({
  links,
  titleOf,
}: {
  readonly links: readonly ShareLink[]
  readonly titleOf: (link: ShareLink) => string
}) {
  const [withdraw] = useWithdrawShareLinkMutation()
  const now = useNow()
  return (
    <section className="grid gap-1 border-t border-rule pt-4">
      <h3 className="text-base">Links that hold</h3>
      <ul className="divide-y divide-rule text-sm">
        {links.map((link) => {
          const { id, name, looks, lookedAt, lookingOn, expiresAt } = link
          return (
            <li key={id} className="flex items-center gap-3 py-2">
              <span className="flex-1">
                <strong>{name}</strong>, {titleOf(link)}
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
          )
        })}
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
