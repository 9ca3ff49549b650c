import type { Reading } from '@jaunty-sparrow/core/signal'
import type { KeptMessage } from '../messages/keptMessage.ts'
import type { Written } from '../readings/written.ts'
import { GroupCommit, Overloaded, type Submission, Unstorable } from './groupCommit.ts'

const message: KeptMessage = {
  id: 1,
  receivedAt: 0,
  door: 'http',
  deviceId: 1,
  sender: 'bench',
  mediaType: 'application/json',
  tail: '',
  topic: '',
  byHand: false,
  body: new Uint8Array(),
  outcome: 'stored',
  stored: 1,
  reason: '',
}
const fresh = (count: number): Written => ({ fresh: count, otherwise: [] })
const away = Object.assign(new Error('away'), { code: '57P01' })
const submission = (count: number, sender = 'bench'): Submission => ({
  message: { ...message, sender },
  readings: Array.from({ length: count }, (_, at) => ({
    signal: 1,
    at,
    receivedAt: 0,
    value: 0,
    quality: 0 as const,
  })),
})

/** A write that waits to be let go, and remembers its batches. */
function gate() {
  const batches: number[] = []
  const open: ((written: Written) => void)[] = []
  const write = (batch: readonly Reading[]) => {
    batches.push(batch.length)
    return new Promise<Written>((resolve) => open.push(resolve))
  }
  const next = async () => {
    while (open.length === 0) await new Promise((turn) => setImmediate(turn))
    open.shift()?.(fresh(batches.at(-1) ?? 0))
  }
  return { batches, write, next }
}

describe('GroupCommit', () => {
  it('commits together what arrives together, and gathers while it writes', async () => {
    const { batches, write, next } = gate()
    const commit = new GroupCommit(write)
    const first = [commit.submit(submission(2)), commit.submit(submission(3))]
    await next()
    await Promise.all(first)
    const second = commit.submit(submission(1))
    const third = commit.submit(submission(4))
    await next()
    await Promise.all([second, third])
    expect(batches).toEqual([5, 5])
  })

  it('answers nobody before the write is through', async () => {
    const { write, next } = gate()
    const commit = new GroupCommit(write)
    let answered = false
    const submitted = commit.submit(submission(1)).then(() => {
      answered = true
    })
    await new Promise((turn) => setImmediate(turn))
    expect(answered).toBe(false)
    await next()
    await submitted
    expect(answered).toBe(true)
  })

  it('tells every sender of a group that failed, and goes on with the next', async () => {
    let broken = true
    const commit = new GroupCommit(async () => {
      if (broken) throw away
      return fresh(1)
    })
    const outcomes = await Promise.allSettled([commit.submit(submission(1)), commit.submit(submission(1))])
    expect(outcomes.map(({ status }) => status)).toEqual(['rejected', 'rejected'])
    broken = false
    await expect(commit.submit(submission(1))).resolves.toEqual(fresh(1))
  })

  it('cuts groups at 5000 readings without cutting a message', async () => {
    const sizes: number[] = []
    const commit = new GroupCommit(async (batch) => {
      sizes.push(batch.length)
      return fresh(batch.length)
    })
    await Promise.all([3000, 1500, 1500, 9000].map((count) => commit.submit(submission(count))))
    expect(sizes).toEqual([4500, 1500, 9000])
  })

  it('writes by itself what is to be counted by itself', async () => {
    const sizes: number[] = []
    const commit = new GroupCommit(async (batch) => {
      sizes.push(batch.length)
      return fresh(batch.length)
    })
    const counted = { ...submission(3), alone: true }
    expect(
      await Promise.all([submission(1), counted, submission(2)].map((each) => commit.submit(each))),
    ).toEqual([1, 3, 2].map(fresh))
    expect(sizes).toEqual([1, 3, 2])
  })

  it('turns senders away when too much waits, and takes them again later', async () => {
    const { write, next } = gate()
    const commit = new GroupCommit(write)
    const waiting = Array.from({ length: 10 }, (_, n) => commit.submit(submission(20_000, `board ${n}`)))
    await expect(commit.submit(submission(1, 'another'))).rejects.toThrow(Overloaded)
    for (const _ of waiting) await next()
    await Promise.all(waiting)
    const later = commit.submit(submission(10_000, 'another'))
    await next()
    await expect(later).resolves.toEqual(fresh(10_000))
  })

  it('turns away one that has too much waiting, and no other', async () => {
    const { write, next } = gate()
    const commit = new GroupCommit(write)
    const large = { ...submission(0, 'mad') }
    const body = new Uint8Array(9 * 1024 * 1024)
    const waiting = [commit.submit({ ...large, message: { ...large.message, body } })]
    await expect(commit.submit({ ...large, message: { ...large.message, body } })).rejects.toThrow(Overloaded)
    waiting.push(commit.submit(submission(1, 'calm')))
    for (const _ of waiting) await next()
    await Promise.all(waiting)
  })

  it('lets fail by themselves those that the store will not take, and stores the others', async () => {
    const written: string[] = []
    const commit = new GroupCommit(async (_, messages) => {
      if (messages.some(({ sender }) => sender.startsWith('poison'))) throw new Error('no')
      written.push(...messages.map(({ sender }) => sender))
      return fresh(0)
    })
    const senders = ['a', 'poison 1', 'b', 'c', 'd', 'poison 2', 'e']
    const outcomes = await Promise.allSettled(senders.map((sender) => commit.submit(submission(1, sender))))
    expect(outcomes.map(({ status }) => status === 'fulfilled')).toEqual(
      senders.map((s) => !s.startsWith('poison')),
    )
    expect(outcomes[1]).toMatchObject({ reason: expect.any(Unstorable) })
    expect(written).toEqual(['a', 'b', 'c', 'd', 'e'])
  })

  it('writes a message that is larger than a statement in parts, itself with the last', async () => {
    const parts: [number, number][] = []
    const commit = new GroupCommit(async (batch, messages) => {
      parts.push([batch.length, messages.length])
      return fresh(batch.length)
    })
    await expect(commit.submit(submission(450_000))).resolves.toEqual(fresh(450_000))
    expect(parts.at(-1)).toEqual([10_000, 1])
    expect(parts.slice(0, -1).every(([, messages]) => messages === 0)).toBe(true)
  })
})
