import type { Device } from '@jaunty-sparrow/contract'
import { signalTitle } from '@jaunty-sparrow/core/signal'
import { inUse } from '../signals/inUse.ts'
import { ShareSheet } from './ShareSheet.tsx'
import { useCreateShareLinkMutation, useShareLinksQuery } from './shareApi.ts'

const asked = { pollingInterval: 5000 }

/** The page of a device for anybody who has a link, or one signal of it. */
export function ShareDevice({ device, onClose }: { readonly device: Device; readonly onClose: () => void }) {
  const { address } = device
  const { data: links = [] } = useShareLinksQuery({ address }, asked)
  const [create] = useCreateShareLinkMutation()
  return (
    <ShareSheet
      title={device.name}
      parts={inUse(device).map((signal) => ({ id: String(signal.id), name: signalTitle(signal) }))}
      links={links}
      partOf={({ signalId }) => (signalId === null ? null : String(signalId))}
      onMake={({ part, ...stated }) =>
        create({ address, body: { ...stated, signalId: part === null ? null : Number(part) } }).unwrap()
      }
      onClose={onClose}
    />
  )
}
