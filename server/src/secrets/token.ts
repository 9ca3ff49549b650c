import { hash, randomBytes, timingSafeEqual } from 'node:crypto'

/** A secret nobody can guess: 192 random bits, safe in URLs, headers and topics. */
export const newToken = (): string => randomBytes(24).toString('base64url')

/** What is stored instead of a token. A token is random through and through, so one round of SHA-256 is enough. */
export const hashToken = (token: string): Buffer => hash('sha256', token, 'buffer')

/** Compares in constant time, so that answers do not tell how much of a guess was right. */
export const matchesHash = (token: string, expected: Buffer): boolean =>
  timingSafeEqual(hashToken(token), expected)
