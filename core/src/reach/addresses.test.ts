import { isLoopback, originOf, reachableAddresses } from './addresses.ts'

const interfaces = {
  lo: [
    { address: '127.0.0.1', family: 'IPv4', internal: true },
    { address: '::1', family: 'IPv6', internal: true },
  ],
  wlan0: [
    { address: 'fe80::1', family: 'IPv6', internal: false },
    { address: '2001:db8::7', family: 'IPv6', internal: false },
    { address: '192.0.2.7', family: 'IPv4', internal: false },
    { address: '169.254.3.4', family: 'IPv4', internal: false },
  ],
  eth0: [{ address: '198.51.100.2', family: 'IPv4', internal: false }],
}

it.each<[string, string[]]>([
  ['127.0.0.1', []],
  ['localhost', []],
  ['::1', []],
  ['0.0.0.0', ['192.0.2.7', '198.51.100.2']],
  ['::', ['192.0.2.7', '198.51.100.2', '2001:db8::7']],
  ['192.0.2.7', ['192.0.2.7']],
])('a server on %s is reached at %j', (host, addresses) => {
  expect(reachableAddresses(host, interfaces)).toEqual(addresses)
})

it.each<[string, boolean]>([
  ['127.0.0.1', true],
  ['127.8.8.8', true],
  ['::1', true],
  ['::ffff:127.0.0.1', true],
  ['192.0.2.7', false],
  ['::ffff:192.0.2.7', false],
  ['2001:db8::1', false],
])('%s leads nowhere else: %s', (address, own) => {
  expect(isLoopback(address)).toBe(own)
})

it.each([
  ['http', '192.0.2.7', 7600, 'http://192.0.2.7:7600'],
  ['https', '2001:db8::7', 7643, 'https://[2001:db8::7]:7643'],
  ['https', 'creamery.example', 443, 'https://creamery.example'],
] as const)('%s at %s:%i is written %s', (scheme, host, port, origin) => {
  expect(originOf(scheme, host, port)).toBe(origin)
})
