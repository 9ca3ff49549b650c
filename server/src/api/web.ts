import { join } from 'node:path'
import express, { type Express } from 'express'
import { ProblemError } from '../doors/problemResponse.ts'

const year = '365d'

/** Serves the built pages. Their files carry a hash in their names and never change; the page itself is always asked for anew. */
export function serveWeb(app: Express, root: string): void {
  app.use(
    '/assets',
    express.static(join(root, 'assets'), { immutable: true, maxAge: year, fallthrough: false }),
  )
  app.use(express.static(root, { index: false, maxAge: '1h' }))
  app.get('/{*path}', (_request, response) => {
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
