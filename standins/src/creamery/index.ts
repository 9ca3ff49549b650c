import { cave1, cave2 } from './caveNode.ts'
import { chiller } from './chiller.ts'
import { milkVat } from './milkVat.ts'
import { phMeter } from './phMeter.ts'
import { plantGateway } from './plantGateway.ts'
import type { StandIn } from './standIn.ts'
import { weatherMast } from './weatherMast.ts'
import { wheyPump } from './wheyPump.ts'

/** Brackenfold Creamery, a small dairy that was made up for this. */
export const creamery: {
  readonly site: { name: string; timeZone: string }
  readonly devices: readonly StandIn[]
} = {
  site: { name: 'Brackenfold Creamery', timeZone: 'Europe/London' },
  devices: [milkVat, phMeter, cave1, cave2, chiller, wheyPump, weatherMast, plantGateway],
}
