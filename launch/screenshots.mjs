// npm run screenshots: the pictures in docs/screenshots, taken anew from a fresh demo.
import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Application, main } from './application.mjs'
import { prepare, root } from './prepare.mjs'

await main(async () => {
  await prepare({ postgresql: true, chromium: true, mosquitto: true, socat: true, web: true })
  const home = mkdtempSync(join(tmpdir(), 'sparrow-screenshots-'))
  const application = new Application()
  const database = await application.database(home)
  const sinks = await application.sinks()
  const { url, firstRunToken } = await application.server({
    ...database,
    MAIL_URL: sinks.mailUrl,
    MAIL_FROM: 'sparrow@brackenfold.example',
    LOG_LEVEL: 'warn',
    PORT: '0',
    MQTT_PORT: '0',
  })
  const { signInUrl } = await application.standIns(url, home, firstRunToken, sinks.url)
  const { status } = spawnSync(
    'npx',
    ['--no-install', 'playwright', 'test', '--config', 'e2e', '--project', 'screenshots'],
    {
      cwd: root,
      stdio: 'inherit',
      env: { ...process.env, SIGN_IN_URL: signInUrl },
    },
  )
  process.on('exit', () => rmSync(home, { recursive: true, force: true }))
  await application.stop(status ?? 1)
})
