import { createTransport, type Transporter } from 'nodemailer'
import Joi from 'joi'
import { inTransaction, isUnavailable } from '../db/pool'
import { deleteLetter, takeDue } from '../repositories/letters'
import { askedOf } from './asked'
import { Unreachable } from './errors'
import type { Store } from './store'

const BATCH = 20
const AGAIN_MS = 20_000
/** Tried so often, over some two days, a letter is given up. */
const TRIES = 50
const PATIENCE_MS = 10_000

let sending: Promise<void> | undefined
/** There may be more than what is being sent. */
let isMore = false
let again: ReturnType<typeof setInterval> | undefined

/**
 * Sends the letters that are due, by SMTP, to the server at `SKIVEL_MAIL_URL` or to the mail catcher that ships with the program. One that cannot be sent stays and is
 * tried again; so does one that was taken by a server that then ended. Nobody waits for it.
 */
export function sendLetters(store: Store): void {
  again ??= setInterval(() => sendLetters(store), AGAIN_MS).unref()
  isMore = true
  sending ??= sendAll(store)
}

async function sendAll(store: Store): Promise<void> {
  while (isMore) {
    isMore = false
    try {
      await send(store)
    } catch (error) {
      if (!isUnavailable(error) && !(error instanceof Unreachable)) console.error('Letters could not be sent:', error)
    }
  }
  // At once, so that nobody asks for more in between and is not heard.
  sending = undefined
}

async function send(store: Store): Promise<void> {
  for (;;) {
    const due = await inTransaction(store.pool, (database) => takeDue(database, BATCH))
    if (due.length === 0) return
    const transport = await transporter()
    try {
      for (const { id, recipient, subject, words, tries } of due)
        try {
          await transport.sendMail({ from: sender(), to: { name: '', address: recipient }, subject, text: words })
          await deleteLetter(store.database, id)
        } catch (error) {
          if (isUnavailable(error) && !isOfMail(error)) throw error
          console.error(`A letter could not be sent, try ${tries + 1} of ${TRIES}:`, error)
          if (tries + 1 >= TRIES) await deleteLetter(store.database, id)
        }
    } finally {
      transport.close()
    }
  }
}

const isOfMail = (error: unknown): boolean => error instanceof Error && 'command' in error

const sender = (): string => process.env['SKIVEL_MAIL_FROM'] ?? 'Skivel <skivel@localhost>'

const address = Joi.object<{ host: string; port: number }>({
  host: Joi.string().hostname().required(),
  port: Joi.number().port().required(),
})

async function transporter(): Promise<Transporter> {
  const limits = { connectionTimeout: PATIENCE_MS, greetingTimeout: PATIENCE_MS, socketTimeout: PATIENCE_MS }
  const url = process.env['SKIVEL_MAIL_URL']
  if (url !== undefined) return createTransport({ url, ...limits })
  const who = 'The mail catcher'
  const answer = await askedOf(who, `${process.env['SKIVEL_SELF'] ?? ''}/standins/mail/address`, 'application/json')
  const { error, value } = address.validate(answer)
  if (error) throw new Unreachable(`What ${who.toLowerCase()} answers is not understood: ${error.message}.`)
  return createTransport({ ...value, secure: false, ignoreTLS: true, ...limits })
}
