import type { Database } from '../db/pool'

export interface Letter {
  readonly recipient: string
  readonly subject: string
  readonly words: string
}

export interface LetterRow extends Letter {
  readonly id: number
  readonly tries: number
}

/** A letter that waits until whoever it is for has said that they want letters stays `held`. */
export async function insertLetter(database: Database, letter: Letter, held = false): Promise<void> {
  const { recipient, subject, words } = letter
  await database.write('INSERT INTO letter (recipient, subject, words, held) VALUES (?, ?, ?, ?)', [
    recipient,
    subject,
    words,
    held ? 1 : 0,
  ])
}

/** Takes letters that are due, so that no other server takes them too; each is due again later, a longer while each time, unless it is sent. */
export async function takeDue(database: Database, most: number): Promise<LetterRow[]> {
  const rows = await database.rows<LetterRow>(
    `SELECT id, recipient, subject, words, tries FROM letter WHERE NOT held AND try_at <= CURRENT_TIMESTAMP(3) ORDER BY id LIMIT ${Math.trunc(most)} FOR UPDATE SKIP LOCKED`,
  )
  for (const { id, tries } of rows)
    await database.write(
      'UPDATE letter SET tries = tries + 1, try_at = CURRENT_TIMESTAMP(3) + INTERVAL ? SECOND WHERE id = ?',
      [Math.min(3600, 30 * 2 ** tries), id],
    )
  return rows
}

export async function deleteLetter(database: Database, id: number): Promise<void> {
  await database.write('DELETE FROM letter WHERE id = ?', [id])
}

/** What somebody has said to letters, and whether they were asked lately. */
export interface MailboxRow {
  readonly address: string
  readonly secret: string
  readonly confirmed_at: Date | null
  readonly stopped_at: Date | null
  readonly was_asked: number
}

/** How long somebody who was asked is not asked again. */
const ASKED_DAYS = 30
const COLUMNS = `address, secret, confirmed_at, stopped_at, COALESCE(asked_at > CURRENT_TIMESTAMP(3) - INTERVAL ${ASKED_DAYS} DAY, 0) AS was_asked`

/** The row of an address, which is there from now on. */
export async function mailboxOf(database: Database, address: string, secret: string): Promise<MailboxRow> {
  await database.write('INSERT IGNORE INTO mailbox (address, secret) VALUES (?, ?)', [address, secret])
  const [row] = await database.rows<MailboxRow>(`SELECT ${COLUMNS} FROM mailbox WHERE address = ?`, [address])
  if (!row) throw new Error('a row that was written is not there')
  return row
}

export async function findMailbox(database: Database, secret: string): Promise<MailboxRow | undefined> {
  const [row] = await database.rows<MailboxRow>(`SELECT ${COLUMNS} FROM mailbox WHERE secret = ?`, [secret])
  return row
}

export async function noteAsked(database: Database, address: string): Promise<void> {
  await database.write('UPDATE mailbox SET asked_at = CURRENT_TIMESTAMP(3) WHERE address = ?', [address])
}

/** Notes whether letters are wanted. Those that waited for it are sent, or are gone. */
export async function noteWanted(database: Database, address: string, wanted: boolean): Promise<void> {
  await database.write(
    wanted
      ? 'UPDATE mailbox SET confirmed_at = CURRENT_TIMESTAMP(3), stopped_at = NULL WHERE address = ?'
      : 'UPDATE mailbox SET stopped_at = CURRENT_TIMESTAMP(3), confirmed_at = NULL WHERE address = ?',
    [address],
  )
  await database.write(
    wanted
      ? 'UPDATE letter SET held = FALSE, try_at = CURRENT_TIMESTAMP(3) WHERE recipient = ? AND held'
      : 'DELETE FROM letter WHERE recipient = ?',
    [address],
  )
}

/** Letters that wait for a word of whoever they are for; what has waited too long is gone. */
export async function countHeld(database: Database, address: string): Promise<number> {
  await database.write(
    `DELETE FROM letter WHERE held AND made_at < CURRENT_TIMESTAMP(3) - INTERVAL ${ASKED_DAYS} DAY`,
    [],
  )
  const [row] = await database.rows<{ count: number }>(
    'SELECT COUNT(*) AS count FROM letter WHERE recipient = ? AND held',
    [address],
  )
  return row?.count ?? 0
}

/** How many letters were written in the last hour: by this database's servers, to somebody, by somebody. Each as a digest. */
export async function countWritten(
  database: Database,
  { recipient, sender }: { readonly recipient: string; readonly sender: string },
): Promise<{ all: number; to: number; by: number }> {
  const lately = 'written_at > CURRENT_TIMESTAMP(3) - INTERVAL 1 HOUR'
  const [row] = await database.rows<{ all_of: number; to_them: number; by_them: number }>(
    `SELECT (SELECT COUNT(*) FROM letter_written WHERE ${lately}) AS all_of,
      (SELECT COUNT(*) FROM letter_written WHERE recipient = ? AND ${lately}) AS to_them,
      (SELECT COUNT(*) FROM letter_written WHERE sender = ? AND ${lately}) AS by_them`,
    [recipient, sender],
  )
  return { all: row?.all_of ?? 0, to: row?.to_them ?? 0, by: row?.by_them ?? 0 }
}

export async function noteWritten(database: Database, recipient: string, sender: string): Promise<void> {
  await database.write('DELETE FROM letter_written WHERE written_at < CURRENT_TIMESTAMP(3) - INTERVAL 1 DAY', [])
  await database.write('INSERT INTO letter_written (recipient, sender) VALUES (?, ?)', [recipient, sender])
}

/** Whether an address has stood in the facts of a workspace for some minutes: what somebody has stated just now is no reason to write there. */
export async function isStatedBefore(
  database: Database,
  workspace: string,
  address: string,
  minutes: number,
): Promise<boolean> {
  if (minutes <= 0) return true
  const since = `CURRENT_TIMESTAMP(3) - INTERVAL ${Math.trunc(minutes)} MINUTE`
  const [row] = await database.rows<{ is_old: number; is_new: number }>(
    `SELECT (SELECT created_at < ${since} FROM workspace WHERE id = ?) AS is_old,
      EXISTS(SELECT 1 FROM \`change\` WHERE workspace_id = ? AND made_at >= ${since} AND INSTR(steps, ?) > 0) AS is_new`,
    [workspace, workspace, address],
  )
  return row?.is_old === 1 && row.is_new === 0
}
