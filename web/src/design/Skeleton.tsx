/** Holds the place of what is on its way, in its size, so that nothing jumps when it comes. */
export const Skeleton = ({ className = '' }: { className?: string }) => (
  <div aria-hidden="true" className={`animate-pulse rounded-md bg-well ${className}`} />
)
