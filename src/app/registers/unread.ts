import { create } from 'zustand'
import type { Id } from '../../core/model'

/** What was typed into a line and could not be read, and why. */
export interface Unread {
  readonly text: string
  readonly why: string
}

/** Lines of outlines that stand as they were typed, since they cannot be read: until they can, or somebody takes them back. */
export const useUnread = create<{ readonly lines: ReadonlyMap<Id, Unread> }>()(() => ({ lines: new Map() }))

/** So many are kept, those typed last. */
const MOST = 200

export function keepUnread(line: Id, unread: Unread | undefined): void {
  const { lines } = useUnread.getState()
  if (!unread && !lines.has(line)) return
  const others = [...lines].filter(([one]) => one !== line)
  useUnread.setState({ lines: new Map(unread ? [...others.slice(1 - MOST), [line, unread]] : others) })
}
