import { Type } from '@sinclair/typebox'

/** An instant that is asked for: beyond these years nobody looks, and the database has no dates. */
export const Instant = Type.Integer({
  minimum: Date.UTC(1000, 0),
  maximum: Date.UTC(9999, 0),
  description: 'Epoch milliseconds.',
})
