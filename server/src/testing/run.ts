import { execFile } from 'node:child_process'
import { promisify } from 'node:util'

const execute = promisify(execFile)

/** Runs a program that is not ours to its end. @returns what it printed, and its exit code */
export async function run(
  command: string,
  args: readonly string[],
  options: { env?: NodeJS.ProcessEnv; cwd?: string } = {},
): Promise<{ code: number; out: string }> {
  try {
    const { stdout, stderr } = await execute(command, args, { ...options, timeout: 30_000 })
    return { code: 0, out: stdout + stderr }
  } catch (error) {
    const { code, stdout = '', stderr = '' } = error as { code?: number; stdout?: string; stderr?: string }
    return { code: typeof code === 'number' ? code : -1, out: stdout + stderr }
  }
}
