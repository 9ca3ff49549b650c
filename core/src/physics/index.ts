import { acidity } from './acidity.ts'
import { adcVolts } from './adcVolts.ts'
import { airQualityPm10, airQualityPm25 } from './airQuality.ts'
import { leadAcidCharge, lithiumIonCharge } from './batteryCharge.ts'
import { currentClamp } from './currentClamp.ts'
import { currentLoop } from './currentLoop.ts'
import { dividerToGround, dividerToSupply } from './divider.ts'
import { echoDistance } from './echoDistance.ts'
import { heatIndex } from './heatIndex.ts'
import { absoluteHumidity, dewPoint, vapourDeficit } from './humidity.ts'
import { lightResistor } from './lightResistor.ts'
import { linear } from './linear.ts'
import { platinum } from './platinum.ts'
import type { QuantityFunction } from './quantityFunction.ts'
import { seaLevelPressure } from './seaLevelPressure.ts'
import { table } from './table.ts'
import { thermistorBeta, thermistorSteinhart } from './thermistor.ts'
import { conicalVolume, lyingVolume, uprightVolume } from './vesselVolume.ts'

export type { Parameter, QuantityFunction } from './quantityFunction.ts'

/** Everything the formula language knows of the things that are measured, in the order it is told. */
export const quantityFunctions: readonly QuantityFunction[] = [
  adcVolts,
  dividerToGround,
  dividerToSupply,
  linear,
  table,
  currentLoop,
  currentClamp,
  thermistorBeta,
  thermistorSteinhart,
  platinum,
  lightResistor,
  echoDistance,
  uprightVolume,
  lyingVolume,
  conicalVolume,
  acidity,
  dewPoint,
  absoluteHumidity,
  vapourDeficit,
  heatIndex,
  seaLevelPressure,
  leadAcidCharge,
  lithiumIonCharge,
  airQualityPm25,
  airQualityPm10,
]
