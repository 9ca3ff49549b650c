import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { routes } from '@jaunty-sparrow/contract'
import { paperProgram } from '@jaunty-sparrow/core/program'
import { decode } from 'fast-png'
import { run } from '../testing/run.ts'
import { type ServerUnderTest, send, serverUnderTest } from '../testing/serverUnderTest.ts'

/** Stands in for what only a board has. */
const board = fileURLToPath(new URL('./board', import.meta.url))

const now = Date.UTC(2026, 9, 1, 12, 0, 30)

let server: ServerUnderTest
let folder: string
let token: string
let linkId: number
beforeAll(async () => {
  // A picture tells ages: it stays the same as long as the clock does.
  server = await serverUnderTest({ now: () => now })
  folder = mkdtempSync(join(tmpdir(), 'sparrow-paper-'))
  const { owner, origin } = server
  const { token: secret } = await owner.createDevice('cave')
  await send(origin, secret, { temperature: 11.6 })
  const { siteId } = await owner.device('cave')
  const { body: page } = await owner.call(routes.createDashboard, {
    body: {
      siteId,
      name: 'Caves',
      isMine: false,
      role: 'viewer',
      shows: {
        chapters: [
          {
            id: 'c1',
            title: 'The caves',
            repeat: { each: 'device-at-site', siteId },
            instruments: null,
            phone: null,
          },
        ],
      },
    },
  })
  const { body: made } = await owner.call(routes.createDashboardLink, {
    params: { dashboardId: page.id },
    body: { name: 'Caves', instrumentId: null, past: 'day', frameAncestors: [], expiresAt: null },
  })
  token = made.token
  linkId = made.link.id
})
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true })
  await server.close()
})

/** The program as it is copied, with a display that prints what it gets. */
const wake = (greys: 2 | 4) => {
  const target = { url: server.origin, token, width: 250, height: 122, greys }
  for (const { name, text } of paperProgram(target))
    writeFileSync(
      join(folder, name),
      text.replace(/print\("shows".*\)/, 'print("rows", b"".join(rows).hex())'),
    )
  return run('env', [`PYTHONPATH=${board}`, 'PYTHONDONTWRITEBYTECODE=1', 'python3', 'main.py'], {
    cwd: folder,
  })
}

it.each([2, 4] as const)('shows the picture in %i greys as others read it, and sleeps', async (greys) => {
  const { out } = await wake(greys)
  const picture = await fetch(
    `${server.origin}/api/shared/${token}/paper.png?width=250&height=122&greys=${greys}`,
  )
  // What a library of others makes of the same picture: a whole byte for each pixel, or the packed rows.
  const { data, depth } = decode(new Uint8Array(await picture.arrayBuffer()))
  expect(depth).toBe(greys === 2 ? 1 : 2)
  expect(/rows ([0-9a-f]+)/.exec(out)?.[1]).toBe(Buffer.from(data).toString('hex'))
  expect(out).toMatch(/sleeps \d+ ms/)
})

it('draws nothing anew where nothing is new', async () => {
  await wake(2)
  expect((await wake(2)).out).toMatch(/^nothing is new\nsleeps \d+ ms/)
})

it('says that the link was withdrawn, and sleeps long', async () => {
  await server.owner.call(routes.withdrawShareLink, { params: { linkId } })
  expect((await wake(2)).out).toMatch(
    /Nothing is shown by this link any more: the server answered 401[\s\S]*sleeps 3600000 ms/,
  )
})
