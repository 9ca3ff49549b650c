import { Decoding, largestHere } from './decoding.ts'

const large = {
  mediaType: 'application/json',
  body: Buffer.from(`{"a": 1, "b": "${'x'.repeat(largestHere)}"}`),
}

it('reads a large body beside the server', async () => {
  const decoding = new Decoding(60_000)
  expect((await decoding.read(large, 0)).records).toMatchObject([
    { fields: [{ pointer: '/a', value: 1 }, {}] },
  ])
  await decoding.close()
})

it('gives up one that takes too long, in words, and goes on to the next', async () => {
  // Nothing is read in a millisecond, not even by a worker that runs already.
  const decoding = new Decoding(1)
  const all = await Promise.all([decoding.read(large, 0), decoding.read(large, 0)])
  for (const { records } of all)
    expect(records).toEqual({ failure: expect.stringContaining('It took longer than 0.001 s to read.') })
  await decoding.close()
})
