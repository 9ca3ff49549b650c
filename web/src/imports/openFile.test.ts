import { openFile } from './openFile.ts'

const signals = [{ field: '/rh', name: 'Humidity' }]
const named = (name: string, ...parts: BlobPart[]) => new File(parts, name)
const opened = (file: File) => openFile(file, signals, 'Europe/Dublin')
const csvOf = async (file: File) => {
  const found = await opened(file)
  if (found.kind !== 'csv') throw new Error('this should be CSV')
  return found
}

it('finds CSV, its encoding and a plan', async () => {
  const found = await csvOf(named('a.csv', 'time,Humidity\n2026-05-01T12:00:00Z,48\n'))
  expect(found).toMatchObject({
    encoding: 'utf-8',
    suggested: { timeFormat: 'zoned', fields: [null, '/rh'] },
  })
})

it('reads an older encoding where the bytes are no UTF-8', async () => {
  const bytes = Uint8Array.from('time;T °C\n01.05.2026 12:00;21,5\n', (letter) => letter.charCodeAt(0))
  const found = await csvOf(named('a.csv', bytes))
  expect(found).toMatchObject({ encoding: 'windows-1252', sample: { header: ['time', 'T °C'] } })
})

it('is not misled by a letter that the end of what it looks at cuts in two', async () => {
  const rows = `${'x'.repeat(64 * 1024 - 17)}é,1\n`
  const found = await csvOf(named('a.csv', `time,a\n1777636800,1\n${rows}`))
  expect(found.encoding).toBe('utf-8')
})

it('finds SenML by how it begins', async () => {
  expect(await opened(named('pack.json', ' [{"n": "rh", "v": 48}]'))).toMatchObject({
    kind: 'senml',
    beginning: expect.stringContaining('"rh"'),
  })
})

it.each<[string, File, RegExp]>([
  ['an empty file', named('nothing.csv'), /nothing\.csv is empty/],
  ['a picture', named('picture.png', Uint8Array.of(137, 80, 0, 1)), /picture\.png is no text/],
  ['a header alone', named('header.csv', 'time,a\n'), /holds no rows/],
])('refuses %s in words', async (_, file, reason) => {
  await expect(opened(file)).rejects.toThrow(reason)
})
