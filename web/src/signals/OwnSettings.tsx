import type { Signal } from '@jaunty-sparrow/contract'
import { useChangeOwnSettingsMutation } from './signalsApi.ts'

const words: Readonly<Record<Signal['own'][number], string>> = {
  unit: 'unit',
  decimals: 'decimals',
  range: 'plausible range',
  shown: 'shown range',
  bands: 'bands',
  limits: 'limits',
  alarms: 'alarms',
  storing: 'storing rule',
  conversion: 'conversion',
  faults: 'faults',
  derivation: 'formula and what it follows from',
  control: 'what may be asked of it',
  greatestRate: 'greatest rate of change',
  cadence: 'cadence',
  order: 'place in the order',
  group: 'group',
}

/** What this device has its own of; one press takes it back to what the kit says. */
export function OwnSettings({ signal, canChange }: { signal: Signal; canChange: boolean }) {
  const [change, { isLoading }] = useChangeOwnSettingsMutation()
  if (signal.own.length === 0) return null
  return (
    <ul className="grid gap-0.5 text-sm text-ink-soft">
      {signal.own.map((setting) => (
        <li key={setting}>
          its own {words[setting]}
          {canChange && (
            <button
              type="button"
              disabled={isLoading}
              className="ml-2 font-semibold text-chestnut hover:underline"
              onClick={() => void change({ signalId: signal.id, body: { takeBack: [setting] } })}
            >
              Take back
            </button>
          )}
        </li>
      ))}
    </ul>
  )
}
