import type { Step } from '../../core/model'
import type { Database } from '../db/pool'

export interface ChangeRow {
  readonly revision: number
  readonly change_id: string
  readonly label: string
  readonly author: string
  readonly made_at: Date
  readonly steps: readonly Step[]
  /** The mark of the state that it led to. */
  readonly lineage: string
  /** Whose it is, as a digest; none of what is older than that, or of no page. */
  readonly writer: string | null
  /** Of what was sent. */
  readonly digest: string | null
}

/** A change as it is listed. */
export type ListedChange = Pick<ChangeRow, 'revision' | 'change_id' | 'label' | 'author' | 'made_at' | 'lineage'>

const COLUMNS = 'revision, change_id, label, author, made_at, steps, lineage, writer, digest'

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

/** The newest changes before a revision (or of all), the newest first, without their steps. */
export const changesBefore = (
  database: Database,
  workspace: string,
  revision: number,
  most: number,
): Promise<ListedChange[]> =>
  database.rows<ListedChange>(
    `SELECT revision, change_id, label, author, made_at, lineage FROM \`change\` WHERE workspace_id = ? AND revision < ? ORDER BY revision DESC LIMIT ${Math.trunc(most)}`,
    [workspace, revision],
  )

/** What takes back every change after a revision, the newest first. */
export const inversesAfter = (
  database: Database,
  workspace: string,
  revision: number,
): Promise<{ label: string; inverse: Step[] }[]> =>
  database.rows<{ label: string; inverse: Step[] }>(
    'SELECT label, inverse FROM `change` WHERE workspace_id = ? AND revision > ? ORDER BY revision DESC',
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
    'INSERT INTO `change` (workspace_id, revision, change_id, label, author, steps, inverse, lineage, writer, digest) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
    [
      workspace,
      change.revision,
      change.change_id,
      change.label,
      change.author,
      JSON.stringify(change.steps),
      JSON.stringify(change.inverse),
      change.lineage,
      change.writer,
      change.digest,
    ],
  )
}
