// npm start: the production start. No demo data; the first visit creates the owner.
import { hostname } from 'node:os'
import { Application, homeFolder, main } from './application.mjs'
import { prepare } from './prepare.mjs'

await main(async () => {
  await prepare({ postgresql: !process.env.DATABASE_URL, web: true })
  const home = homeFolder('main')
  const application = new Application()
  application.occupy(home)
  const databaseUrl = await application.database(home)
  const { url, firstRunToken } = await application.program('server/src/main.ts', {
    DATABASE_URL: databaseUrl,
  })
  console.log(`\nJaunty Sparrow is at ${url}`)
  const reached = new URL(`/first-run#${firstRunToken}`, url)
  if (firstRunToken && !isLoopback(reached.hostname)) {
    if (isWildcard(reached.hostname)) reached.hostname = hostname()
    console.log(`Create its owner on this machine, or from another one with: ${reached}`)
  }
})

function isLoopback(host) {
  return host === 'localhost' || host === '[::1]' || host.startsWith('127.')
}

function isWildcard(host) {
  return host === '0.0.0.0' || host === '[::]'
}
