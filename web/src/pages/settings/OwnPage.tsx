import { type Preferences, type Theme, themes } from '@jaunty-sparrow/contract'
import { describeAge } from '@jaunty-sparrow/core/time'
import { useState } from 'react'
import { problemText } from '../../api/problemText.ts'
import { Button } from '../../design/Button.tsx'
import { CopyLine } from '../../design/CopyLine.tsx'
import { ChoiceField, TextField } from '../../design/Field.tsx'
import { Notice } from '../../design/Notice.tsx'
import { QrCode } from '../../design/QrCode.tsx'
import { browserName } from '../../people/browserName.ts'
import {
  useChangePasswordMutation,
  useChangePreferencesMutation,
  useEndSessionMutation,
  useLeaveMutation,
  useLeaveSiteMutation,
  useOwnSessionsQuery,
  useOwnSignInLinkMutation,
  useSessionQuery,
} from '../../people/peopleApi.ts'
import { roleNames } from '../../people/roleWords.ts'
import { useReachQuery } from '../../reach/reachApi.ts'
import { Part } from '../../settings/Part.tsx'
import { useSitesQuery } from '../../sites/sitesApi.ts'
import { useNow } from '../../time/clock.ts'
import { UnitChoicesEditor } from '../../units/UnitChoicesEditor.tsx'

const themeNames: Record<Theme, string> = {
  system: 'As the system has it',
  light: 'Light',
  dark: 'Dark',
}
const languages = [
  'en-GB',
  'en-US',
  'de-DE',
  'de-CH',
  'fr-FR',
  'it-IT',
  'es-ES',
  'nl-NL',
  'da-DK',
  'sv-SE',
  'pl-PL',
]
const browsers = ''

/** One’s own page. */
export function OwnPage() {
  const { data: session } = useSessionQuery()
  if (session?.state !== 'signed-in') return null
  return (
    <div className="grid gap-8">
      <h1 className="text-3xl">You</h1>
      <Choices key={session.person.name} name={session.person.name} preferences={session.preferences} />
      <Phone />
      <Password mayForget={session.mayForgetPassword} />
      <Sessions />
      <Roles />
    </div>
  )
}

function Choices({ name, preferences }: { name: string; preferences: Preferences }) {
  const [called, setCalled] = useState(name)
  const [change, { error, isLoading }] = useChangePreferencesMutation()
  return (
    <div className="grid max-w-sm gap-4">
      <form
        className="flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault()
          void change({ name: called })
        }}
      >
        <div className="flex-1">
          <TextField
            label="Name"
            value={called}
            onChange={(event) => setCalled(event.target.value)}
            required
            maxLength={60}
          />
        </div>
        <Button type="submit" disabled={isLoading || called === name} className="min-h-10.5">
          Rename
        </Button>
      </form>
      {Boolean(error) && <Notice tone="trouble" title={problemText(error)} />}
      <ChoiceField
        label="Numbers and dates"
        hint={`Such as ${new Intl.NumberFormat(preferences.language ?? undefined).format(1234.5)} and ${new Intl.DateTimeFormat(preferences.language ?? undefined).format(Date.UTC(2026, 4, 31))}.`}
        value={preferences.language ?? browsers}
        onChange={({ target }) => void change({ language: target.value === browsers ? null : target.value })}
      >
        <option value={browsers}>As this browser has it</option>
        {languages.map((tag) => (
          <option key={tag} value={tag}>
            {new Intl.DisplayNames([tag], { type: 'language' }).of(tag)}
          </option>
        ))}
      </ChoiceField>
      <fieldset className="grid gap-2">
        <legend className="text-sm font-semibold">Units</legend>
        <p className="text-sm text-ink-soft">
          What you want to see in another unit. What is measured is kept in its own, and others see theirs.
        </p>
        <UnitChoicesEditor choices={preferences.units} onChange={(units) => void change({ units })} />
      </fieldset>
      <ChoiceField
        label="Colours"
        value={preferences.theme}
        onChange={({ target }) => void change({ theme: target.value as Theme })}
      >
        {themes.map((theme) => (
          <option key={theme} value={theme}>
            {themeNames[theme]}
          </option>
        ))}
      </ChoiceField>
    </div>
  )
}

/** The way onto one’s own phone. */
function Phone() {
  const { data: reach } = useReachQuery()
  const [make, { data: link, error }] = useOwnSignInLinkMutation()
  const url = link && reach && `${reach.people.url}/sign-in/link#${link.token}`
  return (
    <Part title="On your phone">
      {url ? (
        <div className="grid justify-items-start gap-3">
          <p className="text-ink-soft">Scan it, or open the link: it signs you in once, within a day.</p>
          <QrCode text={url} label="Your sign-in link, to be scanned" />
          <CopyLine text={url} label="sign-in link" />
          {reach.isLocalOnly && (
            <Notice tone="trouble" title="A phone cannot reach this server yet">
              It listens to its own machine only: start it with HOST=0.0.0.0.
            </Notice>
          )}
        </div>
      ) : (
        <Button className="justify-self-start" onClick={() => void make()}>
          Show a sign-in link to scan
        </Button>
      )}
      {!window.isSecureContext && (
        <p className="text-ink-soft">
          It can be installed over HTTPS only; until then put a bookmark on the home screen of the phone.
        </p>
      )}
      {Boolean(error) && <Notice tone="trouble" title={problemText(error)} />}
    </Part>
  )
}

function Password({ mayForget }: { mayForget: boolean }) {
  const [current, setCurrent] = useState('')
  const [password, setPassword] = useState('')
  const [change, { error, isLoading, isSuccess }] = useChangePasswordMutation()
  return (
    <Part title="Password">
      <form
        className="grid max-w-sm gap-3"
        onSubmit={(event) => {
          event.preventDefault()
          void change({ password, ...(!mayForget && { current }) })
            .unwrap()
            .then(
              () => {
                setCurrent('')
                setPassword('')
              },
              () => undefined,
            )
        }}
      >
        {!mayForget && (
          <TextField
            label="The current one"
            type="password"
            autoComplete="current-password"
            value={current}
            onChange={(event) => setCurrent(event.target.value)}
            required
          />
        )}
        <TextField
          label="A new one"
          type="password"
          autoComplete="new-password"
          hint="At least 10 characters. You are signed out everywhere else."
          value={password}
          onChange={(event) => setPassword(event.target.value)}
          minLength={10}
          maxLength={200}
          required
        />
        {Boolean(error) && <Notice tone="trouble" title={problemText(error)} />}
        {isSuccess && <Notice tone="info" title="The new password holds." />}
        <Button type="submit" className="justify-self-start" disabled={isLoading}>
          Take the new password
        </Button>
      </form>
    </Part>
  )
}

function Sessions() {
  const { data: sessions = [] } = useOwnSessionsQuery()
  const [end] = useEndSessionMutation()
  const now = useNow()
  return (
    <Part title="Where you are signed in">
      <ul className="divide-y divide-rule border-y border-rule">
        {sessions.map(({ id, browser, usedAt, isThis }) => (
          <li key={id} className="flex min-h-11 items-center gap-3 py-1.5">
            <span className="flex-1">
              {browserName(browser)}
              <span className="text-ink-soft">
                {isThis ? ', here' : `, used ${describeAge(Math.max(0, now - usedAt))}`}
              </span>
            </span>
            {!isThis && (
              <Button weight="quiet" onClick={() => void end(id)}>
                Sign out there
              </Button>
            )}
          </li>
        ))}
      </ul>
    </Part>
  )
}

function Roles() {
  const { data: session } = useSessionQuery()
  const { data: sites = [] } = useSitesQuery()
  const [leave, leaving] = useLeaveMutation()
  const [leaveSite] = useLeaveSiteMutation()
  const [asked, setAsked] = useState(false)
  if (session?.state !== 'signed-in') return null
  const { everywhere, sites: own } = session.person.access
  return (
    <Part title="What you may do">
      <ul className="divide-y divide-rule border-y border-rule">
        {everywhere && <li className="flex min-h-11 items-center">{roleNames[everywhere]} at all sites</li>}
        {own.map(({ siteId, role }) => (
          <li key={siteId} className="flex min-h-11 items-center gap-3">
            <span className="flex-1">
              {roleNames[role]} at {sites.find(({ id }) => id === siteId)?.name}
            </span>
            <Button weight="quiet" onClick={() => void leaveSite(siteId)}>
              Give up
            </Button>
          </li>
        ))}
      </ul>
      {Boolean(leaving.error) && <Notice tone="trouble" title={problemText(leaving.error)} />}
      {asked ? (
        <div className="flex flex-wrap items-center gap-2">
          <span>Everything you may do here ends, for good.</span>
          <Button weight="danger" onClick={() => void leave()}>
            Leave
          </Button>
          <Button weight="quiet" onClick={() => setAsked(false)}>
            Stay
          </Button>
        </div>
      ) : (
        <Button weight="quiet" className="-mx-3 justify-self-start" onClick={() => setAsked(true)}>
          Leave for good …
        </Button>
      )}
    </Part>
  )
}
