import { hash, verify } from '@node-rs/argon2'

/** Hashes a password with argon2id (RFC 9106), at the library's parameters: 19 MiB, 2 passes. */
export const hashPassword = (password: string): Promise<string> => hash(password)

/** Stands in for the hash of somebody who does not exist, so that the answer takes as long. */
const nobody = hashPassword('nobody has this password')

/** Checks a password against a stored hash; `undefined` when there is no such person. */
export async function matchesPassword(password: string, stored: string | undefined): Promise<boolean> {
  const matches = await verify(stored ?? (await nobody), password)
  return matches && stored !== undefined
}
