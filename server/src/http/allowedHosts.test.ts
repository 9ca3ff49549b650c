import { hostname } from 'node:os'
import { AllowedHosts } from './allowedHosts.ts'

const hosts = new AllowedHosts(['Creamery.example'])
const allows = (host?: string) => hosts.allows({ headers: { ...(host !== undefined && { host }) } })

it.each([
  '127.0.0.1:7600',
  '192.0.2.7',
  '[::1]:7600',
  '[2001:db8::7]',
  'localhost:7600',
  hostname(),
  'creamery.example:443',
  'CREAMERY.EXAMPLE.',
])('%s is one of ours', (host) => {
  expect(allows(host)).toBe(true)
})

it.each([
  undefined,
  '',
  'elsewhere.example',
  '127.0.0.1.elsewhere.example',
  'creamery.example.elsewhere.example',
  'x:y',
])('%s is not', (host) => {
  expect(allows(host)).toBe(false)
})
