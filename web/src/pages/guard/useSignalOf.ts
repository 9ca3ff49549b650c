import type { Device, Signal } from '@jaunty-sparrow/contract'
import { useMemo } from 'react'
import { useDevicesQuery } from '../../devices/devicesApi.ts'

/** Finds a signal by its number, with its device. */
export function useSignalOf(): (
  signalId: number | null,
) => { readonly signal: Signal; readonly device: Device } | undefined {
  const { data: devices } = useDevicesQuery()
  return useMemo(() => {
    const known = new Map(
      devices?.flatMap((device) => device.signals.map((signal) => [signal.id, { signal, device }] as const)),
    )
    return (signalId) => (signalId === null ? undefined : known.get(signalId))
  }, [devices])
}
