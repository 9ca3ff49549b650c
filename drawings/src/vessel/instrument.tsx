import { formatValue } from '@jaunty-sparrow/core/signal'
import { ticks } from 'd3-array'
import {
  choice,
  defineInstrument,
  fitText,
  Head,
  headHeight,
  numberOf,
  type ShownSignal,
  words,
} from '../instrument/index.ts'
import { endsOf } from '../scale/index.ts'
import { trendWords } from '../value/index.ts'
import { measuredForm, measuredOf } from './measuredForm.ts'
import { heightOf, vesselForms } from './shapes.ts'
import { rulerWidth, Vessel } from './Vessel.tsx'

const tall = 130

export const vessel = defineInstrument({
  kind: 'vessel',
  name: 'Vessel',
  purpose: 'How full something is, drawn as what it is.',
  settings: {
    shape: choice(
      'Shape',
      { upright: 'upright', lying: 'lying', conical: 'conical', measured: 'as measured, by its table' },
      'upright',
    ),
    table: words('Its table', '', 2000, {
      editor: 'lines',
      description: 'Of what was measured: height and volume, a pair to a line, from empty to full.',
    }),
    tells: choice('The number tells', { level: 'how high it stands', volume: 'how much is in it' }, 'level'),
  },
  takes: { kinds: ['number'], most: 1 },
  fit: ({ kind, unit, range, shown }) => {
    const ends = shown.high === null ? range : shown
    const isFromEmpty = ends.low === 0 && ends.high !== null
    // Litres from empty to full are in something; so is a height that somebody gave an end to.
    return kind === 'number' && isFromEmpty && /^(?:L|hL|m3|gal.*)$/.test(unit ?? '') ? 0.7 : 0
  },
  importance: 'normal',
  needs: () => ({ span: 'hour' }),
  height: () => headHeight + tall + 14,
  Drawing: (shown) => {
    const [signal] = shown.signals
    if (!signal) return null
    const { shape, tells, table } = shown.settings
    const measured = shape === 'measured' ? measuredOf(table) : undefined
    const form = measured ? measuredForm(measured) : vesselForms[shape === 'measured' ? 'upright' : shape]
    const ends = endsOf(signal)
    const value = numberOf(signal)
    const share = (at: number) => {
      if (!ends) return 0
      const part = (at - ends.low) / (ends.high - ends.low)
      return tells === 'volume' ? heightOf(form, part) : part
    }
    const width = Math.min(shown.width - rulerWidth - 8, shape === 'lying' ? 150 : 96)
    return (
      <g>
        <Head signal={signal} shown={shown} rest={trendWords(signal, shown)} />
        {shape === 'measured' && !measured && (
          <text y={headHeight + tall + 12} fontSize={12.5} fill="var(--ink-soft)">
            {fitText('Its table must rise from line to line, in both columns.', shown.width, 12.5)}
          </text>
        )}
        <g transform={`translate(0 ${headHeight})`}>
          <Vessel
            form={form}
            level={value === undefined || !ends ? undefined : share(value)}
            ticks={
              ends
                ? ticks(ends.low, ends.high, 5).map((at) => ({
                    share: share(at),
                    label: shown.writing.number(formatValue(at, signal)),
                  }))
                : []
            }
            limits={notches(signal, share)}
            width={width}
            height={tall}
          />
        </g>
      </g>
    )
  },
})

const notches = ({ limits }: ShownSignal, share: (at: number) => number) =>
  limits
    ? (['lowLow', 'low', 'high', 'highHigh'] as const).flatMap((name) => {
        const limit = limits[name]
        return limit === null ? [] : [{ share: share(limit), isFloor: name === 'low' || name === 'lowLow' }]
      })
    : []
