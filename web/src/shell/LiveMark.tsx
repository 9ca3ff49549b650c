import { useLookedAt } from '../signals/useView.ts'
import { useAppSelector } from '../store.ts'

/** Whether what is on the screen is the present: a filled beak pointing on when it is, an open one when it is not, or not all of it. */
export function LiveMark() {
  const { state } = useAppSelector(({ live }) => live)
  const isPast = useLookedAt() !== undefined
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
      <svg viewBox="0 0 12 12" className="size-3" aria-hidden="true">
        <path
          d="M2 1.5 10.5 6 2 10.5Z"
          fill={state === 'live' && !isPast ? 'currentColor' : 'none'}
          stroke="currentColor"
          strokeWidth="1.5"
          strokeLinejoin="round"
        />
      </svg>
      {word}
    </span>
  )
}
