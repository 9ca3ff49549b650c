import type { Device } from '@jaunty-sparrow/contract'
import { Button } from '../design/Button.tsx'
import { CopyLine } from '../design/CopyLine.tsx'
import { useDeviceState } from '../live/useLive.ts'
import { useReachQuery } from '../reach/reachApi.ts'
import { useAppDispatch } from '../store.ts'
import { curlLine, mqttLine } from './firstMessageLine.ts'
import { secretSaved } from './freshSecretSlice.ts'

/** The secret of a device, this once, with a line that can be pasted as it stands. */
export function SecretCard({ device, secret }: { device: Device; secret: string }) {
  const dispatch = useAppDispatch()
  const { data: reach } = useReachQuery()
  const { heardAt } = useDeviceState(device)
  const origin = reach?.devices.url ?? window.location.origin
  return (
    <section
      aria-label="Secret"
      className="grid gap-4 rounded-lg border border-chestnut bg-sheet p-4 shadow-sheet"
    >
      <div className="grid gap-1">
        <h2 className="text-lg">The secret of this device, shown this once</h2>
        <p className="text-sm text-ink-soft">
          Put address and secret into the firmware. It is stored here as a hash only; when it is lost, the
          device gets a new one.
        </p>
      </div>
      <dl className="grid gap-3 sm:grid-cols-[6rem_1fr]">
        <dt className="text-sm font-semibold sm:pt-3">Address</dt>
        <dd>
          <CopyLine text={device.address} label="address" />
        </dd>
        <dt className="text-sm font-semibold sm:pt-3">Secret</dt>
        <dd>
          <CopyLine text={secret} label="secret" />
        </dd>
        <dt className="text-sm font-semibold sm:pt-3">Try it</dt>
        <dd className="grid gap-1.5">
          <CopyLine text={curlLine(origin, device.address, secret)} label="curl line" />
          {reach?.devices.mqttPort && (
            <>
              <p className="pt-1 text-sm text-ink-soft">or over MQTT:</p>
              <CopyLine
                text={mqttLine(reach.devices.host, reach.devices.mqttPort, device.address, secret)}
                label="MQTT line"
              />
            </>
          )}
          <p className="text-sm text-ink-soft">
            Paste either into a terminal
            {heardAt === null ? ': the reading appears on this page.' : '.'}
          </p>
        </dd>
      </dl>
      <Button className="justify-self-start" onClick={() => dispatch(secretSaved(device.address))}>
        I have kept it
      </Button>
    </section>
  )
}
