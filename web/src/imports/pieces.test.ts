import type { CsvPlan } from '@jaunty-sparrow/core/file'
import { readPieces } from './pieces.ts'

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
const start = 1_777_636_800_000

it('reads a large file in pieces that hold all its rows once, each with its line', async () => {
  const rows = Array.from({ length: 60_000 }, (_, n) => `${start + n},"${n}"`)
  const file = new Blob([`time,a\n${rows.join('\n')}`])
  const lines: number[] = []
  const values: string[] = []
  let share = 0
  let pieces = 0
  for await (const piece of readPieces(file, { mediaType: 'text/csv', encoding: 'utf-8', csv })) {
    pieces++
    const [header, ...sent] = piece.text.split('\n')
    expect(header).toBe('t,/a')
    expect(sent).toHaveLength(piece.lines.length)
    expect(piece.refused).toEqual([])
    expect(piece.share).toBeGreaterThan(share)
    share = piece.share
    lines.push(...piece.lines)
    values.push(...sent.map((row) => row.split(',')[1] ?? ''))
  }
  expect(pieces).toBeGreaterThan(1)
  expect(share).toBe(1)
  expect(lines).toEqual(rows.map((_, n) => n + 2))
  expect(values).toEqual(rows.map((_, n) => String(n)))
})

it('reads a letter that is cut in two, and an older encoding', async () => {
  const wide = new Blob([`time,a\n${start},é${'x'.repeat(512 * 1024 - 24)}é\n`])
  let text = ''
  for await (const piece of readPieces(wide, { mediaType: 'text/csv', encoding: 'utf-8', csv }))
    text += piece.text
  expect(text).not.toContain('\uFFFD')
  const old = new Blob([
    Uint8Array.from(`time,a\n${start},`, (letter) => letter.charCodeAt(0)),
    Uint8Array.of(0xb0),
  ])
  for await (const piece of readPieces(old, { mediaType: 'text/csv', encoding: 'windows-1252', csv }))
    expect(piece.text).toContain('°')
})

it('cuts SenML into packs, and counts its records', async () => {
  const pack = [
    { bn: 'a', bt: 1_777_636_800, v: 1 },
    ...Array.from({ length: 6000 }, (_, t) => ({ t, v: t })),
  ]
  const file = new Blob([JSON.stringify(pack)])
  const pieces = []
  for await (const piece of readPieces(file, { mediaType: 'application/senml+json' })) pieces.push(piece)
  expect(pieces.map(({ lines }) => [lines[0], lines.at(-1)])).toEqual([
    [1, 5000],
    [5001, 6001],
  ])
  expect(JSON.parse(pieces[1]?.text ?? '')[0]).toMatchObject({ bn: 'a', bt: 1_777_636_800 })
})
