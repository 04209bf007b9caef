import { cut, type Change } from '../../core/model'
import { ApiError, ask } from './api'

/** A change that was made here and is not confirmed yet. */
export interface Pending extends Change {
  readonly id: string
  /** The revision it was made on: it stays until the server has judged the change, whatever is heard of meanwhile. */
  readonly base: number
  /** The mark of that state, where it is known. */
  readonly lineage?: string | undefined
  /** What only the page knows that made it: the server knows by it whose change it is. */
  readonly writer?: string | undefined
  /** It has been on its way to the server, which may have made it: it stays as it was then. */
  readonly sent?: true | undefined
  /** The thread whose proposal it takes over. */
  readonly takes?: string | undefined
}

/** What an outbox holds; before changes had bases of their own, one stood for all. */
interface Kept {
  readonly base?: number
  readonly pending: readonly (Omit<Pending, 'base'> & { readonly base?: number })[]
}

const PREFIX = 'skivel:outbox:'
const TAB = 'skivel:tab'
/** A page that is left gives its name up a moment after the next one has begun. */
const CLAIM_MS = [0, 60, 180]

let tab: string | undefined

/**
 * The identity of this tab, the same after a reload. A duplicated tab is given the storage of the first, its name included:
 * whoever does not get the name's lock takes a new name.
 */
async function claimedTab(): Promise<string> {
  if (tab !== undefined) return tab
  const known = sessionStorage.getItem(TAB)
  tab = known !== null && (await claim(known)) ? known : crypto.randomUUID()
  if (tab !== known) await claim(tab)
  sessionStorage.setItem(TAB, tab)
  return tab
}

async function claim(name: string): Promise<boolean> {
  if (!('locks' in navigator)) return true
  for (const wait of CLAIM_MS) {
    await new Promise((resolve) => setTimeout(resolve, wait))
    const got = await new Promise<boolean>((tell) => {
      // Held as long as the page lives.
      void navigator.locks.request(lockName(name), { ifAvailable: true }, (lock) => {
        tell(lock !== null)
        return lock && new Promise(() => {})
      })
    })
    if (got) return true
  }
  return false
}

const keyOf = (workspace: string, name: string) => `${PREFIX}${workspace}:${name}`

/** Keeps the unconfirmed changes of this tab where a reload finds them. Answers false when the browser has no room for them. */
export function keep(workspace: string, pending: readonly Pending[]): boolean {
  if (tab === undefined) throw new Error('the outbox is not open yet')
  const key = keyOf(workspace, tab)
  try {
    if (pending.length === 0) localStorage.removeItem(key)
    else localStorage.setItem(key, JSON.stringify({ pending } satisfies Kept))
    return true
  } catch (error) {
    if (error instanceof DOMException) return false
    throw error
  }
}

export interface Refused {
  readonly pending: Pending
  readonly error: ApiError
}

/**
 * Sends what this tab left unsent before a reload, and what tabs left that were closed. A change that had arrived already is
 * not made twice: the server knows it by its id. Answers what the server refused, which this tab keeps from now on.
 * @throws ApiError when nobody answers; all is kept then.
 */
export async function sendLeftOver(workspace: string, author: string): Promise<readonly Refused[]> {
  const own = await claimedTab()
  const refused: Refused[] = []
  const prefix = keyOf(workspace, '')
  const keys = Object.keys(localStorage).filter((one) => one.startsWith(prefix))
  for (const key of keys.sort()) {
    const name = key.slice(prefix.length)
    if (name !== own && !(await isGone(name))) continue
    const { base = 0, pending } = JSON.parse(localStorage.getItem(key) ?? '{"pending":[]}') as Kept
    for (const [index, change] of pending.entries()) {
      const sent = { ...change, base: change.base ?? base }
      try {
        await send(workspace, author, sent)
      } catch (error) {
        if (!(error instanceof ApiError) || error.passing) throw error
        refused.push({ pending: sent, error })
      }
      const left = [...(name === own ? refused.map((one) => one.pending) : []), ...pending.slice(index + 1)]
      localStorage.setItem(key, JSON.stringify({ base, pending: left } satisfies Kept))
    }
    keep(
      workspace,
      refused.map((one) => one.pending),
    )
    if (name !== own) localStorage.removeItem(key)
  }
  return refused
}

const MOST_LABEL = 1000

/** Sends one change, and answers the revision at which it stands. @throws ApiError */
export const send = (workspace: string, author: string, { id, base, lineage, writer, label, steps, takes }: Pending) =>
  ask<{ revision: number; lineage: string }>(`/api/workspaces/${workspace}/changes`, {
    method: 'POST',
    body: {
      ...{ id, base, label: cut(label, MOST_LABEL), author, steps },
      ...(lineage === undefined ? {} : { lineage }),
      ...(takes === undefined ? {} : { takes }),
    },
    headers: writer === undefined ? {} : { 'x-skivel-writer': writer },
  })

const lockName = (name: string) => `skivel-tab-${name}`

async function isGone(name: string): Promise<boolean> {
  if (!('locks' in navigator)) return false
  return navigator.locks.request(lockName(name), { ifAvailable: true }, (lock) => lock !== null)
}
