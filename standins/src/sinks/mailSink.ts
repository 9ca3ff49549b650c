import { once } from 'node:events'
import type { AddressInfo } from 'node:net'
import { simpleParser } from 'mailparser'
import { SMTPServer } from 'smtp-server'
import type { Kept } from './kept.ts'

/** So large may a mail be. */
const largest = 1_000_000

/** A server of mail that takes everything and sends nothing on. @param port 0 lets the system choose @returns its address, such as smtp://127.0.0.1:2525 */
export async function openMailSink(kept: Kept, now: () => number, port: number): Promise<string> {
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS'],
    size: largest,
    onData: (stream, session, done) => {
      const taken = async () => {
        const { subject = '', text = '', messageId = '' } = await simpleParser(stream)
        const to = session.envelope.rcptTo.map(({ address }) => address).join(', ')
        kept.add({ at: now(), by: 'mail', title: subject, details: `to ${to}, ${messageId}`, body: text })
      }
      taken().then(() => done(), done)
    },
  })
  server.listen(port, '127.0.0.1')
  await once(server.server, 'listening')
  return `smtp://127.0.0.1:${(server.server.address() as AddressInfo).port}`
}
