/** A device's credential as it travels: `<address>.<secret>`; an address holds no full stop, so the first one divides. */
export interface Credential {
  readonly address: string
  readonly secret: string
}

export const writeCredential = ({ address, secret }: Credential): string => `${address}.${secret}`

/** Splits a bearer token; undefined when it is not of that shape. */
export function readCredential(token: string): Credential | undefined {
  const dot = token.indexOf('.')
  if (dot < 1 || dot === token.length - 1) return undefined
  return { address: token.slice(0, dot), secret: token.slice(dot + 1) }
}
