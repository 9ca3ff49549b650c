import type { Device, Reach } from '@jaunty-sparrow/contract'
import { programKinds } from '@jaunty-sparrow/core/program'
import { useState } from 'react'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { Notice } from '../design/Notice.tsx'
import { Sheet } from '../design/Sheet.tsx'
import { latestOf } from '../live/useLive.ts'
import { ProgramFileView } from '../programs/ProgramFileView.tsx'
import { useAuthorityQuery, useReachQuery } from '../reach/reachApi.ts'
import { useAppSelector } from '../store.ts'

/** Stands where the secret goes when it is not known here any more. */
const unknownSecret = 'PUT-THE-SECRET-HERE'

/** The program a device needs, written from what is known of it: its address, where the server is, its fields, how often it speaks. */
export function ProgramSheet({ device, onClose }: { device: Device; onClose: () => void }) {
  const { data: reach } = useReachQuery()
  const { data: authority } = useAuthorityQuery(undefined, { skip: !reach?.tls?.isLocalAuthority })
  const [key, setKey] = useState(programKinds[0]?.key)
  const { cadence } = device.cadence ?? { cadence: null }
  const [seconds, setSeconds] = useState(
    cadence && cadence.by !== 'event' ? Math.max(1, Math.round(cadence.seconds)) : 30,
  )
  const fresh = useAppSelector(({ freshSecrets }) => freshSecrets[device.address])
  const kind = programKinds.find((one) => one.key === key)
  const files =
    kind?.write(
      {
        address: device.address,
        url: reach?.devices.url ?? window.location.origin,
        mqtt: mqttOf(reach),
        authority,
        seconds,
        sleeps: cadence?.by === 'sleep',
        fields: device.signals
          .filter(({ state, origin }) => state !== 'ignored' && origin === 'measured')
          .map((signal) => ({ pointer: signal.field, kind: signal.kind, last: sent(signal) })),
        guards: device.signals.some(
          ({ limits, alarms, isFormer }) => !isFormer && (limits !== null || alarms.length > 0),
        ),
        controlled: device.signals
          .filter(
            ({ state, origin, isFormer }) => state !== 'ignored' && origin === 'controlled' && !isFormer,
          )
          .map(({ field, kind }) => ({ pointer: field, kind })),
      },
      fresh ?? unknownSecret,
    ) ?? []
  return (
    <Sheet open title={`The program for ${device.name}`} onClose={onClose} wide>
      <div className="grid grid-cols-[minmax(0,1fr)] gap-4">
        <div className="grid items-start gap-4 sm:grid-cols-2">
          <ChoiceField
            label="Written in"
            hint={kind?.says}
            value={key}
            onChange={({ target }) => setKey(target.value)}
          >
            {programKinds.map((one) => (
              <option key={one.key} value={one.key}>
                {one.name}
              </option>
            ))}
          </ChoiceField>
          <TextField
            label="It speaks every, seconds"
            type="number"
            min={1}
            max={86_400}
            step={1}
            value={String(seconds)}
            onChange={({ target }) => setSeconds(Math.max(1, Math.round(target.valueAsNumber) || 1))}
          />
        </div>
        {fresh === undefined && (
          <Notice tone="info" title="The secret was shown once and is not known here">
            Put it into the file of secrets yourself, or give the device a new one: More, New secret.
          </Notice>
        )}
        {files.map((file) => (
          <ProgramFileView key={file.name} file={file} />
        ))}
      </div>
    </Sheet>
  )
}

/** Where its broker is reached; encrypted where it can be. */
const mqttOf = (reach: Reach | undefined) => ({
  host: reach?.devices.host ?? window.location.hostname,
  port: reach?.devices.mqttTlsPort ?? reach?.devices.mqttPort ?? 1883,
  isEncrypted: (reach?.devices.mqttTlsPort ?? null) !== null,
})

/** What it sends for a signal that is converted is not its value. */
const sent = (signal: Device['signals'][number]): unknown =>
  signal.conversion === null ? latestOf(signal)?.value : undefined
