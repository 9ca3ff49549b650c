import { routes } from '@jaunty-sparrow/contract'
import { backfill } from './backfill.ts'
import { creamery } from './creamery/index.ts'
import { plantGateway, shopFreezer } from './creamery/plantGateway.ts'
import { tellStory } from './creamery/story.ts'
import { furnish } from './furnish.ts'
import { HttpLine } from './httpLine.ts'
import { liveLine } from './liveLine.ts'
import { connect, MqttLine } from './mqttLine.ts'
import { perform } from './perform.ts'
import { PersonClient } from './personClient.ts'
import { settle } from './settle.ts'

const { SPARROW_URL: origin, SPARROW_HOME: home } = process.env
if (!origin || !home)
  throw new Error('SPARROW_URL and SPARROW_HOME must say which server to talk to and where to remember.')

const person = new PersonClient(origin)
const memory = await settle(person, home, Date.now(), process.env.FIRST_RUN_TOKEN ?? '')
const story = tellStory(memory.origin)

/** Who takes part, as the server knows them now. */
const gather = async () => {
  const devices = await person.call(routes.listDevices)
  return creamery.devices.flatMap((standIn) => {
    const device = devices.find(({ address }) => address === standIn.address)
    const secret = memory.secrets[standIn.address]
    if (!device || !secret) return []
    const credential = { address: standIn.address, secret }
    return [{ standIn, device, credential, line: new HttpLine(origin, credential) }]
  })
}

const cast = await gather()

let shown = -1
await backfill(cast, story, Date.now(), (share) => {
  const percent = Math.floor(share * 100)
  if (percent === shown) return
  shown = percent
  // On a terminal the line counts up in place; in a log each tenth is enough.
  if (process.stdout.isTTY)
    process.stdout.write(
      `\rLoading the history of ${creamery.site.name}: ${percent} % ${percent === 100 ? '\n' : ''}`,
    )
  else if (percent % 10 === 0) console.log(`Loading the history of ${creamery.site.name}: ${percent} %`)
})
// What was not told yet when that began.
await backfill(await gather(), story, Date.now(), () => undefined)
await furnish(person, home, memory, story, process.env.SINK_URL ?? '')
const gatewayKey = cast.find(({ standIn }) => standIn === plantGateway)?.credential
const gateway = gatewayKey && connect(origin, gatewayKey)
const stops = cast.flatMap(({ standIn, credential }) => {
  const line = liveLine(standIn, credential, { origin, home, gateway })
  return line ? [perform(standIn, line, story, Date.now)] : []
})
if (gateway) stops.push(perform(shopFreezer, new MqttLine(gateway, shopFreezer.topic), story, Date.now))

const { token } = await person.call(routes.createSignInLink)
process.send?.({ signInUrl: `${origin}/sign-in/link#${token}` })

const stop = () => {
  for (const end of stops) end()
  process.exit(0)
}
for (const event of ['SIGTERM', 'SIGINT', 'disconnect']) process.on(event, stop)
