import { routes } from '@jaunty-sparrow/contract'
import type { Replaying } from '../arrivals/replaying.ts'
import { ProblemError } from '../doors/problemResponse.ts'
import type { ReplayStore } from '../store/replays.ts'
import type { DeviceParts } from './devices.ts'
import { knownDevice } from './knownDevice.ts'

export interface ReplayParts extends Pick<DeviceParts, 'binder' | 'registry' | 'store' | 'hub'> {
  readonly replaying: Replaying
  readonly replays: ReplayStore
}

export function bindReplays({ binder, registry, store, hub, replaying, replays }: ReplayParts): void {
  const tellPages = async () => {
    hub.load(await store.latest())
    hub.devicesChanged()
  }

  binder.bind(routes.previewReplay, ({ params }) => replaying.preview(knownDevice(registry, params.address)))

  binder.bind(routes.listReplays, ({ params }) => replays.list(knownDevice(registry, params.address).id))

  binder.bind(routes.createReplay, async ({ params, body }) => {
    const done = await replaying.apply(knownDevice(registry, params.address), body.upTo)
    await tellPages()
    return done
  })

  binder.bind(routes.undoReplay, async ({ params }) => {
    if (!(await replays.undo(params.replayId)))
      throw new ProblemError('not-found', 'There is no such replay, or it was undone already.')
    await tellPages()
  })
}
