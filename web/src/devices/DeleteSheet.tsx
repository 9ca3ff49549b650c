import type { Device } from '@jaunty-sparrow/contract'
import { useNavigate } from 'react-router'
import { problemText } from '../api/problemText.ts'
import { Button } from '../design/Button.tsx'
import { counted } from '../design/counted.ts'
import { Notice } from '../design/Notice.tsx'
import { Sheet } from '../design/Sheet.tsx'
import { Skeleton } from '../design/Skeleton.tsx'
import { useDeleteDeviceMutation, useDeviceLossQuery } from './devicesApi.ts'

/** Asks before a device is deleted, and says what would go with it. */
export function DeleteSheet({ device, onClose }: { device: Device; onClose: () => void }) {
  const loss = useDeviceLossQuery({ address: device.address })
  const [remove, { error, isLoading }] = useDeleteDeviceMutation()
  const navigate = useNavigate()
  const confirm = async () => {
    await remove({ address: device.address }).unwrap()
    await navigate('/', { replace: true })
  }
  return (
    <Sheet open onClose={onClose} title={`Delete ${device.name}?`}>
      <div className="grid gap-4">
        {loss.data ? (
          <p>
            With it go {counted(loss.data.signals, 'signal')} and{' '}
            <strong>{counted(loss.data.readings, 'reading')}</strong>
            {loss.data.firstAt !== null &&
              `, going back to ${new Date(loss.data.firstAt).toLocaleDateString('en-GB', { dateStyle: 'long' })}`}
            . Its messages go too. Nothing brings them back. Its secret stops working at once.
          </p>
        ) : loss.error ? (
          <Notice tone="trouble" title={problemText(loss.error)} />
        ) : (
          <Skeleton className="h-12" />
        )}
        {error && <Notice tone="trouble" title={problemText(error)} />}
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Keep it</Button>
          <Button
            weight="danger"
            disabled={isLoading || !loss.data}
            onClick={() => confirm().catch(() => undefined)}
          >
            Delete for good
          </Button>
        </div>
      </div>
    </Sheet>
  )
}
