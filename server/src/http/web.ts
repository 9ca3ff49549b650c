import { join } from 'node:path'
import express, { type Express } from 'express'
import staticPacked from 'express-static-gzip'
import { ProblemError } from './problemResponse.ts'
import { sessionCookie } from './session.ts'

const year = '365d'

/** What a page asks for first, wherever somebody who is signed in comes in: told along with it, so that it is fetched at once. */
const askedFirst = ['session', 'sites', 'devices']
  .map((name) => `</api/${name}>; rel=preload; as=fetch; crossorigin=anonymous`)
  .join(', ')

/** What links show, as far as it concerns who may hold it in a frame. */
interface Links {
  admit(ip: string): void
  open(token: string): Promise<{ readonly frameAncestors: readonly string[] } | undefined>
}

/** Serves the built pages, packed when they were built. Their files carry a hash in their names and never change; the page itself is always asked for anew. */
export function serveWeb(app: Express, root: string, links: Links): void {
  app.use(
    '/assets',
    staticPacked(join(root, 'assets'), {
      enableBrotli: true,
      orderPreference: ['br'],
      index: false,
      serveStatic: { immutable: true, maxAge: year, fallthrough: false },
    }),
  )
  app.use(express.static(root, { index: false, maxAge: '1h' }))
  app.get('/shared/:token', async (request, response, next) => {
    links.admit(request.ip ?? '')
    const link = await links.open(request.params.token)
    const ancestors = ["'self'", ...(link?.frameAncestors ?? [])].join(' ')
    const policy = String(response.get('Content-Security-Policy')).replace(
      /frame-ancestors [^;]*/,
      `frame-ancestors ${ancestors}`,
    )
    response.set('Content-Security-Policy', policy)
    // Says the same in less: where both are there, some browsers go by this one.
    response.removeHeader('X-Frame-Options')
    next()
  })
  app.get('/{*path}', (request, response) => {
    if (request.headers.cookie?.includes(`${sessionCookie}=`)) response.set('Link', askedFirst)
    response.set('Cache-Control', 'no-cache').sendFile(join(root, 'index.html'), (error) => {
      if (error && !response.headersSent) {
        response
          .status(503)
          .type('text')
          .send('The web pages are not built yet: run "npm run build", then start again.\n')
      }
    })
  })
  app.use((request) => {
    throw new ProblemError('not-found', `There is nothing at ${request.method} ${request.path}.`)
  })
}
