import { EventEmitter, once } from 'node:events'
import { SMTPServer } from 'smtp-server'

/** A mail as it came in, byte for byte, with what it is known by. */
export interface SunkMail {
  readonly to: readonly string[]
  readonly id: string
  readonly subject: string
  readonly source: string
}

/** A real server of mail on loopback that keeps what it takes. */
export class MailSink {
  readonly mails: SunkMail[] = []
  readonly #events = new EventEmitter()
  /** What happens when it has taken a mail, before it says so. */
  taken: () => Promise<unknown> = async () => undefined
  /** Why it takes nothing just now; undefined where it does. */
  refuses: string | undefined
  readonly #server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS'],
    onData: (stream, session, done) => {
      const pieces: Buffer[] = []
      stream.on('data', (piece: Buffer) => pieces.push(piece))
      stream.on('end', () => {
        if (this.refuses !== undefined) {
          done(Object.assign(new Error(this.refuses), { responseCode: 451 }))
          this.#events.emit('refused')
          return
        }
        const source = Buffer.concat(pieces).toString('utf8')
        const header = (name: string) => new RegExp(`^${name}: (.*)$`, 'im').exec(source)?.[1]?.trim() ?? ''
        const to = session.envelope.rcptTo.map(({ address }) => address)
        this.mails.push({ to, id: header('Message-ID'), subject: header('Subject'), source })
        this.taken().then(
          () => done(null),
          (error: Error) => done(error),
        )
        this.#events.emit('mail')
      })
    },
  })

  /** Where it listens, such as smtp://127.0.0.1:2525 */
  url = ''

  async open(): Promise<this> {
    this.#server.listen(0, '127.0.0.1')
    await once(this.#server.server, 'listening')
    const address = this.#server.server.address()
    this.url = `smtp://127.0.0.1:${typeof address === 'object' ? address?.port : 0}`
    return this
  }

  /** Waits until so many came in. */
  async count(mails: number): Promise<readonly SunkMail[]> {
    while (this.mails.length < mails) await once(this.#events, 'mail')
    return this.mails
  }

  /** Waits until one was refused. */
  async refused(): Promise<void> {
    await once(this.#events, 'refused')
  }

  async close(): Promise<void> {
    await new Promise<void>((done) => this.#server.close(() => done()))
  }
}
