import { randomUUID } from 'node:crypto'
import { photosOf, type Photos } from '../../core/file'
import type { Tally } from '../../core/findings'
import { cut, type Day, type Model } from '../../core/model'
import { inTransaction, isUnavailable, type Database } from '../db/pool'
import { copyAssets, insertAsset } from '../repositories/assets'
import { readFacts, writeAll } from '../repositories/facts'
import {
  DAYS_IN_BIN,
  destroyInBin,
  emptyBin,
  findWorkspace,
  insertWorkspace,
  listBin,
  listWorkspaces,
  putIntoBin,
  takeFromBin,
  type WorkspaceRow,
} from '../repositories/workspaces'
import { carryOut } from '../threads/crew'
import { NotFound, TooLong } from './errors'
import type { Snapshot, Summary } from './memory'
import { assetsOf } from './photos'
import type { Store } from './store'

/** The snapshot that a row speaks of: from memory when the revision is the same, else read. */
export async function snapshotOf(
  { database, memory }: Pick<Store, 'database' | 'memory'>,
  row: WorkspaceRow,
): Promise<Snapshot> {
  const known = memory.snapshot(row.id, row.revision)
  if (known) return known
  const model = await readFacts(database, row.id, row.name, row.settings)
  return { id: row.id, revision: row.revision, model }
}

/** @throws NotFound */
export async function loadWorkspace(store: Store, id: string): Promise<Snapshot> {
  const row = await findWorkspace(store.database, id)
  if (!row) throw new NotFound('There is no such workspace.')
  const known = store.memory.snapshot(id, row.revision)
  if (known) return known
  // Row and facts of one revision: read together in a transaction, where nobody writes in between.
  const snapshot = await inTransaction(store.pool, async (database) => {
    const now = await findWorkspace(database, id)
    if (!now) throw new NotFound('There is no such workspace.')
    return snapshotOf({ ...store, database }, now)
  })
  store.memory.remember(snapshot)
  return snapshot
}

/** A workspace of these facts, with the pictures that they name. @throws BadRequest for a picture that cannot be read */
export async function createWorkspace(store: Store, model: Model, pictures: Photos = new Map()): Promise<string> {
  const assets = await assetsOf(photosOf(model, pictures))
  return made(store, model, async (database, id) => {
    for (const asset of assets) await insertAsset(database, id, asset)
  })
}

/** The same facts, views and photos under a name of their own; its history begins anew. @throws NotFound */
export async function copyWorkspace(store: Store, from: string): Promise<string> {
  const { model } = await loadWorkspace(store, from)
  const name = `${cut(model.name, MOST_OF_NAME - COPY.length)}${COPY}`
  return made(store, model.with({ name }), (database, id) => copyAssets(database, from, id))
}

async function made(
  { pool }: Store,
  model: Model,
  besides: (database: Database, id: string) => Promise<void>,
): Promise<string> {
  const id = randomUUID().slice(0, 13)
  await inTransaction(pool, async (database) => {
    await insertWorkspace(database, id, model.name, model.settings)
    await writeAll(database, id, model)
    await besides(database, id)
  })
  return id
}

const COPY = ', copy'
const MOST_OF_NAME = 200

/** Puts a workspace into the bin, where it is found for a while. @throws NotFound */
export async function removeWorkspace(store: Store, id: string): Promise<void> {
  if (!(await putIntoBin(store.database, id))) throw new NotFound('There is no such workspace.')
  store.memory.forget(id)
}

/** @throws NotFound */
export async function restoreWorkspace(store: Store, id: string): Promise<void> {
  if (!(await takeFromBin(store.database, id))) throw new NotFound('There is no such workspace in the bin.')
}

/** Ends a workspace that is in the bin, with all its facts and its history. @throws NotFound */
export async function destroyWorkspace(store: Store, id: string): Promise<void> {
  if (!(await destroyInBin(store.database, id))) throw new NotFound('There is no such workspace in the bin.')
}

export interface Binned {
  readonly id: string
  readonly name: string
  readonly deletedAt: string
  /** When the bin ends it. */
  readonly endsAt: string
}

/** What lies in the bin, the last deleted first. */
export async function binned({ database }: Pick<Store, 'database'>): Promise<Binned[]> {
  return (await listBin(database)).map(({ id, name, deleted_at }) => ({
    id,
    name,
    deletedAt: deleted_at.toISOString(),
    endsAt: new Date(deleted_at.getTime() + DAYS_IN_BIN * 86_400_000).toISOString(),
  }))
}

export interface Entry {
  readonly id: string
  readonly name: string
  readonly revision: number
  readonly changedAt: string
  readonly chapters: readonly string[]
  /** Absent where the facts could not be read or checked; `trouble` says why. */
  readonly tally?: Tally
  readonly trouble?: string
}

/** All workspaces whose names hold these words, the last changed first, each with its chapters and what is wrong in it on a day. One that cannot be read says so, and stops no other. O(facts) of those that changed since. */
export async function workspaceList(store: Store, day: Day, named?: string): Promise<Entry[]> {
  await emptyBin(store.database)
  const rows = await listWorkspaces(store.database, named)
  const entries: Entry[] = []
  for (const row of rows) {
    const entry = { id: row.id, name: row.name, revision: row.revision, changedAt: row.changed_at.toISOString() }
    try {
      const { chapters, tally, trouble } = await summaryOf(store, row, day)
      entries.push({ ...entry, chapters, ...(tally ? { tally } : {}), ...(trouble === undefined ? {} : { trouble }) })
    } catch (error) {
      if (isUnavailable(error)) throw error
      console.error(`The workspace ${row.id} could not be summed up:`, error)
      entries.push({ ...entry, chapters: [], trouble: 'Its facts could not be checked.' })
    }
  }
  return entries
}

/** How long the check of one workspace may hold up the list of all. */
const SUMMARY_MS = 8000

async function summaryOf(store: Store, row: WorkspaceRow, day: Day): Promise<Summary> {
  const known = store.memory.summary(row.id, row.revision, day)
  if (known) return known
  const snapshot = await snapshotOf(store, row)
  const found = await carryOut('summary', day, snapshot, SUMMARY_MS).catch((error: unknown) => {
    if (error instanceof TooLong) return { chapters: [], trouble: 'Checking it takes too long.' }
    throw error
  })
  const summary: Summary = { revision: row.revision, day, ...found }
  store.memory.summarise(row.id, summary)
  return summary
}
