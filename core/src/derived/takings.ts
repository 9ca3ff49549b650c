import type { Take, TakeName } from '../signal/derivation.ts'
import { baselineIndex } from './baselineIndex.ts'
import { counterIncrease } from './counterIncrease.ts'
import { counterRate } from './counterRate.ts'
import { highest } from './highest.ts'
import { integral } from './integral.ts'
import { last } from './last.ts'
import { lowest } from './lowest.ts'
import { mean } from './mean.ts'
import { rate } from './rate.ts'
import { spread } from './spread.ts'
import { timeAbove } from './timeAbove.ts'
import type { TakeBy, Taking, Window } from './window.ts'

/** All ways to take something of a signal at an instant, by name. */
export const takings: { readonly [Name in TakeName]: Taking<TakeBy<Name>> } = {
  last,
  mean,
  lowest,
  highest,
  spread,
  index: baselineIndex,
  rate,
  integral,
  timeAbove,
  counterRate,
  counterIncrease,
}

/** What is taken of a signal, as a number; not a number where the window holds too little for it. */
export const taken = (take: Take, window: Window): number => (takings[take.by] as Taking).of(window, take)
