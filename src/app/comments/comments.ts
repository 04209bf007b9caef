import { create } from 'zustand'
import { useMemo } from 'react'
import type { Change, Id } from '../../core/model'
import { nowKnownAs } from '../../core/notation'
import { useWorkspace } from '../store/state'
import { ApiError, ask } from '../sync/api'
import { authorName } from '../sync/author'

export interface Comment {
  readonly id: string
  readonly author: string
  readonly byReader: boolean
  readonly words: string
  readonly at: string
}

/** What was said of one thing, as the server tells it. */
export interface Thread {
  readonly id: string
  readonly view: Id
  readonly fact?: Id
  readonly place?: { readonly x: number; readonly y: number }
  readonly isShared: boolean
  readonly comments: readonly Comment[]
  readonly proposal?: string
  readonly resolved?: { readonly at: string; readonly by: string; readonly taken: boolean }
}

interface Told {
  readonly talk: number
  readonly threads: readonly Thread[]
}

interface Talk extends Told {
  readonly isKnown: boolean
  /** Why it is not known what was said. */
  readonly fault: string | undefined
  /** What was taken away last, and can be brought back. */
  readonly hidden: { readonly id: string; readonly words: string } | undefined
  /** The thread that was asked for on the sheet last. */
  readonly shown: { readonly thread: string } | undefined
}

export const useTalk = create<Talk>()(() => ({
  isKnown: false,
  talk: -1,
  threads: [],
  fault: undefined,
  hidden: undefined,
  shown: undefined,
}))

const set = useTalk.setState
const pathOf = (id?: string) =>
  `/api/workspaces/${useWorkspace.getState().id}/comments${id === undefined ? '' : `/${encodeURIComponent(id)}`}`

/** Answers that arrive out of order: what is older than what is known is passed over. */
const tell = ({ talk, threads }: Told): void => {
  if (talk >= useTalk.getState().talk) set({ isKnown: true, talk, threads, fault: undefined })
}
const said = (error: unknown): string => (error instanceof ApiError ? error.message : String(error))

/** Asks what was said; where nobody answers, that is told, and asked again at the next news. */
export async function fetchTalk(): Promise<void> {
  // Before a workspace is there, nothing was said of it.
  if (useWorkspace.getState().id === '') return
  try {
    tell(await ask<Told>(pathOf()))
  } catch (error) {
    set({ fault: said(error) })
  }
}
useWorkspace.subscribe(({ id, talk, standing }, before) => {
  const isNews = talk !== before.talk && talk > useTalk.getState().talk
  const isBack = standing !== before.standing && standing === 'saved' && useTalk.getState().fault !== undefined
  if (isNews || isBack || id !== before.id) void fetchTalk()
})

void fetchTalk()

/** Sends something, and answers why it was not taken. What is sent keeps its id, so that sending it again says it once. */
async function sent(path: string, method: 'POST' | 'PATCH', body: object): Promise<string | undefined> {
  try {
    tell(await ask<Told>(path, { method, body: { ...body, author: authorName() } }))
    return undefined
  } catch (error) {
    return said(error)
  }
}

export interface Said {
  readonly id: string
  readonly words: string
  readonly thread?: string
  readonly view?: Id
  readonly fact?: Id
  readonly at?: { readonly x: number; readonly y: number }
  readonly mail?: string
  readonly proposal?: Change
}
export const say = (one: Said): Promise<string | undefined> => sent(pathOf(), 'POST', one)

export const resolve = (thread: string, resolved: boolean): Promise<string | undefined> =>
  sent(pathOf(thread), 'PATCH', { resolved })

/** Takes something away; what was taken away last can be brought back. */
export async function hide({ id, words }: Comment): Promise<string | undefined> {
  const fault = await sent(pathOf(id), 'PATCH', { hidden: true })
  if (fault === undefined) set({ hidden: { id, words } })
  return fault
}
export async function bringBack(): Promise<string | undefined> {
  const { hidden } = useTalk.getState()
  const fault = hidden && (await sent(pathOf(hidden.id), 'PATCH', { hidden: false }))
  if (fault === undefined) set({ hidden: undefined })
  return fault
}

/** The change that a thread proposes. @throws ApiError */
export const proposalOf = async (thread: string): Promise<Change> =>
  (await ask<{ proposal: Change }>(pathOf(thread))).proposal

/** The threads about what is selected, or of the view; and the open ones about anything else. */
/** All threads, each about what its fact is known as now: facts that were joined brought along what was said of them. */
export function useThreads(): readonly Thread[] {
  const threads = useTalk((state) => state.threads)
  const model = useWorkspace((state) => state.model)
  return useMemo(
    () => threads.map((one) => (one.fact === undefined ? one : { ...one, fact: nowKnownAs(model, one.fact) })),
    [threads, model],
  )
}

export function threadsHere(
  threads: readonly Thread[],
  view: Id | undefined,
  about: Id | undefined,
): { readonly here: readonly Thread[]; readonly elsewhere: readonly Thread[] } {
  const isHere = (one: Thread) => (about === undefined ? one.view === view : one.fact === about)
  return {
    here: threads.filter(isHere),
    elsewhere: threads.filter((one) => !isHere(one) && !one.resolved),
  }
}
