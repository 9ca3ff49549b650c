import type { Kit, Wire } from '@jaunty-sparrow/contract'
import { Plus, X } from 'lucide-react'
import { type ClipboardEvent, useState } from 'react'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { Notice } from '../design/Notice.tsx'

const inputLook = 'min-h-9 w-full rounded-md border border-rule-strong bg-sheet px-2 text-sm'
const ends = ['pin', 'wire', 'part'] as const
const titles: Readonly<Record<(typeof ends)[number], string>> = { pin: 'Pin', wire: 'Wire', part: 'Part' }
const empty: Wire = { pin: '', wire: '', part: '' }

interface WiringEditorProps {
  readonly kit: Pick<Kit, 'notes' | 'wiring'>
  readonly onSave: (built: Pick<Kit, 'notes' | 'wiring'>) => Promise<unknown>
}

/** Which wire goes where, and what to mind when it is hung. */
export function WiringEditor({ kit, onSave }: WiringEditorProps) {
  const [wiring, setWiring] = useState<readonly Wire[]>(kit.wiring)
  const [notes, setNotes] = useState(kit.notes)
  const [failed, setFailed] = useState<unknown>()
  const isChanged = notes !== kit.notes || JSON.stringify(wiring) !== JSON.stringify(kit.wiring)
  const change = (place: number, changed: Partial<Wire>) =>
    setWiring(wiring.map((wire, at) => (at === place ? { ...wire, ...changed } : wire)))
  const paste = (event: ClipboardEvent, place: number) => {
    const text = event.clipboardData.getData('text/plain')
    if (!/[\t\n]/.test(text)) return
    event.preventDefault()
    const pasted = text
      .trim()
      .split(/\r?\n/)
      .map((row) => row.split('\t').map((cell) => cell.trim()))
      .map(([pin = '', wire = '', part = '']) => ({ pin, wire, part }))
    setWiring([...wiring.slice(0, place), ...pasted, ...wiring.slice(place + 1)])
  }
  return (
    <form
      className="grid max-w-2xl gap-3"
      onSubmit={(event) => {
        event.preventDefault()
        onSave({ notes, wiring: wiring.filter(({ pin }) => pin.trim() !== '') }).then(
          () => setFailed(undefined),
          setFailed,
        )
      }}
    >
      {wiring.map((wire, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: all of it is being typed
        <div key={place} className="grid grid-cols-[1fr_1fr_2fr_auto] gap-2">
          {ends.map((end) => (
            <input
              key={end}
              aria-label={`${titles[end]} ${place + 1}`}
              placeholder={titles[end]}
              className={inputLook}
              maxLength={end === 'part' ? 80 : 40}
              value={wire[end]}
              onChange={({ target }) => change(place, { [end]: target.value })}
              onPaste={(event) => paste(event, place)}
            />
          ))}
          <Button
            weight="quiet"
            aria-label={`Remove wire ${place + 1}`}
            onClick={() => setWiring(wiring.filter((_, at) => at !== place))}
          >
            <X aria-hidden="true" className="size-4" />
          </Button>
        </div>
      ))}
      <Button
        weight="quiet"
        className="-mx-3 justify-self-start"
        onClick={() => setWiring([...wiring, empty])}
      >
        <Plus aria-hidden="true" className="size-4" />
        Add a wire
      </Button>
      <label className="grid gap-1.5 text-sm font-semibold">
        Notes
        <textarea
          rows={3}
          maxLength={4000}
          value={notes}
          placeholder="How it must hang, what to mind"
          onChange={({ target }) => setNotes(target.value)}
          className="rounded-md border border-rule-strong bg-sheet px-3 py-2 font-normal placeholder:text-ink-soft"
        />
      </label>
      {Boolean(failed) && <Notice tone="trouble" title={problemText(failed)} />}
      {isChanged && (
        <Button type="submit" className="justify-self-start">
          Save the wiring and notes
        </Button>
      )}
    </form>
  )
}
