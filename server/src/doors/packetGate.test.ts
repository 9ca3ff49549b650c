import fc from 'fast-check'
import { generate } from 'mqtt-packet'
import { PacketGate } from './packetGate.ts'

const publish = (payload: number) =>
  generate({ cmd: 'publish', topic: 'a', payload: Buffer.alloc(payload), qos: 0, retain: false, dup: false })

it('lets packets pass however they are cut, and knows a larger one by its first bytes', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 0, max: 997 }), { maxLength: 6 }),
      fc.integer({ min: 1, max: 50 }),
      fc.integer({ min: 998, max: 300_000 }),
      (sizes, cut, tooLarge) => {
        const gate = new PacketGate(1000)
        const stream = Buffer.concat(sizes.map(publish))
        for (let start = 0; start < stream.length; start += cut)
          expect(gate.pass(stream.subarray(start, start + cut))).toBe(true)
        expect(gate.pass(publish(tooLarge).subarray(0, 5))).toBe(false)
      },
    ),
  )
})

it('does not wait for the end of a length that has none', () => {
  expect(new PacketGate(1000).pass(Uint8Array.of(0x10, 0xff, 0xff, 0xff, 0xff, 0xff))).toBe(false)
})
