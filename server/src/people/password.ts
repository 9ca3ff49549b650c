import { hash, verify } from '@node-rs/argon2'
import { ProblemError } from '../http/problemResponse.ts'

/** So many passwords are worked on at once: each costs 19 MiB and time, on purpose. */
const mostAtOnce = 16
let atOnce = 0

/** @throws ProblemError when too many are worked on already */
async function oneOfFew<T>(work: () => Promise<T>): Promise<T> {
  if (atOnce >= mostAtOnce)
    throw new ProblemError('overloaded', 'Too many are signing in just now.', {}, { 'Retry-After': '2' })
  atOnce++
  try {
    return await work()
  } finally {
    atOnce--
  }
}

/** Hashes a password with argon2id (RFC 9106), at the library's parameters: 19 MiB, 2 passes. */
export const hashPassword = (password: string): Promise<string> => oneOfFew(() => hash(password))

/** Stands in for the hash of somebody who does not exist, so that the answer takes as long. */
const nobody = hash('nobody has this password')

/** Checks a password against a stored hash; `undefined` when there is no such person. */
export const matchesPassword = (password: string, stored: string | undefined): Promise<boolean> =>
  oneOfFew(async () => (await verify(stored ?? (await nobody), password)) && stored !== undefined)
