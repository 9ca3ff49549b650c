import { defineInstrument, flag, Head, headHeight, spanSetting } from '../instrument/index.ts'
import { Spark } from './Spark.tsx'
import { trendWords } from './trendWords.ts'

const sparkHeight = 26

export const value = defineInstrument({
  kind: 'value',
  name: 'Value',
  purpose: 'The latest value, where it is going, and a line of how it came there.',
  settings: {
    span: spanSetting('hour'),
    spark: flag('With the line of its course', true),
  },
  takes: { kinds: ['number', 'switch', 'choice', 'text', 'position', 'momentary'], most: 1 },
  fit: () => 0.35,
  importance: 'normal',
  needs: ({ span }) => ({ span }),
  height: ({ settings }) => headHeight + (settings.spark ? sparkHeight + 4 : 0),
  Drawing: (shown) => {
    const [signal] = shown.signals
    if (!signal) return null
    return (
      <g>
        <Head signal={signal} shown={shown} rest={trendWords(signal, shown)} />
        {shown.settings.spark && (
          <g transform={`translate(0 ${headHeight + 2})`}>
            <Spark
              trace={signal.trace}
              isStepped={signal.kind !== 'number'}
              {...shown.stretch}
              width={Math.min(230, shown.width)}
              height={sparkHeight}
            />
          </g>
        )}
      </g>
    )
  },
})
