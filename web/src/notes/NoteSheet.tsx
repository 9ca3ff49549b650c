import type { Signal } from '@jaunty-sparrow/contract'
import { signalTitle } from '@jaunty-sparrow/core/signal'
import { LocalClock, wallClock } from '@jaunty-sparrow/core/time'
import { useId, useState } from 'react'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { useDevicesQuery } from '../devices/devicesApi.ts'
import { useSitesQuery } from '../sites/sitesApi.ts'
import { serverNow } from '../time/clock.ts'
import { useCreateNoteMutation } from './notesApi.ts'

interface NoteSheetProps {
  /** Of which moment it is, epoch ms. */
  readonly at: number
  /** What it is about, if anything; else the site. */
  readonly about?: Signal | undefined
  readonly siteId?: number | undefined
  readonly onClose: () => void
}

/** A remark on what was at a moment: write, save. */
export function NoteSheet({ at, about, siteId, onClose }: NoteSheetProps) {
  const id = useId()
  const { data: sites } = useSitesQuery()
  const { data: devices } = useDevicesQuery()
  const [create, { isLoading, error }] = useCreateNoteMutation()
  const [says, setSays] = useState('')
  const [when, setWhen] = useState<string>()
  const [of, setOf] = useState<'signal' | 'device' | 'site'>(about ? 'signal' : 'site')
  const device = about && devices?.find(({ signals }) => signals.some((each) => each.id === about.id))
  const site = sites?.find((each) => each.id === (device?.siteId ?? siteId)) ?? sites?.[0]
  if (!site) return null
  const said = when === undefined ? at : new LocalClock(site.timeZone).instant(Date.parse(`${when}Z`))
  return (
    <SheetForm
      title="A note"
      saveLabel="Write it down"
      busy={isLoading || says.trim() === '' || said === undefined}
      error={error}
      onClose={onClose}
      onSave={() =>
        create({
          says,
          at: Math.round(Math.min(said ?? at, serverNow())),
          siteId: site.id,
          ...(of !== 'site' && device && { deviceId: device.id }),
          ...(of === 'signal' && about && { signalId: about.id }),
        }).unwrap()
      }
    >
      <div className="grid gap-1.5">
        <label htmlFor={id} className="text-sm font-semibold">
          What was then?
        </label>
        <textarea
          id={id}
          rows={3}
          maxLength={500}
          value={says}
          onChange={(event) => setSays(event.target.value)}
          className="rounded-md border border-rule-strong bg-sheet px-3 py-2"
        />
      </div>
      <TextField
        label="When"
        type="datetime-local"
        step={1}
        value={when ?? wallClock(at, site.timeZone)}
        error={said === undefined ? 'The clock there was put on over that hour: choose another.' : undefined}
        onChange={({ target }) => target.value !== '' && setWhen(target.value)}
      />
      {about && (
        <ChoiceField label="About" value={of} onChange={(event) => setOf(event.target.value as typeof of)}>
          <option value="signal">{signalTitle(about)}</option>
          {device && <option value="device">{device.name}</option>}
          <option value="site">{site.name}</option>
        </ChoiceField>
      )}
    </SheetForm>
  )
}
