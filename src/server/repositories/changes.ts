import type { Step } from '../../core/model'
import type { Database } from '../db/pool'

export interface ChangeRow {
  readonly revision: number
  readonly change_id: string
  readonly label: string
  readonly author: string
  readonly made_at: Date
  readonly steps: readonly Step[]
}

const COLUMNS = 'revision, change_id, label, author, made_at, steps'

export const changesAfter = (
  database: Database,
  workspace: string,
  revision: number,
  most: number,
): Promise<ChangeRow[]> =>
  database.rows<ChangeRow>(
    `SELECT ${COLUMNS} FROM \`change\` WHERE workspace_id = ? AND revision > ? ORDER BY revision LIMIT ${Math.trunc(most)}`,
    [workspace, revision],
  )

export async function findChange(
  database: Database,
  workspace: string,
  changeId: string,
): Promise<ChangeRow | undefined> {
  const [row] = await database.rows<ChangeRow>(
    `SELECT ${COLUMNS} FROM \`change\` WHERE workspace_id = ? AND change_id = ?`,
    [workspace, changeId],
  )
  return row
}

export async function insertChange(
  database: Database,
  workspace: string,
  change: Omit<ChangeRow, 'made_at'> & { readonly inverse: readonly Step[] },
): Promise<void> {
  await database.write(
    'INSERT INTO `change` (workspace_id, revision, change_id, label, author, steps, inverse) VALUES (?, ?, ?, ?, ?, ?, ?)',
    [
      workspace,
      change.revision,
      change.change_id,
      change.label,
      change.author,
      JSON.stringify(change.steps),
      JSON.stringify(change.inverse),
    ],
  )
}
