import { type Scope, scopes } from '@jaunty-sparrow/core/access'
import { describeAge } from '@jaunty-sparrow/core/time'
import { Plus } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../design/Button.tsx'
import { CopyLine } from '../../design/CopyLine.tsx'
import { CheckField, ChoiceField, TextField } from '../../design/Field.tsx'
import { Sheet } from '../../design/Sheet.tsx'
import { SheetForm } from '../../design/SheetForm.tsx'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import { useCreateTokenMutation, useTokensQuery, useWithdrawTokenMutation } from '../../people/tokensApi.ts'
import { useReachQuery } from '../../reach/reachApi.ts'
import { useSitesQuery } from '../../sites/sitesApi.ts'
import { serverNow, useNow } from '../../time/clock.ts'

const scopeMeans: Record<Scope, string> = {
  read: 'ask for everything you may look at',
  send: 'send readings for devices you choose',
  command: 'command and acknowledge, where you are operator',
  manage: 'change what is described, where you are owner',
}
const ends = { month: ['A month', 30], year: ['A year', 365], never: ['Never', null] } as const
type End = keyof typeof ends

/** Keys for programs. */
export function TokensPage() {
  const { data: tokens = [] } = useTokensQuery()
  const [withdraw] = useWithdrawTokenMutation()
  const [making, setMaking] = useState(false)
  const now = useNow()
  return (
    <div className="grid gap-6">
      <header className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <div className="grid flex-1 gap-1">
          <h1 className="text-3xl">Tokens</h1>
          <p className="text-ink-soft">A key for a program of yours. It may never do more than you may.</p>
        </div>
        <Button weight="strong" onClick={() => setMaking(true)}>
          <Plus aria-hidden="true" className="size-4" />
          New token
        </Button>
      </header>
      {tokens.length === 0 ? (
        <p className="rounded-lg border border-dashed border-rule-strong p-6 text-ink-soft">
          No program has a key yet. Make one, and a script can ask for values and history with it:{' '}
          <a href="/api/openapi.json" className="font-semibold text-chestnut underline">
            what there is to ask
          </a>
          .
        </p>
      ) : (
        <ul className="divide-y divide-rule border-y border-rule text-sm">
          {tokens.map(({ id, name, scopes: held, devices, by, usedAt, expiresAt }) => (
            <li key={id} className="flex min-h-14 flex-wrap items-center gap-x-4 py-2">
              <span className="min-w-48 flex-1">
                <strong className="font-display text-base">{name}</strong>
                <span className="block text-ink-soft">
                  {held.join(', ')}
                  {devices.length > 0 && ` for ${devices.join(', ')}`} · by {by}
                </span>
              </span>
              <span className="text-ink-soft">
                {usedAt === null ? 'never used' : `used ${describeAge(Math.max(0, now - usedAt))}`}
                <span className="block">
                  {expiresAt === null
                    ? 'has no end'
                    : expiresAt < now
                      ? 'has ended'
                      : `ends in ${Math.ceil((expiresAt - now) / 86_400_000)} days`}
                </span>
              </span>
              <Button weight="quiet" onClick={() => void withdraw(id)} aria-label={`Take back ${name}`}>
                Take back
              </Button>
            </li>
          ))}
        </ul>
      )}
      {making && <TokenSheet onClose={() => setMaking(false)} />}
    </div>
  )
}

function TokenSheet({ onClose }: { onClose: () => void }) {
  const { data: reach } = useReachQuery()
  const { data: sites = [] } = useSitesQuery()
  const { data: devices = [] } = useDevicesQuery()
  const [name, setName] = useState('')
  const [held, setHeld] = useState<readonly Scope[]>(['read'])
  const [siteIds, setSiteIds] = useState<readonly number[] | null>(null)
  const [chosen, setChosen] = useState<readonly string[]>([])
  const [end, setEnd] = useState<End>('year')
  const [create, { data, isLoading, error }] = useCreateTokenMutation()
  if (data) {
    const origin = reach?.people.url ?? window.location.origin
    const isSender = data.description.scopes.includes('send') && !data.description.scopes.includes('read')
    const line = isSender
      ? `curl -X POST "${origin}/in?device=${data.description.devices[0]}" -H "Authorization: Bearer ${data.token}" -H "Content-Type: application/json" -d '{"temperature": 21.5}'`
      : `curl ${origin}/api/devices -H "Authorization: Bearer ${data.token}"`
    return (
      <Sheet open onClose={onClose} title={`The token “${name}”, shown this once`}>
        <div className="grid gap-4">
          <CopyLine text={data.token} label="token" />
          <p className="text-sm text-ink-soft">Try it:</p>
          <CopyLine text={line} label="curl line" />
        </div>
      </Sheet>
    )
  }
  const toggle = <T,>(list: readonly T[], item: T, isOn: boolean): T[] =>
    isOn ? [...list, item] : list.filter((other) => other !== item)
  return (
    <SheetForm
      title="A new token"
      saveLabel="Make it"
      busy={isLoading || held.length === 0}
      error={error}
      keepOpen
      onSave={() => {
        const days = ends[end][1]
        return create({
          name,
          scopes: [...held],
          siteIds: siteIds && [...siteIds],
          devices: held.includes('send') ? [...chosen] : [],
          expiresAt: days === null ? null : Math.round(serverNow() + days * 86_400_000),
        }).unwrap()
      }}
      onClose={onClose}
    >
      <TextField
        label="What it is for"
        placeholder="Weekly report"
        value={name}
        onChange={(event) => setName(event.target.value)}
        required
        maxLength={60}
        autoFocus
      />
      <fieldset className="grid gap-1.5">
        <legend className="mb-1 text-sm font-semibold">It may</legend>
        {scopes.map((scope) => (
          <CheckField
            key={scope}
            label={`${scope}: ${scopeMeans[scope]}`}
            checked={held.includes(scope)}
            onChange={({ target }) => setHeld(toggle(held, scope, target.checked))}
          />
        ))}
      </fieldset>
      {held.includes('send') && (
        <fieldset className="grid max-h-48 gap-1.5 overflow-y-auto">
          <legend className="mb-1 text-sm font-semibold">Send for</legend>
          {devices.map((device) => (
            <CheckField
              key={device.id}
              label={device.name}
              checked={chosen.includes(device.address)}
              onChange={({ target }) => setChosen(toggle(chosen, device.address, target.checked))}
            />
          ))}
        </fieldset>
      )}
      {sites.length > 1 && (
        <fieldset className="grid gap-1.5">
          <legend className="mb-1 text-sm font-semibold">Where</legend>
          <CheckField
            label="Wherever you may"
            checked={siteIds === null}
            onChange={({ target }) => setSiteIds(target.checked ? null : [])}
          />
          {siteIds !== null &&
            sites.map((site) => (
              <CheckField
                key={site.id}
                label={site.name}
                checked={siteIds.includes(site.id)}
                onChange={({ target }) => setSiteIds(toggle(siteIds, site.id, target.checked))}
              />
            ))}
        </fieldset>
      )}
      <ChoiceField label="Ends" value={end} onChange={({ target }) => setEnd(target.value as End)}>
        {Object.entries(ends).map(([key, [label]]) => (
          <option key={key} value={key}>
            {label}
          </option>
        ))}
      </ChoiceField>
    </SheetForm>
  )
}
