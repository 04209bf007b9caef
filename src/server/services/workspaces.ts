import { randomUUID } from 'node:crypto'
import { picturesOf, type Pictures } from '../../core/file'
import { findingsOf, tally, type Tally } from '../../core/findings'
import { type Day, type Model } from '../../core/model'
import { registry } from '../../core/notations'
import { inTransaction, type Database } from '../db/pool'
import { insertAsset } from '../repositories/assets'
import { readFacts, writeAll } from '../repositories/facts'
import {
  deleteWorkspace,
  findWorkspace,
  insertWorkspace,
  listWorkspaces,
  type WorkspaceRow,
} from '../repositories/workspaces'
import { NotFound } from './errors'
import { assetsOf } from './photos'
import type { Store } from './store'

export interface Snapshot {
  readonly id: string
  readonly revision: number
  readonly model: Model
}

/** The newest snapshots this process has seen. Any of them can be read again from the database. */
const recent = new Map<string, Snapshot>()
const MOST_RECENT = 12

export function remember(snapshot: Snapshot): void {
  recent.delete(snapshot.id)
  recent.set(snapshot.id, snapshot)
  const [oldest] = recent.keys()
  if (recent.size > MOST_RECENT && oldest !== undefined) recent.delete(oldest)
}

/** The snapshot that a row speaks of: from memory when the revision is the same, else read. */
export async function snapshotOf(database: Database, row: WorkspaceRow): Promise<Snapshot> {
  const known = recent.get(row.id)
  if (known && known.revision === row.revision) return known
  const model = await readFacts(database, row.id, row.name, row.settings)
  return { id: row.id, revision: row.revision, model }
}

/** @throws NotFound */
export async function loadWorkspace(store: Store, id: string): Promise<Snapshot> {
  const row = await findWorkspace(store.database, id)
  if (!row) throw new NotFound('There is no such workspace.')
  const known = recent.get(id)
  if (known && known.revision === row.revision) return known
  // Row and facts of one revision: read together in a transaction, where nobody writes in between.
  const snapshot = await inTransaction(store.pool, async (database) => {
    const now = await findWorkspace(database, id)
    if (!now) throw new NotFound('There is no such workspace.')
    return snapshotOf(database, now)
  })
  remember(snapshot)
  return snapshot
}

/** A workspace of these facts, with the pictures that they name. @throws BadRequest for a picture that cannot be read */
export async function createWorkspace(store: Store, model: Model, pictures: Pictures = new Map()): Promise<string> {
  const assets = await assetsOf(picturesOf(model, pictures))
  const id = randomUUID().slice(0, 13)
  await inTransaction(store.pool, async (database) => {
    await insertWorkspace(database, id, model.name, model.settings)
    await writeAll(database, id, model)
    for (const asset of assets) await insertAsset(database, id, asset)
  })
  return id
}

/** @throws NotFound */
export async function removeWorkspace(store: Store, id: string): Promise<void> {
  if (!(await deleteWorkspace(store.database, id))) throw new NotFound('There is no such workspace.')
  recent.delete(id)
  summaries.delete(id)
}

export interface Entry {
  readonly id: string
  readonly name: string
  readonly changedAt: string
  readonly chapters: readonly string[]
  readonly tally: Tally
}

interface Summary extends Pick<Entry, 'chapters' | 'tally'> {
  readonly revision: number
  readonly day: Day
}
/** What this process found in workspaces on the day asked for last: nothing else changes it than their revision. */
const summaries = new Map<string, Summary>()
const MOST_SUMMARIES = 1000

/** All workspaces, the last changed first, each with its chapters and what is wrong in it on a day. O(facts) of those that changed since. */
export async function workspaceList(store: Store, day: Day): Promise<Entry[]> {
  const rows = await listWorkspaces(store.database)
  const entries: Entry[] = []
  for (const row of rows) {
    const { chapters, tally: counts } = await summaryOf(store, row, day, entries.length < MOST_RECENT)
    entries.push({ id: row.id, name: row.name, changedAt: row.changed_at.toISOString(), chapters, tally: counts })
  }
  return entries
}

async function summaryOf(store: Store, row: WorkspaceRow, day: Day, keep: boolean): Promise<Summary> {
  const known = summaries.get(row.id)
  if (known && known.revision === row.revision && known.day === day) return known
  const snapshot = await snapshotOf(store.database, row)
  if (keep) remember(snapshot)
  const summary = {
    revision: row.revision,
    day,
    chapters: chaptersOf(snapshot.model),
    tally: tally(findingsOf(registry, snapshot.model, day)),
  }
  summaries.delete(row.id)
  summaries.set(row.id, summary)
  const [oldest] = summaries.keys()
  if (summaries.size > MOST_SUMMARIES && oldest !== undefined) summaries.delete(oldest)
  return summary
}

function chaptersOf(model: Model): string[] {
  const used = new Set([...model.views.values()].map(({ notation }) => notation))
  return registry.notations.filter(({ id }) => used.has(id)).map(({ chapter }) => chapter)
}
