import type { Problem } from '@jaunty-sparrow/contract'

/** What to tell a person about a request that failed. */
export function problemText(error: unknown): string {
  if (error && typeof error === 'object' && 'status' in error) {
    if (error.status === 'FETCH_ERROR')
      return 'The server cannot be reached. Check that it runs and that you are on its network.'
    const { data } = error as { data?: Partial<Problem> }
    if (data?.detail) return data.detail
  }
  return 'The server gave an answer that this page does not understand. Load the page again.'
}

/** Whether it failed because somebody else was first. */
export const isConflict = (error: unknown): boolean =>
  typeof error === 'object' && error !== null && 'status' in error && error.status === 409
