import type { Signal } from '@jaunty-sparrow/contract'
import { signalTitle } from '@jaunty-sparrow/core/signal'
import { between, unitSymbol, usualUnits } from '@jaunty-sparrow/core/units'
import type { Shown } from '@jaunty-sparrow/drawings/instrument'
import { DropdownMenu } from 'radix-ui'
import { lazy, Suspense, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { MenuItem } from '../design/MenuItem.tsx'
import { menuItemLook, menuLook } from '../design/menuLook.ts'
import { saveFile } from '../design/saveFile.ts'
import { isDrawn } from '../signals/isDrawn.ts'
import { drawPng, svgText } from './pictureOf.ts'

const NoteSheet = lazy(async () => ({ default: (await import('../notes/NoteSheet.tsx')).NoteSheet }))
const DataTable = lazy(async () => ({ default: (await import('./DataTable.tsx')).DataTable }))

interface InstrumentMenuProps {
  readonly title: string
  readonly signals: readonly Signal[]
  readonly shown: Shown
  readonly svg: SVGSVGElement | null
  /** Of the device that the first signal is of. */
  readonly address: string | undefined
  /** The unit that its numbers are seen in by choice; null for the usual one. */
  readonly unit: string | null
  readonly onUnit: (unit: string | null) => void
  readonly onExplain: (signal: number) => void
  readonly onNote: (id: number) => void
  readonly onClose: () => void
}

/** What can be done with an instrument; open from the start, as somebody asked for it. */
export function InstrumentMenu(props: InstrumentMenuProps) {
  const { title, signals, shown, svg, address, unit, onUnit, onExplain, onNote, onClose } = props
  const navigate = useNavigate()
  const [sheet, setSheet] = useState<'data' | 'note'>()
  /** Whether what it leads to stays open when the menu goes. */
  const leadsOn = useRef(false)
  const lead = (to: 'data' | 'note') => {
    leadsOn.current = true
    setSheet(to)
  }
  const [first] = signals
  const unitOfFirst = first?.unit ?? ''
  const others = unitOfFirst
    ? usualUnits.filter(({ code }) => code !== unitOfFirst && between(unitOfFirst, code) !== undefined)
    : []
  const { from, to } = shown.stretch
  const notes = shown.notes.filter(({ at }) => at >= from && at <= to).slice(0, 5)
  const name = title.toLowerCase().replaceAll(/[^a-z0-9]+/g, '-')
  return (
    <>
      <DropdownMenu.Root defaultOpen onOpenChange={(isOpen) => !isOpen && !leadsOn.current && onClose()}>
        <DropdownMenu.Trigger
          aria-label={`More of ${title}`}
          className="pointer-events-none absolute top-2 right-0 size-6 opacity-0"
        />
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="end" className={menuLook}>
            {signals.slice(0, 6).map((signal) => (
              <MenuItem key={signal.id} onSelect={() => onExplain(signal.id)}>
                {signals.length === 1 ? 'Explain this value' : `Explain ${signalTitle(signal)}`}
              </MenuItem>
            ))}
            {address !== undefined && (
              <MenuItem onSelect={() => void navigate(`/devices/${address}?span=day`)}>Look closer</MenuItem>
            )}
            {signals.some(isDrawn) && <MenuItem onSelect={() => lead('data')}>Data as a table</MenuItem>}
            <MenuItem onSelect={() => lead('note')}>Write a note</MenuItem>
            {notes.map(({ id, says }) => (
              <MenuItem key={id} onSelect={() => onNote(id)}>
                <span className="block max-w-64 truncate">Note: {says}</span>
              </MenuItem>
            ))}
            <DropdownMenu.Separator className="my-1.5 h-px bg-rule" />
            <MenuItem onSelect={() => svg && saveFile(`${name}.svg`, 'image/svg+xml', svgText(svg))}>
              Picture, SVG
            </MenuItem>
            <MenuItem
              onSelect={() =>
                svg && void drawPng(svg).then((png) => saveFile(`${name}.png`, 'image/png', png))
              }
            >
              Picture, PNG
            </MenuItem>
            <MenuItem onSelect={() => void navigator.clipboard?.writeText(location.href)}>
              Copy link to this page
            </MenuItem>
            {others.length > 0 && (
              <>
                <DropdownMenu.Separator className="my-1.5 h-px bg-rule" />
                <DropdownMenu.RadioGroup
                  value={unit ?? ''}
                  onValueChange={(next) => onUnit(next === '' ? null : next)}
                >
                  {[{ code: '', name: 'as usual' }, ...others.slice(0, 6)].map(({ code, name: called }) => (
                    <DropdownMenu.RadioItem
                      key={code}
                      value={code}
                      className={`${menuItemLook} data-[state=checked]:font-semibold`}
                    >
                      {code === '' ? 'In its usual unit' : `In ${unitSymbol(code)}, ${called}`}
                    </DropdownMenu.RadioItem>
                  ))}
                </DropdownMenu.RadioGroup>
              </>
            )}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <Suspense>
        {sheet === 'data' && <DataTable title={title} shown={shown} onClose={onClose} />}
        {sheet === 'note' && <NoteSheet at={shown.now} about={first} onClose={onClose} />}
      </Suspense>
    </>
  )
}
