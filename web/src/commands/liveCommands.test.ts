import type { Command } from '@jaunty-sparrow/contract'
import { LiveCommands } from './liveCommands.ts'

const command = (id: number, state: Command['state']) => ({ id, signalId: 5, state }) as Command

describe('what signals were asked for last', () => {
  it('is not taken back by an answer that comes after a frame', () => {
    const commands = new LiveCommands()
    commands.take([command(1, 'sent')])
    commands.take([command(1, 'requested')])
    expect(commands.of(5)?.state).toBe('sent')
    commands.take([command(1, 'confirmed')])
    commands.take([command(1, 'sent')])
    expect(commands.of(5)?.state).toBe('confirmed')
  })

  it('is the command that came last, whatever became of those before', () => {
    const commands = new LiveCommands()
    commands.take([command(1, 'confirmed')])
    commands.take([command(2, 'requested')])
    commands.take([command(1, 'confirmed')])
    expect(commands.of(5)).toMatchObject({ id: 2, state: 'requested' })
  })
})
