const uniqueViolation = '23505'
const foreignKeyViolation = '23503'

/** The code PostgreSQL gave an error, wherever in the chain of causes it stands. */
function sqlState(error: unknown): string | undefined {
  for (let cause = error; cause instanceof Error; cause = cause.cause) {
    if ('code' in cause && typeof cause.code === 'string') return cause.code
  }
  return undefined
}

/** Whether something that must be unique is there already. */
export const isTaken = (error: unknown): boolean => sqlState(error) === uniqueViolation

/** Whether something that was referred to does not exist. */
export const isMissingReference = (error: unknown): boolean => sqlState(error) === foreignKeyViolation
