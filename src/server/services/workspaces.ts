import { randomUUID } from 'node:crypto'
import { photosOf, type Photos } from '../../core/file'
import type { Tally } from '../../core/findings'
import { cut, type Model } from '../../core/model'
import { inTransaction, type Database } from '../db/pool'
import { copyAssets, insertAsset } from '../repositories/assets'
import { readFacts, writeAll } from '../repositories/facts'
import {
  DAYS_IN_BIN,
  destroyInBin,
  findWorkspace,
  insertWorkspace,
  listBin,
  listWorkspaces,
  putIntoBin,
  takeFromBin,
  type WorkspaceRow,
} from '../repositories/workspaces'
import { NotFound } from './errors'
import type { Snapshot } from './memory'
import { assetsOf } from './photos'
import type { Store } from './store'

/** The snapshot that a row speaks of: from memory when the revision is the same, else read. */
export async function snapshotOf(
  { database, memory }: Pick<Store, 'database' | 'memory'>,
  row: WorkspaceRow,
): Promise<Snapshot> {
  const known = memory.snapshot(row)
  if (known) return known
  const model = await readFacts(database, row.id, row.name, row.settings)
  return { id: row.id, revision: row.revision, lineage: row.lineage, model }
}

/** @throws NotFound */
export async function loadWorkspace(store: Store, id: string): Promise<Snapshot> {
  const row = await findWorkspace(store.database, id)
  if (!row) throw new NotFound('There is no such workspace.')
  const known = store.memory.snapshot(row)
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
  /** It has changed since it was looked at, or was never: that is being done. */
  readonly isLookedAt?: true
}

/** All workspaces whose names hold these words, the last changed first, each with its chapters and what was found in it when it was last looked at. */
export async function workspaceList({ database }: Pick<Store, 'database'>, named?: string): Promise<Entry[]> {
  const rows = await listWorkspaces(database, named)
  return rows.map(({ id, name, revision, changed_at, chapters, tally, trouble, is_current }) => ({
    id,
    name,
    revision,
    changedAt: changed_at.toISOString(),
    chapters: chapters ?? [],
    ...(tally ? { tally } : {}),
    ...(trouble === null ? {} : { trouble }),
    ...(is_current === 1 ? {} : { isLookedAt: true as const }),
  }))
}
