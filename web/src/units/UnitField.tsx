import { unitSymbol } from '@jaunty-sparrow/core/units'
import { type KeyboardEvent, useId, useState } from 'react'
import { TextField } from '../design/Field.tsx'
import { matchingUnits, type OfferedUnit } from './matchingUnits.ts'

const mostOffered = 8

interface UnitFieldProps {
  readonly label: string
  readonly hint?: string
  /** UCUM code; empty for none. */
  readonly unit: string
  readonly onChange: (unit: string) => void
  /** Which ones may be picked; without it all of them. */
  readonly allowed?: (unit: OfferedUnit) => boolean
}

/** Picks a unit by its symbol, its name or its code. */
export function UnitField({ label, hint, unit, onChange, allowed = () => true }: UnitFieldProps) {
  const [typed, setTyped] = useState<string>()
  const [at, setAt] = useState(0)
  const list = useId()
  const isOpen = typed !== undefined
  const offered = isOpen ? matchingUnits(typed, 200).filter(allowed).slice(0, mostOffered) : []
  const pick = (code: string) => {
    onChange(code)
    setTyped(undefined)
  }
  const press = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key]
    if (step !== undefined) {
      event.preventDefault()
      if (!isOpen) setTyped('')
      else setAt((now) => (now + step + offered.length) % Math.max(1, offered.length))
    }
    const chosen = offered[at]
    if (event.key === 'Enter' && isOpen) {
      event.preventDefault()
      if (typed.trim() === '') pick('')
      else if (chosen) pick(chosen.code)
    }
    if (event.key === 'Escape' && isOpen) {
      event.stopPropagation()
      setTyped(undefined)
    }
  }
  return (
    <div className="relative">
      <TextField
        label={label}
        hint={hint}
        role="combobox"
        aria-expanded={isOpen}
        aria-controls={list}
        aria-activedescendant={isOpen && offered[at] ? `${list}-${at}` : undefined}
        autoComplete="off"
        placeholder="none"
        value={typed ?? unitSymbol(unit)}
        onChange={({ target }) => {
          setTyped(target.value)
          setAt(0)
        }}
        onFocus={({ target }) => target.select()}
        onBlur={() => {
          if (typed === '') onChange('')
          setTyped(undefined)
        }}
        onKeyDown={press}
      />
      {isOpen && (
        <div
          id={list}
          role="listbox"
          aria-label="What is offered"
          className="absolute inset-x-0 z-10 mt-1 max-h-72 overflow-y-auto rounded-md border border-rule bg-sheet p-1 shadow-lg"
        >
          {offered.map(({ code, symbol, name }, index) => (
            <div
              key={code}
              id={`${list}-${index}`}
              role="option"
              tabIndex={-1}
              aria-selected={index === at}
              className={`flex min-h-9 cursor-pointer items-center gap-3 rounded px-2 text-sm ${index === at ? 'bg-well' : ''}`}
              onPointerMove={() => setAt(index)}
              // Before the field loses the focus.
              onPointerDown={(event) => {
                event.preventDefault()
                pick(code)
              }}
            >
              <strong className="w-20">{symbol || '1'}</strong>
              <span className="flex-1 text-ink-soft">{name}</span>
            </div>
          ))}
          {offered.length === 0 && (
            <p className="px-2 py-1.5 text-sm text-ink-soft">
              No unit is called that. Units of UCUM may be typed too, such as ug/m3.
            </p>
          )}
        </div>
      )}
    </div>
  )
}
