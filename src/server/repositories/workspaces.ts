import { randomBytes } from 'node:crypto'
import type { Tally } from '../../core/findings'
import type { Settings } from '../../core/model'
import type { Database } from '../db/pool'

export interface WorkspaceRow {
  readonly id: string
  readonly name: string
  readonly settings: Settings
  readonly revision: number
  /** The mark of this state, which no other one has. */
  readonly lineage: string
  readonly changed_at: Date
}

const COLUMNS = 'id, name, settings, revision, lineage, changed_at'
/** What lies in the bin is found by nobody who does not look there. */
const KEPT = 'deleted_at IS NULL'
export const MOST_LISTED = 500

export interface ListedRow extends Pick<WorkspaceRow, 'id' | 'name' | 'revision' | 'changed_at'> {
  readonly chapters: readonly string[] | null
  readonly tally: Tally | null
  readonly trouble: string | null
  /** Whether that is what is found in it now. */
  readonly is_current: number
}

/** Those whose names hold these words, the last changed first, with what was found in them. */
export const listWorkspaces = (database: Database, named = ''): Promise<ListedRow[]> =>
  database.rows<ListedRow>(
    `SELECT w.id, w.name, w.revision, w.changed_at, s.chapters, s.tally, s.trouble, COALESCE(s.lineage = w.lineage, 0) AS is_current
     FROM workspace w LEFT JOIN summary s ON s.workspace_id = w.id
     WHERE w.deleted_at IS NULL AND w.name LIKE ? ORDER BY w.changed_at DESC, w.id LIMIT ${MOST_LISTED}`,
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

/** A mark for a state of a workspace. */
export const newLineage = (): string => randomBytes(16).toString('base64url')

export async function insertWorkspace(database: Database, id: string, name: string, settings: Settings): Promise<void> {
  const lineage = newLineage()
  await database.write('INSERT INTO workspace (id, name, settings, lineage, origin) VALUES (?, ?, ?, ?, ?)', [
    id,
    name,
    JSON.stringify(settings),
    lineage,
    lineage,
  ])
}

/** The mark that a workspace had at a revision; undefined where there was none such, empty where it was not noted then. */
export async function lineageAt(database: Database, id: string, revision: number): Promise<string | undefined> {
  const [row] = await database.rows<{ lineage: string | null }>(
    `SELECT CASE WHEN w.revision = ? THEN w.lineage WHEN w.revision < ? THEN NULL WHEN ? = 0 THEN w.origin
       ELSE (SELECT c.lineage FROM \`change\` c WHERE c.workspace_id = w.id AND c.revision = ?) END AS lineage
     FROM workspace w WHERE w.id = ?`,
    [revision, revision, revision, revision, id],
  )
  return row?.lineage ?? undefined
}

export async function advanceWorkspace(
  database: Database,
  id: string,
  { revision, lineage }: Pick<WorkspaceRow, 'revision' | 'lineage'>,
  name: string,
  settings: Settings,
): Promise<void> {
  await database.write(
    'UPDATE workspace SET revision = ?, lineage = ?, name = ?, settings = ?, changed_at = CURRENT_TIMESTAMP(3) WHERE id = ?',
    [revision, lineage, name, JSON.stringify(settings), id],
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
): Promise<{ id: string; revision: number; lineage: string; talk: number }[]> =>
  database.rows<{ id: string; revision: number; lineage: string; talk: number }>(
    "SELECT w.id, w.revision, w.lineage, w.talk FROM workspace w JOIN JSON_TABLE(?, '$[*]' COLUMNS (id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin PATH '$')) t ON t.id = w.id WHERE w.deleted_at IS NULL",
    [JSON.stringify(ids)],
  )
