import type { Access, Preferences, UnitChoices } from '@jaunty-sparrow/contract'

/** The cookie that holds a session's token. */
export const sessionCookie = 'sparrow_session'

/** Whoever asks: a person, or a program in the name of one. */
export interface Caller {
  readonly person: { readonly id: number; readonly name: string }
  /** What is allowed: of a program, what is left of it by its scopes. */
  readonly access: Access
  /** In which units they want to see what is in others. */
  readonly units: UnitChoices
  /** The name of the token by which a program asks; null for a person. */
  readonly token: string | null
}

/** Who asks, as far as the session tells. */
export interface FoundSession extends Caller {
  readonly id: number
  readonly tokenHash: Buffer
  readonly csrfToken: string
  readonly byLink: boolean
  readonly preferences: Preferences
}

/** Finds the session that a request belongs to. */
export interface Sessions {
  find(cookieHeader: string | undefined): Promise<FoundSession | undefined>
}

/** Finds what a program may do by its token. */
export interface Programs {
  find(token: string): Promise<Caller | undefined>
}
