import type { Person } from '@jaunty-sparrow/contract'

/** The cookie that holds a session's token. */
export const sessionCookie = 'sparrow_session'

/** Who asks, as far as the session tells. */
export interface FoundSession {
  readonly tokenHash: Buffer
  readonly csrfToken: string
  readonly person: Person
}

/** Finds the session that a request belongs to. */
export interface Sessions {
  find(cookieHeader: string | undefined): Promise<FoundSession | undefined>
}
