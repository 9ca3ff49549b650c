// PostgreSQL's own tools, as they are installed.
import { spawn } from 'node:child_process'
import { existsSync } from 'node:fs'
import { SetUpError } from './prepare.mjs'

const debian = '/usr/lib/postgresql/15/bin'

/**
 * Runs one of PostgreSQL's tools. A password in an address goes by the environment, where no list of processes shows it.
 * @param {string} tool such as `pg_dump`
 * @param {string} url of the database
 * @param {string[]} args what else it is told
 */
export function runTool(tool, url, args) {
  const { username, password, hostname, port, pathname } = new URL(url)
  const command = existsSync(`${debian}/${tool}`) ? `${debian}/${tool}` : tool
  const env = {
    ...process.env,
    PGHOST: hostname,
    PGPORT: port || '5432',
    PGUSER: decodeURIComponent(username),
    PGPASSWORD: decodeURIComponent(password),
    PGDATABASE: decodeURIComponent(pathname.slice(1)),
  }
  return new Promise((done, failed) => {
    const child = spawn(command, args, { env, stdio: ['ignore', 'inherit', 'pipe'] })
    let said = ''
    child.stderr.on('data', (data) => {
      said += data
    })
    child.on('error', (error) =>
      failed(
        new SetUpError(`${tool} could not be run (${error.message}); Debian's postgresql-client-15 has it.`),
      ),
    )
    child.on('exit', (code) => (code === 0 ? done() : failed(new SetUpError(`${tool} failed:\n${said}`))))
  })
}
