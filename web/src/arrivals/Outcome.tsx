import type { ArrivalOutcome } from '@jaunty-sparrow/contract'

const shapes: Record<
  ArrivalOutcome,
  { readonly path: string; readonly look: string; readonly word: string }
> = {
  stored: { path: 'M2 6.2 5 9l5-6.5', look: 'text-ink-soft', word: 'stored' },
  partly: { path: 'M6 1.5 10.5 6 6 10.5V1.5Z', look: 'text-late', word: 'partly' },
  throttled: { path: 'M3.5 2v8M8.5 2v8', look: 'text-late', word: 'throttled' },
  unclaimed: {
    path: 'M6 1.8a4.2 4.2 0 1 0 0 8.4 4.2 4.2 0 0 0 0-8.4Z',
    look: 'text-late',
    word: 'unclaimed',
  },
  refused: { path: 'M2.5 2.5l7 7m0-7-7 7', look: 'text-trouble', word: 'refused' },
}

/** What came of a message: a shape and a word, and a colour only where something is to be mended. */
export function Outcome({ outcome, stored }: { outcome: ArrivalOutcome; stored: number }) {
  const { path, look, word } = shapes[outcome]
  return (
    <span
      className={`inline-flex items-center gap-1.5 whitespace-nowrap ${look} ${outcome === 'stored' ? '' : 'font-semibold'}`}
    >
      <svg viewBox="0 0 12 12" className="size-3" aria-hidden="true">
        <path
          d={path}
          fill="none"
          stroke="currentColor"
          strokeWidth="1.5"
          strokeLinecap="round"
          strokeLinejoin="round"
        />
      </svg>
      {word}
      {stored > 0 && ` ${stored}`}
    </span>
  )
}
