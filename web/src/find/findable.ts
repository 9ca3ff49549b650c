import type { Device, Site } from '@jaunty-sparrow/contract'
import { signalTitle } from '@jaunty-sparrow/core/signal'

/** Something that can be gone to. */
export interface Findable {
  readonly key: string
  readonly name: string
  readonly what: string
  readonly to: string
}

const pages: readonly Findable[] = (
  [
    ['Now', '/'],
    ['Devices', '/bench'],
    ['Kits', '/bench/kits'],
    ['Arrivals', '/arrivals'],
    ['Budget', '/budget'],
    ['New device', '/devices/new'],
    ['You', '/settings'],
    ['Sites', '/settings/sites'],
    ['People', '/settings/people'],
    ['Tokens', '/settings/tokens'],
    ['Reach', '/settings/reach'],
    ['This server', '/settings/server'],
    ['What was done', '/settings/log'],
  ] as const
).map(([name, to]) => ({ key: to, name, what: 'page', to }))

/** Everything there is to go to: devices first, as they are wanted most. */
export const everything = (sites: readonly Site[], devices: readonly Device[]): Findable[] => [
  ...devices.map(({ address, name, siteId }) => ({
    key: `device ${address}`,
    name,
    what: sites.find(({ id }) => id === siteId)?.name ?? 'device',
    to: `/devices/${address}`,
  })),
  ...devices.flatMap(({ address, name, signals }) =>
    signals
      .filter(({ state, isFormer }) => state === 'accepted' && !isFormer)
      .map((signal) => ({
        key: `signal ${signal.id}`,
        name: signalTitle(signal),
        what: name,
        to: `/devices/${address}`,
      })),
  ),
  ...sites.map(({ id, name }) => ({ key: `site ${id}`, name, what: 'site', to: `/#site-${id}` })),
  ...pages,
]

/** What fits: each word typed begins a word of it, in any order; where it begins the name, it comes first. */
export function found(all: readonly Findable[], typed: string, most: number): Findable[] {
  const words = wordsOf(typed)
  const fits = all.filter(({ name, what }) => {
    const own = wordsOf(`${name} ${what}`)
    return words.every((word) => own.some((candidate) => candidate.startsWith(word)))
  })
  const begins = ({ name }: Findable) => name.toLowerCase().startsWith(typed.trim().toLowerCase())
  return [...fits.filter(begins), ...fits.filter((item) => !begins(item))].slice(0, most)
}

const wordsOf = (text: string): string[] =>
  text
    .toLowerCase()
    .split(/[\s,./·-]+/)
    .filter(Boolean)
