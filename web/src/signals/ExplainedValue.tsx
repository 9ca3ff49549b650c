import type { Signal } from '@jaunty-sparrow/contract'
import { lazy, Suspense, useState } from 'react'
import { latestOf } from '../live/useLive.ts'
import { Value, type ValueSize } from '../live/Value.tsx'

const ExplainSheet = lazy(async () => ({
  default: (await import('../explain/ExplainSheet.tsx')).ExplainSheet,
}))

interface ExplainedValueProps {
  readonly signal: Signal
  readonly timeZone: string
  readonly decimals?: number | undefined
  readonly size?: ValueSize
}

/** A value that tells where it comes from when it is pressed. */
export function ExplainedValue({ signal, timeZone, decimals, size = 'row' }: ExplainedValueProps) {
  const [explained, setExplained] = useState<number>()
  return (
    <>
      <button
        type="button"
        title="Where does this come from?"
        className={`max-w-full cursor-help rounded hover:bg-well ${size === 'row' ? 'text-right' : 'text-left'}`}
        // What is shown now may be newer than what this was drawn with.
        onClick={() => setExplained(latestOf(signal)?.at)}
      >
        <Value signal={signal} decimals={decimals} size={size} />
      </button>
      <Suspense>
        {explained !== undefined && (
          <ExplainSheet
            signal={signal}
            at={explained}
            timeZone={timeZone}
            onClose={() => setExplained(undefined)}
          />
        )}
      </Suspense>
    </>
  )
}
