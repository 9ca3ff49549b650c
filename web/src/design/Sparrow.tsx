/** The mark of the program: a sparrow with its tail up. */
export const Sparrow = ({ className = '' }: { className?: string }) => (
  <svg viewBox="0 0 32 32" aria-hidden="true" className={className} fill="currentColor">
    <path d="M2 7.5 9.2 9a7 7 0 0 1 13-1.2l5.8 2.4-5 2.1c.3 7.6-4.2 12.2-10.6 12.4L9 29H6.4l2-5.2C5 21.4 4 15.2 2 7.5Z" />
    <circle cx="18" cy="9.6" r="1.3" fill="var(--paper)" />
  </svg>
)
