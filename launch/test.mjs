// npm test: all the set-up, then the checks, the units, and the real interface in a browser. The last line counts them all.
import { spawn } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { main } from './application.mjs'
import { prepare, root } from './prepare.mjs'
import startTestCluster from './testCluster.mjs'
import endTestCluster from './testClusterEnd.mjs'

const results = mkdtempSync(join(tmpdir(), 'sparrow-results-'))
const counts = { passed: 0, failed: 0 }

/** Runs a command in the open. @returns its exit code */
function run(command, env = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn('npx', ['--no-install', ...command], {
      cwd: root,
      stdio: 'inherit',
      env: { ...process.env, ...env },
    })
    child.on('error', reject)
    child.on('exit', resolve)
  })
}

async function check(name, command) {
  const code = await run(command)
  counts[code === 0 ? 'passed' : 'failed']++
  console.log(`${code === 0 ? 'ok' : 'FAILED'}: ${name}`)
}

/** Adds what a runner counted; a runner that counted nothing has failed. */
function add(passed, failed, code) {
  counts.passed += passed
  counts.failed += failed === 0 && (code !== 0 || passed === 0) ? 1 : failed
}

async function units() {
  const file = join(results, 'units.json')
  const code = await run(['jest', '--json', `--outputFile=${file}`], {
    NODE_OPTIONS: '--experimental-vm-modules --no-warnings',
  })
  const { numPassedTests, numFailedTests, numFailedTestSuites } = JSON.parse(readFileSync(file, 'utf8'))
  add(numPassedTests, Math.max(numFailedTests, numFailedTestSuites), code)
}

async function browser() {
  const file = join(results, 'browser.json')
  await startTestCluster()
  const code = await run(
    ['playwright', 'test', '--config', 'e2e', '--project', 'desk', '--project', 'phone'],
    {
      PLAYWRIGHT_JSON_OUTPUT_NAME: file,
    },
  )
  endTestCluster()
  const { stats } = JSON.parse(readFileSync(file, 'utf8'))
  add(stats.expected, stats.unexpected + stats.flaky, code)
}

await main(async () => {
  await prepare({
    postgresql: true,
    chromium: true,
    mosquitto: true,
    openssl: true,
    proxies: true,
    systemd: true,
    client: true,
    socat: true,
    programs: true,
    web: true,
  })
  await check('format and lint', ['biome', 'check', '--error-on-warnings', '.'])
  await check('types', ['tsc', '-b', 'server', 'web', 'standins', 'e2e', 'bench'])
  const workspaces = ['core', 'contract', 'drawings', 'server', 'web', 'standins', 'e2e', 'bench']
  for (const rules of ['.dependency-cruiser.cjs', '.dependency-folders.cjs'])
    await check(`dependency rules of ${rules}`, ['depcruise', ...workspaces, '--config', rules])
  await check('unused code', ['knip'])
  await units()
  await browser()
  rmSync(results, { recursive: true, force: true })
  console.log(`${counts.passed} passed, ${counts.failed} failed`)
  process.exit(counts.failed === 0 ? 0 : 1)
})
