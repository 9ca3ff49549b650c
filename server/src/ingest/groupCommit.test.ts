import type { Reading } from '@jaunty-sparrow/core'
import type { KeptMessage } from '../arrivals/keptMessage.ts'
import { GroupCommit, Overloaded, type Submission } from './groupCommit.ts'

const message: KeptMessage = {
  id: 1,
  receivedAt: 0,
  door: 'http',
  deviceId: 1,
  sender: 'bench',
  mediaType: 'application/json',
  tail: '',
  topic: '',
  body: new Uint8Array(),
  outcome: 'stored',
  stored: 1,
  reason: '',
}
const submission = (count: number): Submission => ({
  message,
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
  const open: ((fresh: number) => void)[] = []
  const write = (batch: readonly Reading[]) => {
    batches.push(batch.length)
    return new Promise<number>((resolve) => open.push(resolve))
  }
  const next = async () => {
    while (open.length === 0) await new Promise((turn) => setImmediate(turn))
    open.shift()?.(batches.at(-1) ?? 0)
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
      if (broken) throw new Error('away')
      return 1
    })
    const outcomes = await Promise.allSettled([commit.submit(submission(1)), commit.submit(submission(1))])
    expect(outcomes.map(({ status }) => status)).toEqual(['rejected', 'rejected'])
    broken = false
    await expect(commit.submit(submission(1))).resolves.toBe(1)
  })

  it('cuts groups at 5000 readings without cutting a message', async () => {
    const sizes: number[] = []
    const commit = new GroupCommit(async (batch) => {
      sizes.push(batch.length)
      return batch.length
    })
    await Promise.all([3000, 1500, 1500, 9000].map((count) => commit.submit(submission(count))))
    expect(sizes).toEqual([4500, 1500, 9000])
  })

  it('writes by itself what is to be counted by itself', async () => {
    const sizes: number[] = []
    const commit = new GroupCommit(async (batch) => {
      sizes.push(batch.length)
      return batch.length
    })
    const counted = { ...submission(3), alone: true }
    expect(
      await Promise.all([submission(1), counted, submission(2)].map((each) => commit.submit(each))),
    ).toEqual([1, 3, 2])
    expect(sizes).toEqual([1, 3, 2])
  })

  it('turns senders away when too much waits, and takes them again later', async () => {
    const { write, next } = gate()
    const commit = new GroupCommit(write)
    const waiting = [commit.submit(submission(150_000))]
    await expect(commit.submit(submission(60_000))).rejects.toThrow(Overloaded)
    await next()
    await Promise.all(waiting)
    const later = commit.submit(submission(60_000))
    await next()
    await expect(later).resolves.toBe(60_000)
  })
})
