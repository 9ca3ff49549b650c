import type { Device, Signal } from '@jaunty-sparrow/contract'
import { signalTitle } from '@jaunty-sparrow/core/signal'
import { describeAge } from '@jaunty-sparrow/core/time'
import { useMemo, useState } from 'react'
import { Button } from '../design/Button.tsx'
import { TextField } from '../design/Field.tsx'
import { Sheet } from '../design/Sheet.tsx'
import { useLatest } from '../live/useLive.ts'
import { Value } from '../live/Value.tsx'
import { inUse } from '../signals/inUse.ts'
import { useNow } from '../time/clock.ts'

interface PickSignalsProps {
  readonly title: string
  readonly devices: readonly Device[]
  readonly siteName: (siteId: number) => string
  readonly onPick: (signals: readonly Signal[], together: boolean) => void
  readonly onClose: () => void
}

/** Signals to be picked out of a list that shows what each says just now, by site, device and part. */
export function PickSignals({ title, devices, siteName, onPick, onClose }: PickSignalsProps) {
  const [sought, setSought] = useState('')
  const [picked, setPicked] = useState<readonly number[]>([])
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean)
  const listed = useMemo(
    () =>
      devices
        .map((device) => ({
          device,
          signals: inUse(device).filter((signal) => {
            const said = `${siteName(device.siteId)} ${device.name} ${signalTitle(signal)}`.toLowerCase()
            return words.every((word) => said.includes(word))
          }),
        }))
        .filter(({ signals }) => signals.length > 0),
    [devices, siteName, words],
  )
  const all = devices.flatMap(inUse)
  const pick = (together: boolean) => {
    onPick(
      picked.flatMap((id) => all.find((signal) => signal.id === id) ?? []),
      together,
    )
    onClose()
  }
  return (
    <Sheet open wide title={title} onClose={onClose}>
      <TextField
        label="Find"
        placeholder="cave humidity"
        value={sought}
        onChange={(event) => setSought(event.target.value)}
      />
      <div className="mt-3 max-h-[46dvh] overflow-y-auto border-y border-rule">
        {listed.length === 0 && <p className="py-4 text-sm text-ink-soft">No signal is called so.</p>}
        {listed.map(({ device, signals }) => (
          <section
            key={device.id}
            aria-label={device.name}
            className="border-b border-rule py-2 last:border-0"
          >
            <h3 className="font-sans text-sm font-semibold">
              {device.name} <span className="font-normal text-ink-soft">· {siteName(device.siteId)}</span>
            </h3>
            {signals.map((signal) => (
              <SignalLine
                key={signal.id}
                signal={signal}
                isPicked={picked.includes(signal.id)}
                onPick={(isPicked) =>
                  setPicked(isPicked ? [...picked, signal.id] : picked.filter((id) => id !== signal.id))
                }
              />
            ))}
          </section>
        ))}
      </div>
      <div className="mt-4 flex flex-wrap justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        {picked.length > 1 && <Button onClick={() => pick(true)}>Add together in one</Button>}
        <Button weight="strong" disabled={picked.length === 0} onClick={() => pick(false)}>
          {picked.length > 1 ? `Add ${picked.length}` : 'Add'}
        </Button>
      </div>
    </Sheet>
  )
}

function SignalLine({
  signal,
  isPicked,
  onPick,
}: {
  readonly signal: Signal
  readonly isPicked: boolean
  readonly onPick: (isPicked: boolean) => void
}) {
  const now = useNow()
  const latest = useLatest(signal)
  return (
    <label className="flex min-h-9 cursor-pointer items-center gap-3 rounded px-1 hover:bg-well">
      <input
        type="checkbox"
        className="size-4 accent-chestnut"
        checked={isPicked}
        onChange={(event) => onPick(event.target.checked)}
      />
      <span className="flex-1 truncate text-sm">{signalTitle(signal)}</span>
      <Value signal={signal} />
      <span className="w-24 text-right text-xs text-ink-soft">{latest && describeAge(now - latest.at)}</span>
    </label>
  )
}
