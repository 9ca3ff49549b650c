import { hasQuality, limitStateOf, Quality } from '@jaunty-sparrow/core/signal'
import { describeAge } from '@jaunty-sparrow/core/time'
import { limitWords } from './limitWords.ts'
import type { ShownSignal, Writing } from './shown.ts'
import { writeValue } from './writeValue.ts'

/** How much something asks to be looked at. */
export type Tone = 'rest' | 'faint' | 'late' | 'trouble'

/** How a signal stands: what is to be known before its value is taken for what it says. */
export interface Standing {
  readonly tone: Tone
  /** What asks for a look, the most pressing first; none at rest. */
  readonly words: readonly string[]
}

interface Finding {
  readonly tone: Tone
  readonly says: string
}

/**
 * How a signal stands at an instant. What makes the value worthless comes first, then what is wrong with what is measured, then
 * what is merely to be known.
 */
export function standingOf(signal: ShownSignal, now: number, writing: Writing): Standing {
  const found = [...findings(signal, now, writing)]
  return {
    tone: ranks.find((tone) => found.some((finding) => finding.tone === tone)) ?? 'rest',
    words: found.map(({ says }) => says),
  }
}

const ranks: readonly Tone[] = ['trouble', 'late', 'faint']

function* findings(signal: ShownSignal, now: number, writing: Writing): Generator<Finding> {
  const { latest, presence, doubt } = signal
  if (signal.kind === 'momentary') return
  if (!latest) {
    yield { tone: 'faint', says: presence === 'retired' ? 'retired' : 'nothing yet' }
    return
  }
  const age = describeAge(now - latest.at)
  if (presence === 'retired') yield { tone: 'faint', says: 'retired' }
  if (presence === 'down') yield { tone: 'faint', says: `shut down, said ${age}` }
  if (presence === 'asleep') yield { tone: 'rest', says: `asleep, said ${age}` }
  if (presence === 'silent') yield { tone: 'trouble', says: `silent, said ${age}` }
  if (signal.fault !== null) {
    yield { tone: 'trouble', says: 'at fault' }
    return
  }
  if (presence === 'late') yield { tone: 'late', says: `late, said ${age}` }
  const beyond =
    signal.kind === 'number' && typeof latest.value === 'number'
      ? limitStateOf(latest.value, signal.limits)
      : null
  const limit = beyond && signal.limits?.[beyond]
  if (beyond && typeof limit === 'number')
    yield { tone: 'trouble', says: `${limitWords[beyond]} · limit ${writeValue(limit, signal, writing)}` }
  for (const [bit, says] of doubts) if (hasQuality(latest.quality, bit)) yield { tone: 'late', says }
  if (doubt !== null) yield { tone: 'late', says: `doubtful: ${doubt}` }
}

const doubts = [
  [Quality.beyondRange, 'beyond range'],
  [Quality.tooFast, 'changed too fast'],
  [Quality.clockDoubted, 'clock doubted'],
  [Quality.markedBad, 'marked bad'],
] as const
