import { readFile, rename, writeFile } from 'node:fs/promises'
import { join } from 'node:path'

/** What the stand-ins must not forget between two starts. It holds secrets, so only its owner may read it. */
export interface Memory {
  readonly password: string
  /** When the demo was first started, epoch ms: the origin of its story. */
  readonly origin: number
  readonly secrets: Readonly<Record<string, string>>
  /** Whether its pages were made and its notes written. */
  readonly isFurnished?: boolean
}

const fileIn = (home: string) => join(home, 'stand-ins.json')

export async function recall(home: string): Promise<Memory | undefined> {
  try {
    return JSON.parse(await readFile(fileIn(home), 'utf8'))
  } catch (error) {
    if (error instanceof Error && 'code' in error && error.code === 'ENOENT') return undefined
    throw error
  }
}

/** Written whole or not at all. */
export async function remember(home: string, memory: Memory): Promise<void> {
  const file = fileIn(home)
  await writeFile(`${file}.new`, JSON.stringify(memory, null, 2), { mode: 0o600 })
  await rename(`${file}.new`, file)
}
