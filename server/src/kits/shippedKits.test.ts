import { readdirSync, readFileSync } from 'node:fs'
import { type BodyOf, routes } from '@jaunty-sparrow/contract'
import { type ServerUnderTest, serverUnderTest } from '../testing/serverUnderTest.ts'

const folder = new URL('../../../web/src/kits/shipped/', import.meta.url)
const files = readdirSync(folder)

let server: ServerUnderTest
beforeAll(async () => {
  server = await serverUnderTest()
})
afterAll(() => server.close())

it('there are six of them', () => {
  expect(files).toHaveLength(6)
})

it.each(files)('%s can be begun from, and kept as a file says the same', async (file) => {
  const body: BodyOf<typeof routes.createKit> = JSON.parse(readFileSync(new URL(file, folder), 'utf8'))
  const { status, body: made } = await server.owner.call(routes.createKit, { body })
  expect(status).toBe(201)
  // What is derived names other signals of the file, which have numbers now.
  const signals = body.signals.map(({ derivation, ...signal }) => ({
    ...signal,
    ...(derivation && {
      derivation: {
        ...derivation,
        inputs: derivation.inputs.map((input) => ({ ...input, of: { definition: expect.any(Number) } })),
      },
    }),
  }))
  expect(made).toMatchObject({ ...body, signals, id: expect.any(Number) })
})
