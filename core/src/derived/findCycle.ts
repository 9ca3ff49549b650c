/**
 * Looks for a way that leads from something back to itself.
 * @param next what each leads to
 * @returns the way, the same at both ends; undefined where there is none
 */
export function findCycle<T>(next: ReadonlyMap<T, readonly T[]>): T[] | undefined {
  const isDone = new Set<T>()
  for (const start of next.keys()) {
    // By hand, not by recursion: a chain may be as long as there are signals.
    const way: { readonly at: T; readonly rest: T[] }[] = [{ at: start, rest: [...(next.get(start) ?? [])] }]
    const isOnWay = new Set([start])
    while (way.length > 0 && !isDone.has(start)) {
      const here = way[way.length - 1]
      const to = here?.rest.pop()
      if (!here) break
      if (to === undefined) {
        isDone.add(here.at)
        isOnWay.delete(here.at)
        way.pop()
      } else if (isOnWay.has(to)) {
        return [...way.map(({ at }) => at).slice(way.findIndex(({ at }) => at === to)), to]
      } else if (!isDone.has(to)) {
        isOnWay.add(to)
        way.push({ at: to, rest: [...(next.get(to) ?? [])] })
      }
    }
  }
  return undefined
}
