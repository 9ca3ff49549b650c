import type { Signal, SignalSettings } from '@jaunty-sparrow/contract'
import { useId, useState } from 'react'
import { Button } from '../design/Button.tsx'
import { ChoiceField, TextField } from '../design/Field.tsx'
import { Value } from '../live/Value.tsx'

type Interlock = NonNullable<SignalSettings['control']>['unless'][number]

interface InterlockListProps {
  readonly interlocks: readonly Interlock[]
  readonly others: readonly Signal[]
  readonly onChange: (interlocks: readonly Interlock[]) => void
}

/** How a signal can stand in the way, as a formula of it and as it is said. */
const ways = {
  on: { name: 'is on', formula: () => 'a > 0.5' },
  off: { name: 'is off', formula: () => 'a < 0.5' },
  above: { name: 'is above', formula: (bound: number) => `a > ${bound}` },
  below: { name: 'is below', formula: (bound: number) => `a < ${bound}` },
} as const
type Way = keyof typeof ways

/** What must not be the case when it is asked for; each is picked from what its device says. */
export function InterlockList({ interlocks, others, onChange }: InterlockListProps) {
  const id = useId()
  const fitting = others.filter(({ kind, part }) => (kind === 'switch' || kind === 'number') && part === '')
  const [named, setNamed] = useState(fitting[0]?.name ?? '')
  const picked = fitting.find(({ name }) => name === named)
  const [way, setWay] = useState<Way>('on')
  const [bound, setBound] = useState('0')
  const fits: readonly Way[] = picked?.kind === 'switch' ? ['on', 'off'] : ['above', 'below']
  const chosen = fits.includes(way) ? way : (fits[0] ?? 'on')
  const hasBound = chosen === 'above' || chosen === 'below'
  const add = () => {
    const { name, formula } = ways[chosen]
    const says = `${named} ${name}${hasBound ? ` ${bound}` : ''}`
    onChange([...interlocks, { says, formula: formula(Number(bound)), inputs: [{ name: 'a', named }] }])
  }
  if (fitting.length === 0 && interlocks.length === 0) return null
  return (
    <section className="grid gap-2" aria-labelledby={id}>
      <h3 id={id} className="text-sm font-semibold">
        Not while
      </h3>
      <ul className="grid gap-1 text-sm empty:hidden">
        {interlocks.map((interlock, place) => (
          <li key={`${interlock.says} ${interlock.formula}`} className="flex items-center gap-2">
            <span className="flex-1">{interlock.says}</span>
            <Button
              weight="quiet"
              aria-label={`No longer: ${interlock.says}`}
              onClick={() => onChange(interlocks.filter((_, each) => each !== place))}
            >
              Remove
            </Button>
          </li>
        ))}
      </ul>
      {picked && (
        <div className="flex flex-wrap items-end gap-2">
          <ChoiceField label="Signal" value={named} onChange={({ target }) => setNamed(target.value)}>
            {fitting.map(({ id: each, name }) => (
              <option key={each} value={name}>
                {name}
              </option>
            ))}
          </ChoiceField>
          <span className="pb-2 text-sm text-ink-soft">
            now <Value signal={picked} />
          </span>
          <ChoiceField
            label="Condition"
            value={chosen}
            onChange={({ target }) => setWay(target.value as Way)}
          >
            {fits.map((each) => (
              <option key={each} value={each}>
                {ways[each].name}
              </option>
            ))}
          </ChoiceField>
          {hasBound && (
            <TextField
              label="Bound"
              type="number"
              step="any"
              value={bound}
              onChange={({ target }) => setBound(target.value)}
            />
          )}
          <Button disabled={hasBound && bound === ''} onClick={add}>
            Add
          </Button>
        </div>
      )}
    </section>
  )
}
