import { routes } from '@jaunty-sparrow/contract'
import { knownDevice } from '../devices/knownDevice.ts'
import type { DeviceParts } from '../devices/routes.ts'
import { ProblemError } from '../http/problemResponse.ts'
import type { ReadingAgain } from './readingAgain.ts'
import type { RereadingStore } from './rereadingStore.ts'

export interface RereadingParts extends Pick<DeviceParts, 'binder' | 'registry'> {
  readonly readingAgain: ReadingAgain
  readonly rereadings: RereadingStore
  /** Reads anew what is the latest of all signals, here and on other servers: it may have been removed. */
  readonly reread: () => Promise<void>
}

export function bindRereadings({ binder, registry, readingAgain, rereadings, reread }: RereadingParts): void {
  binder.bind(routes.previewRereading, ({ params }) =>
    readingAgain.preview(knownDevice(registry, params.address)),
  )

  binder.bind(routes.listRereadings, ({ params }) =>
    rereadings.list(knownDevice(registry, params.address).id),
  )

  binder.bind(routes.createRereading, async ({ params, body }) => {
    const done = await readingAgain.apply(knownDevice(registry, params.address), body.upTo)
    await reread()
    return done
  })

  binder.bind(routes.undoRereading, async ({ params }) => {
    if (!(await readingAgain.undo(params.rereadingId)))
      throw new ProblemError('not-found', 'There is no such reading again, or it was undone already.')
    await reread()
  })
}
