import type { LiveFrame } from '@jaunty-sparrow/contract'
import { LiveTails } from './liveTails.ts'
import { LiveValues } from './liveValues.ts'

type Told = Extract<LiveFrame, { kind: 'readings' }>['signals'][number]['readings']
const readings = (...signals: [signal: number, told: Told, skipped?: number][]): LiveFrame => ({
  v: 1,
  kind: 'readings',
  signals: signals.map(([signal, told, skipped = 0]) => ({ signal, readings: told, skipped })),
})

describe('live values', () => {
  it('are told to who looks at the signal, and to nobody else', () => {
    const values = new LiveValues()
    const heard: number[] = []
    values.onSignal(1, () => heard.push(1))
    const leave = values.onSignal(2, () => heard.push(2))
    values.take(readings([1, [[10, 11, 5, 0]]]))
    values.take(readings([1, [[9, 12, 4, 0]]], [2, [[10, 11, 'idle', 0]]]))
    leave()
    values.take(readings([2, [[20, 21, 'full', 0]]]))
    expect(heard).toEqual([1, 2])
    expect(values.value(1)).toEqual({ at: 10, receivedAt: 11, value: 5, quality: 0 })
    expect(values.value(2)?.value).toBe('full')
  })

  it('lets no reading of a clock that was ahead hide what comes after', () => {
    const values = new LiveValues()
    values.take(readings([1, [[9_000_000, 100, 1, 0]]]))
    values.take(readings([1, [[200, 200, 2, 0]]]))
    expect(values.value(1)?.value).toBe(2)
  })

  it('tell of a switch that came on and went off between two frames', () => {
    const values = new LiveValues()
    values.take(readings([1, [[10, 10, 0, 0]]]))
    values.take(
      readings([
        1,
        [
          [20, 20, 1, 0],
          [30, 30, 0, 0],
        ],
      ]),
    )
    expect(values.value(1)).toMatchObject({ value: 0, at: 30, passed: { value: 1, at: 20 } })
    values.take(readings([1, [[40, 40, 1, 0]]]))
    expect(values.value(1)?.passed).toBeUndefined()
  })

  it('give way to what was asked for anew, unless they are newer', () => {
    const values = new LiveValues()
    values.take(readings([1, [[10, 10, 1, 0]]], [2, [[50, 50, 2, 0]]]))
    values.askedAnew([1, 2], 40)
    expect([values.value(1), values.value(2)?.value]).toEqual([undefined, 2])
  })

  it('know how devices and signals do', () => {
    const values = new LiveValues()
    const heard: string[] = []
    values.onDevice(7, () => heard.push('device'))
    values.onSignal(1, () => heard.push('signal'))
    values.take({
      v: 1,
      kind: 'presence',
      devices: [{ device: 7, heardAt: 5, presence: 'on-time', signals: [[1, 'silent']] }],
    })
    expect(heard).toEqual(['device', 'signal'])
    expect([values.device(7)?.heardAt, values.signalPresence(1)]).toEqual([5, 'silent'])
  })
})

describe('live tails', () => {
  it('join what was fetched: late ones where they belong, repeated ones once, old ones not', () => {
    const tails = new LiveTails()
    const leave = tails.follow([1])
    tails.take(
      readings(
        [
          1,
          [
            [30, 30, 3, 0],
            [20, 31, 2, 0],
            [5, 32, 0, 0],
          ],
        ],
        [2, [[30, 30, 3, 0]]],
      ),
    )
    expect(
      tails.joined(
        1,
        [
          [8, 8],
          [10, 1],
          [30, 3],
        ],
        10,
      ),
    ).toEqual([
      [10, 1],
      [20, 2],
      [30, 3],
    ])
    expect(tails.joined(2, [], 0)).toEqual([])
    leave()
    expect(tails.joined(1, [], 0)).toEqual([])
  })

  it('say of which signals a frame had no room for all readings', () => {
    const tails = new LiveTails()
    const told: number[][] = []
    tails.onSkipped((signals) => told.push([...signals]))
    tails.follow([1, 2])
    tails.take(readings([1, [], 4], [2, []], [3, [], 9]))
    expect(told).toEqual([[1]])
  })
})
