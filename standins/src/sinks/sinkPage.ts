import type { IncomingMessage, ServerResponse } from 'node:http'
import escapeHtml from 'lodash-es/escape.js'
import type { Kept, Received } from './kept.ts'

/** So much of a call is read. */
const longestCall = 1_000_000
/** Every so many calls, one is not taken. */
const failsEvery = 4

const row = ({ at, by, title, details, body }: Received) => `
  <article>
    <h2>${escapeHtml(title)}</h2>
    <p>${by}, ${new Date(at).toISOString()} · ${escapeHtml(details)}</p>
    <pre>${escapeHtml(body).replace(/https?:\/\/\S+/g, (link) => `<a href="${link}">${link}</a>`)}</pre>
  </article>`

const page = (all: readonly Received[]) => `<!doctype html>
<html lang="en"><meta charset="utf-8"><meta http-equiv="refresh" content="5"><title>What was received</title>
<style>body{font:15px/1.5 system-ui;max-width:46rem;margin:2rem auto;padding:0 1rem;background:#f4f0e8;color:#2a211b}
article{border-top:1px solid #cfc6b8}h2{font-size:1rem;margin:.8rem 0 0}p{margin:0;color:#6b5d50;font-size:.85rem}
pre{white-space:pre-wrap;font:inherit}a{color:#7d3c25}</style>
<h1>What was received</h1>
<p>Mail and calls that the demo sends end here; nothing goes further.</p>
${all.length === 0 ? '<p>Nothing yet.</p>' : all.map(row).join('')}
</html>`

/** Shows what came in, and takes calls of webhooks: now and then it fails, as such programs do. */
export function sinkPage(kept: Kept, now: () => number) {
  let calls = 0
  return async (request: IncomingMessage, response: ServerResponse): Promise<void> => {
    if (request.method === 'GET') {
      response.setHeader('Content-Type', 'text/html; charset=utf-8').end(page(kept.all))
      return
    }
    let body = ''
    for await (const piece of request) {
      body += piece
      if (body.length > longestCall) {
        response.writeHead(413).end()
        return
      }
    }
    const details = `${request.method} ${request.url}, id ${request.headers['webhook-id']}`
    if (++calls % failsEvery === 0) {
      kept.add({ at: now(), by: 'webhook', title: 'a call that was not taken', details, body })
      response.writeHead(503).end('busy just now')
      return
    }
    kept.add({ at: now(), by: 'webhook', title: 'a call', details, body })
    response.writeHead(204).end()
  }
}
