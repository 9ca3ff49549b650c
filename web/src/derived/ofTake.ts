import { type Reach, secondsPer, type Take, type TakeName, type TimeUnit } from '@jaunty-sparrow/core/signal'

/** Spans that people look back over. */
export const reaches: readonly (readonly [reach: Reach, words: string])[] = [
  [60, '1 min'],
  [300, '5 min'],
  [900, '15 min'],
  [3600, '1 h'],
  [10_800, '3 h'],
  [43_200, '12 h'],
  [86_400, '24 h'],
  ['day', 'today'],
]

/** How old a reading may be before it says nothing any more. */
export const ages: readonly (readonly [seconds: number, words: string])[] = [
  [10, '10 s'],
  [60, '1 min'],
  [300, '5 min'],
  [900, '15 min'],
  [3600, '1 h'],
  [21_600, '6 h'],
  [86_400, '1 day'],
  [604_800, '1 week'],
]

export const timeUnits = Object.keys(secondsPer) as TimeUnit[]

/** Another way to take, with what was said of the one before as far as it is asked of this one too. */
export function takenBy(by: TakeName, before: Take): Take {
  const over: Reach = 'over' in before ? before.over : 900
  const per: TimeUnit = 'per' in before ? before.per : 'h'
  const wrapsAt = 'wrapsAt' in before ? before.wrapsAt : null
  const bound = 'bound' in before ? before.bound : 0
  switch (by) {
    case 'last':
      return { by }
    case 'rate':
    case 'integral':
      return { by, over, per }
    case 'timeAbove':
      return { by, over, per, bound }
    case 'counterRate':
      return { by, over, per, wrapsAt }
    case 'counterIncrease':
      return { by, over, wrapsAt }
    default:
      return { by, over }
  }
}

/** The shortest usual age that three turns of something fit in. @param cadence s; null where nobody knows */
export const ageFor = (cadence: number | null): number =>
  ages.find(([seconds]) => seconds >= (cadence ?? 100) * 3)?.[0] ?? 604_800
