import { Plus, X } from 'lucide-react'
import { useState } from 'react'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { Notice } from '../design/Notice.tsx'

type Constants = Readonly<Record<string, number>>

interface ConstantsEditorProps {
  readonly constants: Constants
  readonly onSave: (constants: Record<string, number>) => Promise<unknown>
}

const inputLook = 'min-h-9 rounded-md border border-rule-strong bg-sheet px-2 text-sm'

/** Numbers that conversions may name, such as the resistor beside a sensor. */
export function ConstantsEditor({ constants, onSave }: ConstantsEditorProps) {
  const [rows, setRows] = useState<(readonly [string, string])[]>(
    Object.entries(constants).map(([name, value]) => [name, String(value)]),
  )
  const [failed, setFailed] = useState<unknown>()
  const next = Object.fromEntries(rows.map(([name, value]) => [name.trim(), Number(value)]))
  const isChanged =
    JSON.stringify(next) !== JSON.stringify(constants) || rows.length !== Object.keys(next).length
  const change = (place: number, row: readonly [string, string]) =>
    setRows(rows.map((other, at) => (at === place ? row : other)))
  return (
    <form
      className="grid max-w-md gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        onSave(next).then(() => setFailed(undefined), setFailed)
      }}
    >
      {rows.map(([name, value], place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: its name is being typed
        <div key={place} className="grid grid-cols-[1fr_8rem_auto] gap-2">
          <input
            aria-label={`Constant ${place + 1}`}
            className={`${inputLook} font-mono`}
            value={name}
            placeholder="series"
            required
            pattern="[A-Za-z_][A-Za-z0-9_]{0,39}"
            title="A letter first, then letters, digits and _"
            onChange={({ target }) => change(place, [target.value, value])}
          />
          <input
            aria-label={`Value of constant ${place + 1}`}
            className={inputLook}
            type="number"
            step="any"
            value={value}
            required
            onChange={({ target }) => change(place, [name, target.value])}
          />
          <Button
            weight="quiet"
            aria-label={`Remove ${name || 'it'}`}
            onClick={() => setRows(rows.filter((_, at) => at !== place))}
          >
            <X aria-hidden="true" className="size-4" />
          </Button>
        </div>
      ))}
      {Boolean(failed) && <Notice tone="trouble" title={problemText(failed)} />}
      <div className="flex gap-2">
        <Button weight="quiet" className="-mx-3" onClick={() => setRows([...rows, ['', '']])}>
          <Plus aria-hidden="true" className="size-4" />
          Add a constant
        </Button>
        {isChanged && <Button type="submit">Save the constants</Button>}
      </div>
    </form>
  )
}
