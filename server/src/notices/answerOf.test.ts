import { once } from 'node:events'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { answerOf } from './answerOf.ts'

it('keeps the beginning of an answer that has no end, and lets go of the rest', async () => {
  let isGone: Promise<unknown> | undefined
  const server = createServer((_, response) => {
    isGone = once(response, 'close')
    response.writeHead(507, 'No Room')
    const more = () => {
      while (!response.destroyed && response.write('no room '.repeat(8000)));
    }
    response.on('drain', more)
    more()
  }).listen(0, '127.0.0.1')
  await once(server, 'listening')
  const answer = await answerOf(await fetch(`http://127.0.0.1:${(server.address() as AddressInfo).port}`))
  expect(answer).toMatch(/^507 No Room: no room no room/)
  expect(answer.length).toBeLessThan(250)
  await isGone
  server.close()
})

it('is the status alone where nothing else was said', async () => {
  expect(await answerOf(new Response(null, { status: 204, statusText: 'No Content' }))).toBe('204 No Content')
})
