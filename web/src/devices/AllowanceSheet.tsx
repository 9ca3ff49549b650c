import type { Device } from '@jaunty-sparrow/contract'
import { allowanceOf, largestMessage } from '@jaunty-sparrow/core/device'
import { secondsOf } from '@jaunty-sparrow/core/signal'
import { useState } from 'react'
import { Link } from 'react-router'
import { TextField } from '../design/Field.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { useChangeDeviceMutation } from './devicesApi.ts'

const nothing = { messagesPerMinute: null, readingsPerMinute: null, messageBytes: null }

const amounts = [
  ['messagesPerMinute', 'Messages a minute', 1_000_000],
  ['readingsPerMinute', 'Readings a minute', 100_000_000],
  ['messageBytes', 'Bytes in one message', largestMessage],
] as const

const whole = new Intl.NumberFormat('en-GB')

/** Says how much a device may send; what is left empty follows from its cadence. */
export function AllowanceSheet({ device, onClose }: { device: Device; onClose: () => void }) {
  const { stated } = device.allowance
  const [typed, setTyped] = useState<Record<keyof typeof stated, string>>({
    messagesPerMinute: String(stated.messagesPerMinute ?? ''),
    readingsPerMinute: String(stated.readingsPerMinute ?? ''),
    messageBytes: String(stated.messageBytes ?? ''),
  })
  const [change, { error, isLoading }] = useChangeDeviceMutation()
  const numberOf = (text: string) => (text === '' ? null : Number(text))
  const statedCadence = device.cadence?.source === 'stated' ? secondsOf(device.cadence.cadence) : null
  const usual = allowanceOf(
    { ...nothing, messagesPerMinute: numberOf(typed.messagesPerMinute) },
    statedCadence,
  )
  const usualMessages = allowanceOf(nothing, statedCadence).messagesPerMinute
  const save = () =>
    change({
      address: device.address,
      body: {
        messagesPerMinute: numberOf(typed.messagesPerMinute),
        readingsPerMinute: numberOf(typed.readingsPerMinute),
        messageBytes: numberOf(typed.messageBytes),
      },
    }).unwrap()
  return (
    <SheetForm
      title={`What ${device.name} may send`}
      saveLabel="Save"
      busy={isLoading}
      error={error}
      onSave={save}
      onClose={onClose}
    >
      <p className="text-sm text-ink-soft">
        A board that runs wild is held to these, and the others do not notice it. Left empty, each is ten
        times what the cadence needs. After an outage a day of messages may come at once.{' '}
        <Link to="/budget" className="font-semibold text-chestnut underline">
          What it costs
        </Link>
      </p>
      {amounts.map(([name, label, most]) => (
        <TextField
          key={name}
          label={label}
          type="number"
          min={1}
          max={most}
          step={1}
          placeholder={`${whole.format(name === 'messagesPerMinute' ? usualMessages : usual[name])}, by default`}
          value={typed[name]}
          onChange={({ target }) => setTyped((before) => ({ ...before, [name]: target.value }))}
        />
      ))}
    </SheetForm>
  )
}
