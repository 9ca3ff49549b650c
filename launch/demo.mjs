// npm run demo: the application with a made-up creamery that is alive.
import { Application, homeFolder, main } from './application.mjs'
import { prepare } from './prepare.mjs'
import { at } from './reachedAt.mjs'

await main(async () => {
  await prepare({ postgresql: !process.env.DATABASE_URL, socat: true, web: true })
  const home = homeFolder('demo')
  const application = new Application()
  application.occupy(home)
  const database = await application.database(home)
  const sinks = await application.sinks()
  const { url, reach, firstRunToken } = await application.server({
    MAIL_URL: sinks.mailUrl,
    MAIL_FROM: 'sparrow@brackenfold.example',
    ...database,
    LOG_LEVEL: process.env.LOG_LEVEL ?? 'warn',
  })
  const { signInUrl } = await application.standIns(url, home, firstRunToken, sinks.url)
  console.log(`\nJaunty Sparrow is at ${reach.people.url}`)
  console.log(`Sign in, once and within a day, with: ${at(reach, signInUrl)}`)
  console.log(`Mail and calls of the demo are read at ${sinks.url}`)
  console.log('Stop with Ctrl-C.')
})
