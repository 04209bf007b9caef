import { randomBytes, randomUUID } from 'node:crypto'
import { promisify } from 'node:util'
import { gzip } from 'node:zlib'
import { viewsInOrder } from '../../core/file'
import { asDay, isId, type Day, type Model, type View } from '../../core/model'
import { inTransaction } from '../db/pool'
import {
  deleteReader,
  findReader,
  insertReader,
  listReaders,
  noteRead,
  setComments,
  type ReaderRow,
} from '../repositories/readers'
import { findWorkspace, lockWorkspace } from '../repositories/workspaces'
import type { ReaderPage } from '../draw/reader'
import type { Asking } from '../threads/asking'
import { carryOut } from '../threads/crew'
import { assetAddresses } from './assets'
import { digestOf } from './digest'
import { BadRequest, NotFound } from './errors'
import type { AskedPage, SentPage, Snapshot } from './memory'
import type { Store } from './store'
import { loadWorkspace } from './workspaces'

/** An address at which views are read, without its secret part, which is told once. */
export interface Reader {
  readonly id: string
  readonly reach: ReaderRow['reach']
  readonly of: string
  readonly day: string | null
  readonly until: string | null
  readonly findings: boolean
  /** Those who read there may say something. */
  readonly comments: boolean
  readonly madeAt: string
  readonly readAt: string | null
}

export interface NewReader {
  readonly reach: ReaderRow['reach']
  readonly of: string
  readonly day?: string | undefined
  readonly until?: string | undefined
  readonly findings: boolean
  readonly comments?: boolean | undefined
}

const MOST = 100
/** When it was read last is noted once in a while: many who read at once are one note. */
const NOTED_MS = 60_000

const readerOf = ({ id, reach, of_id, day, until, findings, comments, made_at, read_at }: ReaderRow): Reader => ({
  id,
  reach,
  of: of_id,
  day,
  until,
  findings: findings === 1,
  comments: comments === 1,
  madeAt: made_at.toISOString(),
  readAt: read_at?.toISOString() ?? null,
})

/** The views that an address shows, in their order. */
export function viewsOf(model: Model, { reach, of_id }: Pick<ReaderRow, 'reach' | 'of_id'>): readonly View[] {
  const all = viewsInOrder(model)
  if (reach === 'workspace') return all
  return all.filter(({ id, notation }) => (reach === 'view' ? id === of_id : notation === of_id))
}

/**
 * Makes a secret address at which a view, a chapter or the workspace is read. The path is told this once: only the digest of its secret is kept.
 * @throws NotFound for the workspace, BadRequest for what shows nothing
 */
export async function makeReader(
  store: Store,
  workspace: string,
  { reach, of, day, until, findings, comments }: NewReader,
): Promise<{ reader: Reader; path: string }> {
  const { model } = await loadWorkspace(store, workspace)
  const refused = (path: string, message: string) => new BadRequest(message, [{ path, message }])
  if (viewsOf(model, { reach, of_id: of }).length === 0) throw refused('of', 'There is no view to be read there.')
  const secret = randomBytes(32).toString('base64url')
  const id = randomUUID().slice(0, 13)
  const made = await inTransaction(store.pool, async (database) => {
    // One after another, so that many at once do not pass the limit together.
    await lockWorkspace(database, workspace)
    if ((await listReaders(database, workspace)).length >= MOST)
      throw refused('of', `A workspace has ${MOST} such addresses at most. Withdraw one that is no longer needed.`)
    await insertReader(database, {
      id,
      workspace_id: workspace,
      reach,
      of_id: of,
      day: day ?? null,
      until: until ?? null,
      findings: findings ? 1 : 0,
      comments: comments ? 1 : 0,
      digest: digestOf(secret),
    })
    return (await listReaders(database, workspace)).find((row) => row.id === id)
  })
  if (!made) throw new NotFound('The address was withdrawn at once.')
  return { reader: readerOf(made), path: `/read/${secret}` }
}

/** The addresses of a workspace, the first made first. @throws NotFound for the workspace */
export async function readersOf(store: Store, workspace: string): Promise<Reader[]> {
  await loadWorkspace(store, workspace)
  return (await listReaders(store.database, workspace)).map(readerOf)
}

/** Lets those who read there say something, or no longer: what they said stays. @throws NotFound */
export async function letComment(store: Store, workspace: string, id: string, comments: boolean): Promise<void> {
  if (!(await setComments(store.database, workspace, id, comments))) throw new NotFound('There is no such address.')
}

/** From now on nobody reads anything there. @throws NotFound */
export async function withdrawReader(store: Store, workspace: string, id: string): Promise<void> {
  if (!(await deleteReader(store.database, workspace, id))) throw new NotFound('There is no such address.')
}

export const gone = () => new NotFound('There is nothing at this address, or it was withdrawn.')

/** The address of a secret, where it is read still. @throws NotFound, in the same words whether it never was, is withdrawn or has run out */
export async function readerAt(store: Store, secret: string, today: Day): Promise<ReaderRow> {
  if (!/^[\w-]{43}$/.test(secret)) throw gone()
  const row = await findReader(store.database, digestOf(secret))
  if (!row || (row.until !== null && row.until < today)) throw gone()
  return row
}

/** The workspace that is read at an address: one that lies in the bin is not to be read, and not told of. @throws NotFound */
export const readableWorkspace = (store: Store, { workspace_id }: ReaderRow): Promise<Snapshot> =>
  loadWorkspace(store, workspace_id).catch((error: unknown) => {
    throw error instanceof NotFound ? gone() : error
  })

/** Told once for all who ask at once. @throws NotFound, in the same words whether it never was, is withdrawn or has run out */
const askedFor = (store: Store, secret: string, view: string | undefined, today: Day): Promise<AskedPage> =>
  store.memory.lookUps.of([today, secret, view ?? ''].join(' '), () => lookedUp(store, secret, view, today))

async function lookedUp(store: Store, secret: string, view: string | undefined, today: Day): Promise<AskedPage> {
  const row = await readerAt(store, secret, today)
  const workspace = await findWorkspace(store.database, row.workspace_id)
  if (!workspace || (view !== undefined && !isId(view))) throw gone()
  const day = row.day === null ? today : asDay(row.day)
  const { revision, lineage } = workspace
  if (row.read_at === null || Date.now() - row.read_at.getTime() > NOTED_MS) await noteRead(store.database, row.id)
  return { row, day, key: [row.id, revision, lineage, day, view ?? '', row.findings, row.comments].join(' ') }
}

/**
 * What is read at a secret address: one of its views, drawn, and which others there are. Nothing of the workspace but that leaves the server.
 * @throws NotFound, in the same words whether it never was, is withdrawn or has run out; TooLong, Overload
 */
export async function readAt(store: Store, secret: string, asked: string | undefined, today: Day): Promise<ReaderPage> {
  const { row, day, key } = await askedFor(store, secret, asked, today)
  return store.memory.pages.of(key, async (who) => {
    const snapshot = await readableWorkspace(store, row)
    const views = viewsOf(snapshot.model, row)
    const view = asked === undefined ? views[0] : views.find(({ id }) => id === asked)
    if (!view) throw gone()
    const wish = {
      view: view.id,
      views: views.map(({ id }) => id),
      day,
      findings: row.findings === 1,
      base: `/read/${secret}`,
      images: await assetAddresses(store, row.workspace_id),
      ...(row.comments === 1 ? { secret } : {}),
    }
    return carryOut('reader', wish, snapshot, { who })
  })
}

const packed = promisify(gzip)

/**
 * The page at a secret address: as it was sent before, where it reads the same still, else as it is written now.
 * @throws NotFound; TooLong, Overload, Gone
 */
export async function sentPage(
  store: Store,
  secret: string,
  asked: string | undefined,
  today: Day,
  write: (who: Asking) => Promise<Response>,
): Promise<SentPage> {
  const { key } = await askedFor(store, secret, asked, today)
  return store.memory.sent.of(key, async (who) => {
    const response = await write(who)
    const body = await packed(Buffer.from(await response.arrayBuffer()))
    return { status: response.status, headers: Object.fromEntries(response.headers), body }
  })
}
