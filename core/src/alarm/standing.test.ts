import fc from 'fast-check'
import { type AlarmState, atRest, type Move, moved, type Standing, stateOf } from './standing.ts'

const shelf = { until: 5, by: 'Moira', why: 'the probe is in its storage bottle' }
const outOfService = { since: 1, by: 'Moira', why: 'the fan is being mended' }

/**
 * The table of states and moves, written down from the standard (ISA-18.2): from each state of an alarm that is not set aside,
 * where a move leads. What is left out changes nothing; no is what cannot be done.
 */
type Plain = 'normal' | 'unacknowledged' | 'acknowledged' | 'returned' | 'latched'
const no = undefined
const table: Readonly<
  Record<Plain, Readonly<Partial<Record<'raise' | 'return' | 'acknowledge' | 'reset', Plain | undefined>>>>
> = {
  normal: { raise: 'unacknowledged', acknowledge: no, reset: no },
  unacknowledged: { return: 'returned', acknowledge: 'acknowledged', reset: no },
  acknowledged: { return: 'normal', acknowledge: no, reset: no },
  returned: { raise: 'unacknowledged', acknowledge: 'normal', reset: no },
  latched: { raise: 'unacknowledged', acknowledge: no, reset: 'normal' },
}
/** Where one that latches differs: what would be normal without anybody having reset it waits for that. */
const latching: typeof table = {
  ...table,
  acknowledged: { ...table.acknowledged, return: 'latched' },
  returned: { ...table.returned, acknowledge: 'latched' },
}

/** The standard's own way of telling: one state, and beside it what it is set aside by and whether it is the case. */
class Model {
  plain: Plain = 'normal'
  isActive = false
  isShelved = false
  isSuppressed = false
  isOut = false
  readonly isLatching: boolean

  constructor(isLatching: boolean) {
    this.isLatching = isLatching
  }

  get isAside() {
    return this.isShelved || this.isSuppressed || this.isOut
  }

  get state(): AlarmState {
    if (this.isOut) return 'out-of-service'
    if (this.isShelved) return 'shelved'
    return this.isSuppressed ? 'suppressed' : this.plain
  }

  /** @returns whether it can be done */
  move(by: Move['by']): boolean {
    const wasAside = this.isAside
    if (by === 'raise' || by === 'return') {
      if (this.isActive === (by === 'raise')) return true
      this.isActive = by === 'raise'
    }
    if (by === 'suppress') this.isSuppressed = true
    else if (by === 'release') this.isSuppressed = false
    else if (by === 'shelve') {
      if (this.isOut) return false
      this.isShelved = true
    } else if (by === 'wake') {
      if (!this.isShelved) return false
      this.isShelved = false
    } else if (by === 'take-out') {
      if (this.isOut) return false
      this.isOut = true
    } else if (by === 'return-to-service') {
      if (!this.isOut) return false
      this.isOut = false
    } else {
      if (wasAside) return by === 'raise' || by === 'return'
      const row = (this.isLatching ? latching : table)[this.plain]
      if (!(by in row)) return true
      const next = row[by]
      if (!next) return false
      this.plain = next
    }
    // Set aside it asks nothing; among the others again, what is the case is new.
    if (this.isAside) this.plain = 'normal'
    else if (wasAside) this.plain = this.isActive ? 'unacknowledged' : 'normal'
    return true
  }
}

const moves: readonly Move[] = [
  { by: 'raise' },
  { by: 'return' },
  { by: 'suppress' },
  { by: 'release' },
  { by: 'acknowledge' },
  { by: 'reset' },
  { by: 'wake' },
  { by: 'return-to-service' },
  { by: 'shelve', shelf },
  { by: 'take-out', outOfService },
]

it('goes from state to state as the table of the standard has it, whatever happens in which order', () => {
  fc.assert(
    fc.property(
      fc.boolean(),
      fc.array(fc.constantFrom(...moves), { maxLength: 40 }),
      (isLatching, happens) => {
        const model = new Model(isLatching)
        let standing: Standing = atRest
        for (const move of happens) {
          const next = moved(standing, move, isLatching)
          expect(next !== undefined).toBe(model.move(move.by))
          standing = next ?? standing
          expect(stateOf(standing)).toBe(model.state)
          expect(standing.isActive).toBe(model.isActive)
        }
      },
    ),
    { numRuns: 2000 },
  )
})

it('knows every state', () => {
  const seen = new Set<AlarmState>()
  fc.assert(
    fc.property(fc.array(fc.constantFrom(...moves), { maxLength: 12 }), (happens) => {
      let standing: Standing = atRest
      for (const move of happens) standing = moved(standing, move, true) ?? standing
      seen.add(stateOf(standing))
    }),
    { seed: 1, numRuns: 3000 },
  )
  expect([...seen].sort()).toEqual([
    'acknowledged',
    'latched',
    'normal',
    'out-of-service',
    'returned',
    'shelved',
    'suppressed',
    'unacknowledged',
  ])
})

it('says why it rests', () => {
  const standing = moved(atRest, { by: 'shelve', shelf }, false)
  expect(standing?.shelf).toEqual(shelf)
})
