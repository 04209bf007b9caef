import { checkTouched, readSteps } from '../../core/file'
import { apply, clashes, ModelError, type Step } from '../../core/model'
import { registry } from '../../core/notations'
import { inTransaction, type Database } from '../db/pool'
import { changesAfter, findChange, insertChange, type ChangeRow } from '../repositories/changes'
import { writeTouched } from '../repositories/facts'
import { advanceWorkspace, lockWorkspace, newLineage } from '../repositories/workspaces'
import { takeOver } from './comments'
import { BadRequest, Clash, NotFound } from './errors'
import { announce } from './feed'
import { refuseAstray } from './history'
import { digestOf } from './digest'
import type { Store } from './store'
import { snapshotOf } from './workspaces'

/** A change as a browser sends it. Its steps are not trusted yet. */
export interface SentChange {
  readonly id: string
  /** The revision it was made on. */
  readonly base: number
  /** The mark of the state that it was made on. */
  readonly lineage?: string
  readonly label: string
  readonly author: string
  readonly steps: unknown
  /** The thread whose proposal this takes over. */
  readonly takes?: string
}

/** What only the page knows that sends it: whose change it is. What it says of itself is told to nobody. */
export type Writer = string | undefined

/** Changes of others that a change is compared with. */
const MOST_BEHIND = 5000
/** Changes of others that a refusal names. */
const NAMED = 20

/**
 * Makes a change part of the workspace, in one transaction with its history, and answers the new revision.
 * Made on an older revision, it is merged when it touches other facts than what others did since; else refused with both sides.
 * Sent again, it is not made again; sent again as something else, it is refused. @throws NotFound, BadRequest with paths, Clash, Astray.
 */
export async function commitChange(
  store: Store,
  workspace: string,
  sent: SentChange,
  secret?: Writer,
): Promise<{ revision: number; lineage: string }> {
  const digest = digestOf(JSON.stringify([sent.label, sent.steps, sent.takes ?? null]))
  const writer = secret === undefined ? null : digestOf(secret)
  const done = await inTransaction(store.pool, async (database) => {
    const row = await lockWorkspace(database, workspace)
    if (!row) throw new NotFound('There is no such workspace.')
    const before = await findChange(database, workspace, sent.id)
    if (before) {
      if (before.digest !== null && before.digest !== digest)
        throw clashOf(sent.label, [before], [], row.revision, 'Something else was sent under this name before.')
      return { revision: before.revision, lineage: before.lineage, snapshot: undefined }
    }
    await refuseAstray({ database }, workspace, sent.base, sent.lineage)
    if (sent.base > row.revision)
      throw new BadRequest('The change was made on a revision that does not exist yet.', [
        { path: 'base', message: `is ${sent.base}; the workspace is at ${row.revision}` },
      ])
    const current = await snapshotOf({ ...store, database }, row)
    const steps = readSteps(sent.steps, current.model, registry)
    const since = await othersSince(database, workspace, sent, writer, row.revision)
    refuseClash(sent.label, steps, since, row.revision)
    const { model, inverse } = applied(sent.label, steps, current.model, since, row.revision)
    checkTouched(model, steps, registry)
    const revision = row.revision + 1
    const lineage = newLineage()
    await writeTouched(database, workspace, model, steps)
    await insertChange(database, workspace, {
      revision,
      change_id: sent.id,
      label: sent.label,
      author: sent.author,
      steps,
      inverse: inverse.steps,
      lineage,
      writer,
      digest,
    })
    await advanceWorkspace(database, workspace, { revision, lineage }, model.name, model.settings)
    if (sent.takes !== undefined) await takeOver(database, workspace, sent.takes, sent.author)
    return { revision, lineage, snapshot: { id: workspace, revision, lineage, model } }
  })
  if (done.snapshot) {
    store.memory.remember(done.snapshot)
    announce(workspace)
  }
  return { revision: done.revision, lineage: done.lineage }
}

/** What others did since the change was made. @throws Clash when that is too much to be compared */
async function othersSince(
  database: Database,
  workspace: string,
  { base, label }: SentChange,
  writer: string | null,
  revision: number,
): Promise<readonly ChangeRow[]> {
  if (base === revision) return []
  if (revision - base > MOST_BEHIND) {
    const newest = await changesAfter(database, workspace, revision - NAMED, NAMED)
    throw clashOf(label, newest, [], revision)
  }
  const since = await changesAfter(database, workspace, base, MOST_BEHIND)
  // What a page made itself is what its next change was made on.
  return writer === null ? since : since.filter((change) => change.writer !== writer)
}

function refuseClash(label: string, steps: readonly Step[], since: readonly ChangeRow[], revision: number): void {
  const theirs = since
    .map((change) => ({ change, facts: clashes(steps, change.steps) }))
    .filter(({ facts }) => facts.length > 0)
  if (theirs.length === 0) return
  throw clashOf(
    label,
    theirs.map(({ change }) => change),
    [...new Set(theirs.flatMap(({ facts }) => facts))],
    revision,
  )
}

function applied(
  label: string,
  steps: readonly Step[],
  model: Parameters<typeof apply>[0],
  since: readonly ChangeRow[],
  revision: number,
) {
  try {
    return apply(model, { label, steps })
  } catch (error) {
    if (!(error instanceof ModelError)) throw error
    // On the newest facts a step that does not fit is a mistake; on older ones somebody was faster.
    if (since.length === 0 || error.code === 'bad-path')
      throw new BadRequest(error.message, [{ path: `steps[${error.step ?? 0}]`, message: error.message }])
    throw clashOf(label, since, [], revision)
  }
}

const clashOf = (
  ours: string,
  theirs: readonly ChangeRow[],
  facts: readonly string[],
  revision: number,
  words = 'Somebody changed the same facts meanwhile.',
): Clash =>
  new Clash(words, {
    ours,
    theirs: theirs.slice(-NAMED).map(({ label, author, made_at }) => ({ label, author, at: made_at.toISOString() })),
    facts: facts.slice(0, 100),
    revision,
  })
