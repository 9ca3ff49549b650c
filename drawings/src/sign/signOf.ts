import { limitStateOf } from '@jaunty-sparrow/core/signal'
import { numberOf, type ShownSignal, valueWords, type Writing } from '../instrument/index.ts'

/** What a sign can look like. */
export type Shape = 'fine' | 'high' | 'low' | 'on' | 'off' | 'unknown' | 'fault'

export interface Sign {
  readonly shape: Shape
  readonly word: string
}

interface SignSettings {
  readonly by: 'limits' | 'bands' | 'state' | 'condition'
  readonly above: number
  readonly beyond: string
  readonly within: string
}

/** What a signal is told as: a shape and a word. */
export function signOf(signal: ShownSignal, settings: SignSettings, { writing }: { writing: Writing }): Sign {
  if (!signal.latest) return { shape: 'unknown', word: 'nothing yet' }
  if (signal.fault !== null) return { shape: 'fault', word: signal.fault }
  const value = numberOf(signal)
  const said = valueWords(signal, writing).text
  if (value === undefined || (signal.kind !== 'number' && settings.by !== 'condition'))
    return { shape: signal.kind === 'switch' && value === 0 ? 'off' : 'on', word: said }
  if (settings.by === 'condition')
    return value > settings.above
      ? { shape: 'on', word: settings.beyond }
      : { shape: 'off', word: settings.within }
  if (settings.by === 'bands') {
    const band = signal.bands.find(
      ({ from, to }) => (from === null || value >= from) && (to === null || value < to),
    )
    return { shape: band ? 'fine' : 'unknown', word: band?.name ?? said }
  }
  const state = limitStateOf(value, signal.limits)
  if (state === null) return { shape: 'fine', word: signal.limits ? 'within' : said }
  const isHigh = state === 'high' || state === 'highHigh'
  return { shape: isHigh ? 'high' : 'low', word: isHigh ? 'too high' : 'too low' }
}
