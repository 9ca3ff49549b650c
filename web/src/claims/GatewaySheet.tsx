import type { Claim, Device } from '@jaunty-sparrow/contract'
import { fieldCalled, fieldLabel } from '@jaunty-sparrow/core/message'
import { X } from 'lucide-react'
import { useState } from 'react'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { Notice } from '../design/Notice.tsx'
import { Sheet } from '../design/Sheet.tsx'
import { useChangeDeviceMutation, useDevicesQuery } from '../devices/devicesApi.ts'
import { useClaimsQuery, useCreateClaimMutation, useDeleteClaimMutation } from './claimsApi.ts'

interface GatewaySheetProps {
  readonly device: Device
  /** A topic its key has tried to publish to in vain. */
  readonly wanted?: string
  readonly onClose: () => void
}

/** For a key that speaks for others: where it may publish, and whose its messages are. */
export function GatewaySheet({ device, wanted, onClose }: GatewaySheetProps) {
  return (
    <Sheet open onClose={onClose} title={`What the key of ${device.name} may say`}>
      <div className="grid gap-6">
        <Reach device={device} wanted={wanted} />
        <Claims device={device} />
        <div className="flex justify-end">
          <Button onClick={onClose}>Close</Button>
        </div>
      </div>
    </Sheet>
  )
}

function Reach({ device, wanted }: { device: Device; wanted: string | undefined }) {
  const asked = wanted && !device.reach.includes(wanted) ? [wanted] : []
  const [text, setText] = useState([...device.reach, ...asked].join('\n'))
  const [change, { error, isLoading, isSuccess }] = useChangeDeviceMutation()
  const reach = text
    .split('\n')
    .map((line) => line.trim())
    .filter((line) => line !== '')
  const same = reach.join('\n') === device.reach.join('\n')
  return (
    <form
      className="grid gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        void change({ address: device.address, body: { reach } })
      }}
    >
      <label className="grid gap-1.5 text-sm font-semibold">
        Topics it may publish to besides its own
        <textarea
          value={text}
          onChange={({ target }) => setText(target.value)}
          rows={3}
          spellCheck={false}
          placeholder={'garden/#\nsparrow/+/in/#'}
          className="w-full rounded-md border border-rule-strong bg-sheet px-3 py-2 font-mono text-sm font-normal"
        />
      </label>
      <p className="text-sm text-ink-soft">
        One to a line; <code>+</code> stands for any level, <code>#</code> for all the rest. For firmware and
        gateways that cannot be changed. What arrives there waits in Arrivals until you claim it.
      </p>
      {error && <Notice tone="trouble" title={problemText(error)} />}
      <div className="flex items-center gap-3">
        <Button type="submit" weight={asked.length > 0 ? 'strong' : 'plain'} disabled={isLoading || same}>
          Let it publish there
        </Button>
        {isSuccess && same && (
          <span role="status" className="text-sm text-ink-soft">
            Saved.
          </span>
        )}
      </div>
    </form>
  )
}

function Claims({ device }: { device: Device }) {
  const { data: devices = [] } = useDevicesQuery()
  const { data: claims = [] } = useClaimsQuery()
  const [give, { error }] = useDeleteClaimMutation()
  const own = claims.filter(({ keyId }) => keyId === device.id)
  return (
    <section className="grid gap-3 border-t border-rule pt-4">
      <h3 className="text-base">Whose its messages are</h3>
      {own.length === 0 && (
        <p className="text-sm text-ink-soft">
          Its own, so far. Topics are claimed in Arrivals, when something was published to them.
        </p>
      )}
      <ul className="divide-y divide-rule text-sm">
        {own.map((claim) => (
          <li key={claim.id} className="flex items-center gap-2 py-1.5">
            <span className="min-w-0 flex-1 break-words">
              {described(claim, devices.find(({ id }) => id === claim.deviceId)?.name)}
            </span>
            <button
              type="button"
              aria-label={`Give up ${claim.place}`}
              onClick={() => void give({ claimId: claim.id })}
              className="rounded p-1.5 text-ink-soft hover:bg-well"
            >
              <X aria-hidden="true" className="size-4" />
            </button>
          </li>
        ))}
      </ul>
      {error && <Notice tone="trouble" title={problemText(error)} />}
      <ByField device={device} devices={devices} />
    </section>
  )
}

const described = ({ by, place, value, part }: Claim, name: string | undefined): string => {
  if (by === 'topic') return `${place} → ${name ?? 'the device it names'}${part && `, ${part}`}`
  return value === null
    ? `The field ${fieldLabel(place)} holds the address of the device`
    : `Where ${fieldLabel(place)} is ${value} → ${name}`
}

/** For a gateway whose messages tell in a field whose they are. */
function ByField({ device, devices }: { device: Device; devices: readonly Device[] }) {
  const [field, setField] = useState('')
  const [value, setValue] = useState('')
  const [deviceId, setDeviceId] = useState('')
  const [claim, { error, isLoading }] = useCreateClaimMutation()
  return (
    <form
      className="grid gap-3 rounded-md bg-well p-3"
      onSubmit={(event) => {
        event.preventDefault()
        void claim({
          body: {
            keyId: device.id,
            by: 'field',
            place: field.startsWith('/') ? field : fieldCalled(field),
            value: deviceId === '' ? null : value,
            part: '',
            deviceId: deviceId === '' ? null : Number(deviceId),
          },
        })
      }}
    >
      <p className="text-sm text-ink-soft">
        A gateway whose messages say in a field which sensor they come from:
      </p>
      <TextField
        label="Field"
        placeholder="id"
        value={field}
        onChange={({ target }) => setField(target.value)}
        required
        maxLength={200}
      />
      <ChoiceField
        label="Device"
        hint={deviceId === '' ? 'This key may then write for every device here.' : undefined}
        value={deviceId}
        onChange={({ target }) => setDeviceId(target.value)}
      >
        <option value="">whose address the field holds</option>
        {devices
          .filter(({ id }) => id !== device.id)
          .map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
      </ChoiceField>
      {deviceId !== '' && (
        <TextField
          label="What the field holds for it"
          placeholder="A4C138"
          value={value}
          onChange={({ target }) => setValue(target.value)}
          required
          maxLength={200}
        />
      )}
      {error && <Notice tone="trouble" title={problemText(error)} />}
      <div>
        <Button type="submit" disabled={isLoading}>
          Add
        </Button>
      </div>
    </form>
  )
}
