import { BlockList, isIPv6 } from 'node:net'
import type { Request } from 'express'

const loopback = new BlockList()
loopback.addSubnet('127.0.0.0', 8)
loopback.addAddress('::1', 'ipv6')

/** Whether a request was made on the machine the server runs on. Whoever works there may read its data anyhow. */
export const isOnThisMachine = ({ ip = '' }: Request): boolean =>
  loopback.check(ip, isIPv6(ip) ? 'ipv6' : 'ipv4')
