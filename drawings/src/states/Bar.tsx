import { formatValue } from '@jaunty-sparrow/core/signal'
import type { Shown, ShownSignal } from '../instrument/index.ts'
import { ChoiceBar } from './ChoiceBar.tsx'
import { choiceSpans } from './choiceSpans.ts'
import { StateBar } from './StateBar.tsx'
import { stateSpans } from './stateSpans.ts'

/** One state over time, drawn as what it is. */
export const Bar = ({
  signal,
  stretch,
  width,
}: Pick<Shown, 'stretch' | 'width'> & { signal: ShownSignal }) => {
  const { trace } = signal
  // The one before holds into what is drawn.
  const points = trace?.before ? [trace.before, ...trace.points] : (trace?.points ?? [])
  const gap = trace?.gap ?? 0
  return signal.kind === 'choice' ? (
    <ChoiceBar
      spans={choiceSpans(points, stretch.to, gap)}
      nameOf={(value) => formatValue(value, signal)}
      {...stretch}
      width={width}
    />
  ) : (
    <StateBar spans={stateSpans(points, stretch.to, gap)} {...stretch} width={width} />
  )
}
