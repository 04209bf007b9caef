import { apply, type Model, type Step } from '../../core/model'
import { changesAfter, changesBefore, inversesAfter, type ListedChange } from '../repositories/changes'
import { lineageAt } from '../repositories/workspaces'
import { Astray, NotFound } from './errors'
import type { Store } from './store'
import { loadWorkspace } from './workspaces'

export interface SharedChange {
  readonly revision: number
  /** The mark of the state that it led to. */
  readonly lineage: string
  readonly id: string
  readonly label: string
  readonly author: string
  readonly at: string
  readonly steps: readonly Step[]
}

/**
 * Whether a revision is the one that somebody knows. What was told before a failure may have been undone by it since, and another change may have
 * taken its number. @throws Astray
 */
export async function refuseAstray(
  store: Pick<Store, 'database'>,
  workspace: string,
  revision: number,
  lineage: string | undefined,
): Promise<void> {
  if (lineage === undefined || lineage === '') return
  const known = await lineageAt(store.database, workspace, revision)
  // Of what is older than the marks nothing is known.
  if (known !== lineage && known !== '') throw new Astray()
}

/** Changes after a revision, oldest first, at most `most`. */
export async function changesSince(
  store: Store,
  workspace: string,
  revision: number,
  most: number,
): Promise<SharedChange[]> {
  const rows = await changesAfter(store.database, workspace, revision, most)
  return rows.map((row) => ({ ...entryOf(row), steps: row.steps }))
}

export type HistoryEntry = Omit<SharedChange, 'steps'>

const entryOf = (row: ListedChange): HistoryEntry => ({
  revision: row.revision,
  lineage: row.lineage,
  id: row.change_id,
  label: row.label,
  author: row.author,
  at: row.made_at.toISOString(),
})

/** The changes before a revision, the newest first: who, when and in which words. */
export async function historyBefore(
  store: Store,
  workspace: string,
  revision: number,
  most: number,
): Promise<HistoryEntry[]> {
  const rows = await changesBefore(store.database, workspace, revision, most)
  return rows.map(entryOf)
}

/** The facts as they were at a revision: those of now with every later change taken back. O(changes since). @throws NotFound */
export async function modelAt(store: Store, workspace: string, revision: number): Promise<Model> {
  const now = await loadWorkspace(store, workspace)
  if (revision > now.revision) throw new NotFound('There is no such revision.')
  const inverses = await inversesAfter(store.database, workspace, revision)
  // Changes made between the two reads belong to a later revision than the facts that were read.
  const until = inverses.slice(Math.max(0, inverses.length - (now.revision - revision)))
  // All of it in one go: each application copies what it touches.
  return apply(now.model, { label: 'Go back', steps: until.flatMap(({ inverse }) => inverse) }).model
}
