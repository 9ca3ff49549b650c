import type { Device, Signal } from '@jaunty-sparrow/contract'
import { vitalOf, vitals } from '@jaunty-sparrow/core/device'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import { valueText } from '../language/valueText.ts'
import { useLatest } from '../live/useLive.ts'
import { inUse } from '../signals/inUse.ts'

/** What a board tells of itself: how well it is heard, its battery, its firmware; nothing where it tells none. */
export const Vitals = ({ device }: { device: Device }) =>
  vitals.map((vital) => {
    const signal = inUse(device).find((each) => vitalOf(each) === vital)
    return signal && <VitalValue key={vital} vital={vital} signal={signal} />
  })

function VitalValue({ vital, signal }: { vital: string; signal: Signal }) {
  const latest = useLatest(signal)
  if (!latest) return null
  return (
    <>
      {` · ${vital} `}
      <span className="text-ink tabular-nums">
        {valueText(latest.value, signal)}
        {signal.unit && ` ${unitSymbol(signal.unit)}`}
      </span>
    </>
  )
}
