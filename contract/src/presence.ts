import { presences } from '@jaunty-sparrow/core/presence'
import { Type } from '@sinclair/typebox'

/** How well a device or a signal keeps to what is expected of it. */
export const Presence = Type.Unsafe<(typeof presences)[number]>({ type: 'string', enum: [...presences] })
