import type { Signal } from '@jaunty-sparrow/contract'
import type { Known } from '@jaunty-sparrow/core/dashboard'
import { instrumentOf, proposed } from '@jaunty-sparrow/drawings/registry'

/** What dashboards ask of instruments: which one fits a signal, and how many it takes. */
export const known: Known<Signal> = {
  propose: proposed,
  most: (kind) => instrumentOf(kind)?.takes.most ?? 1,
}
