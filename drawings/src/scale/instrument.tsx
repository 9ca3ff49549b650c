import { scaleOf } from '@jaunty-sparrow/core/instrument'
import {
  choice,
  defineInstrument,
  Head,
  headHeight,
  type Shown,
  type ShownSignal,
  spanSetting,
  writeValue,
} from '../instrument/index.ts'
import { Dial, dialHeight } from './Dial.tsx'
import { ruled } from './ruled.ts'
import { Scale, scaleHeight } from './Scale.tsx'

/** Room for a number below a scale, px. */
const roomForLabel = 56
/** A scale is not drawn out further than it reads well, px. */
const widest = 420

export const scale = defineInstrument({
  kind: 'scale',
  name: 'Scale',
  purpose: 'Where a number lies between its ends, how far from its limits, and where it was.',
  settings: {
    shape: choice('Shape', { ruled: 'ruled', dial: 'bent to a dial' }, 'ruled'),
    span: spanSetting('hour'),
  },
  takes: { kinds: ['number'], most: 1 },
  // The plausible range of a sensor says little of where its values lie; limits, or what somebody asked to see, do.
  fit: (signal) =>
    signal.kind === 'number' &&
    (signal.limits !== null || (signal.shown.low !== null && signal.shown.high !== null)) &&
    scaleOf(signal)
      ? 0.6
      : 0,
  importance: 'normal',
  needs: ({ span }) => ({ span }),
  height: ({ settings, width }) => headHeight + (settings.shape === 'dial' ? dialHeight(width) : scaleHeight),
  Drawing: (shown) => {
    const [signal] = shown.signals
    if (!signal) return null
    const width = Math.min(widest, shown.width)
    const isDial = shown.settings.shape === 'dial'
    const drawn = ruled(signal, { ...shown, width }, isDial ? 4 : Math.floor(width / roomForLabel))
    const { span } = drawn ?? {}
    return (
      <g>
        <Head signal={signal} shown={shown} rest={span && spanWords(span, signal, shown)} />
        {drawn && (
          <g transform={`translate(0 ${headHeight})`}>
            {isDial ? <Dial {...drawn} /> : <Scale {...drawn} />}
          </g>
        )}
      </g>
    )
  },
})

/** Between what it was. */
function spanWords(
  { low, high }: { readonly low: number; readonly high: number },
  signal: ShownSignal,
  { writing }: Pick<Shown, 'writing'>,
): string {
  const [from, to] = [writeValue(low, signal, writing), writeValue(high, signal, writing)]
  return from === to ? 'steady' : `${from} to ${to}`
}
