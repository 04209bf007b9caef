import type { Step } from '../../core/model'
import { changesAfter } from '../repositories/changes'
import type { Store } from './store'

export interface SharedChange {
  readonly revision: number
  readonly id: string
  readonly label: string
  readonly author: string
  readonly at: string
  readonly steps: readonly Step[]
}

/** Changes after a revision, oldest first, at most `most`. */
export async function changesSince(
  store: Store,
  workspace: string,
  revision: number,
  most: number,
): Promise<SharedChange[]> {
  const rows = await changesAfter(store.database, workspace, revision, most)
  return rows.map((row) => ({
    revision: row.revision,
    id: row.change_id,
    label: row.label,
    author: row.author,
    at: row.made_at.toISOString(),
    steps: row.steps,
  }))
}
