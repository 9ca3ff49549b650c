import { unitSymbol } from '@jaunty-sparrow/core/units'
import { valueWords } from './Head.tsx'
import type { Shown } from './shown.ts'
import { standingOf } from './standing.ts'

/** What an instrument shows, in words, for those who hear it. */
export const describe = ({ signals, now, writing }: Pick<Shown, 'signals' | 'now' | 'writing'>): string =>
  signals
    .map((signal) => {
      const { text, isNumber } = valueWords(signal, writing)
      const unit = isNumber && signal.unit ? ` ${unitSymbol(signal.unit)}` : ''
      return [`${signal.title} ${text}${unit}`, ...standingOf(signal, now, writing).words].join(', ')
    })
    .join('; ')
