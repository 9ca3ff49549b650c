import type { Device, LatestReading, Signal } from '@jaunty-sparrow/contract'
import type { Presence } from '@jaunty-sparrow/core/presence'
import { useCallback, useEffect, useSyncExternalStore } from 'react'
import { live } from './connection.ts'
import { LiveTails } from './liveTails.ts'
import { type DeviceState, type LiveValue, LiveValues, type Lookers } from './liveValues.ts'

export const liveValues = new LiveValues()
export const liveTails = new LiveTails()
live.onFrame((frame) => {
  liveValues.take(frame)
  liveTails.take(frame)
})

type WithLatest = Pick<Signal, 'id' | 'latest'>

/** The latest reading of a signal, as far as it was heard live or is known from before. */
export function latestOf({ id, latest }: WithLatest): LiveValue | LatestReading | null {
  const heard = liveValues.value(id)
  return heard && (!latest || heard.at >= latest.at || heard.receivedAt >= latest.receivedAt) ? heard : latest
}

/** The latest reading of a signal, live as long as it is shown. */
export function useLatest(signal: WithLatest): LiveValue | LatestReading | null {
  const { id } = signal
  useEffect(() => live.want([id]), [id])
  const listen = useCallback((changed: () => void) => liveValues.onSignal(id, changed), [id])
  return useSyncExternalStore(listen, () => latestOf(signal))
}

export function useSignalPresence({ id, presence }: Pick<Signal, 'id' | 'presence'>): Presence {
  const listen = useCallback((changed: () => void) => liveValues.onSignal(id, changed), [id])
  return useSyncExternalStore(listen, () => liveValues.signalPresence(id)) ?? presence
}

/** How a device does. */
export function useDeviceState({
  id,
  presence,
  heardAt,
}: Pick<Device, 'id' | 'presence' | 'heardAt'>): DeviceState {
  const listen = useCallback((changed: () => void) => liveValues.onDevice(id, changed), [id])
  return useSyncExternalStore(listen, () => liveValues.device(id)) ?? { presence, heardAt }
}

/** How many look at the page of a device, this one included; told as long as it is open. */
export function useLookers(device: number): Lookers | undefined {
  useEffect(() => live.lookAt(device), [device])
  const listen = useCallback((changed: () => void) => liveValues.onDevice(device, changed), [device])
  return useSyncExternalStore(listen, () => liveValues.lookers(device))
}
