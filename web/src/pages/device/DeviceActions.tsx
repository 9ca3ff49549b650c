import type { Device } from '@jaunty-sparrow/contract'
import { ChevronDown } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { lazy, Suspense, useState } from 'react'
import { RereadingSheet } from '../../arrivals/RereadingSheet.tsx'
import { GatewaySheet } from '../../claims/GatewaySheet.tsx'
import { Button, buttonLook } from '../../design/Button.tsx'
import { menuItemLook, menuLook } from '../../design/menuLook.ts'
import { AddressSheet } from '../../devices/AddressSheet.tsx'
import { AllowanceSheet } from '../../devices/AllowanceSheet.tsx'
import { ConstantsSheet } from '../../devices/ConstantsSheet.tsx'
import { DeleteSheet } from '../../devices/DeleteSheet.tsx'
import { HardwareSheet } from '../../devices/HardwareSheet.tsx'
import { KitSheet } from '../../devices/KitSheet.tsx'
import { MoreOfThisSheet } from '../../devices/MoreOfThisSheet.tsx'
import { NewSecretSheet } from '../../devices/NewSecretSheet.tsx'
import { PartNamesSheet } from '../../devices/PartNamesSheet.tsx'
import { RenameSheet } from '../../devices/RenameSheet.tsx'
import { RetireSheet } from '../../devices/RetireSheet.tsx'
import { SerialSheet } from '../../devices/SerialSheet.tsx'
import { ImportSheet } from '../../imports/ImportSheet.tsx'

const ProgramSheet = lazy(async () => ({
  default: (await import('../../devices/ProgramSheet.tsx')).ProgramSheet,
}))
const DeriveSheet = lazy(async () => ({
  default: (await import('../../derived/DeriveSheet.tsx')).DeriveSheet,
}))
const ShareDevice = lazy(async () => ({ default: (await import('../../share/ShareDevice.tsx')).ShareDevice }))

interface DeviceActionsProps {
  readonly device: Device
  readonly timeZone: string
  /** A file that was dropped on the page of the device. */
  readonly dropped: File | undefined
  readonly onDropDone: () => void
}

const often = { share: 'Share', rename: 'Rename', file: 'Bring a file', rereading: 'Read again' } as const
const seldom = {
  derive: 'Derive a signal',
  program: 'Its program',
  serial: 'Serial port',
  gateway: 'Gateway',
  allowance: 'Allowance',
  constants: 'Constants',
  parts: 'Names of its parts',
  more: 'More of this',
  kit: 'Another kit',
  address: 'Another address',
  secret: 'New secret',
  hardware: 'Replace the hardware',
  retire: 'Retire',
  delete: 'Delete',
} as const
type Action = keyof typeof often | keyof typeof seldom

/** What its owner can do with a device. */
export function DeviceActions({ device, timeZone, dropped, onDropDone }: DeviceActionsProps) {
  const [chosen, setChosen] = useState<Action>()
  const close = () => {
    setChosen(undefined)
    onDropDone()
  }
  const sheet = { device, onClose: close }
  const action = dropped ? 'file' : chosen
  return (
    <div className="-mx-2 flex flex-wrap gap-1">
      {Object.entries(often).map(([name, label]) => (
        <Button key={name} weight="quiet" onClick={() => setChosen(name as Action)}>
          {label}
        </Button>
      ))}
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className={buttonLook('quiet')}>
          More
          <ChevronDown aria-hidden="true" className="size-3.5" />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="end" sideOffset={6} className={menuLook}>
            {Object.entries(seldom).map(([name, label]) => (
              <DropdownMenu.Item
                key={name}
                className={menuItemLook}
                onSelect={() => setChosen(name as Action)}
              >
                {label}
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <Suspense>{action === 'share' && <ShareDevice {...sheet} />}</Suspense>
      <Suspense>{action === 'program' && <ProgramSheet {...sheet} />}</Suspense>
      <Suspense>{action === 'derive' && <DeriveSheet {...sheet} />}</Suspense>
      {action === 'rename' && <RenameSheet {...sheet} />}
      {action === 'file' && <ImportSheet {...sheet} timeZone={timeZone} dropped={dropped} />}
      {action === 'rereading' && <RereadingSheet {...sheet} />}
      {action === 'serial' && <SerialSheet {...sheet} />}
      {action === 'gateway' && <GatewaySheet {...sheet} />}
      {action === 'allowance' && <AllowanceSheet {...sheet} />}
      {action === 'constants' && <ConstantsSheet {...sheet} />}
      {action === 'more' && <MoreOfThisSheet {...sheet} />}
      {action === 'parts' && <PartNamesSheet {...sheet} />}
      {action === 'kit' && <KitSheet {...sheet} />}
      {action === 'address' && <AddressSheet {...sheet} />}
      {action === 'hardware' && <HardwareSheet {...sheet} />}
      {action === 'retire' && <RetireSheet {...sheet} />}
      {action === 'secret' && <NewSecretSheet {...sheet} />}
      {action === 'delete' && <DeleteSheet {...sheet} />}
    </div>
  )
}
