import type { DoorName } from '@jaunty-sparrow/contract'
import { useState } from 'react'
import { problemText } from '../../api/problemText.ts'
import { useTryMessageMutation } from '../../arrivals/arrivalsApi.ts'
import { doorNames } from '../../arrivals/doorNames.ts'
import { Button } from '../../design/Button.tsx'
import { ChoiceField, TextField } from '../../design/Field.tsx'
import { Notice } from '../../design/Notice.tsx'
import { Sheet } from '../../design/Sheet.tsx'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import { ExplainedFields } from './ExplainedFields.tsx'

/** The formats that can be pasted as text. */
const formats: readonly (readonly [mediaType: string, name: string, example: string])[] = [
  ['application/json', 'JSON', '{"temperature": 21.5}'],
  ['application/senml+json', 'SenML', '[{"n": "temperature", "u": "Cel", "v": 21.5}]'],
  ['text/csv', 'CSV', 'temperature,humidity\n21.5,48'],
  ['application/x-www-form-urlencoded', 'Form', 'temperature=21.5&humidity=48'],
  ['text/x.pairs', 'Pairs', 'temperature=21.5 humidity=48'],
  ['text/plain', 'A bare value', '21.5'],
]

/** Says what would become of a message, before any board sends it. Nothing is stored. */
export function TrySheet({ onClose }: { onClose: () => void }) {
  const { data: devices = [] } = useDevicesQuery()
  const [address, setAddress] = useState<string>()
  const [door, setDoor] = useState<DoorName>('http')
  const [topic, setTopic] = useState<string>()
  const [format, setFormat] = useState(formats[0])
  const [text, setText] = useState(format?.[2] ?? '')
  const [tail, setTail] = useState('temperature')
  const [tryIt, { data, error, isLoading }] = useTryMessageMutation()
  const chosen = address ?? devices[0]?.address ?? ''
  // Over these the format is found out from the bytes.
  const isSniffed = door === 'mqtt' || door === 'serial'
  const isBare = !isSniffed && format?.[0] === 'text/plain'
  const published = topic ?? `sparrow/${chosen}/in`
  return (
    <Sheet open onClose={onClose} title="Try a message">
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault()
          void tryIt({
            address: chosen,
            door,
            mediaType: format?.[0] ?? '',
            tail: isBare ? tail : '',
            topic: door === 'mqtt' ? published : '',
            text,
          })
        }}
      >
        <ChoiceField label="Device" value={chosen} onChange={(event) => setAddress(event.target.value)}>
          {devices.map((device) => (
            <option key={device.id} value={device.address}>
              {device.name}
            </option>
          ))}
        </ChoiceField>
        <ChoiceField label="Door" value={door} onChange={({ target }) => setDoor(target.value as DoorName)}>
          {Object.entries(doorNames).map(([value, name]) => (
            <option key={value} value={value}>
              {name}
            </option>
          ))}
        </ChoiceField>
        {door === 'mqtt' && (
          <TextField
            label="Topic"
            value={published}
            onChange={(event) => setTopic(event.target.value)}
            required
            maxLength={200}
            className="font-mono"
          />
        )}
        {!isSniffed && (
          <ChoiceField
            label="Format"
            value={format?.[0]}
            onChange={({ target }) => {
              const next = formats.find(([mediaType]) => mediaType === target.value)
              // What was typed stays; an example gives way to the next one.
              if (text === format?.[2]) setText(next?.[2] ?? '')
              setFormat(next)
            }}
          >
            {formats.map(([mediaType, name]) => (
              <option key={mediaType} value={mediaType}>
                {name}
              </option>
            ))}
          </ChoiceField>
        )}
        {isBare && (
          <TextField label="Field" value={tail} onChange={(event) => setTail(event.target.value)} required />
        )}
        <label className="grid gap-1.5 text-sm font-semibold">
          Message
          <textarea
            value={text}
            onChange={(event) => setText(event.target.value)}
            rows={4}
            spellCheck={false}
            className="w-full rounded-md border border-rule-strong bg-sheet px-3 py-2 font-mono text-sm font-normal"
          />
        </label>
        {error && <Notice tone="trouble" title={problemText(error)} />}
        {data && (
          <div className="grid gap-2" aria-live="polite">
            <p className="text-sm text-ink-soft">This is what would become of it. Nothing was stored.</p>
            <ExplainedFields explanation={data} device={undefined} />
          </div>
        )}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Close</Button>
          <Button type="submit" weight="strong" disabled={isLoading || chosen === ''}>
            Try it
          </Button>
        </div>
      </form>
    </Sheet>
  )
}
