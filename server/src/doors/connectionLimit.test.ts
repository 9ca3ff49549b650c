import { EventEmitter } from 'node:events'
import { ConnectionLimit } from './connectionLimit.ts'

class Connection extends EventEmitter {
  isDestroyed = false

  constructor(readonly remoteAddress: string) {
    super()
  }

  destroy(): void {
    this.isDestroyed = true
  }
}

it('lets no machine take all connections there may be, and counts those that ended no more', () => {
  const limit = new ConnectionLimit()
  const admit = (address: string) => {
    const connection = new Connection(address)
    return { connection, isIn: limit.admit(connection) }
  }
  const many = Array.from({ length: 2000 }, () => admit('192.0.2.1'))
  expect(many.every(({ isIn }) => isIn)).toBe(true)
  const { connection, isIn } = admit('192.0.2.1')
  expect([isIn, connection.isDestroyed]).toEqual([false, true])
  expect(admit('192.0.2.2').isIn).toBe(true)
  many[0]?.connection.emit('close')
  expect(admit('192.0.2.1').isIn).toBe(true)
  expect(admit('192.0.2.1').isIn).toBe(false)
})
