import { Search } from 'lucide-react'
import { Dialog } from 'radix-ui'
import { type KeyboardEvent, useId, useMemo, useState } from 'react'
import { useNavigate } from 'react-router'
import { useDevicesQuery } from '../devices/devicesApi.ts'
import { useSitesQuery } from '../sites/sitesApi.ts'
import { everything, found } from './findable.ts'

const mostShown = 12

/** Goes anywhere by a few letters: type, choose with the arrows, Enter. */
export default function FindSheet({ onClose }: { onClose: () => void }) {
  const { data: sites = [] } = useSitesQuery()
  const { data: devices = [] } = useDevicesQuery()
  const [typed, setTyped] = useState('')
  const [at, setAt] = useState(0)
  const navigate = useNavigate()
  const list = useId()
  const all = useMemo(() => everything(sites, devices), [sites, devices])
  const shown = found(all, typed, mostShown)
  const go = (to: string | undefined) => {
    if (to === undefined) return
    onClose()
    void navigate(to)
  }
  const press = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key]
    if (step !== undefined) {
      event.preventDefault()
      setAt((now) => (now + step + shown.length) % Math.max(1, shown.length))
    }
    if (event.key === 'Enter') go(shown[at]?.to)
  }
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/35" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed inset-x-4 top-[10dvh] z-50 mx-auto max-h-[80dvh] max-w-lg overflow-hidden rounded-lg border border-rule bg-sheet shadow-xl"
        >
          <Dialog.Title className="sr-only">Find</Dialog.Title>
          <div className="flex items-center gap-2 border-b border-rule px-4">
            <Search aria-hidden="true" className="size-4 text-ink-soft" />
            <input
              role="combobox"
              aria-label="Find a device, a signal or a page"
              aria-expanded
              aria-controls={list}
              aria-activedescendant={shown[at] && `${list}-${at}`}
              placeholder="Find a device, a signal, a page"
              className="min-h-12 flex-1 bg-transparent outline-none placeholder:text-ink-soft"
              value={typed}
              onChange={({ target }) => {
                setTyped(target.value)
                setAt(0)
              }}
              onKeyDown={press}
            />
          </div>
          <div
            id={list}
            role="listbox"
            aria-label="What was found"
            className="max-h-[60dvh] overflow-y-auto p-1.5"
          >
            {shown.map(({ key, name, what, to }, index) => (
              <div
                key={key}
                id={`${list}-${index}`}
                role="option"
                tabIndex={-1}
                aria-selected={index === at}
                className={`flex min-h-10 cursor-pointer items-center gap-3 rounded px-2.5 text-sm ${index === at ? 'bg-well' : ''}`}
                onPointerMove={() => setAt(index)}
                onClick={() => go(to)}
                onKeyDown={press}
              >
                <span className="flex-1">{name}</span>
                <span className="text-ink-soft">{what}</span>
              </div>
            ))}
          </div>
          {shown.length === 0 && <p className="p-4 text-sm text-ink-soft">Nothing is called that.</p>}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  )
}
