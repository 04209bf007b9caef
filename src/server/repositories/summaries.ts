import type { Tally } from '../../core/findings'
import type { Day } from '../../core/model'
import type { Database } from '../db/pool'

/** What was found in a workspace. */
export interface Summary {
  readonly chapters: readonly string[]
  /** Absent where it could not be found out; `trouble` says why. */
  readonly tally?: Tally | undefined
  readonly trouble?: string | undefined
}

/** Workspaces that have changed since they were looked at, or were looked at on another day; the last changed first. */
export const dueForSummary = (database: Database, day: Day, most: number): Promise<{ id: string }[]> =>
  database.rows<{ id: string }>(
    `SELECT w.id FROM workspace w LEFT JOIN summary s ON s.workspace_id = w.id
     WHERE w.deleted_at IS NULL AND (s.workspace_id IS NULL OR s.lineage <> w.lineage OR s.day <> ?)
     ORDER BY w.changed_at DESC, w.id LIMIT ${Math.trunc(most)}`,
    [day],
  )

/** Keeps what was found; of a workspace that is gone meanwhile nothing. */
export async function writeSummary(
  database: Database,
  { id, lineage }: { readonly id: string; readonly lineage: string },
  day: Day,
  { chapters, tally, trouble }: Summary,
): Promise<void> {
  await database.write(
    `INSERT INTO summary (workspace_id, lineage, day, chapters, tally, trouble)
     SELECT id, ?, ?, ?, ?, ? FROM workspace WHERE id = ?
     ON DUPLICATE KEY UPDATE lineage = VALUES(lineage), day = VALUES(day), chapters = VALUES(chapters), tally = VALUES(tally), trouble = VALUES(trouble)`,
    [lineage, day, JSON.stringify(chapters), tally ? JSON.stringify(tally) : null, trouble ?? null, id],
  )
}
