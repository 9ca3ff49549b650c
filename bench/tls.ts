import { execFileSync } from 'node:child_process'
import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { requestsPerSecond } from './ingest.ts'
import { median, whole } from './median.ts'
import { startSparrow } from './server.ts'

const rounds = 5

/** What TLS costs on connections that stay, in turns with the same without. */
export async function tls(databaseUrl: string): Promise<string[]> {
  const home = mkdtempSync(join(tmpdir(), 'sparrow-bench-tls-'))
  const authority = fileURLToPath(new URL('../launch/authority.mjs', import.meta.url))
  execFileSync(process.execPath, [authority], {
    env: { ...process.env, SPARROW_HOME: home },
    stdio: 'ignore',
  })
  const { owner, ...sparrow } = await startSparrow(databaseUrl, {
    AUTHORITY_FOLDER: join(home, 'authority'),
    TLS_PORT: '0',
    MQTT_TLS_PORT: '0',
  })
  const token = await owner.createDevice('node', ['a', 'b', 'c', 'd', 'e', 'f'])
  const plain: number[] = []
  const secure: number[] = []
  for (let round = 0; round < rounds; round++) {
    plain.push(await requestsPerSecond(sparrow.url, [token]))
    secure.push(await requestsPerSecond(sparrow.secureUrl, [token]))
  }
  await sparrow.stop()
  const ratio = median(secure.map((rate, round) => rate / (plain[round] ?? Number.NaN)))
  return [
    `| POST /in over TLS on kept connections, requests/s | ${whole(median(secure))} | |`,
    `| … ÷ without TLS (${whole(median(plain))}) | ${ratio.toFixed(2)} | goal ≥ 0.8 |`,
  ]
}
