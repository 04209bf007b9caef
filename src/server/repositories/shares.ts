import type { Database } from '../db/pool'

export interface ShareRow {
  readonly id: string
  readonly workspace_id: string
  readonly view_id: string
  readonly format: string
  readonly made_at: Date
  readonly read_at: Date | null
}

const COLUMNS = 'id, workspace_id, view_id, format, made_at, read_at'

export async function insertShare(
  database: Database,
  { id, workspace_id, view_id, format, digest }: Omit<ShareRow, 'made_at' | 'read_at'> & { readonly digest: string },
): Promise<void> {
  await database.write('INSERT INTO `share` (id, workspace_id, view_id, format, digest) VALUES (?, ?, ?, ?, ?)', [
    id,
    workspace_id,
    view_id,
    format,
    digest,
  ])
}

export const listShares = (database: Database, workspace: string, view: string): Promise<ShareRow[]> =>
  database.rows<ShareRow>(
    `SELECT ${COLUMNS} FROM \`share\` WHERE workspace_id = ? AND view_id = ? ORDER BY made_at, id`,
    [workspace, view],
  )

export async function findShare(database: Database, digest: string): Promise<ShareRow | undefined> {
  const [row] = await database.rows<ShareRow>(`SELECT ${COLUMNS} FROM \`share\` WHERE digest = ?`, [digest])
  return row
}

/** Notes a reading; those within a minute of the last one are not worth a write. */
export async function noteReading(database: Database, id: string): Promise<void> {
  await database.write(
    'UPDATE `share` SET read_at = CURRENT_TIMESTAMP(3) WHERE id = ? AND (read_at IS NULL OR read_at < CURRENT_TIMESTAMP(3) - INTERVAL 1 MINUTE)',
    [id],
  )
}

export async function deleteShare(database: Database, workspace: string, id: string): Promise<boolean> {
  const { affectedRows } = await database.write('DELETE FROM `share` WHERE workspace_id = ? AND id = ?', [
    workspace,
    id,
  ])
  return affectedRows > 0
}
