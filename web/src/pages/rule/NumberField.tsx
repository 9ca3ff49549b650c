import { type ComponentProps, useState } from 'react'
import { TextField } from '../../design/Field.tsx'

interface NumberFieldProps extends Omit<ComponentProps<typeof TextField>, 'value' | 'onChange' | 'type'> {
  readonly value: number
  readonly onChange: (value: number) => void
}

/** A number that is typed: what is none yet, as a sign alone, stays while it is typed and changes nothing. */
export function NumberField({ value, onChange, ...field }: NumberFieldProps) {
  const [typed, setTyped] = useState<string>()
  return (
    <TextField
      {...field}
      type="number"
      required
      value={typed ?? value}
      onChange={({ target }) => {
        setTyped(target.value)
        if (Number.isFinite(target.valueAsNumber)) onChange(target.valueAsNumber)
      }}
      onBlur={() => setTyped(undefined)}
    />
  )
}
