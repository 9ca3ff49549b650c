import type { Device, Kit } from '@jaunty-sparrow/contract'
import { mayAt, mayEverywhere } from '@jaunty-sparrow/core/access'
import { Download, Plus } from 'lucide-react'
import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { problemText } from '../../api/problemText.ts'
import { Button, buttonLook } from '../../design/Button.tsx'
import { TextField } from '../../design/Field.tsx'
import { Notice } from '../../design/Notice.tsx'
import { Skeleton } from '../../design/Skeleton.tsx'
import { saveFile } from '../../design/saveFile.ts'
import { useDevicesQuery } from '../../devices/devicesApi.ts'
import { Built } from '../../kits/Built.tsx'
import { ConstantsEditor } from '../../kits/ConstantsEditor.tsx'
import { CellError, cadenceText } from '../../kits/cellTexts.ts'
import { KitPicture } from '../../kits/KitPicture.tsx'
import { KitTable } from '../../kits/KitTable.tsx'
import { kitFile } from '../../kits/kitFile.ts'
import { useChangeKitMutation, useDeleteKitMutation, useKitQuery } from '../../kits/kitsApi.ts'
import { WiringEditor } from '../../kits/WiringEditor.tsx'
import { useAccess } from '../../people/useMay.ts'
import { Part } from '../../settings/Part.tsx'

/** A kind of device: its signals in one table, its constants, how often it speaks, and which devices it reaches. */
export function KitPage() {
  const { kitId = '' } = useParams()
  const { data: kit, error } = useKitQuery(Number(kitId))
  const { data: devices = [] } = useDevicesQuery()
  const access = useAccess()
  if (error) return <Notice tone="trouble" title={problemText(error)} />
  if (!kit) return <Skeleton className="h-96" />
  const reached = devices.filter(({ kit: { id } }) => id === kit.id)
  // A change reaches all of them, so it takes an owner of all their sites.
  const isOwner =
    mayEverywhere(access, 'owner') ||
    (reached.length > 0 && reached.every(({ siteId }) => mayAt(access, 'owner', siteId)))
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-8">
      <header className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <h1 className="flex-1 text-3xl">{kit.name ?? 'A kit without a name'}</h1>
        <Button
          weight="quiet"
          onClick={() =>
            saveFile(
              `${kit.name ?? 'kit'}.json`,
              'application/json',
              `${JSON.stringify(kitFile(kit), null, 2)}\n`,
            )
          }
        >
          <Download aria-hidden="true" className="size-4" />
          As a file
        </Button>
        {isOwner && (
          <Link to={`/devices/new?kit=${kit.id}`} className={buttonLook('strong')}>
            <Plus aria-hidden="true" className="size-4" />
            New device of it
          </Link>
        )}
      </header>
      <KitTable key={kit.id} kit={kit} canChange={isOwner} />
      <Part title="Constants">
        <p className="text-ink-soft">
          Numbers that conversions may name: the resistor beside a sensor, the height of a mast. A device may
          have its own.
        </p>
        {isOwner ? <Constants key={JSON.stringify(kit.constants)} kit={kit} /> : null}
      </Part>
      <Part title="Picture, wiring and notes">
        <KitPicture kit={kit} canChange={isOwner} />
        {isOwner ? <Wiring key={JSON.stringify([kit.wiring, kit.notes])} kit={kit} /> : <Built kit={kit} />}
      </Part>
      {isOwner && <About key={`${kit.name} ${JSON.stringify(kit.cadence)}`} kit={kit} />}
      <Reached devices={reached} />
      {isOwner && reached.length === 0 && <Removal kit={kit} />}
    </div>
  )
}

function Constants({ kit }: { kit: Kit }) {
  const [change] = useChangeKitMutation()
  return (
    <ConstantsEditor
      constants={kit.constants}
      onSave={(constants) => change({ kitId: kit.id, body: { constants } }).unwrap()}
    />
  )
}

function Wiring({ kit }: { kit: Kit }) {
  const [change] = useChangeKitMutation()
  return <WiringEditor kit={kit} onSave={(body) => change({ kitId: kit.id, body }).unwrap()} />
}

/** What it is called, and how often its devices speak. */
function About({ kit }: { kit: Kit }) {
  const [name, setName] = useState(kit.name ?? '')
  const [speaks, setSpeaks] = useState(cadenceText.write(kit.cadence))
  const [change, { error, isLoading }] = useChangeKitMutation()
  const problem = problemOf(() => cadenceText.read(speaks))
  return (
    <Part title="The kit itself">
      <form
        className="grid max-w-md gap-4"
        onSubmit={(event) => {
          event.preventDefault()
          if (!problem)
            void change({
              kitId: kit.id,
              body: { name: name.trim() || null, cadence: cadenceText.read(speaks) },
            })
        }}
      >
        <TextField
          label="Name"
          value={name}
          maxLength={80}
          onChange={({ target }) => setName(target.value)}
        />
        <TextField
          label="Its devices speak every"
          hint="30 s, awake always; asleep 10 min; or events. Empty lets it be learned."
          error={problem}
          value={speaks}
          onChange={({ target }) => setSpeaks(target.value)}
        />
        {Boolean(error) && <Notice tone="trouble" title={problemText(error)} />}
        <Button type="submit" className="justify-self-start" disabled={isLoading || problem !== undefined}>
          Save
        </Button>
      </form>
    </Part>
  )
}

function problemOf(read: () => unknown): string | undefined {
  try {
    read()
    return undefined
  } catch (error) {
    if (error instanceof CellError) return error.message
    throw error
  }
}

function Reached({ devices }: { devices: readonly Device[] }) {
  return (
    <Part title="Devices it reaches">
      {devices.length === 0 && <p className="text-ink-soft">No device is made of it yet.</p>}
      <ul className="divide-y divide-rule border-y border-rule empty:hidden">
        {devices.map((device) => {
          const own = device.signals.filter((signal) => signal.own.length > 0)
          return (
            <li key={device.id} className="flex min-h-11 flex-wrap items-center gap-x-4 py-1.5">
              <Link to={`/devices/${device.address}`} className="min-w-40 text-chestnut hover:underline">
                {device.name}
              </Link>
              <span className="text-ink-soft">
                {own.length > 0
                  ? `has settings of its own for ${own.map(({ name }) => name).join(', ')}`
                  : 'all as the kit says'}
              </span>
            </li>
          )
        })}
      </ul>
    </Part>
  )
}

function Removal({ kit }: { kit: Kit }) {
  const [remove, { error }] = useDeleteKitMutation()
  const navigate = useNavigate()
  return (
    <div className="grid justify-items-start gap-2">
      {Boolean(error) && <Notice tone="trouble" title={problemText(error)} />}
      <Button
        weight="danger"
        onClick={() =>
          remove(kit.id)
            .unwrap()
            .then(
              () => navigate('/bench/kits'),
              () => undefined,
            )
        }
      >
        Delete the kit
      </Button>
    </div>
  )
}
