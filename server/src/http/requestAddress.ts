import type { IncomingMessage } from 'node:http'
import proxyAddress from 'proxy-addr'
import { ConfigError } from '../config.ts'

/**
 * Tells where requests come from: from where they say, as far as a proxy says so that is trusted.
 * @param trusted addresses and networks of proxies, with commas between; undefined for none
 * @throws ConfigError when it names no address
 */
export function requestAddress(trusted: string | undefined): (request: IncomingMessage) => string {
  try {
    const trust = proxyAddress.compile((trusted ?? '').split(',').flatMap((each) => each.trim() || []))
    return (request) => proxyAddress(request, trust)
  } catch (error) {
    throw new ConfigError(`TRUST_PROXY is "${trusted}": ${error instanceof Error ? error.message : error}.`)
  }
}
