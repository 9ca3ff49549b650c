import type { Presence } from '@jaunty-sparrow/core/presence'

/** What each state is called; each has a shape of its own besides, and what is as it should be has none. */
export const presenceWords: Readonly<Record<Presence, string>> = {
  'on-time': 'on time',
  late: 'late',
  silent: 'silent',
  asleep: 'asleep',
  retired: 'retired',
  down: 'shut down',
  never: 'not heard yet',
}

const shapes: Partial<Record<Presence, string>> = {
  // An hourglass, two dotted posts with nothing between, a closed eye.
  late: 'M2 1.5h8L6 6l4 4.5H2L6 6Z',
  silent: 'M2.5 1.5v2m0 2.5v2m0 2.5v.5M9.5 1.5v2m0 2.5v2m0 2.5v.5',
  // A bar that ends.
  down: 'M6 1.5v5M3 3.5a4.2 4.2 0 1 0 6 0',
  asleep: 'M1.5 5c2.5 4 6.5 4 9 0M3 8 2 9.5M6 8.5v2M9 8l1 1.5',
}

export const presenceLooks: Readonly<Record<Presence, string>> = {
  'on-time': 'text-ink-soft',
  late: 'text-late font-semibold',
  silent: 'text-trouble font-semibold',
  asleep: 'text-ink-soft',
  retired: 'text-ink-soft',
  down: 'text-ink-soft',
  never: 'text-ink-soft',
}

/** The shape of a state. */
export const PresenceShape = ({ presence }: { presence: Presence }) =>
  shapes[presence] ? (
    <svg viewBox="0 0 12 12" className="size-3 shrink-0" aria-hidden="true">
      <path
        d={shapes[presence]}
        fill="none"
        stroke="currentColor"
        strokeWidth="1.4"
        strokeLinecap="round"
        strokeLinejoin="round"
      />
    </svg>
  ) : null

/** A state in a word with its shape; nothing while all is well, since only the abnormal should draw the eye. */
export const PresenceWord = ({ presence }: { presence: Presence }) =>
  presence === 'on-time' ? null : (
    <span className={`inline-flex items-center gap-1 text-xs whitespace-nowrap ${presenceLooks[presence]}`}>
      <PresenceShape presence={presence} />
      {presenceWords[presence]}
    </span>
  )
