import type { Device, ResponseOf, routes, Signal } from '@jaunty-sparrow/contract'
import { mayAt } from '@jaunty-sparrow/core/access'
import { signalTitle, usualControl } from '@jaunty-sparrow/core/signal'
import { useMemo, useState } from 'react'
import { problemText } from '../api/problemText.ts'
import { CheckField, ChoiceField } from '../design/Field.tsx'
import { Notice } from '../design/Notice.tsx'
import { Value } from '../live/Value.tsx'
import { useAccess } from '../people/useMay.ts'
import { useRequestCommandsMutation } from './commandsApi.ts'
import { HoldButton } from './HoldButton.tsx'
import { Outcome } from './Outcome.tsx'

interface Same {
  readonly name: string
  readonly signals: readonly { readonly signal: Signal; readonly device: Device }[]
}

/** Switches of one name at several devices, asked for the same at once; each is confirmed on its own. */
export function AllAtOnce({ devices }: { readonly devices: readonly Device[] }) {
  const access = useAccess()
  const groups = useMemo(() => {
    const byName = new Map<string, Same['signals'][number][]>()
    for (const device of devices)
      for (const signal of device.signals) {
        const role = (signal.control ?? usualControl).role
        const fits = signal.kind === 'switch' && signal.origin === 'controlled' && !signal.isFormer
        if (!fits || !mayAt(access, role, device.siteId)) continue
        const name = signalTitle(signal)
        byName.set(name, [...(byName.get(name) ?? []), { signal, device }])
      }
    return [...byName].flatMap(([name, signals]): Same[] => (signals.length > 1 ? [{ name, signals }] : []))
  }, [devices, access])
  const [chosen, setChosen] = useState<string>()
  const [left, setLeft] = useState<ReadonlySet<number>>(new Set())
  const [request, { isLoading, error, data }] = useRequestCommandsMutation()
  const group = groups.find(({ name }) => name === chosen) ?? groups[0]
  if (!group) return null
  const wanted = group.signals.map(({ signal }) => signal.id).filter((id) => !left.has(id))
  const ask = (value: 0 | 1) => void request({ signals: wanted, value })
  return (
    <section className="grid gap-3 border-t border-ink pt-3" aria-labelledby="at-once">
      <h2 id="at-once" className="text-lg">
        Several at once
      </h2>
      <div className="grid items-start gap-4 sm:grid-cols-[14rem_1fr]">
        <ChoiceField label="All called" value={group.name} onChange={({ target }) => setChosen(target.value)}>
          {groups.map(({ name }) => (
            <option key={name} value={name}>
              {name}
            </option>
          ))}
        </ChoiceField>
        <ul className="grid gap-1.5">
          {group.signals.map(({ signal, device }) => (
            <li key={signal.id} className="grid gap-x-4 sm:grid-cols-[14rem_5rem_1fr]">
              <CheckField
                label={device.name}
                checked={!left.has(signal.id)}
                onChange={({ target }) =>
                  setLeft((before) => {
                    const next = new Set(before)
                    if (target.checked) next.delete(signal.id)
                    else next.add(signal.id)
                    return next
                  })
                }
              />
              <Value signal={signal} />
              <span>
                <Outcome signal={signal} />
                <Refused of={signal.id} told={data} />
              </span>
            </li>
          ))}
        </ul>
      </div>
      {error && <Notice tone="trouble" title={problemText(error)} />}
      <div className="flex gap-2">
        <HoldButton disabled={isLoading || wanted.length === 0} onHeld={() => ask(0)}>
          Switch {wanted.length} off
        </HoldButton>
        <HoldButton disabled={isLoading || wanted.length === 0} onHeld={() => ask(1)}>
          Switch {wanted.length} on
        </HoldButton>
      </div>
    </section>
  )
}

function Refused({
  of,
  told,
}: {
  readonly of: number
  readonly told: ResponseOf<typeof routes.requestCommands> | undefined
}) {
  const why = told?.find(({ signalId }) => signalId === of)?.refused
  return why ? <p className="text-sm font-semibold">Not sent: {why}</p> : null
}
