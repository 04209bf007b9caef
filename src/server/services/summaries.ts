import { asDay, type Day } from '../../core/model'
import { isUnavailable } from '../db/pool'
import { dueForSummary, writeSummary, type Summary } from '../repositories/summaries'
import { emptyBin } from '../repositories/workspaces'
import { carryOut } from '../threads/crew'
import { Gone, NotFound, Overload, TooLong } from './errors'
import type { Store } from './store'
import { loadWorkspace } from './workspaces'

/** How long the check of one workspace may take. */
const SUMMARY_MS = 20_000
const LOOK_MS = 2000
const BATCH = 20
/** Looked for what the bin has kept for long enough. */
const BIN_MS = 600_000

const today = (): Day => asDay(new Date().toISOString().slice(0, 10))

let looking: Promise<void> | undefined
let timers: readonly ReturnType<typeof setInterval>[] | undefined

/** From now on workspaces are looked at after they have changed and when a new day has begun, one after another, when there is nothing else to do. */
export function keepSummaries(store: Store): void {
  if (timers) return
  const look = () => {
    looking ??= lookAtDue(store, today())
      .catch((error: unknown) => {
        if (!isUnavailable(error) && !(error instanceof Overload))
          console.error('Workspaces could not be looked at:', error)
      })
      .finally(() => (looking = undefined))
  }
  const empty = () =>
    void emptyBin(store.database).catch((error: unknown) => {
      if (!isUnavailable(error)) console.error('The bin could not be emptied:', error)
    })
  timers = [setInterval(look, LOOK_MS).unref(), setInterval(empty, BIN_MS).unref()]
  look()
  empty()
}

/** Looks at all workspaces that are due on a day. One that cannot be read or checked says so, and stops no other. O(facts) of those that are due. */
export async function lookAtDue(store: Store, day: Day): Promise<void> {
  for (;;) {
    const due = await dueForSummary(store.database, day, BATCH)
    for (const { id } of due) await lookAt(store, id, day)
    if (due.length < BATCH) return
  }
}

async function lookAt(store: Store, id: string, day: Day): Promise<void> {
  const found = await loadWorkspace(store, id).then(
    (snapshot) => ({ snapshot, trouble: undefined }),
    (error: unknown) => {
      if (isUnavailable(error)) throw error
      return { snapshot: undefined, trouble: error }
    },
  )
  // It went into the bin meanwhile.
  if (found.trouble instanceof NotFound) return
  const { snapshot } = found
  if (!snapshot) {
    console.error(`The workspace ${id} could not be read:`, found.trouble)
    return markUnread(store, id, day)
  }
  const summary: Summary = await carryOut('summary', day, snapshot, { limit: SUMMARY_MS, isChore: true }).catch(
    (error: unknown) => {
      if (error instanceof Overload || error instanceof Gone) throw error
      if (error instanceof TooLong) return { chapters: [], trouble: 'Checking it takes too long.' }
      console.error(`The workspace ${id} could not be summed up:`, error)
      return { chapters: [], trouble: 'Its facts could not be checked.' }
    },
  )
  await writeSummary(store.database, snapshot, day, summary)
}

/** What cannot be read is not looked at again before it has changed. */
async function markUnread({ database }: Store, id: string, day: Day): Promise<void> {
  const [row] = await database.rows<{ lineage: string }>('SELECT lineage FROM workspace WHERE id = ?', [id])
  if (row)
    await writeSummary(database, { id, lineage: row.lineage }, day, {
      chapters: [],
      trouble: 'Its facts could not be read.',
    })
}
