import { isUnavailable } from '../db/pool'
import { revisionsOf } from '../repositories/workspaces'
import { Astray } from './errors'
import { changesSince, refuseAstray, type SharedChange } from './history'
import type { Store } from './store'

/** What a listener hears: changes in order, that something happened to the comments, that what is known was lost, and whether the database answers. */
export type News =
  | { readonly sort: 'change'; readonly change: SharedChange }
  | { readonly sort: 'talk'; readonly talk: number }
  | { readonly sort: 'trouble' }
  /** What the listener knows is not what the database has: it has lost changes, and others may have taken their numbers. */
  | { readonly sort: 'astray' }
  | { readonly sort: 'well' }

interface Listener {
  readonly workspace: string
  seen: number
  /** The mark of that state; empty where it is not known. */
  lineage: string
  /** How much of the talk it knows of; nothing before it is told the first time. */
  talk: number
  busy: boolean
  again: boolean
  readonly ear: Ear
}

/** What somebody knows of a workspace. */
interface State {
  readonly revision: number
  readonly lineage: string
}

/** Somebody who listens. */
interface Ear {
  readonly tell: (news: News) => void
  /** Whether what was told before has been taken. */
  readonly isReading?: () => boolean
  /** Called when that has not been so for too long: nothing more is told. */
  readonly leave?: () => void
}

/** How long a listener is waited for that does not read. */
const PATIENCE_MS = 15_000
const LOOK_AGAIN_MS = 100
/** Changes that are read at once: each may be large. */
const BATCH = 10

const listeners = new Set<Listener>()
const POLL_MS = 600
let poll: ReturnType<typeof setInterval> | undefined
let well = true
let theStore: Store | undefined

/**
 * Tells of every change of a workspace after `since`, in order, each once: at once for changes made by this process,
 * within the polling interval for those of another server. Answers a function that ends it.
 */
export function listen(store: Store, workspace: string, since: State, ear: Ear): () => void {
  const { revision: seen, lineage } = since
  const listener: Listener = { workspace, seen, lineage, talk: -1, busy: false, again: false, ear }
  theStore = store
  listeners.add(listener)
  poll ??= setInterval(() => void look(store), POLL_MS)
  if (!well) ear.tell({ sort: 'trouble' })
  void catchUp(store, listener)
  return () => {
    listeners.delete(listener)
    if (listeners.size === 0) {
      clearInterval(poll)
      poll = undefined
    }
  }
}

/** Says that this process has something new of the comments of some workspace. */
export function announceTalk(): void {
  if (theStore && listeners.size > 0) void look(theStore)
}

/** Says that this process changed a workspace. */
export function announce(workspace: string): void {
  for (const listener of listeners) if (listener.workspace === workspace && theStore) void catchUp(theStore, listener)
}

async function look(store: Store): Promise<void> {
  const ids = [...new Set([...listeners].map(({ workspace }) => workspace))]
  if (ids.length === 0) return
  await guarded(async () => {
    const rows = new Map((await revisionsOf(store.database, ids)).map((row) => [row.id, row]))
    for (const listener of listeners) {
      const row = rows.get(listener.workspace)
      if (!row) continue
      const isLost = listener.lineage !== '' && row.lineage !== listener.lineage
      if (row.revision < listener.seen || (row.revision === listener.seen && isLost)) tellAstray(listener)
      else if (row.revision > listener.seen) void catchUp(store, listener)
      if (row.talk > listener.talk) {
        listener.talk = row.talk
        listener.ear.tell({ sort: 'talk', talk: row.talk })
      }
    }
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
        if (await isAstray(store, listener)) return tellAstray(listener)
        const changes = await changesSince(store, listener.workspace, listener.seen, BATCH)
        for (const change of changes) {
          if (!(await isReading(listener))) return
          listener.seen = change.revision
          listener.lineage = change.lineage
          listener.ear.tell({ sort: 'change', change })
        }
        if (changes.length === BATCH) listener.again = true
      })
    }
  } finally {
    listener.busy = false
  }
}

async function isAstray(store: Store, { workspace, seen, lineage }: Listener): Promise<boolean> {
  try {
    await refuseAstray(store, workspace, seen, lineage)
    return false
  } catch (error) {
    if (error instanceof Astray) return true
    throw error
  }
}

/** Once: what it reads then it listens to anew. */
function tellAstray(listener: Listener): void {
  listeners.delete(listener)
  listener.ear.tell({ sort: 'astray' })
}

/** Waits until a listener has taken what it was told, and answers whether it still listens; one that does not read is left. */
async function isReading(listener: Listener): Promise<boolean> {
  const { isReading: reads, leave } = listener.ear
  const deadline = Date.now() + PATIENCE_MS
  while (reads && !reads()) {
    if (!listeners.has(listener)) return false
    if (Date.now() > deadline) {
      leave?.()
      return false
    }
    await new Promise((resolve) => setTimeout(resolve, LOOK_AGAIN_MS))
  }
  return listeners.has(listener)
}

/** Runs a look at the database, and tells everybody when it stops or begins to answer. */
async function guarded(work: () => Promise<void>): Promise<void> {
  try {
    await work()
    if (!well) for (const { ear } of listeners) ear.tell({ sort: 'well' })
    well = true
  } catch (error) {
    if (!isUnavailable(error)) {
      console.error('The feed failed:', error)
      return
    }
    if (well) for (const { ear } of listeners) ear.tell({ sort: 'trouble' })
    well = false
  }
}
