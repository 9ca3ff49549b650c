import type { CsvPlan } from '@jaunty-sparrow/core/file'
import type { ImportAnswer, ImportRequest } from './importWorker.ts'
import { type Piece, readPieces } from './pieces.ts'
import { type ImportResult, runImport } from './runImport.ts'

/** A worker that does its work on this thread: there is none other where this test runs. */
class SameThread {
  onmessage: ((event: { data: ImportAnswer }) => void) | undefined
  static ended = 0
  #pieces: AsyncGenerator<Piece> | undefined

  postMessage(request: ImportRequest): void {
    if (request.kind === 'begin') this.#pieces = readPieces(request.file, request.plan)
    void this.#pieces?.next().then((next) => {
      const data: ImportAnswer = next.done ? { kind: 'end' } : { kind: 'piece', piece: next.value }
      this.onmessage?.({ data })
    })
  }

  terminate(): void {
    SameThread.ended++
  }
}
beforeAll(() => Object.assign(globalThis, { Worker: SameThread }))

const start = 1_777_636_800_000
const csv: CsvPlan = {
  delimiter: ',',
  linesAbove: 0,
  decimal: '.',
  points: ['none', 'none'],
  order: 'oldest-first',
  timeColumns: [0],
  timeFormat: 'epoch',
  zone: 'UTC',
  fields: [null, '/a'],
}
const plan = { mediaType: 'text/csv', encoding: 'utf-8', csv } as const
const rows = 60_000
const file = new File(
  [`time,a\nsoon,0\n${Array.from({ length: rows }, (_, n) => `${start + n},${n}`).join('\n')}`],
  'long.csv',
)
const answer = (text: string, refused: { field: string; reason: string }[] = []) => ({
  stored: text.split('\n').length - 1 - refused.length,
  alreadyThere: 0,
  refused,
  refusedTotal: refused.length,
})

it('sends every row once, and names what was refused by the line in the file', async () => {
  const shown: ImportResult[] = []
  const sent: string[] = []
  const result = await runImport({
    file,
    plan,
    upload: async ({ text }) => {
      sent.push(text)
      return answer(text, sent.length === 2 ? [{ field: '/0/a', reason: 'it is wrong' }] : [])
    },
    progress: (so) => shown.push(so),
    signal: new AbortController().signal,
  })
  expect(sent.length).toBeGreaterThan(1)
  expect(result).toMatchObject({ share: 1, stored: rows - 1, refused: 2 })
  const firstOfSecond = (sent[0]?.split('\n').length ?? 0) - 1
  expect(result.reasons).toEqual([
    { line: 2, reason: expect.stringContaining('"soon"') },
    { line: firstOfSecond + 3, reason: 'a: it is wrong' },
  ])
  expect(shown.at(-1)).toEqual(result)
})

it('stops where it is cancelled, and lets go of the worker', async () => {
  const cancelling = new AbortController()
  const before = SameThread.ended
  const result = await runImport({
    file,
    plan,
    upload: async ({ text }) => answer(text),
    progress: () => cancelling.abort(),
    signal: cancelling.signal,
  })
  expect(result.share).toBeLessThan(1)
  expect(result.stored).toBeGreaterThan(0)
  expect(SameThread.ended).toBe(before + 1)
})

it('tells what a piece came back with, and lets go of the worker', async () => {
  const before = SameThread.ended
  const upload = async () => {
    throw new Error('away')
  }
  const { signal } = new AbortController()
  await expect(runImport({ file, plan, upload, progress: () => undefined, signal })).rejects.toThrow('away')
  expect(SameThread.ended).toBe(before + 1)
})
