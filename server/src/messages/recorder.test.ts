import type { Arrival } from '@jaunty-sparrow/contract'
import { pino } from 'pino'
import { arrivalOf, type KeptMessage, MessageNumbers } from './keptMessage.ts'
import { RefusalRecorder, type RefusedMessage } from './recorder.ts'

const refused = (over: Partial<RefusedMessage> = {}): RefusedMessage => ({
  receivedAt: 1000,
  door: 'http',
  deviceId: 1,
  sender: 'bench',
  mediaType: 'application/json',
  tail: '',
  topic: '',
  byHand: false,
  body: new Uint8Array(10),
  outcome: 'refused',
  reason: 'because',
  ...over,
})

function recorder(write: (messages: readonly KeptMessage[]) => Promise<void> = async () => undefined) {
  const written: KeptMessage[] = []
  const told: Arrival[] = []
  const { next: number } = new MessageNumbers()
  const made = new RefusalRecorder({
    number,
    write: async (messages) => {
      await write(messages)
      written.push(...messages)
    },
    tell: (message) => told.push(arrivalOf(message)),
    log: pino({ level: 'silent' }),
  })
  return { made, written, told }
}

describe('RefusalRecorder', () => {
  it('tells the pages at once, and writes a little later', async () => {
    const { made, written, told } = recorder()
    made.record(refused())
    expect(told).toMatchObject([{ sender: 'bench', size: 10, outcome: 'refused', stored: 0 }])
    expect(written).toEqual([])
    await made.flush()
    expect(written).toMatchObject([{ sender: 'bench', reason: 'because' }])
  })

  it('keeps little of what strangers send, and few of them, however many come', async () => {
    const { made, written, told } = recorder()
    const minute = 60_000
    for (let receivedAt = 0; receivedAt < 10 * minute; receivedAt += 500) {
      const body = new Uint8Array(1_000_000)
      made.record(refused({ deviceId: null, sender: 'x'.repeat(500), body, receivedAt }))
      await made.flush()
    }
    expect(told).toHaveLength(1200)
    expect(written.length).toBeLessThanOrEqual(100 + 10 * 30)
    expect(written.at(-1)?.receivedAt).toBeGreaterThan(9.9 * minute)
    expect(written[0]?.body).toHaveLength(4096)
    expect(written[0]?.sender).toHaveLength(60)
  })

  it('leaves room for devices while strangers knock', async () => {
    const { made, written } = recorder()
    for (let n = 0; n < 300; n++) made.record(refused({ deviceId: null }))
    made.record(refused())
    await made.flush()
    expect(written.some(({ deviceId }) => deviceId === 1)).toBe(true)
  })

  it('keeps few of those of a device that sends too much, and all that another sends wrongly', async () => {
    const { made, written } = recorder()
    for (let n = 0; n < 200; n++) {
      made.record(refused({ sender: 'mad', outcome: 'throttled', body: new Uint8Array(100_000) }))
      made.record(refused({ sender: 'mistyped' }))
    }
    await made.flush()
    const mad = written.filter(({ sender }) => sender === 'mad')
    expect(mad).toHaveLength(100)
    expect(mad[0]?.body).toHaveLength(4096)
    expect(written.filter(({ sender }) => sender === 'mistyped')).toHaveLength(200)
  })

  it('goes on when the store is away', async () => {
    let away = true
    const { made, written } = recorder(async () => {
      if (away) throw new Error('away')
    })
    made.record(refused())
    await made.flush()
    away = false
    made.record(refused({ reason: 'later' }))
    await made.flush()
    expect(written.map(({ reason }) => reason)).toEqual(['later'])
  })
})

describe('MessageNumbers', () => {
  it('grow with the time, and never twice the same, even when the clock is set back', () => {
    const { next } = new MessageNumbers()
    const numbers = [next(1000), next(1000), next(999), next(2000)]
    expect([...new Set(numbers)].sort((a, b) => a - b)).toEqual(numbers)
    expect(Number.isSafeInteger(next(Date.UTC(2200, 0, 1)))).toBe(true)
  })
})
