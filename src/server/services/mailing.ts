import { randomBytes } from 'node:crypto'
import { asId, cut, type Model } from '../../core/model'
import { mailAddress, mentionedIn, reachable } from '../../core/notation'
import { inTransaction, type Database } from '../db/pool'
import { speakersOf, type NewComment } from '../repositories/comments'
import {
  countHeld,
  countWritten,
  findMailbox,
  insertLetter,
  isStatedBefore,
  mailboxOf,
  noteAsked,
  noteWanted,
  noteWritten,
  type MailboxRow,
} from '../repositories/letters'
import { whoAsks } from '../threads/asking'
import { digestOf } from './digest'
import { NotFound } from './errors'
import { sendLetters } from './letters'
import type { Store } from './store'

const MOST_LETTERS = 30
/** Letters in an hour: of all servers before one database, to one address, and by one who writes, whatever the workspace. */
const RATES = { all: 2000, to: 30, by: 120 } as const
/** Letters that wait for somebody to say that they want them. */
const MOST_HELD = 20

/** For how long an address has to stand in the facts before letters go there. The mail catcher harms nobody. */
const statedMinutes = (): number =>
  Number(process.env['SKIVEL_STATED_MINUTES'] ?? (process.env['SKIVEL_MAIL_URL'] === undefined ? 0 : 10))

/** Somebody to be written to. */
interface Recipient {
  readonly address: string
  /** Only what their page shows is told. */
  readonly isReader: boolean
  /** Their address stands in the facts. */
  readonly isStated: boolean
}

/**
 * Writes to those whom a comment calls, and to those who spoke in its thread and can be reached. Nobody gets a letter before they have said that they
 * want letters, or the facts of the workspace have told their address for a while: until then they are asked, once, without a word of anybody.
 * Answers how many letters there are to be sent.
 */
export async function writeLetters(
  database: Database,
  workspace: string,
  model: Model,
  row: NewComment,
): Promise<number> {
  const sender = digestOf(whoAsks().address)
  let count = 0
  for (const { address, isReader, isStated } of await recipientsOf(database, workspace, model, row)) {
    const recipient = digestOf(address.toLowerCase())
    const written = await countWritten(database, { recipient, sender })
    if (written.all >= RATES.all || written.to >= RATES.to || written.by >= RATES.by) continue
    const mailbox = await mailboxOf(database, address, randomBytes(32).toString('base64url'))
    if (mailbox.stopped_at) continue
    const isOpen =
      mailbox.confirmed_at !== null ||
      (isStated && (await isStatedBefore(database, workspace, address, statedMinutes())))
    if (!isOpen && (await countHeld(database, address)) >= MOST_HELD) continue
    await insertLetter(database, { recipient: address, ...letterOf(workspace, model, row, isReader, mailbox) }, !isOpen)
    if (isOpen) count++
    else if (mailbox.was_asked !== 1) {
      await insertLetter(database, { recipient: address, ...questionTo(mailbox) })
      await noteAsked(database, address)
      count++
    }
    await noteWritten(database, recipient, sender)
  }
  return count
}

/** What a reader says goes to nobody but those of the workspace: no stranger is written to because another one says so. */
async function recipientsOf(
  database: Database,
  workspace: string,
  model: Model,
  row: NewComment,
): Promise<readonly Recipient[]> {
  const speakers = row.thread === row.id ? [] : await speakersOf(database, workspace, row.thread)
  const people = reachable(model)
  const stated = new Set([...people.values()].flatMap(({ fields }) => mailAddress(fields['email']) ?? []))
  const addressOf = ({ author, mail, by_reader }: { author: string; mail: string | null; by_reader: number }) => {
    if (by_reader === 1) return row.by_reader ? undefined : (mail ?? undefined)
    return mail ?? mailAddress(people.get(author.toLowerCase())?.fields['email'])
  }
  const own = addressOf({ author: row.author, mail: row.mail, by_reader: row.by_reader ? 1 : 0 }) ?? row.mail
  const readers = new Set(speakers.flatMap((one) => (one.by_reader === 1 ? (addressOf(one) ?? []) : [])))
  const called = row.by_reader
    ? []
    : mentionedIn(model, row.words).flatMap(({ fields }) => mailAddress(fields['email']) ?? [])
  const all = new Set([...called, ...speakers.flatMap((one) => addressOf(one) ?? [])])
  // What one has just said oneself is no news.
  if (own !== null && !called.includes(own)) all.delete(own)
  return [...all]
    .slice(0, MOST_LETTERS)
    .map((address) => ({ address, isReader: readers.has(address), isStated: stated.has(address) }))
}

const home = (): string => (process.env['SKIVEL_ADDRESS'] ?? process.env['SKIVEL_SELF'] ?? '').replace(/\/$/, '')

/** Where somebody says whether they want letters. */
const wayOf = ({ secret }: MailboxRow): string => `${home()}/letters/${secret}`

/** Plain words. Whoever may only read is told of nothing that is not on their page. */
function letterOf(workspace: string, model: Model, row: NewComment, isReader: boolean, mailbox: MailboxRow) {
  const view = model.views.get(asId(row.view_id))
  const fact = row.fact_id === null ? undefined : model.entities.get(asId(row.fact_id))
  const title = view?.title ?? 'a view that is gone'
  const about = fact && !isReader ? `“${fact.name}” in “${title}”` : `“${title}”`
  const where = isReader
    ? 'Read it and answer on the page where you left this address.'
    : process.env['SKIVEL_ADDRESS']
      ? `Read it and answer: ${home()}/w/${workspace}#view=${encodeURIComponent(row.view_id)}`
      : 'Read it and answer in the margin of the view.'
  const quoted = row.words.split('\n').map((line) => `> ${line}`)
  const from = row.by_reader ? 'on a page to read' : isReader ? 'in Skivel' : `in the workspace “${model.name}”`
  return {
    subject: cut(`${row.author} on ${about}`.replace(/\s+/g, ' '), 300),
    words: [
      `${row.author} ${row.proposal ? 'proposes a change' : 'said something'} on ${about}:`,
      '',
      ...quoted,
      '',
      where,
      '',
      `Written by “${row.author}”, as they call themselves, ${from}${home() === '' ? '' : ` at ${home()}`}.`,
      `No more letters: ${wayOf(mailbox)}`,
      '',
    ].join('\n'),
  }
}

/** Asks somebody whether they want letters. Nobody’s words stand in it. */
const questionTo = (mailbox: MailboxRow) => ({
  subject: 'Letters from Skivel?',
  words: [
    `Somebody wants to write to you from Skivel${home() === '' ? '' : ` at ${home()}`}. Nothing is sent to you unless you say so.`,
    '',
    `Say so, or that you want none: ${wayOf(mailbox)}`,
    '',
    'If you do not know what this is about, do nothing: you will hear no more of it.',
    '',
  ].join('\n'),
})

/** What an address has said to letters. @throws NotFound */
export async function mailboxAt(store: Store, secret: string): Promise<{ readonly wants: boolean | undefined }> {
  const row = /^[\w-]{43}$/.test(secret) ? await findMailbox(store.database, secret) : undefined
  if (!row) throw new NotFound('There is nothing at this address.')
  return { wants: row.stopped_at ? false : row.confirmed_at ? true : undefined }
}

/** Says whether letters are wanted at an address. What waited for it is sent, or is gone. @throws NotFound */
export async function sayWanted(store: Store, secret: string, wants: boolean): Promise<void> {
  const row = /^[\w-]{43}$/.test(secret) ? await findMailbox(store.database, secret) : undefined
  if (!row) throw new NotFound('There is nothing at this address.')
  await inTransaction(store.pool, (database) => noteWanted(database, row.address, wants))
  if (wants) sendLetters(store)
}
