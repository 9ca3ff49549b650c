import { setTimeout as rest } from 'node:timers/promises'

/** Rests for some ms, or until a signal says that it is over. */
export async function restOr(signal: AbortSignal, ms: number): Promise<void> {
  await rest(ms, undefined, { signal }).catch((error: unknown) => {
    if (!signal.aborted) throw error
  })
}
