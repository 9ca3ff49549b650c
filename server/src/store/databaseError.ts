/** The codes and messages of an error and of what caused it, the outermost first. */
function causes(error: unknown): { readonly code: string; readonly message: string }[] {
  const found = []
  for (let cause = error; typeof cause === 'object' && cause !== null; ) {
    const { code, message, cause: next } = cause as { code?: unknown; message?: unknown; cause?: unknown }
    found.push({ code: typeof code === 'string' ? code : '', message: String(message) })
    cause = next
  }
  return found
}

const awayMessages =
  /connection terminated|timeout exceeded when trying to connect|query read timeout|client was closed|not queryable/i

/** PostgreSQL's classes of errors that mean "not there just now": connection, shutdown, resources, and the net's own. */
export const isStoreAway = (error: unknown): boolean =>
  causes(error).some(
    ({ code, message }) =>
      /^(08|53|57P)|^(ECONN|EPIPE|ETIMEDOUT|ENOTFOUND)/.test(code) || awayMessages.test(message),
  )

/** Whether something that must be unique is there already. */
export const isTaken = (error: unknown): boolean => causes(error).some(({ code }) => code === '23505')

/** Whether something that was referred to does not exist. */
export const isMissingReference = (error: unknown): boolean =>
  causes(error).some(({ code }) => code === '23503')
