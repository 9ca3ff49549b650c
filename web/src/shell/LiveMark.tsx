import { useLookedAt } from '../signals/useView.ts'
import { useAppSelector } from '../store.ts'
import { useMoment } from '../time/moment.ts'

/** Whether what is on the screen is the present: a full mark when it is, an empty one when it is not, or not all of it. */
export function LiveMark() {
  const { state } = useAppSelector(({ live }) => live)
  const looked = useLookedAt()
  const { at } = useMoment()
  const isPast = looked !== undefined || at !== undefined
  const [word, look] =
    state === 'live'
      ? isPast
        ? (['The past', 'text-ink'] as const)
        : (['Live', 'text-ink'] as const)
      : state === 'connecting'
        ? (['Connecting', 'text-ink-soft'] as const)
        : (['Not live', 'text-trouble'] as const)
  return (
    <span
      className={`inline-flex items-center gap-1.5 text-sm font-semibold ${look}`}
      data-testid="live-mark"
    >
      <span
        aria-hidden="true"
        className={`size-2.5 rounded-full border-[1.5px] border-current ${state === 'live' && !isPast ? 'bg-current' : ''}`}
      />
      {word}
    </span>
  )
}
