import type { Device } from '@jaunty-sparrow/contract'
import { CopyLine } from '../design/CopyLine.tsx'
import { Notice } from '../design/Notice.tsx'
import { QrCode } from '../design/QrCode.tsx'
import { Sheet } from '../design/Sheet.tsx'
import { useReachQuery } from '../reach/reachApi.ts'

/** The page of a device on the phone of whoever is signed in there. */
export function PhoneSheet({ device, onClose }: { device: Device; onClose: () => void }) {
  const { data: reach } = useReachQuery()
  const url = `${reach?.people.url ?? window.location.origin}/devices/${device.address}`
  return (
    <Sheet open onClose={onClose} title={`${device.name} on a phone`}>
      <div className="grid justify-items-start gap-3 text-sm">
        <p className="text-ink-soft">
          Scan it; where nobody is signed in, it asks for name and password first.
        </p>
        <QrCode text={url} label="The address of this page, to be scanned" />
        <CopyLine text={url} label="address of this page" />
        {reach?.isLocalOnly && (
          <Notice tone="trouble" title="A phone cannot reach this server yet">
            It listens to its own machine only: start it with HOST=0.0.0.0.
          </Notice>
        )}
      </div>
    </Sheet>
  )
}
