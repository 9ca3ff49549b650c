import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { run } from './run.ts'

const command = fileURLToPath(new URL('../../../launch/authority.mjs', import.meta.url))

/** A local authority, made by the command that people use. @returns its folder */
export async function localAuthority(
  home = mkdtempSync(join(tmpdir(), 'sparrow-authority-')),
  ...names: string[]
) {
  const { code, out } = await run(process.execPath, [command, ...names], {
    env: { ...process.env, NODE_OPTIONS: '', SPARROW_HOME: home },
  })
  if (code !== 0) throw new Error(`the authority was not made: ${out}`)
  return join(home, 'authority')
}
