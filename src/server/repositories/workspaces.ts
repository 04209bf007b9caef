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

export const listWorkspaces = (database: Database): Promise<WorkspaceRow[]> =>
  database.rows<WorkspaceRow>(`SELECT ${COLUMNS} FROM workspace ORDER BY changed_at DESC, id LIMIT 500`)

export async function findWorkspace(database: Database, id: string): Promise<WorkspaceRow | undefined> {
  const [row] = await database.rows<WorkspaceRow>(`SELECT ${COLUMNS} FROM workspace WHERE id = ?`, [id])
  return row
}

/** The row, locked until the transaction ends: changes of one workspace are made one after another. */
export async function lockWorkspace(database: Database, id: string): Promise<WorkspaceRow | undefined> {
  const [row] = await database.rows<WorkspaceRow>(`SELECT ${COLUMNS} FROM workspace WHERE id = ? FOR UPDATE`, [id])
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

export async function deleteWorkspace(database: Database, id: string): Promise<boolean> {
  const { affectedRows } = await database.write('DELETE FROM workspace WHERE id = ?', [id])
  return affectedRows > 0
}

/** Revisions of several workspaces: what a feed polls. */
export const revisionsOf = (database: Database, ids: readonly string[]): Promise<{ id: string; revision: number }[]> =>
  database.rows<{ id: string; revision: number }>(
    "SELECT w.id, w.revision FROM workspace w JOIN JSON_TABLE(?, '$[*]' COLUMNS (id VARCHAR(64) CHARACTER SET ascii COLLATE ascii_bin PATH '$')) t ON t.id = w.id",
    [JSON.stringify(ids)],
  )
