import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import type { Board } from './creamery/standIn.ts'
import { tellStory } from './creamery/story.ts'
import { HttpLine } from './httpLine.ts'
import { perform } from './perform.ts'

/** A server that answers as it is told to, and remembers what was sent. */
async function answering(status: () => number) {
  const received: unknown[] = []
  const server = createServer(async (request, response) => {
    let body = ''
    for await (const chunk of request) body += chunk
    const code = status()
    if (code === 204) received.push(JSON.parse(body))
    response.writeHead(code).end()
  })
  await new Promise<void>((listening) => server.listen(0, '127.0.0.1', listening))
  const { port } = server.address() as AddressInfo
  return { received, url: `http://127.0.0.1:${port}`, close: () => server.close() }
}

const credential = { address: 'board', secret: 'secret' }

const board: Board = {
  period: 40,
  message: (at) => ({ value: at }),
}

describe('a board that performs', () => {
  it('keeps what it could not deliver, and sends it with the next message', async () => {
    let away = 3
    const server = await answering(() => (away-- > 0 ? 503 : 204))
    const stop = perform(board, new HttpLine(server.url, credential), tellStory(Date.now()), Date.now)
    for (let look = 0; look < 2000 && server.received.length < 2; look++)
      await new Promise((soon) => setTimeout(soon, 10))
    stop()
    server.close()
    const [backlog, next] = server.received as [{ t: number }[], { t: number }]
    expect(backlog).toHaveLength(4)
    expect(next.t).toBeGreaterThan(backlog.at(-1)?.t ?? 0)
  })

  it('gathers what it sends together', async () => {
    const server = await answering(() => 204)
    const line = new HttpLine(server.url, credential)
    const stop = perform({ ...board, together: 3 }, line, tellStory(Date.now()), Date.now)
    for (let look = 0; look < 2000 && server.received.length < 2; look++)
      await new Promise((soon) => setTimeout(soon, 10))
    stop()
    server.close()
    expect(server.received.slice(0, 2).map((message) => (message as unknown[]).length)).toEqual([3, 3])
  })
})
