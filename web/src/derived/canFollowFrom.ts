import type { Signal } from '@jaunty-sparrow/contract'
import { countedKinds } from '@jaunty-sparrow/core/signal'

/** Whether something can be worked out from a signal: it is in use, and a number in some way. */
export const canFollowFrom = ({ kind, state, isFormer }: Signal): boolean =>
  state === 'accepted' && !isFormer && countedKinds.includes(kind)
