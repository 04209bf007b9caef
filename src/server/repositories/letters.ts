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

export async function insertLetter(database: Database, { recipient, subject, words }: Letter): Promise<void> {
  await database.write('INSERT INTO letter (recipient, subject, words) VALUES (?, ?, ?)', [recipient, subject, words])
}

/** Takes letters that are due, so that no other server takes them too; each is due again later, a longer while each time, unless it is sent. */
export async function takeDue(database: Database, most: number): Promise<LetterRow[]> {
  const rows = await database.rows<LetterRow>(
    `SELECT id, recipient, subject, words, tries FROM letter WHERE try_at <= CURRENT_TIMESTAMP(3) ORDER BY id LIMIT ${Math.trunc(most)} FOR UPDATE SKIP LOCKED`,
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
