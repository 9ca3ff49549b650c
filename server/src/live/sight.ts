import type { DatedEvent } from '@jaunty-sparrow/contract'
import { type Access, mayAt, mayEverywhere } from '@jaunty-sparrow/core/access'

/** What a page may hear of. */
export interface Sight {
  signal(id: number): boolean
  device(id: number): boolean
  /** A device by its address; one that is not there any more is nobody's. */
  address(address: string): boolean
  /** What came in that nobody has claimed. */
  readonly strangers: boolean
  event(event: DatedEvent): boolean
}

/** Where things are. */
export interface SitesOf {
  ofDevice(id: number): number | undefined
  ofSignal(id: number): number | undefined
  ofAddress(address: string): number | undefined
}

/** What somebody hears of by their roles. */
export function sightOf(access: Access, sites: SitesOf): Sight {
  const sees = (siteId: number | null | undefined): boolean =>
    siteId === null || siteId === undefined
      ? mayEverywhere(access, 'viewer')
      : mayAt(access, 'viewer', siteId)
  return {
    signal: (id) => sees(sites.ofSignal(id)),
    device: (id) => sees(sites.ofDevice(id)),
    address: (address) => sees(sites.ofAddress(address)),
    strangers: mayEverywhere(access, 'owner'),
    event: ({ siteId }) => sees(siteId),
  }
}

/** What a stranger hears of by a link: readings of what it shows, and nothing else. */
export const sightOfLink = (signals: ReadonlySet<number>): Sight => ({
  signal: (id) => signals.has(id),
  device: () => false,
  address: () => false,
  strangers: false,
  event: () => false,
})
