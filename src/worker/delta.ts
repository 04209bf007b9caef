import { same } from '../core/model'
import type { Box, Item, Link, Scene } from '../core/scene'

/**
 * What leads from the scene that the page has to the next one. Most of a scene is the same after a change, and what does not
 * travel need not be copied between threads; on the page it stays the same object, so that it need not be drawn again.
 */
export interface SceneDelta {
  /** Everything but items and links; undefined where all of the scene is as it was, and nothing need be drawn again. */
  readonly frame?: Omit<Scene, 'items' | 'links'>
  readonly items: ListDelta
  readonly links: ListDelta
}

/** What leads from one list to the next. */
export interface ListDelta {
  /** For each entry of the next list its index in the one before, or −1 where it is new or has changed. */
  readonly kept: Int32Array
  /** The others in their order, as JSON: many small objects are read from a text in a third of the time that a structured clone takes. */
  readonly fresh: string
}

const EMPTY: readonly never[] = []

/** O(scene). */
export function deltaOf(before: Scene | undefined, after: Scene): SceneDelta {
  const { items, links, ...frame } = after
  const delta = {
    items: listDelta(before?.items ?? EMPTY, items, idOf, sameItem),
    links: listDelta(before?.links ?? EMPTY, links, idOf, sameLink),
  }
  if (before && isKept(before.items, delta.items) && isKept(before.links, delta.links)) {
    const { items: _, links: __, ...known } = before
    if (same(known, frame)) return delta
  }
  return { frame, ...delta }
}

/** O(scene). */
export function nextScene(before: Scene | undefined, { frame, items, links }: SceneDelta): Scene {
  if (!frame) {
    if (before && isKept(before.items, items) && isKept(before.links, links)) return before
    throw new RangeError('the delta does not belong to this scene')
  }
  return {
    ...frame,
    items: nextList<Item>(before?.items ?? EMPTY, items),
    links: nextList<Link>(before?.links ?? EMPTY, links),
  }
}

/** Whether a list is as it was. */
const isKept = (before: readonly unknown[], { kept }: ListDelta): boolean =>
  kept.length === before.length && kept.every((from, at) => from === at)

/** `known` tells entries apart within a list, `isSame` whether one has changed. O(entries) */
export function listDelta<T>(
  before: readonly T[],
  after: readonly T[],
  known: (entry: T) => unknown,
  isSame: (a: T, b: T) => boolean,
): ListDelta {
  const index = new Map(before.map((entry, i) => [known(entry), i]))
  const fresh: T[] = []
  const kept = Int32Array.from(after, (entry) => {
    const i = index.get(known(entry))
    const old = i === undefined ? undefined : before[i]
    if (i !== undefined && old && isSame(old, entry)) return i
    fresh.push(entry)
    return -1
  })
  return { kept, fresh: JSON.stringify(fresh) }
}

/** O(entries). @throws RangeError for a delta that leads from another list */
export function nextList<T>(before: readonly T[], { kept, fresh: text }: ListDelta): T[] {
  const fresh = JSON.parse(text) as readonly T[]
  const list: T[] = []
  let next = 0
  for (const i of kept) {
    const entry = i < 0 ? fresh[next++] : before[i]
    if (entry === undefined) throw new RangeError('the delta does not belong to this list')
    list.push(entry)
  }
  return list
}

const idOf = ({ id }: { readonly id: string }): string => id

const sameBox = (a: Box, b: Box): boolean => a.x === b.x && a.y === b.y && a.width === b.width && a.height === b.height

const sameItem = (a: Item, b: Item): boolean =>
  sameBox(a.box, b.box) &&
  a.label === b.label &&
  a.parent === b.parent &&
  a.ground === b.ground &&
  a.link === b.link &&
  a.stays === b.stays &&
  same(a.signs, b.signs) &&
  same(a.handles, b.handles) &&
  same(a.facts, b.facts) &&
  same(a.marks, b.marks) &&
  same(a.texts, b.texts)

const sameLink = (a: Link, b: Link): boolean =>
  sameBox(a.bounds, b.bounds) && a.source === b.source && a.target === b.target && same(a.marks, b.marks)
