import type { Change } from '../../core/model'
import { ApiError, ask } from './api'

/** A change that was made here and is not confirmed yet. */
export interface Pending extends Change {
  readonly id: string
}

/** Unconfirmed changes in order, and the revision beneath the first. */
export interface Outbox {
  readonly base: number
  readonly pending: readonly Pending[]
}

const PREFIX = 'skivel:outbox:'

const tabId = (): string => {
  const known = sessionStorage.getItem('skivel:tab')
  const id = known ?? crypto.randomUUID()
  if (!known) sessionStorage.setItem('skivel:tab', id)
  return id
}

const keyOf = (workspace: string, tab: string) => `${PREFIX}${workspace}:${tab}`

/** Keeps the unconfirmed changes of this tab where a reload finds them. Answers false when the browser has no room for them. */
export function keep(workspace: string, outbox: Outbox): boolean {
  const key = keyOf(workspace, tabId())
  try {
    if (outbox.pending.length === 0) localStorage.removeItem(key)
    else localStorage.setItem(key, JSON.stringify(outbox))
    return true
  } catch (error) {
    if (error instanceof DOMException) return false
    throw error
  }
}

/**
 * Sends what this tab left unsent before a reload, and what tabs left that were closed. A change that had arrived already is
 * not made twice: the server knows it by its id. Answers what the server refused. @throws ApiError when nobody answers; all is kept then.
 */
export async function sendLeftOver(
  workspace: string,
  author: string,
): Promise<{ pending: Pending; error: ApiError }[]> {
  const own = tabId()
  holdLock(own)
  const refused: { pending: Pending; error: ApiError }[] = []
  const prefix = `${PREFIX}${workspace}:`
  for (const key of Object.keys(localStorage)
    .filter((one) => one.startsWith(prefix))
    .sort()) {
    const tab = key.slice(prefix.length)
    if (tab !== own && !(await isGone(tab))) continue
    const { base, pending } = JSON.parse(localStorage.getItem(key) ?? '{"base":0,"pending":[]}') as Outbox
    let at = base
    for (const [index, change] of pending.entries()) {
      try {
        const body = { id: change.id, base: at, label: change.label, author, steps: change.steps }
        at = (await ask<{ revision: number }>(`/api/workspaces/${workspace}/changes`, { method: 'POST', body }))
          .revision
      } catch (error) {
        if (!(error instanceof ApiError) || error.passing) throw error
        refused.push({ pending: change, error })
      }
      localStorage.setItem(key, JSON.stringify({ base: at, pending: pending.slice(index + 1) }))
    }
    localStorage.removeItem(key)
  }
  return refused
}

const lockName = (tab: string) => `skivel-tab-${tab}`

function holdLock(tab: string): void {
  if (!('locks' in navigator)) return
  void navigator.locks.request(lockName(tab), () => new Promise(() => {}))
}

async function isGone(tab: string): Promise<boolean> {
  if (!('locks' in navigator)) return false
  return navigator.locks.request(lockName(tab), { ifAvailable: true }, (lock) => lock !== null)
}
