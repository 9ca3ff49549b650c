interface SpanButtonProps {
  readonly isChosen: boolean
  readonly onClick: () => void
  readonly children: string
}

/** One of several spans that can be looked at. */
export const SpanButton = ({ isChosen, onClick, children }: SpanButtonProps) => (
  <button
    type="button"
    aria-pressed={isChosen}
    className={`min-h-8 rounded px-2 hover:bg-well ${isChosen ? 'font-semibold text-ink underline decoration-chestnut decoration-2 underline-offset-6' : 'hover:text-ink'}`}
    onClick={onClick}
  >
    {children}
  </button>
)
