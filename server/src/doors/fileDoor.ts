import { routes } from '@jaunty-sparrow/contract'
import type { Binder } from '../api/binder.ts'
import { knownDevice } from '../api/knownDevice.ts'
import type { DeviceRegistry } from '../ingest/deviceRegistry.ts'
import type { StraightWay } from '../ingest/straightWay.ts'
import { ProblemError } from './problemResponse.ts'

/** Of a long list of refusals the first ones tell the story. */
const mostRefusedListed = 100

interface FileDoorParts {
  readonly binder: Binder
  readonly registry: DeviceRegistry
  readonly straightWay: StraightWay
  readonly now: () => number
}

/** The door for files: a person brings what a device recorded, piece by piece. */
export function bindFileDoor({ binder, registry, straightWay, now }: FileDoorParts): void {
  binder.bind(routes.importFile, async ({ params, body }) => {
    const device = knownDevice(registry, params.address)
    const outcome = await straightWay.receive(device, {
      door: 'file',
      mediaType: body.mediaType,
      tail: '',
      topic: '',
      body: Buffer.from(body.text),
      receivedAt: now(),
    })
    if (outcome.kind === 'stored') {
      const { stored, fresh, refused } = outcome
      const listed = refused.slice(0, mostRefusedListed)
      return { stored: fresh, alreadyThere: stored - fresh, refused: listed, refusedTotal: refused.length }
    }
    if (outcome.kind === 'refused' && outcome.refused.length > 0) {
      const { refused } = outcome
      const listed = refused.slice(0, mostRefusedListed)
      return { stored: 0, alreadyThere: 0, refused: listed, refusedTotal: refused.length }
    }
    throw new ProblemError(
      'invalid',
      outcome.kind === 'refused' ? outcome.detail : 'The piece was not taken.',
    )
  })
}
