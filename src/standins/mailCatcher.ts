import type { AddressInfo } from 'node:net'
import PostalMime from 'postal-mime'
import { SMTPServer } from 'smtp-server'

/** A letter that was caught instead of being delivered. */
export interface Caught {
  readonly at: string
  readonly from: string
  readonly to: readonly string[]
  readonly subject: string
  readonly words: string
}

const MOST = 200
const MOST_BYTES = 1_000_000

const caught: Caught[] = []
let listening: Promise<number> | undefined

/** A made-up mail server (RFC 5321) on a port of this machine: it takes every letter and delivers none. Answers its port. */
export function mailCatcher(): Promise<number> {
  listening ??= listen().catch((error: unknown) => {
    listening = undefined
    throw error
  })
  return listening
}

/** What was caught since this server began, the newest first. */
export const caughtLetters = (): readonly Caught[] => [...caught].reverse()

function listen(): Promise<number> {
  const server = new SMTPServer({
    disabledCommands: ['AUTH', 'STARTTLS'],
    size: MOST_BYTES,
    logger: false,
    onData: (stream, { envelope }, done) => {
      const parts: Buffer[] = []
      stream.on('data', (part: Buffer) => parts.push(part))
      stream.on('end', () => {
        const to = envelope.rcptTo.map(({ address }) => address)
        PostalMime.parse(Buffer.concat(parts)).then(
          ({ from, subject = '', text = '' }) => {
            caught.push({ at: new Date().toISOString(), from: from?.address ?? '', to, subject, words: text })
            caught.splice(0, caught.length - MOST)
            done()
          },
          (error: unknown) => done(error instanceof Error ? error : new Error(String(error))),
        )
      })
    },
  })
  return new Promise((resolve, reject) => {
    server.on('error', reject)
    server.listen(0, '127.0.0.1', () => resolve((server.server.address() as AddressInfo).port))
    server.server.unref()
  })
}
