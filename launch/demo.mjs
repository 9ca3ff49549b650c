// npm run demo: the application with a made-up creamery that is alive.
import { Application, homeFolder, main } from './application.mjs'
import { prepare } from './prepare.mjs'

await main(async () => {
  await prepare({ postgresql: !process.env.DATABASE_URL, socat: true, web: true })
  const home = homeFolder('demo')
  const application = new Application()
  application.occupy(home)
  const databaseUrl = await application.database(home)
  const server = { DATABASE_URL: databaseUrl, LOG_LEVEL: process.env.LOG_LEVEL ?? 'warn' }
  const { url } = await application.program('server/src/main.ts', server)
  const { signInUrl } = await application.program('standins/src/main.ts', {
    SPARROW_URL: url,
    SPARROW_HOME: home,
  })
  console.log(`\nJaunty Sparrow is at ${url}`)
  console.log(`Sign in, once and within a day, with: ${signInUrl}`)
  console.log('Stop with Ctrl-C.')
})
