import type { Reading } from '@jaunty-sparrow/core'
import { GroupCommit, Overloaded } from './groupCommit.ts'

const readings = (count: number, signal = 1): Reading[] =>
  Array.from({ length: count }, (_, at) => ({ signal, at, receivedAt: 0, value: 0, quality: 0 as const }))

/** A write that waits to be let go, and remembers its batches. */
function gate() {
  const batches: number[] = []
  const open: (() => void)[] = []
  const write = (batch: readonly Reading[]) => {
    batches.push(batch.length)
    return new Promise<void>((resolve) => open.push(resolve))
  }
  const next = async () => {
    while (open.length === 0) await new Promise((turn) => setImmediate(turn))
    open.shift()?.()
  }
  return { batches, write, next }
}

describe('GroupCommit', () => {
  it('commits together what arrives together, and gathers while it writes', async () => {
    const { batches, write, next } = gate()
    const commit = new GroupCommit(write)
    const first = [commit.submit(readings(2)), commit.submit(readings(3))]
    await next()
    await Promise.all(first)
    const second = commit.submit(readings(1))
    const third = commit.submit(readings(4))
    await next()
    await Promise.all([second, third])
    expect(batches).toEqual([5, 5])
  })

  it('answers nobody before the write is through', async () => {
    const { write, next } = gate()
    const commit = new GroupCommit(write)
    let answered = false
    const submitted = commit.submit(readings(1)).then(() => {
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
    })
    const outcomes = await Promise.allSettled([commit.submit(readings(1)), commit.submit(readings(1))])
    expect(outcomes.map(({ status }) => status)).toEqual(['rejected', 'rejected'])
    broken = false
    await expect(commit.submit(readings(1))).resolves.toBeUndefined()
  })

  it('cuts groups at 5000 readings without cutting a message', async () => {
    const sizes: number[] = []
    const commit = new GroupCommit(async (batch) => void sizes.push(batch.length))
    await Promise.all([3000, 1500, 1500, 9000].map((count) => commit.submit(readings(count))))
    expect(sizes).toEqual([4500, 1500, 9000])
  })

  it('turns senders away when too much waits, and takes them again later', async () => {
    const { write, next } = gate()
    const commit = new GroupCommit(write)
    const waiting = [commit.submit(readings(150_000))]
    await expect(commit.submit(readings(60_000))).rejects.toThrow(Overloaded)
    await next()
    await Promise.all(waiting)
    const later = commit.submit(readings(60_000))
    await next()
    await expect(later).resolves.toBeUndefined()
  })
})
