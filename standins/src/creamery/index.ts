import { brineStore } from './brineStore.ts'
import { cave1, cave2, cave3 } from './caveNode.ts'
import { chiller } from './chiller.ts'
import { coolBox } from './coolBox.ts'
import { milkVat } from './milkVat.ts'
import { phMeter } from './phMeter.ts'
import { plantGateway } from './plantGateway.ts'
import { shopLamp } from './shopLamp.ts'
import type { StandIn } from './standIn.ts'
import { weatherMast } from './weatherMast.ts'
import { wheyPump } from './wheyPump.ts'

/** Brackenfold Creamery, a small dairy that was made up for this. */
export const creamery: {
  readonly site: { name: string; timeZone: string; lat: number; lon: number }
  readonly devices: readonly StandIn[]
} = {
  site: { name: 'Brackenfold Creamery', timeZone: 'Europe/London', lat: 54.4612, lon: -2.1874 },
  devices: [
    milkVat,
    phMeter,
    cave1,
    cave2,
    cave3,
    brineStore,
    chiller,
    wheyPump,
    weatherMast,
    coolBox,
    shopLamp,
    plantGateway,
  ],
}
