import { choice, defineInstrument, flag, Head, headHeight, spanSetting } from '../instrument/index.ts'
import { Course } from './Course.tsx'
import { rowHeight } from './CourseRow.tsx'

const heights = { low: 120, usual: 190, high: 320 } as const

/** More traces than these belong in rows. */
const mostTogether = 3

export const course = defineInstrument({
  kind: 'course',
  name: 'Course',
  purpose: 'How numbers and states went over time, with limits, notes, night and silence.',
  settings: {
    span: spanSetting('day'),
    height: choice('Height', { low: 'low', usual: 'usual', high: 'high' }, 'usual'),
    together: choice('Up to three', { one: 'in one frame', rows: 'in rows' }, 'one'),
    limits: flag('With limits', true),
    value: flag('With the latest value', true),
  },
  takes: { kinds: ['number', 'switch', 'choice'], most: 12 },
  fit: ({ kind }) => (kind === 'number' ? 0.3 : 0.1),
  importance: 'large',
  needs: ({ span }) => ({ span }),
  height: ({ settings, signals }) => {
    const head = settings.value && signals.length === 1 ? headHeight : 0
    return signals.length > mostTogether || (settings.together === 'rows' && signals.length > 1)
      ? signals.length * rowHeight + 24
      : head + heights[settings.height] + 8
  },
  Drawing: (shown) => {
    const { settings, signals } = shown
    const [first, ...more] = signals
    if (!first) return null
    const hasHead = settings.value && more.length === 0
    const inRows = signals.length > mostTogether || (settings.together === 'rows' && more.length > 0)
    return (
      <g>
        {hasHead && <Head signal={first} shown={shown} />}
        <g transform={`translate(0 ${hasHead ? headHeight : 0})`}>
          <Course
            shown={shown}
            height={heights[settings.height]}
            withLimits={settings.limits}
            inRows={inRows}
            namesEnds={!hasHead}
          />
        </g>
      </g>
    )
  },
})
