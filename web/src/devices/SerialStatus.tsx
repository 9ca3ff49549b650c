import type { Device, SerialLine } from '@jaunty-sparrow/contract'
import { Cable } from 'lucide-react'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { Notice } from '../design/Notice.tsx'
import { clockOf } from '../time/clock.ts'
import { usePauseSerialPortMutation } from './devicesApi.ts'

/** So long another program has the port, s: as long as flashing a board takes. */
const pause = 600

interface SerialStatusProps {
  readonly device: Pick<Device, 'address'>
  readonly line: SerialLine
  readonly canChange: boolean
}

/** How the cable of a device is doing: quiet when all is well, else with what to do. */
export function SerialStatus({ device: { address }, line, canChange }: SerialStatusProps) {
  const [change, { error, isLoading }] = usePauseSerialPortMutation()
  const { state, says, pausedUntil } = line
  const toggle = canChange && state !== 'elsewhere' && (
    <Button
      weight="quiet"
      disabled={isLoading}
      onClick={() => void change({ address, body: { seconds: pausedUntil === null ? pause : 0 } })}
    >
      {pausedUntil === null ? 'Pause it for flashing' : 'Take it up again'}
    </Button>
  )
  return (
    <div className="grid gap-2">
      {state === 'listening' || pausedUntil !== null ? (
        <p className="flex flex-wrap items-center gap-x-2 text-sm text-ink-soft">
          <Cable aria-hidden="true" className="size-4" />
          {says}
          {pausedUntil !== null && ` It is taken up again at ${clockOf(pausedUntil)}.`}
          {toggle}
        </p>
      ) : (
        <Notice tone="trouble" title={says}>
          {toggle}
        </Notice>
      )}
      {Boolean(error) && <Notice tone="trouble" title={problemText(error)} />}
    </div>
  )
}
