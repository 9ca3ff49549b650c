import { createSocket } from 'node:dgram'
import { once } from 'node:events'
import coap from 'coap'
import { generate, parse } from 'coap-packet'
import {
  type ServerUnderTest,
  serverUnderTest,
  spendDay,
  type TestPerson,
} from '../testing/serverUnderTest.ts'

let server: ServerUnderTest
let owner: TestPerson
let token: string
beforeAll(async () => {
  server = await serverUnderTest()
  owner = server.owner
  token = (await owner.createDevice('node')).token
})
afterAll(() => server.close())

/** Sends with a client that shares no code with the door but the packet format. */
async function post(path: string, body: string, format = 'application/json', key = token, method = 'POST') {
  const request = coap.request({
    hostname: '127.0.0.1',
    port: server.coapPort,
    method: method as 'POST',
    pathname: path,
    query: key && `key=${key}`,
    confirmable: true,
  })
  request.setOption('Content-Format', format)
  const answered = once(request, 'response')
  request.end(body)
  const [response] = (await answered) as [coap.IncomingMessage]
  return { code: response.code, says: response.payload.toString() }
}

const value = async (field: string) =>
  (await owner.device('node')).signals.find((signal) => signal.field === field)?.latest?.value

it.each([
  ['/in', '{"temp": 21.5}', 'application/json', '/temp', 21.5],
  ['/in', '[{"n": "temp", "u": "Cel", "v": 22.5}]', 'application/senml+json', '/temp', 22.5],
  ['/in/probe/top', '4.5', 'text/plain', '/probe/top', 4.5],
])(
  'POST %s with %s as %s is stored by the time it is answered',
  async (path, body, format, field, expected) => {
    expect(await post(path, body, format)).toEqual({ code: '2.04', says: '' })
    expect(await value(field)).toBe(expected)
  },
)

it.each([
  ['a wrong secret', () => post('/in', '{}', undefined, 'node.wrong'), '4.01', /The secret is not/],
  ['no credential', () => post('/in', '{}', undefined, ''), '4.01', /key=<address>\.<secret> is missing/],
  ['no JSON', () => post('/in', '{"a"'), '4.00', /JSON/],
  ['another format', () => post('/in', '<a/>', 'application/xml'), '4.15', /50 is JSON/],
  ['another path', () => post('/out', '{}'), '4.04', /There is \/in/],
  ['another method', () => post('/in', '', undefined, token, 'GET'), '4.05', /POST/],
])('%s is answered in words', async (_, send, code, says) => {
  expect(await send()).toEqual({ code, says: expect.stringMatching(says) })
})

it('says what was refused, and when to come again', async () => {
  expect(await post('/in', '{"temp": "warm", "hum": 4}')).toEqual({
    code: '2.04',
    says: expect.stringContaining('/temp'),
  })
  const { token: mad } = await owner.createDevice('mad')
  await owner.limit('mad', { messagesPerMinute: 1 })
  await spendDay(server.origin, mad)
  expect(await post('/in', '{"n": 2}', undefined, mad)).toMatchObject({ code: '4.29' })
})

it('takes a confirmable message that is sent again once, whether it was answered yet or not', async () => {
  const { token: careful } = await owner.createDevice('careful')
  const socket = createSocket('udp4')
  const packet = generate({
    code: 'POST',
    messageId: 4711,
    token: Buffer.from([1, 2]),
    confirmable: true,
    options: [
      { name: 'Uri-Path', value: Buffer.from('in') },
      { name: 'Uri-Query', value: Buffer.from(`key=${careful}`) },
      { name: 'Content-Format', value: Buffer.from([50]) },
    ],
    payload: Buffer.from('{"n": 1}'),
  })
  const send = () => socket.send(packet, server.coapPort, '127.0.0.1')
  const answers: string[] = []
  const three = new Promise<void>((resolve) => {
    socket.on('message', (bytes) => {
      const { code, ack, messageId } = parse(bytes)
      answers.push(`${code} ${ack} ${messageId}`)
      if (answers.length === 2) send()
      if (answers.length === 3) resolve()
    })
  })
  send()
  send()
  await three
  expect(answers).toEqual(Array(3).fill('2.04 true 4711'))
  expect(await owner.values('careful', '/n')).toHaveLength(1)
  socket.close()
})

it('is not troubled by packets that are none, and answers a ping', async () => {
  const socket = createSocket('udp4')
  for (const bytes of [[], [0], [0x4f, 2, 0], Array.from({ length: 300 }, (_, n) => (n * 89) % 256)])
    socket.send(Uint8Array.from(bytes), server.coapPort, '127.0.0.1')
  const answered = once(socket, 'message')
  socket.send(generate({ code: '0.00', messageId: 7, confirmable: true }), server.coapPort, '127.0.0.1')
  const [bytes] = (await answered) as [Buffer]
  expect(parse(bytes)).toMatchObject({ reset: true, messageId: 7 })
  expect(await post('/in', '{"temp": 23}')).toMatchObject({ code: '2.04' })
  socket.close()
})
