import type { Device } from '@jaunty-sparrow/contract'

/** A device as a dashboard shows it: all of it, or to strangers what is on the page. */
export type ShownDevice = Pick<Device, 'id' | 'name' | 'address' | 'siteId' | 'kit' | 'signals'> &
  Partial<Pick<Device, 'presence' | 'heardAt' | 'cadence'>>
