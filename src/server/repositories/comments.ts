import type { Step } from '../../core/model'
import type { Database } from '../db/pool'

export interface Proposal {
  readonly label: string
  readonly steps: readonly Step[]
}

export interface CommentRow {
  readonly id: string
  readonly thread: string
  readonly reader_id: string | null
  readonly view_id: string
  readonly fact_id: string | null
  readonly x: number | null
  readonly y: number | null
  readonly author: string
  readonly by_reader: number
  readonly words: string
  /** How a proposal is called; none where nothing is proposed. */
  readonly proposed: string | null
  readonly made_at: Date
  readonly resolved_at: Date | null
  readonly resolved_by: string | null
  readonly taken: number
}

const COLUMNS = `id, thread, reader_id, view_id, fact_id, x, y, author, by_reader, words,
  JSON_UNQUOTE(JSON_EXTRACT(proposal, '$.label')) AS proposed, made_at, resolved_at, resolved_by, taken`
/** What was taken away can be brought back for a while, and is told to nobody. */
const KEPT = 'gone_at IS NULL'
const DAYS_GONE = 30

/** All that was said, in the order in which it was. */
export const listComments = (database: Database, workspace: string): Promise<CommentRow[]> =>
  database.rows<CommentRow>(`SELECT ${COLUMNS} FROM comment WHERE workspace_id = ? AND ${KEPT} ORDER BY seq`, [
    workspace,
  ])

export async function findComment(
  database: Database,
  workspace: string,
  id: string,
): Promise<(CommentRow & { readonly proposal: Proposal | null }) | undefined> {
  const [row] = await database.rows<CommentRow & { readonly proposal: Proposal | null }>(
    `SELECT ${COLUMNS}, proposal FROM comment WHERE workspace_id = ? AND id = ? AND ${KEPT}`,
    [workspace, id],
  )
  return row
}

/** What was said under an identity, be it taken away since. */
export async function saidAs(
  database: Database,
  workspace: string,
  id: string,
): Promise<{ readonly author: string; readonly words: string } | undefined> {
  const [row] = await database.rows<{ author: string; words: string }>(
    'SELECT author, words FROM comment WHERE workspace_id = ? AND id = ?',
    [workspace, id],
  )
  return row
}

/** Who has said something in a thread, and the addresses that they left for answers. */
export const speakersOf = (
  database: Database,
  workspace: string,
  thread: string,
): Promise<{ author: string; mail: string | null; by_reader: number }[]> =>
  database.rows<{ author: string; mail: string | null; by_reader: number }>(
    `SELECT author, mail, by_reader FROM comment WHERE workspace_id = ? AND thread = ? AND ${KEPT} ORDER BY seq`,
    [workspace, thread],
  )

export interface NewComment extends Omit<
  CommentRow,
  'proposed' | 'made_at' | 'resolved_at' | 'resolved_by' | 'taken' | 'by_reader'
> {
  readonly by_reader: boolean
  readonly mail: string | null
  readonly proposal: Proposal | null
}

export async function insertComment(database: Database, workspace: string, one: NewComment): Promise<void> {
  await database.write(
    'INSERT INTO comment (workspace_id, id, thread, reader_id, view_id, fact_id, x, y, author, by_reader, mail, words, proposal) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
    [
      workspace,
      one.id,
      one.thread,
      one.reader_id,
      one.view_id,
      one.fact_id,
      one.x,
      one.y,
      one.author,
      one.by_reader ? 1 : 0,
      one.mail,
      one.words,
      one.proposal && JSON.stringify(one.proposal),
    ],
  )
}

/** How much colleagues or readers have said in a workspace, in one of its threads, and lately. What was taken away counts as said. */
export async function countComments(
  database: Database,
  workspace: string,
  {
    thread,
    byReader,
    reader,
    minutes,
  }: { readonly thread: string; readonly byReader: boolean; readonly reader: string | null; readonly minutes: number },
): Promise<{ all: number; inThread: number; lately: number }> {
  const own = `by_reader = ${byReader ? 1 : 0}`
  const lately = reader === null ? own : `${own} AND reader_id = ?`
  const [row] = await database.rows<{ all_of: number; in_thread: number; lately: number }>(
    `SELECT COUNT(CASE WHEN ${KEPT} AND ${own} THEN 1 END) AS all_of,
      COUNT(CASE WHEN ${KEPT} AND ${own} AND thread = ? THEN 1 END) AS in_thread,
      COUNT(CASE WHEN ${lately} AND made_at > CURRENT_TIMESTAMP(3) - INTERVAL ${Math.trunc(minutes)} MINUTE THEN 1 END) AS lately
      FROM comment WHERE workspace_id = ?`,
    [thread, ...(reader === null ? [] : [reader]), workspace],
  )
  return { all: row?.all_of ?? 0, inThread: row?.in_thread ?? 0, lately: row?.lately ?? 0 }
}

/** Notes that a thread is resolved, and by whom; or that it is open again. Who was first stays. */
export async function resolveThread(
  database: Database,
  workspace: string,
  thread: string,
  by: string | undefined,
): Promise<void> {
  if (by === undefined)
    await database.write(
      'UPDATE comment SET resolved_at = NULL, resolved_by = NULL, taken = FALSE WHERE workspace_id = ? AND id = ?',
      [workspace, thread],
    )
  else
    await database.write(
      'UPDATE comment SET resolved_at = CURRENT_TIMESTAMP(3), resolved_by = ? WHERE workspace_id = ? AND id = ? AND resolved_at IS NULL',
      [by, workspace, thread],
    )
}

/** Notes that what a thread proposes is a change now, which resolves it. */
export async function noteTaken(database: Database, workspace: string, thread: string, by: string): Promise<void> {
  await database.write(
    'UPDATE comment SET resolved_at = CURRENT_TIMESTAMP(3), resolved_by = ?, taken = TRUE WHERE workspace_id = ? AND id = ?',
    [by, workspace, thread],
  )
}

/** Takes a comment away or brings it back; the first of a thread with all that was answered to it. Answers whether there was one. */
export async function hideComment(
  database: Database,
  workspace: string,
  id: string,
  hidden: boolean,
): Promise<boolean> {
  const { affectedRows } = await database.write(
    `UPDATE comment SET gone_at = ${hidden ? 'CURRENT_TIMESTAMP(3)' : 'NULL'} WHERE workspace_id = ? AND id = ?`,
    [workspace, id],
  )
  return affectedRows > 0
}

/** Ends what was taken away long ago, and the answers to it. */
export async function forgetHidden(database: Database, workspace: string): Promise<void> {
  await database.write(
    `DELETE answer FROM comment answer JOIN comment first ON first.workspace_id = answer.workspace_id AND first.id IN (answer.thread, answer.id)
      WHERE answer.workspace_id = ? AND first.gone_at < CURRENT_TIMESTAMP(3) - INTERVAL ${DAYS_GONE} DAY`,
    [workspace],
  )
}

/** How much has happened to the comments of a workspace. */
export async function talkOf(database: Database, workspace: string): Promise<number> {
  const [row] = await database.rows<{ talk: number }>('SELECT talk FROM workspace WHERE id = ?', [workspace])
  return row?.talk ?? 0
}

export async function noteTalk(database: Database, workspace: string): Promise<void> {
  await database.write('UPDATE workspace SET talk = talk + 1 WHERE id = ?', [workspace])
}
