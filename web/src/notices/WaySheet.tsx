import type { Way, WayKind } from '@jaunty-sparrow/contract'
import type { Telling } from '@jaunty-sparrow/core/notice'
import { useState } from 'react'
import { Button } from '../design/Button.tsx'
import { CopyLine } from '../design/CopyLine.tsx'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { Sheet } from '../design/Sheet.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { useAccess } from '../people/useMay.ts'
import { useSitesQuery } from '../sites/sitesApi.ts'
import { useChangeWayMutation, useCreateWayMutation } from './noticesApi.ts'
import { TellingFields } from './TellingFields.tsx'
import { usualTelling } from './usualTelling.ts'

interface WaySheetProps {
  /** Undefined for a new one. */
  readonly way: Way | undefined
  readonly onClose: () => void
}

const targetWords: Readonly<Record<WayKind, string>> = {
  mail: 'Address of mail',
  webhook: 'Address of the webhook',
  push: 'Which browser it is',
}

/** Says who is told, where that leads, and of what. */
export function WaySheet({ way, onClose }: WaySheetProps) {
  const { data: sites = [] } = useSitesQuery()
  const access = useAccess()
  const mayAll = access.everywhere === 'owner'
  const [kind, setKind] = useState<WayKind>(way?.kind ?? 'mail')
  const [name, setName] = useState(way?.name ?? '')
  const [target, setTarget] = useState(way?.target ?? '')
  const [siteId, setSite] = useState<number | null>(way?.siteId ?? (mayAll ? null : (sites[0]?.id ?? null)))
  const [tellings, setTellings] = useState<readonly Telling[]>(way?.tellings ?? [usualTelling])
  const [secret, setSecret] = useState<string>()
  const [create, creating] = useCreateWayMutation()
  const [change, changing] = useChangeWayMutation()
  const save = async () => {
    const stated = { name: name.trim(), target: target.trim(), tellings: [...tellings] }
    if (way) await change({ wayId: way.id, body: stated }).unwrap()
    else {
      const made = await create({ ...stated, kind, siteId }).unwrap()
      if (made.secret === null) onClose()
      else setSecret(made.secret)
    }
    if (way) onClose()
  }
  if (secret !== undefined)
    return (
      <Sheet open title="What it is signed with" onClose={onClose}>
        <div className="grid gap-4">
          <p className="text-sm">
            With this your program checks that a call comes from here: HMAC-SHA-256 over id, time and body.
            docs/alarms.md has the recipe. It is told once; note it now.
          </p>
          <CopyLine text={secret} label="secret" />
          <div className="flex justify-end">
            <Button weight="strong" onClick={onClose}>
              Done
            </Button>
          </div>
        </div>
      </Sheet>
    )
  return (
    <SheetForm
      title={way ? `Change ${way.name}` : 'Who is told'}
      saveLabel="Save"
      busy={creating.isLoading || changing.isLoading}
      error={creating.error ?? changing.error}
      keepOpen
      onSave={save}
      onClose={onClose}
      wide
    >
      <div className="grid items-start gap-4 sm:grid-cols-2">
        <TextField
          label="Name"
          placeholder="Moira, at night"
          required
          maxLength={60}
          value={name}
          onChange={({ target: field }) => setName(field.value)}
        />
        {!way && (
          <ChoiceField
            label="By"
            value={kind}
            onChange={({ target: field }) => setKind(field.value as WayKind)}
          >
            <option value="mail">mail</option>
            <option value="webhook">a webhook: a program of yours is called</option>
          </ChoiceField>
        )}
        <TextField
          label={targetWords[kind]}
          type={kind === 'mail' ? 'email' : kind === 'webhook' ? 'url' : 'text'}
          placeholder={kind === 'mail' ? 'moira@creamery.example' : 'https://creamery.example/alarms'}
          required
          maxLength={300}
          value={target}
          onChange={({ target: field }) => setTarget(field.value)}
        />
        {!way && (
          <ChoiceField
            label="Of alarms at"
            value={siteId ?? ''}
            onChange={({ target: field }) => setSite(field.value === '' ? null : Number(field.value))}
          >
            {mayAll && <option value="">all sites, and of the server</option>}
            {sites.map((site) => (
              <option key={site.id} value={site.id}>
                {site.name}
              </option>
            ))}
          </ChoiceField>
        )}
      </div>
      <section className="grid gap-3" aria-labelledby="told-of">
        <h3 id="told-of" className="font-display text-base">
          Told of
        </h3>
        {tellings.map((telling, place) => (
          <TellingFields
            // biome-ignore lint/suspicious/noArrayIndexKey: a telling is its place
            key={place}
            name={`part ${place + 1}`}
            telling={telling}
            onChange={(next) => setTellings(tellings.map((each, index) => (index === place ? next : each)))}
            onRemove={
              tellings.length > 1
                ? () => setTellings(tellings.filter((_, index) => index !== place))
                : undefined
            }
          />
        ))}
        <div>
          <Button
            weight="quiet"
            className="-mx-3"
            onClick={() => setTellings([...tellings, { ...usualTelling, priorities: ['urgent'], wait: 900 }])}
          >
            And something else
          </Button>
        </div>
      </section>
    </SheetForm>
  )
}
