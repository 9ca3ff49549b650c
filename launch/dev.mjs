// npm run dev: the demo for working on it. Vite serves the pages, and the server starts anew when its sources change.
import { spawn } from 'node:child_process'
import { join } from 'node:path'
import { Application, homeFolder, main } from './application.mjs'
import { freePort } from './cluster.mjs'
import { prepare, root } from './prepare.mjs'

await main(async () => {
  await prepare({ postgresql: !process.env.DATABASE_URL, socat: true })
  const home = homeFolder('dev')
  const application = new Application()
  application.occupy(home)
  const database = await application.database(home)
  // The server keeps its port over restarts, so that Vite finds it again.
  const port = process.env.PORT ?? String(await freePort())
  const { url, firstRunToken } = await application.server({ ...database, PORT: port }, undefined, ['--watch'])
  const { signInUrl } = await application.standIns(url, home, firstRunToken)
  const vite = spawn('npx', ['--no-install', 'vite'], {
    cwd: join(root, 'web'),
    env: { ...process.env, SPARROW_URL: url },
    stdio: 'inherit',
  })
  vite.on('exit', () => application.stop(0))
  console.log(`\nThe server is at ${url}; Vite prints where the pages are.`)
  console.log(`Sign in there with: ${new URL(signInUrl).pathname}${new URL(signInUrl).hash}`)
})
