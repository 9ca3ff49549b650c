// npm run authority -- NAME…: a local authority for the home network, and a certificate that it signs for this machine.
import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { isIP } from 'node:net'
import { hostname, networkInterfaces } from 'node:os'
import { join } from 'node:path'
import { homeFolder, main } from './application.mjs'
import { authorityFolder } from './authorityFolder.mjs'
import { prepare, SetUpError } from './prepare.mjs'

/** What devices of people take at most from an authority that a person imported, days. */
const leafDays = 397
const authorityDays = 3650

await main(async () => {
  await prepare({ openssl: true })
  const folder = authorityFolder(homeFolder('main'))
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  const at = (name) => join(folder, name)
  if (!existsSync(at('authority.crt'))) makeAuthority(at)
  const names = [...new Set([...process.argv.slice(2), ...ownNames()])]
  signLeaf(at, names)
  console.log(`
The certificate of this machine holds for ${names.join(', ')}, for ${leafDays} days.
A server that had one before takes it up at once. Else start it again: it has HTTPS at port 7643 and MQTT over TLS at 8883 then.
What phones import and boards pin is ${at('authority.crt')}; every page of settings shows it as a picture to scan.
Run this again for other names, or when its time is over: phones and boards need nothing new then.`)
})

/** Everything this machine is called by in its network. */
function ownNames() {
  const [short = 'localhost'] = hostname().split('.')
  const addresses = Object.values(networkInterfaces())
    .flat()
    .filter(({ address }) => !/^fe[89ab]/i.test(address))
    .map(({ address }) => address)
  return ['localhost', hostname(), `${short}.local`, ...addresses]
}

function makeAuthority(at) {
  const making = at('authority.making')
  openssl(['ecparam', '-name', 'prime256v1', '-genkey', '-noout', '-out', at('authority.key')])
  openssl([
    ...['req', '-x509', '-new', '-key', at('authority.key'), '-sha256', '-days', String(authorityDays)],
    ...['-subj', `/CN=Jaunty Sparrow at ${hostname()}`, '-out', making],
    ...['-addext', 'basicConstraints=critical,CA:TRUE,pathlen:0'],
    ...['-addext', 'keyUsage=critical,keyCertSign,cRLSign'],
  ])
  renameSync(making, at('authority.crt'))
}

function signLeaf(at, names) {
  const bad = names.find(
    (name) => isIP(name) === 0 && !/^[A-Za-z0-9*]([A-Za-z0-9.-]{0,251}[A-Za-z0-9])?$/.test(name),
  )
  if (bad !== undefined) throw new SetUpError(`"${bad}" is neither a name nor an address.`)
  const san = names.map((name) => `${isIP(name) ? 'IP' : 'DNS'}:${name}`).join(',')
  const extensions = at('leaf.conf')
  writeFileSync(
    extensions,
    `basicConstraints=critical,CA:FALSE\nkeyUsage=critical,digitalSignature\nextendedKeyUsage=serverAuth\nsubjectAltName=${san}\n`,
  )
  const [key, request, cert] = [at('server.key.making'), at('server.csr'), at('server.crt.making')]
  openssl(['ecparam', '-name', 'prime256v1', '-genkey', '-noout', '-out', key])
  openssl(['req', '-new', '-key', key, '-subj', `/CN=${names[0]}`, '-out', request])
  openssl([
    ...['x509', '-req', '-in', request, '-CA', at('authority.crt'), '-CAkey', at('authority.key')],
    ...['-CAcreateserial', '-days', String(leafDays), '-sha256', '-extfile', extensions, '-out', cert],
  ])
  renameSync(key, at('server.key'))
  renameSync(cert, at('server.crt'))
  for (const file of [request, extensions]) rmSync(file)
}

function openssl(args) {
  const { status, stderr } = spawnSync('openssl', args, { encoding: 'utf8' })
  if (status !== 0) throw new SetUpError(`openssl ${args[0]} failed:\n${stderr}`)
}
