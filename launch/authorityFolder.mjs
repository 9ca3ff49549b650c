import { join } from 'node:path'

/** Where the local authority of a home folder lives. */
export const authorityFolder = (home) => join(home, 'authority')
