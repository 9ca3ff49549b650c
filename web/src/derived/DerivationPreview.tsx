import type { DerivationTrial } from '@jaunty-sparrow/contract'
import { unitSymbol } from '@jaunty-sparrow/core/units'
import { Notice } from '../design/Notice.tsx'
import { Sparkline } from '../design/Sparkline.tsx'
import { shortly } from '../language/shortly.ts'
import { clockOf } from '../time/clock.ts'

interface DerivationPreviewProps {
  readonly trial: DerivationTrial
  /** UCUM code; empty for none. */
  readonly unit: string
}

/** Longer silences than this, ms, are gaps. */
const gap = 300_000

/** What follows just now, from which values, and the hour before. */
export function DerivationPreview({ trial: { problem, inputs, points }, unit }: DerivationPreviewProps) {
  if (problem !== null) return <Notice tone="trouble" title={problem} />
  const last = points.at(-1)
  const first = points[0]
  return (
    <div className="grid gap-x-6 gap-y-2 rounded-md bg-well p-3 sm:grid-cols-[minmax(0,1fr)_auto]">
      <div className="grid content-start gap-1">
        <p className="text-sm text-ink-soft">
          {last ? `At ${clockOf(last[0])} it would have been` : 'Nothing follows from what came of late.'}
        </p>
        {last && (
          <p className="text-2xl font-semibold tabular-nums">
            {shortly(last[1])} <span className="text-base font-normal">{unitSymbol(unit)}</span>
          </p>
        )}
        <p className="font-mono text-xs text-ink-soft">
          {inputs
            .map(({ name, value }) => `${name} = ${value === null ? 'nothing' : shortly(value)}`)
            .join(', ')}
        </p>
      </div>
      {first && last && <Sparkline points={points} from={first[0]} to={last[0]} gap={gap} stepped={false} />}
    </div>
  )
}
