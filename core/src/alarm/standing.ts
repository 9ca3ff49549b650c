/** Why an alarm rests for a while, by whose word, and until when, epoch ms. */
export interface Shelf {
  readonly until: number
  readonly by: string
  readonly why: string
}

/** Why an alarm is out of service, by whose word, and since when, epoch ms. */
export interface OutOfService {
  readonly since: number
  readonly by: string
  readonly why: string
}

/** How an alarm stands. */
export interface Standing {
  /** Whether what it is raised by is the case. */
  readonly isActive: boolean
  /** Whether it waits for a word. */
  readonly isUnacknowledged: boolean
  /** Whether it is over and seen, and waits to be reset. */
  readonly isLatched: boolean
  readonly shelf: Shelf | null
  readonly isSuppressed: boolean
  readonly outOfService: OutOfService | null
}

/** The states of an alarm as in ISA-18.2; `returned` is returned to normal and unacknowledged. */
export const alarmStates = [
  'normal',
  'unacknowledged',
  'acknowledged',
  'returned',
  'latched',
  'shelved',
  'suppressed',
  'out-of-service',
] as const
export type AlarmState = (typeof alarmStates)[number]

/** What can happen to an alarm: by what it watches, by its design, and by people. */
export type Move =
  | { readonly by: 'raise' | 'return' | 'suppress' | 'release' }
  | { readonly by: 'acknowledge' | 'reset' | 'wake' | 'return-to-service' }
  | { readonly by: 'shelve'; readonly shelf: Shelf }
  | { readonly by: 'take-out'; readonly outOfService: OutOfService }

export const atRest: Standing = {
  isActive: false,
  isUnacknowledged: false,
  isLatched: false,
  shelf: null,
  isSuppressed: false,
  outOfService: null,
}

/** The state an alarm is in: what is out of service tells that first, then what is shelved, then what is suppressed. */
export function stateOf(standing: Standing): AlarmState {
  if (standing.outOfService) return 'out-of-service'
  if (standing.shelf) return 'shelved'
  if (standing.isSuppressed) return 'suppressed'
  if (standing.isUnacknowledged) return standing.isActive ? 'unacknowledged' : 'returned'
  if (standing.isActive) return 'acknowledged'
  return standing.isLatched ? 'latched' : 'normal'
}

/**
 * Lets something happen to an alarm.
 * @param isLatching whether it stays after it is over until somebody resets it
 * @returns how it stands then; the same where that changes nothing, undefined where it cannot be done in that state
 */
export function moved(standing: Standing, move: Move, isLatching: boolean): Standing | undefined {
  const isAside = isSetAside(standing)
  switch (move.by) {
    case 'raise':
      if (standing.isActive) return standing
      return { ...standing, isActive: true, isUnacknowledged: !isAside, isLatched: false }
    case 'return':
      if (!standing.isActive) return standing
      return {
        ...standing,
        isActive: false,
        isLatched: isLatching && !isAside && !standing.isUnacknowledged,
      }
    case 'acknowledge':
      if (isAside || !standing.isUnacknowledged) return undefined
      return { ...standing, isUnacknowledged: false, isLatched: isLatching && !standing.isActive }
    case 'reset':
      return standing.isLatched ? { ...standing, isLatched: false } : undefined
    case 'suppress':
      return standing.isSuppressed ? standing : { ...quiet(standing), isSuppressed: true }
    case 'release':
      return standing.isSuppressed ? backAmongOthers({ ...standing, isSuppressed: false }) : standing
    case 'shelve':
      return standing.outOfService ? undefined : { ...quiet(standing), shelf: move.shelf }
    case 'wake':
      return standing.shelf ? backAmongOthers({ ...standing, shelf: null }) : undefined
    case 'take-out':
      return standing.outOfService ? undefined : { ...quiet(standing), outOfService: move.outOfService }
    case 'return-to-service':
      return standing.outOfService ? backAmongOthers({ ...standing, outOfService: null }) : undefined
  }
}

/** Whether it asks nothing of anybody, whatever is the case. */
export const isSetAside = ({ shelf, isSuppressed, outOfService }: Standing): boolean =>
  shelf !== null || isSuppressed || outOfService !== null

const quiet = (standing: Standing): Standing => ({ ...standing, isUnacknowledged: false, isLatched: false })

/** What is the case when it is set aside no more is new to everybody. */
const backAmongOthers = (standing: Standing): Standing =>
  isSetAside(standing) ? standing : { ...standing, isUnacknowledged: standing.isActive }
