// Set-up that a fresh clone on a fresh machine needs, done by the commands themselves. Runs before any package is
// installed, so it uses nothing but Node.
import { spawn, spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { withLock } from './lock.mjs'

export const root = fileURLToPath(new URL('..', import.meta.url))

/** Something the person has to put right; shown without a stack. */
export class SetUpError extends Error {}

/**
 * Installs what is missing. Commands that run at once take turns.
 * @param {{ postgresql?: boolean, chromium?: boolean, mosquitto?: boolean, openssl?: boolean, proxies?: boolean, systemd?: boolean, client?: boolean, socat?: boolean, programs?: boolean, web?: boolean }} needs
 */
export async function prepare({
  postgresql = false,
  chromium = false,
  mosquitto = false,
  openssl = false,
  proxies = false,
  systemd = false,
  client = false,
  socat = false,
  programs = false,
  web = false,
}) {
  await withLock(join(root, '.sparrow', 'prepare.lock'), async () => {
    const missing = []
    if (postgresql && !existsSync('/usr/lib/postgresql/15/bin/postgres')) missing.push('postgresql-15')
    if (chromium && !existsSync('/usr/bin/chromium')) missing.push('chromium')
    if (socat && !existsSync('/usr/bin/socat')) missing.push('socat')
    if (programs && !existsSync('/usr/bin/python3')) missing.push('python3')
    if (programs && !existsSync('/usr/bin/curl')) missing.push('curl')
    if (programs && !existsSync('/usr/bin/g++')) missing.push('g++')
    if (programs && !existsSync('/usr/bin/avr-gcc')) missing.push('gcc-avr', 'avr-libc')
    if (programs && !existsSync('/usr/share/arduino/hardware/arduino/avr')) missing.push('arduino-core-avr')
    if (programs && !existsSync('/usr/bin/simavr')) missing.push('simavr')
    if (mosquitto && !existsSync('/usr/bin/mosquitto_pub')) missing.push('mosquitto-clients')
    if (mosquitto && !existsSync('/usr/sbin/mosquitto')) missing.push('mosquitto')
    if (openssl && !existsSync('/usr/bin/openssl')) missing.push('openssl')
    if (proxies && !existsSync('/usr/sbin/nginx')) missing.push('nginx-light')
    if (proxies && !existsSync('/usr/bin/caddy')) missing.push('caddy')
    if (systemd && !existsSync('/usr/bin/systemd-analyze')) missing.push('systemd')
    if (missing.length > 0) await installDebianPackages(missing)
    await installNodePackages(root)
    if (client) await installNodePackages(join(root, 'clients', 'typescript'))
    if (web) await buildWeb()
  })
}

async function installDebianPackages(names) {
  const apt = existsSync('/usr/bin/apt-get')
  const sudo = process.getuid() !== 0
  if (!apt || (sudo && spawnSync('sudo', ['-n', 'true']).status !== 0)) {
    if (!apt)
      throw new SetUpError(
        `This sets itself up on Debian only, and ${names.join(' and ')} is missing here. Install that yourself; or, to run the server, set DATABASE_URL to a PostgreSQL 15 or later, and nothing of Debian is needed.`,
      )
    throw new SetUpError(
      `${names.join(' and ')} missing. Install with: sudo apt-get install -y ${names.join(' ')}`,
    )
  }
  console.log(`Installing ${names.join(' and ')} …`)
  const install = async (...args) => {
    const command = [
      'env',
      'DEBIAN_FRONTEND=noninteractive',
      'apt-get',
      '-q',
      '-o',
      'DPkg::Lock::Timeout=600',
      ...args,
    ]
    await run(sudo ? ['sudo', '-n', ...command] : command)
  }
  await install('update')
  await install('install', '-y', '--no-install-recommends', ...names)
}

async function installNodePackages(folder) {
  const wanted = createHash('sha256')
    .update(readFileSync(join(folder, 'package-lock.json')))
    .digest('hex')
  const stamp = join(folder, 'node_modules', '.installed')
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return
  console.log('Installing node packages …')
  // No package here needs its install script, so none is run.
  await run(['npm', 'ci', '--ignore-scripts', '--no-audit', '--no-fund'], folder)
  writeFileSync(stamp, wanted)
}

async function buildWeb() {
  const built = join(root, 'web', 'dist', 'index.html')
  const newest = Math.max(
    ...[
      'web/src',
      'web/index.html',
      'web/vite.config.ts',
      'core/src',
      'contract/src',
      'drawings/src',
      'package-lock.json',
    ].map(newestChange),
  )
  if (existsSync(built) && statSync(built).mtimeMs > newest) return
  console.log('Building the pages …')
  await run(['npm', 'run', 'build', '--silent'])
}

function newestChange(path) {
  const full = join(root, path)
  const stat = statSync(full)
  if (!stat.isDirectory()) return stat.mtimeMs
  return Math.max(stat.mtimeMs, ...readdirSync(full).map((name) => newestChange(join(path, name))))
}

/** Runs a command quietly; what it printed is shown when it fails. */
function run([command, ...args], cwd = root) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { cwd, stdio: ['ignore', 'pipe', 'pipe'] })
    let output = ''
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => (output += chunk))
    child.on('error', reject)
    child.on('close', (code) => {
      if (code === 0) resolve()
      else reject(new SetUpError(`${output}\n"${[command, ...args].join(' ')}" failed; its output is above.`))
    })
  })
}
