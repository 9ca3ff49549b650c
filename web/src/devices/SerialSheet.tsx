import type { Device } from '@jaunty-sparrow/contract'
import { useState } from 'react'
import { Button } from '../design/Button.tsx'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { SheetForm } from '../design/SheetForm.tsx'
import { useRemoveSerialPortMutation, useSerialPortsQuery, useSetSerialPortMutation } from './devicesApi.ts'

const speeds = [9600, 19_200, 38_400, 57_600, 115_200, 230_400, 460_800, 921_600]
const other = 'other'

/** Says which serial port a device is wired to, and how it speaks there. */
export function SerialSheet({ device, onClose }: { device: Device; onClose: () => void }) {
  const { serial } = device
  const { data: ports = [] } = useSerialPortsQuery()
  const [chosen, setChosen] = useState(serial?.path)
  const [typed, setTyped] = useState(serial?.path ?? '')
  const [speed, setSpeed] = useState(serial?.speed ?? 115_200)
  const [header, setHeader] = useState(serial?.csvHeader ?? '')
  const [set, setting] = useSetSerialPortMutation()
  const [remove, removing] = useRemoveSerialPortMutation()
  const listed = ports.some(({ path }) => path === (chosen ?? ports[0]?.path))
  const choice = listed ? (chosen ?? ports[0]?.path ?? other) : other
  const save = () =>
    set({
      address: device.address,
      body: { path: choice === other ? typed : choice, speed, csvHeader: header.trim() || null },
    }).unwrap()
  return (
    <SheetForm
      title={`The serial port of ${device.name}`}
      saveLabel="Listen"
      busy={setting.isLoading || removing.isLoading}
      error={setting.error ?? removing.error}
      onSave={save}
      onClose={onClose}
      aside={
        serial && (
          <Button
            onClick={() =>
              void remove({ address: device.address })
                .unwrap()
                .then(onClose, () => undefined)
            }
          >
            Let go of it
          </Button>
        )
      }
    >
      <p className="text-sm text-ink-soft">
        Plug the board into the machine this server runs on. Every line it prints is a message: JSON,{' '}
        <code>temperature=21.5 humidity=48</code>, or values with commas.
      </p>
      <ChoiceField label="Port" value={choice} onChange={({ target }) => setChosen(target.value)}>
        {ports.map(({ path, maker }) => (
          <option key={path} value={path}>
            {path}
            {maker && `, ${maker}`}
          </option>
        ))}
        <option value={other}>
          {ports.length === 0 ? 'no port is plugged in: type its path' : 'another path …'}
        </option>
      </ChoiceField>
      {choice === other && (
        <TextField
          label="Path"
          placeholder="/dev/ttyUSB0"
          value={typed}
          onChange={({ target }) => setTyped(target.value)}
          required
          maxLength={200}
          spellCheck={false}
          className="font-mono"
        />
      )}
      <ChoiceField
        label="Speed, baud"
        hint="What the firmware was told when it opened its serial line."
        value={speed}
        onChange={({ target }) => setSpeed(Number(target.value))}
      >
        {[...new Set([...speeds, speed])].map((each) => (
          <option key={each} value={each}>
            {each}
          </option>
        ))}
      </ChoiceField>
      <TextField
        label="Names of the values"
        hint="For lines that hold values only, like 6.61,18.5: their names in order, with commas. Else leave it empty."
        placeholder="ph,temperature"
        value={header}
        onChange={({ target }) => setHeader(target.value)}
        maxLength={500}
        spellCheck={false}
        className="font-mono"
      />
    </SheetForm>
  )
}
