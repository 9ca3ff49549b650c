import { writeCredential } from '@jaunty-sparrow/core'

/** The line that makes a terminal speak as the device. */
export const curlLine = (origin: string, address: string, secret: string): string =>
  `curl -X POST ${origin}/in -H "Authorization: Bearer ${writeCredential({ address, secret })}" -H "Content-Type: application/json" -d '{"temperature": 21.5}'`
