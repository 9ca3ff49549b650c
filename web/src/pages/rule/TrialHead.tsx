import { SpanButton } from '../../signals/SpanButton.tsx'
import { type SpanName, spans } from '../../signals/view.ts'

interface TrialHeadProps {
  readonly span: SpanName
  readonly onSpan: (span: SpanName) => void
}

/** Over which span something is tried. */
export const TrialHead = ({ span, onSpan }: TrialHeadProps) => (
  <div className="flex flex-wrap items-baseline justify-between gap-2">
    <h2 id="trial" className="text-lg">
      Tried on the past
    </h2>
    <nav aria-label="Over which span" className="flex gap-1 text-sm text-ink-soft">
      {(['day', 'week', 'month'] as const).map((each) => (
        <SpanButton key={each} isChosen={span === each} onClick={() => onSpan(each)}>
          {spans[each].name}
        </SpanButton>
      ))}
    </nav>
  </div>
)
