import type { Settings } from '../../core/model'
import type { Database } from '../db/pool'

export interface WorkspaceRow {
  readonly id: string
  readonly name: string
  readonly settings: Settings
  readonly revision: number
  readonly changed_at: Date
}

const COLUMNS = 'id, name, settings, revision, changed_at'
/** What lies in the bin is found by nobody who does not look there. */
const KEPT = 'deleted_at IS NULL'
export const MOST_LISTED = 500

/** Those whose names hold these words, the last changed first. */
export const listWorkspaces = (database: Database, named = ''): Promise<WorkspaceRow[]> =>
  database.rows<WorkspaceRow>(
    `SELECT ${COLUMNS} FROM workspace WHERE ${KEPT} AND name LIKE ? ORDER BY changed_at DESC, id LIMIT ${MOST_LISTED}`,
    [`%${named.replace(/[\\%_]/g, '\\$&')}%`],
  )

export async function findWorkspace(database: Database, id: string): Promise<WorkspaceRow | undefined> {
  const [row] = await database.rows<WorkspaceRow>(`SELECT ${COLUMNS} FROM workspace WHERE id = ? AND ${KEPT}`, [id])
  return row
}

/** The row, locked until the transaction ends: changes of one workspace are made one after another. */
export async function lockWorkspace(database: Database, id: string): Promise<WorkspaceRow | undefined> {
  const [row] = await database.rows<WorkspaceRow>(
    `SELECT ${COLUMNS} FROM workspace WHERE id = ? AND ${KEPT} FOR UPDATE`,
    [id],
  )
  return row
}

export async function insertWorkspace(database: Database, id: string, name: string, settings: Settings): Promise<void> {
  await database.write('INSERT INTO workspace (id, name, settings) VALUES (?, ?, ?)', [
    id,
    name,
    JSON.stringify(settings),
  ])
}

export async function advanceWorkspace(
  database: Database,
  id: string,
  revision: number,
  name: string,
  settings: Settings,
): Promise<void> {
  await database.write(
    'UPDATE workspace SET revision = ?, name = ?, settings = ?, changed_at = CURRENT_TIMESTAMP(3) WHERE id = ?',
    [revision, name, JSON.stringify(settings), id],
  )
}

/** How long the bin keeps a workspace. */
export const DAYS_IN_BIN = 30

export interface BinnedRow {
  readonly id: string
  readonly name: string
  readonly deleted_at: Date
}

/** What lies in the bin, the last deleted first. */
export const listBin = (database: Database): Promise<BinnedRow[]> =>
  database.rows<BinnedRow>(
    `SELECT id, name, deleted_at FROM workspace WHERE deleted_at > CURRENT_TIMESTAMP(3) - INTERVAL ${DAYS_IN_BIN} DAY ORDER BY deleted_at DESC, id LIMIT ${MOST_LISTED}`,
  )

/** Answers false where there is nothing to be moved, as in the three that follow. */
export const putIntoBin = (database: Database, id: string): Promise<boolean> =>
  written(database, `UPDATE workspace SET deleted_at = CURRENT_TIMESTAMP(3) WHERE id = ? AND ${KEPT}`, id)

export const takeFromBin = (database: Database, id: string): Promise<boolean> =>
  written(database, `UPDATE workspace SET deleted_at = NULL WHERE id = ? AND NOT ${KEPT}`, id)

export const destroyInBin = (database: Database, id: string): Promise<boolean> =>
  written(database, `DELETE FROM workspace WHERE id = ? AND NOT ${KEPT}`, id)

/** Ends what has been in the bin for longer than it keeps. */
export async function emptyBin(database: Database): Promise<void> {
  await database.write(
    `DELETE FROM workspace WHERE deleted_at <= CURRENT_TIMESTAMP(3) - INTERVAL ${DAYS_IN_BIN} DAY`,
    [],
  )
}

async function written(database: Database, sql: string, id: string): Promise<boolean> {
  const { affectedRows } = await database.write(sql, [id])
  return affectedRows > 0
}

/** Revisions of several workspaces, and how much happened to their comments: what a feed polls. */
export const revisionsOf = (
  database: Database,
  ids: readonly string[],
): Promise<{ id: string; revision: number; talk: number }[]> =>
  database.rows<{ id: string; revision: number; talk: number }>(
    "SELECT w.id, w.revision, w.talk FROM workspace w JOIN JSON_TABLE(?, '$[*]' COLUMNS (id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin PATH '$')) t ON t.id = w.id WHERE w.deleted_at IS NULL",
    [JSON.stringify(ids)],
  )
