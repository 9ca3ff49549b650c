import type { Device, Signal } from '@jaunty-sparrow/contract'
import { type Dashboard, type ResolvedChapter, resolve } from '@jaunty-sparrow/core/dashboard'
import { secondsOf } from '@jaunty-sparrow/core/signal'
import { useMemo } from 'react'
import { wakesAt } from '../commands/wakesAt.ts'
import type { PageParts } from '../instruments/InstrumentFigure.tsx'
import { useForm } from '../instruments/useForm.ts'
import { usePageTime } from '../instruments/usePageTime.ts'
import { ChapterView } from './ChapterView.tsx'
import type { EditParts } from './editParts.ts'
import { known } from './known.ts'
import type { ShownDevice } from './shownDevice.ts'
import { useNights } from './useNights.ts'
import { useShownNotes } from './useShownNotes.ts'

interface DashboardViewProps {
  readonly shows: Dashboard
  readonly devices: readonly ShownDevice[]
  readonly siteId: number
  readonly timeZone: string
  /** The moment it shows, epoch ms; undefined for now. */
  readonly moment?: number | undefined
  /** Over which span its courses are shown, ms; undefined where each instrument has its own. */
  readonly length?: number | undefined
  readonly edit?: EditParts | undefined
  readonly isShared?: boolean
}

/** A dashboard, as it is just now or was at a moment. */
export function DashboardView({
  shows,
  devices,
  siteId,
  timeZone,
  moment,
  length,
  edit,
  isShared = false,
}: DashboardViewProps) {
  const [place, measured] = useForm<HTMLDivElement>()
  const chapters = useMemo(
    () => resolve<Signal>(shows, devices as readonly Device[], known),
    [shows, devices],
  )
  const signals = useMemo(
    () => [
      ...new Map(
        chapters.flatMap(({ instruments }) =>
          instruments.flatMap(({ signals: there }) => there.map((signal) => [signal.id, signal] as const)),
        ),
      ).values(),
    ],
    [chapters],
  )
  const time = usePageTime(signals, moment)
  const nights = useNights(siteId, moment, isShared)
  const notes = useShownNotes(siteId, moment, isShared)
  const commands = useShownNotes(siteId, moment, isShared, 'command')
  const alarms = useShownNotes(siteId, moment, isShared, 'alarm')
  const deviceOf = useMemo(
    () =>
      new Map(
        devices.flatMap((device) => {
          const { id, name, address } = device
          const told = {
            id,
            name,
            address,
            cadence: secondsOf(device.cadence?.cadence ?? null),
            wakesAt: wakesAt(device),
          }
          return device.signals.map((signal) => [signal.id, told] as const)
        }),
      ),
    [devices],
  )
  const page = useMemo<PageParts>(
    () => ({ timeZone, siteId, nights, notes, commands, alarms, time, length, deviceOf, isShared }),
    [timeZone, siteId, nights, notes, commands, alarms, time, length, deviceOf, isShared],
  )
  return (
    <div
      ref={place}
      className="grid grid-cols-[minmax(0,1fr)]"
      data-past={moment === undefined ? undefined : moment}
    >
      {measured.width > 0 &&
        chapters.map((chapter, place) => (
          <ChapterView
            key={chapter.key}
            resolved={chapter as ResolvedChapter<Signal>}
            device={devices.find(({ id }) => id === chapter.device?.id)}
            page={page}
            measured={measured}
            // One that stands again and again is changed where it stands first.
            edit={
              chapters.findIndex((each) => each.chapter.id === chapter.chapter.id) === place
                ? edit
                : undefined
            }
          />
        ))}
    </div>
  )
}
