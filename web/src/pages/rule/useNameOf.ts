import { signalTitle } from '@jaunty-sparrow/core/signal'
import { useMemo } from 'react'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import type { NameOf } from '../../rules/ruleWords.ts'

/** What signals are called, those of one device without it. @param deviceId the device the page is about */
export function useNameOf(deviceId?: number): NameOf {
  const { data: devices } = useDevicesQuery()
  return useMemo(() => {
    const known = new Map(
      devices?.flatMap(({ id, name, signals }) =>
        signals.map((signal) => {
          const title = signalTitle(signal)
          return [signal.id, { signal, name: id === deviceId ? title : `${title} of ${name}` }] as const
        }),
      ),
    )
    return (signalId) => known.get(signalId)
  }, [devices, deviceId])
}
