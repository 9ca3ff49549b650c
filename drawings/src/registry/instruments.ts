import { colour } from '../colour/index.ts'
import { compass } from '../compass/index.ts'
import { control } from '../control/index.ts'
import { course } from '../course/index.ts'
import type { Instrument } from '../instrument/index.ts'
import { log } from '../log/index.ts'
import { map } from '../map/index.ts'
import { picture } from '../picture/index.ts'
import { scale } from '../scale/index.ts'
import { sign } from '../sign/index.ts'
import { states } from '../states/index.ts'
import { table } from '../table/index.ts'
import { text } from '../text/index.ts'
import { totals } from '../totals/index.ts'
import { value } from '../value/index.ts'
import { vessel } from '../vessel/index.ts'

/** All instruments, in the order in which they are offered. A new one is one folder and one line here. */
export const instruments: readonly Instrument[] = [
  value,
  scale,
  course,
  states,
  sign,
  control,
  colour,
  vessel,
  compass,
  table,
  log,
  totals,
  text,
  picture,
  map,
]
