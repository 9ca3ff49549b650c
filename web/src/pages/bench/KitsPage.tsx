import type { Signal } from '@jaunty-sparrow/contract'
import { mayEverywhere } from '@jaunty-sparrow/core/access'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import { Link } from 'react-router'
import { counted } from '../../design/counted.ts'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import { useKitQuery, useKitsQuery } from '../../kits/kitsApi.ts'
import { NewKit } from '../../kits/NewKit.tsx'
import { useAccess } from '../../people/useMay.ts'

/** What kinds of devices are made of, and which devices each reaches. */
export function KitsPage() {
  const { data: kits = [] } = useKitsQuery()
  const access = useAccess()
  const named = kits.filter(({ name }) => name !== null)
  return (
    <div className="grid gap-6">
      <header className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <div className="grid flex-1 gap-1">
          <h1 className="text-3xl">Kits</h1>
          <p className="max-w-prose text-ink-soft">
            What a kind of device is made of, said once. A change reaches every device of the kit.
          </p>
        </div>
        {mayEverywhere(access, 'owner') && <NewKit />}
      </header>
      {named.length === 0 && (
        <p className="rounded-lg border border-dashed border-rule-strong p-6 text-ink-soft">
          No kit has a name yet: each device is the only one of its kind. <em>More of this</em> on the page of
          a device makes a kit of it.
        </p>
      )}
      {named.map(({ id, name, devices }) => (
        <KitSection key={id} kitId={id} name={name ?? ''} addresses={devices} />
      ))}
    </div>
  )
}

function KitSection({
  kitId,
  name,
  addresses,
}: {
  kitId: number
  name: string
  addresses: readonly string[]
}) {
  const { data: kit } = useKitQuery(kitId)
  const { data: devices = [] } = useDevicesQuery()
  return (
    <section className="grid gap-2 border-t border-rule pt-4">
      <h2 className="text-xl">
        <Link to={`/bench/kits/${kitId}`} className="hover:text-chestnut hover:underline">
          {name}
        </Link>
      </h2>
      <p className="text-sm text-ink-soft">
        {addresses.length === 0
          ? 'No device is made of it.'
          : addresses.map((address, index) => (
              <span key={address}>
                {index > 0 && ', '}
                <Link to={`/devices/${address}`} className="text-chestnut hover:underline">
                  {devices.find((device) => device.address === address)?.name ?? address}
                </Link>
              </span>
            ))}
      </p>
      <ul className="grid gap-x-8 text-sm sm:grid-cols-2">
        {kit?.signals
          .filter(({ state }) => state === 'accepted')
          .map(({ id, name: called, unit, kind, choices }) => (
            <li key={id} className="flex items-baseline gap-2 border-b border-rule py-1.5">
              <span className="flex-1">{called}</span>
              <span className="text-ink-soft">
                {unit ? unitSymbol(unit) : kindWords(kind, choices.length)}
              </span>
            </li>
          ))}
      </ul>
    </section>
  )
}

const kindWords = (kind: Signal['kind'], states: number): string =>
  kind === 'choice' ? counted(states, 'state') : kind === 'number' ? 'a number' : kind
