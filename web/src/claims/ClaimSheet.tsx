import type { Device, Unclaimed } from '@jaunty-sparrow/contract'
import { matchTopic, suggestedPattern, topicPatternProblem } from '@jaunty-sparrow/core/claim'
import { addressFromName } from '@jaunty-sparrow/core/device'
import { signalName } from '@jaunty-sparrow/core/signal'
import { useState } from 'react'
import { counted } from '../design/counted.ts'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { Notice } from '../design/Notice.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { useCreateDeviceMutation, useDevicesQuery } from '../devices/devicesApi.ts'
import { freeAddress } from '../devices/freeAddress.ts'
import { useCreateClaimMutation } from './claimsApi.ts'

/** What came of a claim, and whose the messages are now, where that is one device. */
export interface Claimed {
  readonly said: string
  readonly device: Pick<Device, 'address' | 'name'> | undefined
}

interface ClaimSheetProps {
  readonly group: Unclaimed
  readonly all: readonly Unclaimed[]
  readonly onClaimed: (claimed: Claimed) => void
  readonly onClose: () => void
}

const newDevice = 'new'

/** Says whose the messages to a topic are: a device that is there, a part of one, or a new one. */
export function ClaimSheet({ group, all, onClaimed, onClose }: ClaimSheetProps) {
  const { data: devices = [] } = useDevicesQuery()
  const [pattern, setPattern] = useState(() =>
    suggestedPattern(
      group,
      all.filter(({ keyId }) => keyId === group.keyId),
    ),
  )
  const [deviceId, setDeviceId] = useState(newDevice)
  const [name, setName] = useState(() => nameFor(pattern))
  const [part, setPart] = useState('')
  const [createDevice, making] = useCreateDeviceMutation()
  const [claim, claiming] = useCreateClaimMutation()
  const key = devices.find(({ id }) => id === group.keyId)
  const problem = topicPatternProblem(pattern)
  const named = pattern.split('/').includes('{device}')
  const taken = problem
    ? []
    : all.filter(({ keyId, topic }) => keyId === group.keyId && matchTopic(pattern, topic))
  const messages = taken.reduce((sum, each) => sum + each.messages, 0)

  const save = async () => {
    if (!key) return
    const target = named ? undefined : (devices.find(({ id }) => String(id) === deviceId) ?? (await make()))
    const { messages: count, readings } = await claim({
      body: { keyId: key.id, by: 'topic', place: pattern, value: null, part, deviceId: target?.id ?? null },
    }).unwrap()
    const counts = `${counted(count, 'kept message')} ${count === 1 ? 'counts' : 'count'} now`
    onClaimed({
      said: `Claimed ${pattern}: ${counts}, with ${counted(readings, 'reading')}.`,
      device: target,
    })
  }
  const make = async () => {
    const address = freeAddress(name, new Set(devices.map((device) => device.address)))
    const { device } = await createDevice({ name, address, siteId: key?.siteId ?? 0 }).unwrap()
    // Should the claim fail, the next attempt is for the device that was made.
    setDeviceId(String(device.id))
    return device
  }
  return (
    <SheetForm
      title="Whose messages are these?"
      saveLabel="Claim"
      busy={making.isLoading || claiming.isLoading || problem !== undefined}
      error={making.error ?? claiming.error}
      onSave={save}
      onClose={onClose}
    >
      <TextField
        label="Topics"
        value={pattern}
        onChange={({ target }) => setPattern(target.value)}
        error={problem}
        hint={
          <>
            Takes in {counted(taken.length, 'topic')}, {counted(messages, 'message')} so far. What{' '}
            <code>#</code> or <code>{'{field}'}</code> stands for names the fields, <code>+</code> is passed
            over, <code>{'{device}'}</code> is the address of the device.
          </>
        }
        spellCheck={false}
        autoCapitalize="none"
        className="font-mono"
        required
      />
      {named && (
        <Notice tone="info" title="This key may then write for every device whose address the topic names." />
      )}
      {!named && (
        <ChoiceField label="Device" value={deviceId} onChange={({ target }) => setDeviceId(target.value)}>
          <option value={newDevice}>A new device</option>
          {devices.map((device) => (
            <option key={device.id} value={device.id}>
              {device.name}
            </option>
          ))}
        </ChoiceField>
      )}
      {!named && deviceId === newDevice && (
        <TextField
          label="Name of the new device"
          hint={
            addressFromName(name) &&
            `It speaks with the key of ${key?.name ?? group.sender}, so it needs no secret of its own.`
          }
          value={name}
          onChange={({ target }) => setName(target.value)}
          required
          maxLength={80}
        />
      )}
      {!named && deviceId !== newDevice && (
        <TextField
          label="Part of it"
          hint="Where the same fields come from several places, say which this is, such as roof. Else leave it empty."
          value={part}
          onChange={({ target }) => setPart(target.value)}
          maxLength={80}
        />
      )}
    </SheetForm>
  )
}

/** What the last level that is not a wildcard suggests as a name. */
function nameFor(pattern: string): string {
  const level = pattern.split('/').findLast((candidate) => !/[+#{]/.test(candidate) && candidate !== '')
  return level ? signalName(`/${level}`) : ''
}
