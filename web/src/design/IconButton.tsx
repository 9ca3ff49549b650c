import type { ReactNode } from 'react'

interface IconButtonProps {
  /** What it does, for those who hear it and those who point at it. */
  readonly name: string
  readonly onClick: () => void
  readonly className?: string
  readonly children: ReactNode
}

/** Something to press that is a shape alone. */
export const IconButton = ({ name, onClick, className = 'p-1', children }: IconButtonProps) => (
  <button
    type="button"
    aria-label={name}
    title={name}
    onClick={onClick}
    className={`rounded text-chestnut hover:bg-well ${className}`}
  >
    {children}
  </button>
)
