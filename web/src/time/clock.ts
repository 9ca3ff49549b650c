import { useSyncExternalStore } from 'react'
import { dateFormat } from '../language/dateFormat.ts'

/** How far the server's clock is ahead of this machine's, ms. Ages are told by the server's clock: a phone may be minutes off. */
let offset = 0

export function setServerTime(serverNow: number): void {
  offset = serverNow - Date.now()
}

/** The present by the server's clock, epoch ms. */
export const serverNow = (): number => Date.now() + offset

const listeners = new Set<() => void>()
let ticking: ReturnType<typeof setInterval> | undefined
let present = Math.floor(serverNow() / 1000) * 1000

function tick(): void {
  present = Math.floor(serverNow() / 1000) * 1000
  for (const listener of listeners) listener()
}

function listen(listener: () => void): () => void {
  listeners.add(listener)
  if (ticking === undefined) {
    tick()
    ticking = setInterval(tick, 1000)
  }
  return () => {
    listeners.delete(listener)
    if (listeners.size > 0) return
    clearInterval(ticking)
    ticking = undefined
  }
}

/** The present, anew every second for whoever shows an age; one timer serves the whole page. */
export const useNow = (): number => useSyncExternalStore(listen, () => present)

/** The present, anew every so many ms: for pictures that move by less than a pixel in between. */
export const useBeat = (every: number): number =>
  useSyncExternalStore(listen, () => Math.floor(present / every) * every)

const exactClock = dateFormat({ hour: '2-digit', minute: '2-digit', second: '2-digit' })

/** The time of day, to the second, where whoever looks is. @param at epoch ms */
export const clockOf = (at: number): string => exactClock.format(at)
