import { addressPattern, longestAddress, numberedNames } from '@jaunty-sparrow/core/device'
import { signalName } from '@jaunty-sparrow/core/signal'
import { useState } from 'react'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { problemText } from '../../api/problemText.ts'
import { Button, buttonLook } from '../../design/Button.tsx'
import { ChoiceField, TextField } from '../../design/Field.tsx'
import { Notice } from '../../design/Notice.tsx'
import { useCreateDeviceMutation, useDevicesQuery } from '../../devices/devicesApi.ts'
import { freeAddress } from '../../devices/freeAddress.ts'
import { secretTold } from '../../devices/freshSecretSlice.ts'
import { useKitsQuery } from '../../kits/kitsApi.ts'
import { SiteSheet } from '../../sites/SiteSheet.tsx'
import { useSitesQuery } from '../../sites/sitesApi.ts'
import { useAppDispatch } from '../../store.ts'
import { type MadeDevice, MadeDevices } from './MadeDevices.tsx'

const newSite = 'new'
/** Before the address of a device that the new one is to be like. */
const like = 'like '

/** Names a device and gives it an address; everything else follows from what it sends. */
export function NewDevice() {
  const [search] = useSearchParams()
  const { data: sites } = useSitesQuery()
  const { data: devices = [] } = useDevicesQuery()
  // An address that knocks already: its messages are waiting.
  const knocking = search.get('address') ?? undefined
  const [name, setName] = useState(knocking ? signalName(`/${knocking}`) : '')
  const [ownAddress, setOwnAddress] = useState(knocking)
  const [chosenSite, setChosenSite] = useState(search.get('site') ?? undefined)
  const [addingSite, setAddingSite] = useState(false)
  const { data: kits = [] } = useKitsQuery()
  const [kitId, setKitId] = useState(search.get('kit') ?? '')
  const [made, setMade] = useState<readonly MadeDevice[]>([])
  const [create, { error, isLoading }] = useCreateDeviceMutation()
  const dispatch = useAppDispatch()
  const navigate = useNavigate()

  const taken = new Set(devices.map(({ address }) => address))
  const address = ownAddress ?? freeAddress(name, taken)
  const names = numberedNames(name)
  const isOne = names === undefined || names.length === 1
  const problem = names === undefined ? undefined : isOne ? addressProblem(address, taken) : undefined
  const site = sites?.find(({ id }) => String(id) === chosenSite) ?? sites?.[0]

  const submit = async () => {
    if (!site || problem || !names) return
    const madeOf = kitId.startsWith(like) ? { copyOf: kitId.slice(like.length) } : { kitId: Number(kitId) }
    const ofKit = { siteId: site.id, ...(kitId !== '' && madeOf) }
    if (!isOne) {
      const used = new Set(taken)
      for (const each of names) {
        const free = freeAddress(each, used)
        used.add(free)
        const { device, secret } = await create({ name: each, address: free, ...ofKit }).unwrap()
        setMade((before) => [...before, { name: device.name, address: device.address, secret }])
      }
      return
    }
    const { device, secret } = await create({
      name,
      address,
      ...ofKit,
      ...(address === knocking && { takeUnclaimed: true }),
    }).unwrap()
    dispatch(secretTold({ address: device.address, secret }))
    await navigate(`/devices/${device.address}`)
  }
  if (made.length > 0 && made.length === names?.length) return <MadeDevices made={made} />
  return (
    <div className="grid max-w-xl gap-6">
      <header className="grid gap-1">
        <h1 className="text-3xl">A new device</h1>
        <p className="text-ink-soft">
          Give it a name. Its signals need no describing: they are suggested from what it sends.
        </p>
      </header>
      <form
        className="grid gap-5"
        onSubmit={(event) => {
          event.preventDefault()
          submit().catch(() => undefined)
        }}
      >
        <TextField
          label="Name"
          placeholder="Brine tank"
          hint="Cave {1..10} makes ten at once."
          error={names === undefined ? 'Write numbers in order, at most a hundred: Cave {1..10}.' : undefined}
          value={name}
          onChange={(event) => setName(event.target.value)}
          required
          maxLength={80}
          autoFocus
        />
        {(devices.length > 0 || kits.some((kit) => kit.name !== null)) && (
          <ChoiceField
            label="Kit"
            hint={
              kitId.startsWith(like)
                ? 'Both are of one kit from then on; settings of its own come along, history does not.'
                : 'What it is made of; its signals come along.'
            }
            value={kitId}
            onChange={({ target }) => setKitId(target.value)}
          >
            <option value="">None yet: they are suggested from what it sends</option>
            {kits.map(
              (kit) =>
                kit.name !== null && (
                  <option key={kit.id} value={kit.id}>
                    {kit.name}
                  </option>
                ),
            )}
            <optgroup label="As a copy of">
              {devices.map((device) => (
                <option key={device.address} value={`${like}${device.address}`}>
                  {device.name}
                </option>
              ))}
            </optgroup>
          </ChoiceField>
        )}
        {isOne && (
          <TextField
            label="Address"
            hint="What firmware, topics and links call it. It stays the same when the name changes."
            error={name === '' && ownAddress === undefined ? undefined : problem}
            value={address}
            onChange={(event) => setOwnAddress(event.target.value)}
            required
            maxLength={longestAddress}
            spellCheck={false}
            autoCapitalize="none"
            className="font-mono"
          />
        )}
        {address === knocking && (
          <Notice
            tone="info"
            title={`What was sent under ${address} and kept will count as this device’s own.`}
          >
            It gets a new secret; the one it tried so far is not known here.
          </Notice>
        )}
        <ChoiceField
          label="Site"
          value={site ? String(site.id) : ''}
          onChange={({ target }) =>
            target.value === newSite ? setAddingSite(true) : setChosenSite(target.value)
          }
          required
        >
          {!site && <option value="">Choose or add one</option>}
          {sites?.map(({ id, name: siteName }) => (
            <option key={id} value={id}>
              {siteName}
            </option>
          ))}
          <option value={newSite}>Another site …</option>
        </ChoiceField>
        {error && <Notice tone="trouble" title={problemText(error)} />}
        <div className="flex gap-2">
          <Button
            type="submit"
            weight="strong"
            disabled={isLoading || problem !== undefined || !site || !names}
          >
            {isOne ? 'Create the device' : `Create ${names.length} devices`}
          </Button>
          <Link to="/" className={buttonLook('quiet')}>
            Cancel
          </Link>
        </div>
      </form>
      {addingSite && (
        <SiteSheet onClose={() => setAddingSite(false)} onCreated={({ id }) => setChosenSite(String(id))} />
      )}
    </div>
  )
}

function addressProblem(address: string, taken: ReadonlySet<string>): string | undefined {
  if (address === '') return 'Give the device a name, or type an address.'
  if (!new RegExp(addressPattern).test(address))
    return 'Use lower-case letters, digits and single hyphens between them, like brine-tank.'
  if (taken.has(address))
    return `Another device has the address ${address}; an address belongs to one device only.`
  return undefined
}
