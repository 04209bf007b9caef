import { isUnavailable } from '../db/pool'
import { revisionsOf } from '../repositories/workspaces'
import { changesSince, type SharedChange } from './history'
import type { Store } from './store'

/** What a listener hears: changes in order, and whether the database answers. */
export type News =
  { readonly sort: 'change'; readonly change: SharedChange } | { readonly sort: 'trouble' } | { readonly sort: 'well' }

interface Listener {
  readonly workspace: string
  seen: number
  busy: boolean
  again: boolean
  readonly tell: (news: News) => void
}

const listeners = new Set<Listener>()
const POLL_MS = 600
let poll: ReturnType<typeof setInterval> | undefined
let well = true
let theStore: Store | undefined

/**
 * Tells of every change of a workspace after `since`, in order, each once: at once for changes made by this process,
 * within the polling interval for those of another server. Answers a function that ends it.
 */
export function listen(store: Store, workspace: string, since: number, tell: (news: News) => void): () => void {
  const listener: Listener = { workspace, seen: since, busy: false, again: false, tell }
  theStore = store
  listeners.add(listener)
  poll ??= setInterval(() => void look(store), POLL_MS)
  if (!well) tell({ sort: 'trouble' })
  void catchUp(store, listener)
  return () => {
    listeners.delete(listener)
    if (listeners.size === 0) {
      clearInterval(poll)
      poll = undefined
    }
  }
}

/** Says that this process changed a workspace. */
export function announce(workspace: string): void {
  for (const listener of listeners) if (listener.workspace === workspace && theStore) void catchUp(theStore, listener)
}

async function look(store: Store): Promise<void> {
  const ids = [...new Set([...listeners].map(({ workspace }) => workspace))]
  if (ids.length === 0) return
  await guarded(async () => {
    const revisions = new Map((await revisionsOf(store.database, ids)).map(({ id, revision }) => [id, revision]))
    for (const listener of listeners)
      if ((revisions.get(listener.workspace) ?? 0) > listener.seen) void catchUp(store, listener)
  })
}

async function catchUp(store: Store, listener: Listener): Promise<void> {
  listener.again = true
  if (listener.busy) return
  listener.busy = true
  try {
    while (listener.again && listeners.has(listener)) {
      listener.again = false
      await guarded(async () => {
        const changes = await changesSince(store, listener.workspace, listener.seen, 200)
        for (const change of changes) {
          listener.seen = change.revision
          listener.tell({ sort: 'change', change })
        }
        if (changes.length === 200) listener.again = true
      })
    }
  } finally {
    listener.busy = false
  }
}

/** Runs a look at the database, and tells everybody when it stops or begins to answer. */
async function guarded(work: () => Promise<void>): Promise<void> {
  try {
    await work()
    if (!well) for (const { tell } of listeners) tell({ sort: 'well' })
    well = true
  } catch (error) {
    if (!isUnavailable(error)) {
      console.error('The feed failed:', error)
      return
    }
    if (well) for (const { tell } of listeners) tell({ sort: 'trouble' })
    well = false
  }
}
