import { type Device, routes } from '@jaunty-sparrow/contract'
import { pagesOf } from './creamery/pages.ts'
import { rulesOf } from './creamery/rules.ts'
import type { Story } from './creamery/story.ts'
import { waysOf } from './creamery/ways.ts'
import { type Memory, remember } from './memory.ts'
import type { PersonClient } from './personClient.ts'

/** So many of the last wash-downs somebody has written down. */
const noted = 3

/** The electrode stands in its buffer when no milk is soured: nobody has to know that it reads too much. */
async function restAcidity(person: PersonClient, devices: readonly Device[]): Promise<void> {
  const meter = devices.find(({ address }) => address === 'ph-meter')
  const acidity = meter?.signals.find(({ name }) => name === 'Acidity')
  if (!acidity) return
  const word = 'the electrode is in its storage bottle'
  await person.call(routes.moveAlarms, {
    body: { alarms: [`${acidity.id}.high`], move: 'shelve', word, seconds: 3 * 86_400 },
  })
}

/** Makes the pages and rules of the creamery and writes down what happened, once: what its people throw away stays away. */
export async function furnish(
  person: PersonClient,
  home: string,
  memory: Memory,
  story: Story,
  sinkUrl: string,
): Promise<void> {
  if (memory.isFurnished) return
  const devices = await person.call(routes.listDevices)
  const siteId = devices[0]?.siteId
  if (siteId === undefined) return
  for (const page of pagesOf(devices))
    await person.call(routes.createDashboard, { body: { siteId, isMine: false, role: 'viewer', ...page } })
  for (const { signalId, mode, ...body } of rulesOf(devices)) {
    const { id } = await person.call(routes.createRule, { params: { signalId }, body })
    await person.call(routes.switchRule, { params: { ruleId: id }, body: { mode } })
  }
  await restAcidity(person, devices)
  for (const way of waysOf(siteId, sinkUrl)) await person.call(routes.createWay, { body: way })
  for (const { from } of story.washDowns.slice(0, noted))
    await person.call(routes.createNote, { body: { says: 'washed down', at: from, siteId } })
  await person.call(routes.createNote, {
    body: { says: 'door left open', at: story.openDoor.to, siteId },
  })
  await remember(home, { ...memory, isFurnished: true })
}
