/** The codes and messages of an error and of what caused it, the outermost first. */
function causes(error: unknown): { readonly code: string; readonly message: string }[] {
  const found = []
  const seen = new Set<unknown>()
  for (let cause = error; typeof cause === 'object' && cause !== null && !seen.has(cause); ) {
    seen.add(cause)
    const { code, message, cause: next } = cause as { code?: unknown; message?: unknown; cause?: unknown }
    found.push({ code: typeof code === 'string' ? code : '', message: String(message) })
    cause = next
  }
  return found
}

const readOnly = 'The database takes nothing just now: it is read-only'
const full = 'The disk of the database is full'
const busy = 'The database is busy'
const stopping = 'The database is stopping or starting'
const unreachable = 'The database cannot be reached just now'
const unwilling = 'The database refused to store, which its log explains'

/**
 * Why the store cannot take anything, by the codes that say so (PostgreSQL's appendix A, and those of the system's net). What
 * is about the data that were handed over (classes 22, 23 and 54) is not among them: that is somebody's message.
 */
const reasons: readonly (readonly [code: RegExp, reason: string])[] = [
  [/^25006$/, readOnly],
  [/^(53100|ENOSPC)$/, full],
  [/^(40|53|54001|55|57014)/, busy],
  [/^57/, stopping],
  [/^(08|ECONN|EPIPE|ETIMEDOUT|ENOTFOUND|EHOSTUNREACH|ENETUNREACH|EAI_AGAIN)/, unreachable],
  [/^(?!22|23|54)[0-9A-Z]{5}$/, unwilling],
]

const awayMessages: readonly (readonly [message: RegExp, reason: string])[] = [
  [/query read timeout|canceling statement/i, busy],
  [
    /connection terminated|timeout exceeded when trying to connect|client was closed|not queryable|has encountered a connection error|pool after calling end/i,
    unreachable,
  ],
]

/** Why the store is away, in words; undefined when an error is about something else. */
export function whyStoreAway(error: unknown): string | undefined {
  for (const { code, message } of causes(error)) {
    const reason =
      reasons.find(([pattern]) => pattern.test(code))?.[1] ??
      (/^[0-9A-Z]{5}$/.test(code) ? undefined : awayMessages.find(([pattern]) => pattern.test(message))?.[1])
    if (reason) return reason
  }
  return undefined
}

/** Whether an error means that the store takes nothing just now, whatever is sent to it. */
export const isStoreAway = (error: unknown): boolean => whyStoreAway(error) !== undefined

/** Whether something that must be unique is there already. */
export const isTaken = (error: unknown): boolean => causes(error).some(({ code }) => code === '23505')

/** Whether something that is referred to would not exist: what was named, or what others name that was to go. */
export const breaksReference = (error: unknown): boolean => causes(error).some(({ code }) => code === '23503')

/** Whether a text was to be stored that holds the character U+0000, which PostgreSQL takes in none. */
export const holdsNul = (error: unknown): boolean =>
  causes(error).some(({ code }) => code === '22021' || code === '22P05')
