import type { BodyOf, routes } from '@jaunty-sparrow/contract'
import brineNode from './shipped/brine-node.json' with { type: 'json' }
import caveNode from './shipped/cave-node.json' with { type: 'json' }
import chillerNode from './shipped/chiller-node.json' with { type: 'json' }
import pumpNode from './shipped/pump-node.json' with { type: 'json' }
import vatNode from './shipped/vat-node.json' with { type: 'json' }
import weatherMast from './shipped/weather-mast.json' with { type: 'json' }

/** Kits to begin from, as files that any kit can be kept as. */
export const shippedKits = [
  brineNode,
  caveNode,
  chillerNode,
  pumpNode,
  vatNode,
  weatherMast,
] as readonly object[] as readonly BodyOf<typeof routes.createKit>[]
