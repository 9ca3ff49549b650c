import type { Device } from '@jaunty-sparrow/contract'
import { Eye, QrCode } from 'lucide-react'
import { type DragEvent, lazy, Suspense, useState } from 'react'
import { Link, useParams } from 'react-router'
import { problemText } from '../../api/problemText.ts'
import { Button, buttonLook } from '../../design/Button.tsx'
import { counted } from '../../design/counted.ts'
import { Notice } from '../../design/Notice.tsx'
import { Skeleton } from '../../design/Skeleton.tsx'
import { useChangeDeviceMutation, useDevicesQuery } from '../../devices/devicesApi.ts'
import { DevicePresence } from '../../devices/Presence.tsx'
import { SecretCard } from '../../devices/SecretCard.tsx'
import { SerialStatus } from '../../devices/SerialStatus.tsx'
import { SuggestedSignals } from '../../devices/SuggestedSignals.tsx'
import { Vitals } from '../../devices/Vitals.tsx'
import { dateFormat } from '../../language/dateFormat.ts'
import { useLookers } from '../../live/useLive.ts'
import { useMay } from '../../people/useMay.ts'
import { ReachNotice } from '../../reach/ReachNotice.tsx'
import { inUse } from '../../signals/inUse.ts'
import type { ChangeSheet } from '../../signals/SignalTrack.tsx'
import { SignalTracks } from '../../signals/SignalTracks.tsx'
import { useSitesQuery } from '../../sites/sitesApi.ts'
import { useAppSelector } from '../../store.ts'
import { AboutBoard } from './AboutBoard.tsx'
import { DeviceActions } from './DeviceActions.tsx'

const SignalSheet = lazy(async () => ({
  default: (await import('../../signals/SignalSheet.tsx')).SignalSheet,
}))
const ChangeDerivedSheet = lazy(async () => ({
  default: (await import('../../derived/ChangeDerivedSheet.tsx')).ChangeDerivedSheet,
}))
const PhoneSheet = lazy(async () => ({ default: (await import('../../devices/PhoneSheet.tsx')).PhoneSheet }))

/** One device: what it says now, its last hour, and what can be done with it. */
export function DevicePage() {
  const { address } = useParams()
  // Redrawn when this device changes, and not with all others.
  const { device, isLoaded, error } = useDevicesQuery(undefined, {
    selectFromResult: ({ data, error }) => ({
      device: data?.find((candidate) => candidate.address === address),
      isLoaded: data !== undefined,
      error,
    }),
  })
  if (device) return <DeviceView key={device.id} device={device} />
  if (error) return <Notice tone="trouble" title={problemText(error)} />
  if (!isLoaded) {
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
  const canChange = useMay('owner', device.siteId)
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
          <DevicePresence device={device} />
          <LookingOn device={device.id} />
          <OnPhone device={device} />
        </div>
        <div className="flex flex-wrap items-center gap-x-4 gap-y-2 text-sm text-ink-soft">
          <p className="grow basis-72">
            <Link to="/" className="hover:text-chestnut hover:underline">
              {site?.name}
            </Link>
            {device.place !== '' && `, ${device.place}`} · address{' '}
            <code className="font-mono text-[0.8125rem] text-ink">{device.address}</code>
            {device.cadence && ` · ${describeCadence(device.cadence.cadence)}`}
            <Vitals device={device} />
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
      {device.retiredAt !== null && (
        <Retired device={device} since={device.retiredAt} timeZone={timeZone} canChange={canChange} />
      )}
      {device.serial && <SerialStatus device={device} line={device.serial} canChange={canChange} />}
      {device.dropped && (
        <Notice
          tone="trouble"
          title={`${counted(device.dropped.messages, 'message')} of it ${device.dropped.messages === 1 ? 'was' : 'were'} dropped since the server started`}
        >
          {device.dropped.reason} The last one came at {clockTime(device.dropped.lastAt, timeZone)}.
        </Notice>
      )}
      {secret && <SecretCard device={device} secret={secret} />}
      <SuggestedSignals device={device} canChange={canChange} />
      <Signals device={device} timeZone={timeZone} canChange={canChange} />
      <FormerSignals device={device} timeZone={timeZone} />
      <AboutBoard device={device} />
    </div>
  )
}

/** Says that nothing is taken of it, and takes it back. */
function Retired(props: { device: Device; since: number; timeZone: string; canChange: boolean }) {
  const { device, since, timeZone, canChange } = props
  const [change, { error, isLoading }] = useChangeDeviceMutation()
  return (
    <Notice tone="info" title={`Retired on ${clockTime(since, timeZone)}: nothing is taken of it.`}>
      {canChange && (
        <Button
          weight="quiet"
          className="-mx-3"
          disabled={isLoading}
          onClick={() => void change({ address: device.address, body: { isRetired: false } })}
        >
          Take it back into service
        </Button>
      )}
      {Boolean(error) && problemText(error)}
    </Notice>
  )
}

/** What it had by another kit: opened to be looked back at. */
function FormerSignals({ device, timeZone }: { device: Device; timeZone: string }) {
  const [isOpen, setOpen] = useState(false)
  const former = device.signals.filter(({ isFormer, state }) => isFormer && state === 'accepted')
  if (former.length === 0) return null
  return (
    <details onToggle={({ currentTarget }) => setOpen(currentTarget.open)}>
      <summary className="cursor-pointer text-ink-soft">
        {counted(former.length, 'former signal')} of the kit it had before
      </summary>
      {isOpen && <SignalTracks signals={former} device={device} timeZone={timeZone} past="all" />}
    </details>
  )
}

function OnPhone({ device }: { device: Device }) {
  const [isOpen, setOpen] = useState(false)
  return (
    <>
      <button
        type="button"
        aria-label="Open on a phone"
        title="Open on a phone"
        onClick={() => setOpen(true)}
        className="rounded p-1.5 text-ink-soft max-sm:hidden hover:bg-well hover:text-chestnut"
      >
        <QrCode aria-hidden="true" className="size-4.5" />
      </button>
      <Suspense>{isOpen && <PhoneSheet device={device} onClose={() => setOpen(false)} />}</Suspense>
    </>
  )
}

/** Who else has this page open; nothing where nobody has. */
function LookingOn({ device }: { device: number }) {
  const { people = 1, strangers = 0 } = useLookers(device) ?? {}
  if (people + strangers < 2) return null
  const others = [people > 1 && `${people - 1} signed in`, strangers > 0 && `${strangers} by a link`]
  return (
    <span className="inline-flex items-center gap-1.5 text-sm text-ink-soft">
      <Eye aria-hidden="true" className="size-4" />
      also looking on: {others.filter(Boolean).join(', ')}
    </span>
  )
}

function Signals({ device, timeZone, canChange }: { device: Device; timeZone: string; canChange: boolean }) {
  const changeSheet: ChangeSheet = (signal, onClose) =>
    signal.origin === 'derived' ? (
      <ChangeDerivedSheet signal={signal} device={device} onClose={onClose} />
    ) : (
      <SignalSheet
        signal={signal}
        deviceId={device.id}
        others={device.signals.filter(({ id }) => id !== signal.id)}
        sharedKit={device.kit.name}
        onClose={onClose}
      />
    )
  const accepted = inUse(device)
  if (device.signals.length === 0) {
    return (
      <section className="grid gap-2 rounded-lg border border-dashed border-rule-strong p-6">
        <h2 className="text-lg">Waiting for its first message</h2>
        <p className="max-w-prose text-ink-soft">
          As soon as the device sends something, its fields appear here with their values. No page needs to be
          loaded again.
        </p>
        <ReachNotice />
      </section>
    )
  }
  if (accepted.length === 0) return null
  return (
    <SignalTracks
      signals={accepted}
      device={device}
      timeZone={timeZone}
      past="all"
      changeSheet={canChange ? changeSheet : undefined}
    />
  )
}

const clockTime = (at: number, timeZone: string): string =>
  dateFormat({ dateStyle: 'medium', timeStyle: 'short', timeZone }).format(at)

function describeCadence(cadence: NonNullable<Device['cadence']>['cadence']): string {
  if (cadence === null) return ''
  if (cadence.by === 'event') return 'speaks when something happens'
  const every = describeSeconds(cadence.seconds)
  return cadence.by === 'sleep' ? `wakes every ${every}` : `speaks every ${every}`
}

const describeSeconds = (seconds: number): string =>
  seconds < 120
    ? `${Math.round(seconds * 10) / 10}\u00a0s`
    : seconds < 7200
      ? `${Math.round(seconds / 60)}\u00a0min`
      : `${Math.round(seconds / 3600)}\u00a0h`
