import type { Role } from '@jaunty-sparrow/core/access'

/** Roles as people read them. */
export const roleNames: Readonly<Record<Role, string>> = {
  viewer: 'Viewer',
  operator: 'Operator',
  owner: 'Owner',
}

/** What each may do, in a line. */
export const roleMeans: Readonly<Record<Role, string>> = {
  viewer: 'looks',
  operator: 'looks, commands, acknowledges and writes notes',
  owner: 'everything, also who else may do what',
}
