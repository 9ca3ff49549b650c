import { randomBytes } from 'node:crypto'
import { type Device, routes } from '@jaunty-sparrow/contract'
import { creamery } from './creamery/index.ts'
import { plantBranch, plantGateway, shopFreezer } from './creamery/plantGateway.ts'
import { portOf } from './liveLine.ts'
import { type Memory, recall, remember } from './memory.ts'
import type { PersonClient } from './personClient.ts'
import { Refused } from './refused.ts'

const owner = 'Moira Fenn'

/**
 * Signs in, and describes the creamery where it is not there yet. An interrupted first start is finished by the next.
 * @param firstRunToken what the server told whoever started it: it creates the owner
 * @throws when the database belongs to somebody else
 */
export async function settle(
  person: PersonClient,
  home: string,
  now: number,
  firstRunToken: string,
): Promise<Memory> {
  let memory = await recall(home)
  const session = await person.call(routes.getSession)
  if (session.state === 'first-run') {
    memory = { password: randomBytes(18).toString('base64url'), origin: now, secrets: {} }
    await remember(home, memory)
    await person.call(routes.createOwner, {
      body: { name: owner, password: memory.password, token: firstRunToken },
    })
  } else if (memory) {
    await person.call(routes.signIn, { body: { name: owner, password: memory.password } })
  }
  if (!memory)
    throw new Refused(
      409,
      'This database has an owner already and is not the demo’s own; give the demo an empty one.',
    )

  const sites = await person.call(routes.listSites)
  const site =
    sites.find(({ name }) => name === creamery.site.name) ??
    (await person.call(routes.createSite, { body: creamery.site }))
  const devices = await person.call(routes.listDevices)
  const kits = new Map(devices.map(({ kit }) => [kit.name, kit.id]))
  for (const { name, address, kit, speaks } of creamery.devices) {
    // A device whose secret was remembered and that is gone was deleted by its owner, and stays so.
    if (memory.secrets[address]) continue
    const kitId =
      kits.get(kit.name) ??
      (await person.call(routes.createKit, { body: { ...kit, signals: [...kit.signals] } })).id
    kits.set(kit.name, kitId)
    const { device, secret } = await person.call(routes.createDevice, {
      body: { name, address, siteId: site.id, kitId },
    })
    if (address === plantGateway.address) await letSpeakForOthers(person, device)
    if (speaks === 'serial') {
      await person.call(routes.setSerialPort, {
        params: { address },
        body: { path: portOf(address, home), speed: 9600, csvHeader: null },
      })
    }
    memory = { ...memory, secrets: { ...memory.secrets, [address]: secret } }
    await remember(home, memory)
  }
  return memory
}

/** The gateway's key may publish what the boards behind it say, and the topic tells whose it is. */
async function letSpeakForOthers(person: PersonClient, { id, address }: Device): Promise<void> {
  await person.call(routes.changeDevice, {
    params: { address },
    body: { reach: [`${plantBranch}/#`, shopFreezer.topic] },
  })
  await person.call(routes.createClaim, {
    body: {
      keyId: id,
      by: 'topic',
      place: `${plantBranch}/{device}/#`,
      value: null,
      part: '',
      deviceId: null,
    },
  })
}
