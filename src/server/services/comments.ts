import { checkTouched, readSteps } from '../../core/file'
import { apply, asId, ModelError, type Change, type Day, type Model } from '../../core/model'
import { nowKnownAs } from '../../core/notation'
import { registry } from '../../core/notations'
import { inTransaction, type Database } from '../db/pool'
import {
  countComments,
  findComment,
  forgetHidden,
  hideComment,
  insertComment,
  listComments,
  noteTaken,
  noteTalk,
  resolveThread,
  talkOf,
  saidAs,
  type CommentRow,
  type NewComment,
  type Proposal,
} from '../repositories/comments'
import type { ReaderRow } from '../repositories/readers'
import { lockWorkspace } from '../repositories/workspaces'
import { partMark } from '../draw/partMark'
import { digestOf } from './digest'
import { BadRequest, NotFound, TooMany } from './errors'
import { announceTalk } from './feed'
import { sendLetters } from './letters'
import { writeLetters } from './mailing'
import { gone, readableWorkspace, readerAt, viewsOf } from './readers'
import type { Store } from './store'
import { loadWorkspace } from './workspaces'

/** Something that was said. */
export interface Comment {
  readonly id: string
  readonly author: string
  /** Said at an address for readers. */
  readonly byReader: boolean
  readonly words: string
  readonly at: string
}

/** What was said of one thing, in order. */
export interface Thread {
  readonly id: string
  readonly view: string
  /** What it is about besides the view: a fact, or a place of the picture in px. */
  readonly fact?: string
  readonly place?: { readonly x: number; readonly y: number }
  /** Begun at an address for readers, who read all that is answered. */
  readonly isShared: boolean
  readonly comments: readonly Comment[]
  /** How the change is called that it proposes. */
  readonly proposal?: string
  readonly resolved?: { readonly at: string; readonly by: string; readonly taken: boolean }
}

/** What a page says: it begins a thread, or answers in one. Its id makes that once, however often it is sent. */
export interface Said {
  readonly id: string
  readonly thread?: string
  readonly view?: string
  readonly fact?: string
  readonly at?: { readonly x: number; readonly y: number }
  readonly author: string
  /** Where answers are sent. */
  readonly mail?: string
  readonly words: string
  readonly proposal?: { readonly label: string; readonly steps: readonly unknown[] }
}

/** What somebody says who may only read; what it is about is a part of the picture, by the mark it has there. */
export interface SaidByReader {
  readonly id: string
  readonly thread?: string
  readonly view?: string
  readonly part?: string
  readonly at?: { readonly x: number; readonly y: number }
  readonly author: string
  readonly mail?: string
  readonly words: string
}

/** Of a workspace and of a thread; what readers say has room of its own, so that they never fill what colleagues need. */
const MOST_OF_WORKSPACE = { page: 2000, reader: 1000 } as const
const MOST_OF_THREAD = { page: 200, reader: 100 } as const
/** As characters of JSON. */
const MOST_PROPOSED = 200_000
/** So much is taken from the pages of a workspace, and from one address for readers, in so many minutes. */
const RATES = { page: { most: 300, minutes: 10 }, reader: { most: 30, minutes: 10 } } as const

/** What was said in a workspace, thread by thread, and how much had happened by then. O(comments) @throws NotFound */
export async function commentsOf(store: Store, workspace: string): Promise<{ talk: number; threads: Thread[] }> {
  await loadWorkspace(store, workspace)
  // Counted first: what is said meanwhile is then told again.
  const talk = await talkOf(store.database, workspace)
  return { talk, threads: threadsIn(await listComments(store.database, workspace)) }
}

function threadsIn(rows: readonly CommentRow[]): Thread[] {
  const answers = new Map<string, Comment[]>()
  for (const row of rows) {
    const list = answers.get(row.thread)
    if (list) list.push(commentOf(row))
    else answers.set(row.thread, [commentOf(row)])
  }
  return rows
    .filter(({ id, thread }) => id === thread)
    .map(({ id, view_id, fact_id, x, y, reader_id, proposed, resolved_at, resolved_by, taken }) => ({
      id,
      view: view_id,
      ...(fact_id === null ? {} : { fact: fact_id }),
      ...(x === null || y === null ? {} : { place: { x, y } }),
      isShared: reader_id !== null,
      comments: answers.get(id) ?? [],
      ...(proposed === null ? {} : { proposal: proposed }),
      ...(resolved_at && { resolved: { at: resolved_at.toISOString(), by: resolved_by ?? '', taken: taken === 1 } }),
    }))
}

const commentOf = ({ id, author, by_reader, words, made_at }: CommentRow): Comment => ({
  id,
  author,
  byReader: by_reader === 1,
  words,
  at: made_at.toISOString(),
})

/** The change that a thread proposes. @throws NotFound */
export async function proposalOf(store: Store, workspace: string, thread: string): Promise<Change> {
  await loadWorkspace(store, workspace)
  const found = await findComment(store.database, workspace, thread)
  if (!found?.proposal) throw new NotFound('There is no such proposal.')
  return found.proposal
}

/**
 * Keeps what a page says, and writes to whom it concerns: those who are called by name, and those who spoke in the thread.
 * @throws NotFound, BadRequest, StepsError for a proposal that is no change of these facts, TooMany
 */
export async function say(store: Store, workspace: string, said: Said): Promise<void> {
  const { model } = await loadWorkspace(store, workspace)
  const { id, thread = id, view, fact, at, author, mail, words } = said
  if (view !== undefined) refuseUnknown(model, view, fact)
  if (said.proposal && said.thread !== undefined)
    throw refused('proposal', 'An answer proposes nothing: begin a thread.')
  const proposal = said.proposal ? checkedProposal(model, said.proposal) : null
  const row: NewComment = {
    id,
    thread,
    reader_id: null,
    view_id: view ?? '',
    fact_id: fact ?? null,
    x: at?.x ?? null,
    y: at?.y ?? null,
    author: author.trim(),
    by_reader: false,
    mail: mail ?? null,
    words: words.trim(),
    proposal,
  }
  await kept(store, workspace, model, row, undefined)
}

/** What may be read at an address of what was said there, each part by its mark in the picture. @throws NotFound */
export async function commentsAt(store: Store, secret: string, today: Day): Promise<readonly SharedThread[]> {
  const reader = await openTo(store, secret, today)
  const { model } = await readableWorkspace(store, reader)
  const rows = (await listComments(store.database, reader.workspace_id)).filter(
    ({ reader_id }) => reader_id === reader.id,
  )
  return threadsIn(rows).map(({ id, view, fact, place, comments, resolved }) => ({
    id,
    view,
    ...(place && { place }),
    ...(fact === undefined ? {} : { part: partMark(secret, nowKnownAs(model, asId(fact))) }),
    comments,
    ...(resolved && { resolved }),
  }))
}

/** A thread as those see it who may only read. */
export interface SharedThread extends Pick<Thread, 'id' | 'view' | 'place' | 'comments' | 'resolved'> {
  readonly part?: string
}

/** Keeps what is said at an address for readers. @throws NotFound where nothing may be said, BadRequest, TooMany */
export async function sayAt(store: Store, secret: string, said: SaidByReader, today: Day): Promise<void> {
  const reader = await openTo(store, secret, today)
  const { model } = await readableWorkspace(store, reader)
  const { view, part, at, author, mail, words } = said
  // Under a name that is the address's own: whether it is taken elsewhere cannot be found out by it.
  const id = `r${digestOf(`${reader.id} ${said.id}`).slice(0, 40)}`
  const thread = said.thread ?? id
  if (view !== undefined && !viewsOf(model, reader).some((one) => one.id === view))
    throw refused('view', 'There is no such view.')
  const fact = part === undefined ? undefined : factMarked(model, secret, part)
  if (part !== undefined && fact === undefined) throw refused('part', 'What this is about is not there any more.')
  const row: NewComment = {
    id,
    thread,
    reader_id: reader.id,
    view_id: view ?? '',
    fact_id: fact ?? null,
    x: at?.x ?? null,
    y: at?.y ?? null,
    author: author.trim(),
    by_reader: true,
    mail: mail ?? null,
    words: words.trim(),
    proposal: null,
  }
  await kept(store, reader.workspace_id, model, row, reader)
}

/** The address, where something may be said at it. @throws NotFound, in the words of one that never was */
async function openTo(store: Store, secret: string, today: Day): Promise<ReaderRow> {
  const reader = await readerAt(store, secret, today)
  if (reader.comments !== 1) throw gone()
  return reader
}

const factMarked = (model: Model, secret: string, mark: string): string | undefined =>
  [...model.entities.keys(), ...model.relations.keys()].find((fact) => partMark(secret, fact) === mark)

const refused = (path: string, message: string) => new BadRequest(message, [{ path, message }])

function refuseUnknown(model: Model, view: string, fact: string | undefined): void {
  if (!model.views.has(asId(view))) throw refused('view', 'There is no such view.')
  if (fact !== undefined && !model.entities.has(asId(fact)) && !model.relations.has(asId(fact)))
    throw refused('fact', 'There is no such fact.')
}

/** A proposal that could be made now, read as a change is. @throws BadRequest, StepsError */
function checkedProposal(model: Model, { label, steps: raw }: NonNullable<Said['proposal']>): Proposal {
  if (JSON.stringify(raw).length > MOST_PROPOSED)
    throw refused('proposal', 'This is more than a proposal can hold. Propose it in parts, or send it as a file.')
  const steps = readSteps(raw, model, registry)
  try {
    checkTouched(apply(model, { label, steps }).model, steps, registry)
  } catch (error) {
    if (!(error instanceof ModelError)) throw error
    throw refused(`proposal.steps[${error.step ?? 0}]`, error.message)
  }
  return { label, steps }
}

/** One after another, so that many at once do not pass the limits together. */
async function kept(
  store: Store,
  workspace: string,
  model: Model,
  row: NewComment,
  reader: ReaderRow | undefined,
): Promise<void> {
  const letters = await inTransaction(store.pool, async (database) => {
    if (!(await lockWorkspace(database, workspace))) throw new NotFound('There is no such workspace.')
    // Sent twice, it is said once; what is something else under that name is not taken for it.
    const before = await saidAs(database, workspace, row.id)
    if (before && before.words === row.words && before.author === row.author) return 0
    if (before) throw refused('id', 'Something else was said under this name before.')
    const first = row.thread === row.id ? undefined : await findComment(database, workspace, row.thread)
    const isTheirs = reader === undefined || first?.reader_id === reader.id
    if (row.thread !== row.id && (!first || first.thread !== first.id || !isTheirs))
      throw refused('thread', 'What this answers is not there any more.')
    await refuseTooMuch(database, workspace, row)
    await forgetHidden(database, workspace)
    const { view_id, fact_id, x, y, reader_id } = first ?? row
    await insertComment(database, workspace, { ...row, view_id, fact_id, x, y, reader_id })
    await noteTalk(database, workspace)
    return writeLetters(database, workspace, model, { ...row, view_id, fact_id })
  })
  announceTalk()
  if (letters > 0) sendLetters(store)
}

async function refuseTooMuch(database: Database, workspace: string, row: NewComment): Promise<void> {
  const who = row.by_reader ? 'reader' : 'page'
  const { most, minutes } = RATES[who]
  const { all, inThread, lately } = await countComments(database, workspace, {
    thread: row.thread,
    byReader: row.by_reader,
    reader: row.by_reader ? row.reader_id : null,
    minutes,
  })
  if (lately >= most)
    throw new TooMany(`So much was said here in the last ${minutes} minutes that no more is taken for a while.`)
  if (all >= MOST_OF_WORKSPACE[who])
    throw refused(
      'words',
      `A workspace has ${MOST_OF_WORKSPACE[who]} comments at most. Take some away that are settled.`,
    )
  if (inThread >= MOST_OF_THREAD[who])
    throw refused('words', `A thread has ${MOST_OF_THREAD[who]} comments at most. Begin another one.`)
}

/** Resolves a thread or opens it again. @throws NotFound */
export function settleThread(
  store: Store,
  workspace: string,
  thread: string,
  { resolved, author }: { readonly resolved: boolean; readonly author: string },
): Promise<void> {
  return turned(store, workspace, async (database) => {
    const first = await findComment(database, workspace, thread)
    if (!first || first.thread !== first.id) throw new NotFound('There is no such thread.')
    await resolveThread(database, workspace, thread, resolved ? author.trim() : undefined)
  })
}

/** Takes something away that was said, the first of a thread with its answers; or brings it back. @throws NotFound */
export function hideSaid(store: Store, workspace: string, id: string, hidden: boolean): Promise<void> {
  return turned(store, workspace, async (database) => {
    if (!(await hideComment(database, workspace, id, hidden))) throw new NotFound('There is no such comment.')
  })
}

async function turned(store: Store, workspace: string, work: (database: Database) => Promise<void>): Promise<void> {
  await inTransaction(store.pool, async (database) => {
    if (!(await lockWorkspace(database, workspace))) throw new NotFound('There is no such workspace.')
    await work(database)
    await noteTalk(database, workspace)
  })
  announceTalk()
}

/**
 * Notes within the transaction of a change that it takes a proposal over; one that was taken away meanwhile needs no note.
 * @throws BadRequest where somebody else has taken it over
 */
export async function takeOver(database: Database, workspace: string, thread: string, author: string): Promise<void> {
  const found = await findComment(database, workspace, thread)
  if (!found?.proposal) return
  if (found.taken === 1)
    throw refused('takes', `${found.resolved_by ?? 'Somebody'} has taken this proposal over already.`)
  await noteTaken(database, workspace, thread, author)
  await noteTalk(database, workspace)
}
