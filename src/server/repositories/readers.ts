import type { Database } from '../db/pool'

export interface ReaderRow {
  readonly id: string
  readonly workspace_id: string
  readonly reach: 'view' | 'chapter' | 'workspace'
  /** The view, or the notation of the chapter. */
  readonly of_id: string
  /** The day that is shown; none for that of reading. */
  readonly day: string | null
  readonly until: string | null
  readonly findings: number
  /** Whether those who read there may say something. */
  readonly comments: number
  readonly made_at: Date
  readonly read_at: Date | null
}

const COLUMNS = 'id, workspace_id, reach, of_id, day, until, findings, comments, made_at, read_at'

export async function insertReader(
  database: Database,
  row: Omit<ReaderRow, 'made_at' | 'read_at'> & { readonly digest: string },
): Promise<void> {
  await database.write(
    'INSERT INTO reader (id, workspace_id, reach, of_id, day, until, findings, comments, digest) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)',
    [row.id, row.workspace_id, row.reach, row.of_id, row.day, row.until, row.findings, row.comments, row.digest],
  )
}

export const listReaders = (database: Database, workspace: string): Promise<ReaderRow[]> =>
  database.rows<ReaderRow>(`SELECT ${COLUMNS} FROM reader WHERE workspace_id = ? ORDER BY made_at, id`, [workspace])

export async function findReader(database: Database, digest: string): Promise<ReaderRow | undefined> {
  const [row] = await database.rows<ReaderRow>(`SELECT ${COLUMNS} FROM reader WHERE digest = ?`, [digest])
  return row
}

/** Notes that it was read; within a minute of the last time it is not worth a write. */
export async function noteRead(database: Database, id: string): Promise<void> {
  await database.write(
    'UPDATE reader SET read_at = CURRENT_TIMESTAMP(3) WHERE id = ? AND (read_at IS NULL OR read_at < CURRENT_TIMESTAMP(3) - INTERVAL 1 MINUTE)',
    [id],
  )
}

/** Switches comments on or off; answers whether there is such an address. */
export async function setComments(database: Database, workspace: string, id: string, on: boolean): Promise<boolean> {
  const { affectedRows } = await database.write('UPDATE reader SET comments = ? WHERE workspace_id = ? AND id = ?', [
    on ? 1 : 0,
    workspace,
    id,
  ])
  return affectedRows > 0
}

export async function deleteReader(database: Database, workspace: string, id: string): Promise<boolean> {
  const { affectedRows } = await database.write('DELETE FROM reader WHERE workspace_id = ? AND id = ?', [workspace, id])
  return affectedRows > 0
}
