import { Opened } from './opened.ts'

it('closes the last opened first, and all of them although one fails', async () => {
  const closed: string[] = []
  const opened = new Opened()
  expect(opened.add('first', (thing) => closed.push(thing))).toBe('first')
  opened.add('second', async () => {
    throw new Error('stuck')
  })
  opened.add('third', async (thing) => closed.push(thing))
  await expect(opened.close()).rejects.toMatchObject({ errors: [new Error('stuck')] })
  expect(closed).toEqual(['third', 'first'])
  await opened.close()
  expect(closed).toHaveLength(2)
})
