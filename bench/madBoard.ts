import autocannon from 'autocannon'

// A board that has gone mad: in a process of its own, so that it costs the one that measures nothing but processor time.
const { MAD_URL = '', MAD_TOKEN = '', MAD_RATE = '1000' } = process.env
const load = autocannon(
  {
    url: `${MAD_URL}/in`,
    connections: 10,
    overallRate: Number(MAD_RATE),
    duration: 600,
    method: 'POST',
    headers: { authorization: `Bearer ${MAD_TOKEN}`, 'content-type': 'application/json' },
    body: '{"a": 1}',
  },
  () => process.exit(0),
)
let answers = 0
load.on('response', () => {
  answers++
  if (answers === 1) process.send?.({ url: MAD_URL })
})
process.on('SIGTERM', () => process.exit(0))
