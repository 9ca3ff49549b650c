/** One address of one network interface, as the system tells it. */
export interface InterfaceAddress {
  readonly address: string
  readonly family: string
  readonly internal: boolean
}

/** Addresses that are this machine's own, and lead nowhere else. */
export const isLoopback = (address: string): boolean => /^(?:::ffff:)?127\.|^::1$|^localhost$/.test(address)

/** Listens to every address of the machine. */
const isEverywhere = (host: string): boolean => ['0.0.0.0', '::', ''].includes(host)

/** Given out by nobody: where a machine got no address, it takes one of these (RFC 3927, RFC 4291). */
const isMakeshift = (address: string): boolean => /^169\.254\.|^fe[89ab]/i.test(address)

/**
 * The addresses at which other machines reach one that listens, the likeliest first: IPv4 before IPv6, as small boards know no
 * other.
 * @param host what it listens on
 * @param interfaces the addresses of the machine, by interface
 * @returns none where it listens to itself only
 */
export function reachableAddresses(
  host: string,
  interfaces: Readonly<Record<string, readonly InterfaceAddress[] | undefined>>,
): string[] {
  if (isLoopback(host)) return []
  if (!isEverywhere(host)) return [host]
  const found = Object.values(interfaces)
    .flatMap((addresses) => addresses ?? [])
    .filter(({ address, internal }) => !internal && !isMakeshift(address))
    // On IPv4 only there is nothing at an IPv6 address.
    .filter(({ family }) => family === 'IPv4' || host !== '0.0.0.0')
  return [
    ...found.filter(({ family }) => family === 'IPv4'),
    ...found.filter(({ family }) => family !== 'IPv4'),
  ].map(({ address }) => address)
}

/** The origin of a server, as a URL writes it; the port of the scheme is left out. */
export function originOf(scheme: 'http' | 'https', host: string, port: number): string {
  const name = host.includes(':') ? `[${host}]` : host
  return port === (scheme === 'https' ? 443 : 80) ? `${scheme}://${name}` : `${scheme}://${name}:${port}`
}
