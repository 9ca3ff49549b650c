import type { Device } from '@jaunty-sparrow/contract'
import { type Dashboard, proposeDashboard } from '@jaunty-sparrow/core/dashboard'
import { proposed } from '@jaunty-sparrow/drawings/registry'
import uniqBy from 'lodash-es/uniqBy.js'
import { inUse } from '../signals/inUse.ts'

/** A page of one device: each signal in its fitting instrument, and its course. */
export const pageOfDevice = (device: Device): Dashboard =>
  proposeDashboard({
    signals: inUse(device),
    refOf: ({ id }) => ({ signal: id }),
    repeat: null,
    title: device.name,
    fitting: proposed,
  })

/** A page of all devices of a kit at a site: a chapter for each, and for each that comes. @param device any one of them */
export const pageOfKit = (device: Device): Dashboard =>
  proposeDashboard({
    // Of like parts all stand for one definition.
    signals: uniqBy(inUse(device), 'definitionId'),
    refOf: ({ definitionId }) => ({ definition: definitionId }),
    repeat: { each: 'device-of-kit', kitId: device.kit.id, siteId: device.siteId },
    title: '',
    fitting: proposed,
  })
