import { cpSync, mkdtempSync, symlinkSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { routes } from '@jaunty-sparrow/contract'
import { run } from '../testing/run.ts'
import { type ServerUnderTest, send, serverUnderTest } from '../testing/serverUnderTest.ts'

const client = fileURLToPath(new URL('../../../clients/typescript', import.meta.url))

let server: ServerUnderTest
beforeAll(async () => {
  server = await serverUnderTest()
})
afterAll(() => server.close())

it('a client that another program makes of the OpenAPI document compiles, and is answered', async () => {
  const { token: device } = await server.owner.createDevice('vat')
  await send(server.origin, device, { temperature: 4 })
  await send(server.origin, device, { temperature: 6.5 })
  await server.owner.accept('vat', '/temperature')
  await send(server.origin, device, { temperature: 5 })
  const { body } = await server.owner.call(routes.createToken, {
    body: { name: 'Report', scopes: ['read'], siteIds: null, devices: [], expiresAt: null },
  })
  const place = mkdtempSync(join(tmpdir(), 'sparrow-client-'))
  for (const file of ['package.json', 'tsconfig.json', 'latest.ts'])
    cpSync(join(client, file), join(place, file))
  symlinkSync(join(client, 'node_modules'), join(place, 'node_modules'))
  const document = join(place, 'openapi.json')
  writeFileSync(document, await (await fetch(`${server.origin}/api/openapi.json`)).text())
  const tool = (name: string, ...args: string[]) =>
    run(join(client, 'node_modules/.bin', name), args, {
      cwd: place,
      env: { ...process.env, NODE_OPTIONS: '', SPARROW_URL: server.origin, SPARROW_TOKEN: body.token },
    })
  expect(await tool('openapi-typescript', document, '-o', 'schema.d.ts')).toMatchObject({ code: 0 })
  expect(await tool('tsc')).toEqual({ code: 0, out: '' })
  const { code, out } = await run(process.execPath, ['build/latest.js'], {
    cwd: place,
    env: { ...process.env, NODE_OPTIONS: '', SPARROW_URL: server.origin, SPARROW_TOKEN: body.token },
  })
  expect({ code, out: out.trim() }).toEqual({ code: 0, out: 'Device vat, Temperature: 5 , at most 6.5' })
}, 60_000)
