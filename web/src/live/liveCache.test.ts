import type { Device, LiveFrame, Trace } from '@jaunty-sparrow/contract'
import { applyFrameToDevices, applyFrameToTraces } from './liveCache.ts'

const frame = (
  signal: number,
  ...readings: [number, number][]
): Extract<LiveFrame, { kind: 'readings' }> => ({
  kind: 'readings',
  signals: [{ signal, readings: readings.map(([at, value]) => [at, at + 5, value, 0]), skipped: 0 }],
})

describe('a trace that is looked at', () => {
  const traces = (): Trace[] => [
    {
      signal: 1,
      points: [
        [10, 1],
        [30, 3],
      ],
    },
  ]

  it('grows at its end', () => {
    const grown = traces()
    applyFrameToTraces(grown, frame(1, [40, 4], [50, 5]), 0)
    expect(grown[0]?.points).toEqual([
      [10, 1],
      [30, 3],
      [40, 4],
      [50, 5],
    ])
  })

  it('takes a late reading where it belongs, and a repeated one not again', () => {
    const grown = traces()
    applyFrameToTraces(grown, frame(1, [20, 2], [30, 3], [5, 0]), 0)
    expect(grown[0]?.points).toEqual([
      [5, 0],
      [10, 1],
      [20, 2],
      [30, 3],
    ])
  })

  it('lets go of what has left the picture', () => {
    const grown = traces()
    applyFrameToTraces(grown, frame(1, [40, 4]), 30)
    expect(grown[0]?.points).toEqual([
      [30, 3],
      [40, 4],
    ])
  })

  it('is not moved by readings of other signals', () => {
    const grown = traces()
    applyFrameToTraces(grown, frame(2, [40, 4]), 0)
    expect(grown).toEqual(traces())
  })
})

describe('the list of devices', () => {
  const devices = () => [{ lastSeenAt: null, signals: [{ id: 1, latest: null }] }] as unknown as Device[]

  it('shows the newest of what came in, by when it was measured', () => {
    const shown = devices()
    applyFrameToDevices(shown, frame(1, [50, 5], [40, 4]))
    expect(shown[0]).toMatchObject({ lastSeenAt: 55, signals: [{ latest: { at: 50, value: 5 } }] })
  })
})
