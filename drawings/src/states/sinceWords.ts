import type { Shown, ShownSignal } from '../instrument/index.ts'

/** Since when it is as it is, where that is known. */
export function sinceWords(
  { trace, latest }: ShownSignal,
  { writing }: Pick<Shown, 'writing'>,
): string | undefined {
  const points = trace?.points ?? []
  const changed = points.findLastIndex(([, value]) => value !== latest?.value)
  const since = points[changed + 1]
  return changed >= 0 && since ? `since ${writing.clock(since[0])}` : undefined
}
