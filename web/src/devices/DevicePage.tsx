import type { Device } from '@jaunty-sparrow/contract'
import { type DragEvent, useState } from 'react'
import { Link, useParams } from 'react-router'
import { problemText } from '../api/problemText.ts'
import { buttonLook } from '../design/Button.tsx'
import { Notice } from '../design/Notice.tsx'
import { Skeleton } from '../design/Skeleton.tsx'
import { useIsOwner } from '../people/useIsOwner.ts'
import { SignalTrack } from '../signals/SignalTrack.tsx'
import { useTracesQuery } from '../signals/signalsApi.ts'
import { useSitesQuery } from '../sites/sitesApi.ts'
import { useAppSelector } from '../store.ts'
import { DeviceActions } from './DeviceActions.tsx'
import { useDevicesQuery } from './devicesApi.ts'
import { Presence } from './Presence.tsx'
import { SecretCard } from './SecretCard.tsx'
import { SerialStatus } from './SerialStatus.tsx'
import { SuggestedSignals } from './SuggestedSignals.tsx'

/** One device: what it says now, its last hour, and what can be done with it. */
export function DevicePage() {
  const { address } = useParams()
  const { data: devices, error } = useDevicesQuery()
  const device = devices?.find((candidate) => candidate.address === address)
  if (device) return <DeviceView key={device.id} device={device} />
  if (error) return <Notice tone="trouble" title={problemText(error)} />
  if (!devices) {
    return (
      <div role="status" className="grid gap-4">
        <span className="sr-only">Loading the device</span>
        <Skeleton className="h-9 w-72" />
        <Skeleton className="h-40" />
        <Skeleton className="h-40" />
      </div>
    )
  }
  return (
    <div className="grid justify-items-start gap-4 py-10">
      <h1 className="text-3xl">No device has the address “{address}”</h1>
      <p className="text-ink-soft">It may have been deleted, or the link may have a slip in it.</p>
      <Link to="/" className={buttonLook('strong')}>
        To all devices
      </Link>
    </div>
  )
}

function DeviceView({ device }: { device: Device }) {
  const secret = useAppSelector(({ freshSecrets }) => freshSecrets[device.address])
  const { data: sites } = useSitesQuery()
  const [dropped, setDropped] = useState<File>()
  const site = sites?.find(({ id }) => id === device.siteId)
  const timeZone = site?.timeZone ?? 'UTC'
  const canChange = useIsOwner()
  const drop = (event: DragEvent) => {
    const [file] = event.dataTransfer.files
    if (!file || !canChange) return
    event.preventDefault()
    setDropped(file)
  }
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the same is done with the button "Bring a file"
    <div className="grid gap-6" onDragOver={(event) => event.preventDefault()} onDrop={drop}>
      <header className="grid gap-2">
        <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
          <h1 className="text-3xl">{device.name}</h1>
          <Presence device={device} />
        </div>
        <div className="flex flex-wrap items-center gap-x-4 gap-y-2 text-sm text-ink-soft">
          <p className="grow basis-72">
            <Link to="/" className="hover:text-chestnut hover:underline">
              {site?.name}
            </Link>{' '}
            · address <code className="font-mono text-[0.8125rem] text-ink">{device.address}</code>
            {device.cadence && ` · speaks every ${describeCadence(device.cadence.seconds)}`}
          </p>
          {canChange && (
            <DeviceActions
              device={device}
              timeZone={timeZone}
              dropped={dropped}
              onDropDone={() => setDropped(undefined)}
            />
          )}
        </div>
      </header>
      {device.serial && <SerialStatus line={device.serial} />}
      {secret && <SecretCard device={device} secret={secret} />}
      <SuggestedSignals device={device} canChange={canChange} />
      <Signals device={device} timeZone={timeZone} canChange={canChange} />
    </div>
  )
}

/** As wide as the widest chart, so that no pixel goes without what happened in it. */
const columns = 900

function Signals({ device, timeZone, canChange }: { device: Device; timeZone: string; canChange: boolean }) {
  const accepted = device.signals.filter(({ state }) => state === 'accepted')
  const ids = accepted.map(({ id }) => id)
  const { data: traces, error } = useTracesQuery({ signals: ids, columns }, { skip: ids.length === 0 })
  if (device.signals.length === 0) {
    return (
      <section className="grid gap-2 rounded-lg border border-dashed border-rule-strong p-6">
        <h2 className="text-lg">Waiting for its first message</h2>
        <p className="max-w-prose text-ink-soft">
          As soon as the device sends something, its fields appear here with their values. No page needs to be
          loaded again.
        </p>
      </section>
    )
  }
  if (accepted.length === 0) return null
  return (
    <section aria-label="Signals" className="grid">
      <p className="flex justify-between pb-2 text-sm text-ink-soft">
        <span>Now</span>
        <span>The last hour, {timeZone.replaceAll('_', ' ')} time</span>
      </p>
      {error && <Notice tone="trouble" title={problemText(error)} />}
      {accepted.map((signal) => (
        <SignalTrack
          key={signal.id}
          device={device}
          signal={signal}
          trace={traces?.find((trace) => trace.signal === signal.id)}
          timeZone={timeZone}
          canChange={canChange}
        />
      ))}
    </section>
  )
}

const describeCadence = (seconds: number): string =>
  seconds < 120
    ? `${Math.round(seconds * 10) / 10} s`
    : seconds < 7200
      ? `${Math.round(seconds / 60)} min`
      : `${Math.round(seconds / 3600)} h`
