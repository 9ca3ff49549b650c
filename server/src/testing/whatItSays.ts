import type { ChildProcess } from 'node:child_process'

/** What a program prints, and when it has printed something. */
export function whatItSays({ stdout, stderr }: ChildProcess): {
  readonly said: () => string
  /** Resolves when it has said something. */
  readonly says: (words: RegExp) => Promise<void>
} {
  let said = ''
  const listeners = new Set<() => void>()
  for (const stream of [stdout, stderr])
    stream?.setEncoding('utf8').on('data', (text: string) => {
      said += text
      for (const look of listeners) look()
    })
  return {
    said: () => said,
    says: (words) =>
      new Promise<void>((resolve) => {
        const look = () => words.test(said) && resolve()
        listeners.add(look)
        look()
      }),
  }
}
