// npm start: the production start. No demo data; the first visit creates the owner.
import { Application, homeFolder, main } from './application.mjs'
import { prepare } from './prepare.mjs'

await main(async () => {
  await prepare({ postgresql: !process.env.DATABASE_URL, web: true })
  const home = homeFolder('main')
  const application = new Application()
  application.occupy(home)
  const databaseUrl = await application.database(home)
  const { url } = await application.program('server/src/main.ts', { DATABASE_URL: databaseUrl })
  console.log(`\nJaunty Sparrow is at ${url}`)
})
