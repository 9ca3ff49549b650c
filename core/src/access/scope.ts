import type { Role } from './access.ts'

/** What a program may be allowed: to ask, to send in the name of devices, to command, and to change what is described. */
export const scopes = ['read', 'send', 'command', 'manage'] as const
export type Scope = (typeof scopes)[number]

/** The scope that a program needs where a person needs a role. */
export const scopeOf: Readonly<Record<Role, Scope>> = {
  viewer: 'read',
  operator: 'command',
  owner: 'manage',
}

/** The highest role that scopes amount to; null where they let nothing be asked. */
export function roleOf(held: readonly Scope[]): Role | null {
  if (held.includes('manage')) return 'owner'
  if (held.includes('command')) return 'operator'
  return held.includes('read') ? 'viewer' : null
}
