import { roseOf } from '@jaunty-sparrow/core/instrument'
import { defineInstrument, Head, headHeight, numberOf, spanSetting } from '../instrument/index.ts'
import { Compass } from './Compass.tsx'

const widest = 150
const sizeOf = (width: number): number => Math.min(widest, width)

export const compass = defineInstrument({
  kind: 'compass',
  name: 'Compass',
  purpose: 'Where a direction points, with the rose of where it pointed.',
  settings: { span: spanSetting('hour') },
  takes: { kinds: ['number'], most: 1 },
  // An angle that goes all the way round is a direction; one that does not, as of a door, is a number.
  fit: ({ kind, unit, range }) => (kind === 'number' && unit === 'deg' && range.high === 360 ? 0.8 : 0),
  importance: 'normal',
  needs: ({ span }) => ({ span }),
  height: ({ width }) => headHeight + sizeOf(width),
  Drawing: (shown) => {
    const [signal] = shown.signals
    if (!signal) return null
    return (
      <g>
        <Head signal={signal} shown={shown} rest={signal.latest ? pointOf(numberOf(signal)) : undefined} />
        <g transform={`translate(0 ${headHeight})`}>
          <Compass
            direction={numberOf(signal)}
            rose={roseOf((signal.trace?.points ?? []).map(([, value]) => value))}
            size={sizeOf(shown.width)}
          />
        </g>
      </g>
    )
  },
})

const points = [
  'north',
  'north-east',
  'east',
  'south-east',
  'south',
  'south-west',
  'west',
  'north-west',
] as const

/** What a direction is called. */
const pointOf = (direction: number | undefined): string | undefined =>
  direction === undefined ? undefined : points[((Math.round(direction / 45) % 8) + 8) % 8]
