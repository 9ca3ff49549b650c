import fc from 'fast-check'
import { limitStateOf } from '../signal/limitState.ts'
import type { Limits } from '../signal/limits.ts'
import { boardGuard } from './boardGuard.ts'

const none: Limits = {
  lowLow: null,
  low: null,
  high: null,
  highHigh: null,
  deadband: 0,
  onDelay: 0,
  offDelay: 0,
}
const plain = { gain: 1, offset: 0 }

it('tells bounds by the names that boards know, and leaves out what is not stated', () => {
  const limits = { ...none, low: 82, deadband: 1, onDelay: 600, offDelay: 60 }
  const guard = boardGuard(
    [
      { name: 'humidity', limits, correction: plain },
      { name: 'pressure', limits: none, correction: plain },
    ],
    'urgent',
  )
  expect(guard).toEqual({
    limits: { humidity: { low: 82, deadband: 1, after: 600, back: 60 } },
    alarm: 'urgent',
  })
})

it('makes the lamp on the board and the sign on the screen say the same, however the signal is corrected', () => {
  const bound = fc.option(fc.integer({ min: -50, max: 50 }))
  fc.assert(
    fc.property(
      fc.record({ low: bound, high: bound }),
      fc.constantFrom(-2, -1, 0.5, 1, 1.25),
      fc.integer({ min: -20, max: 20 }),
      fc.integer({ min: -400, max: 400 }),
      ({ low, high }, gain, offset, tenths) => {
        const sent = tenths / 4
        const { limits } = boardGuard(
          [{ name: 'a', limits: { ...none, low, high }, correction: { gain, offset } }],
          null,
        )
        const onScreen = limitStateOf(gain * sent + offset, { ...none, low, high })
        const onBoard = limits.a
        const isBelow = onBoard?.low !== undefined && sent < onBoard.low
        const isAbove = onBoard?.high !== undefined && sent > onBoard.high
        expect(isBelow || isAbove).toBe(onScreen !== null)
      },
    ),
  )
})
