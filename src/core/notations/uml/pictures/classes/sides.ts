import type { Point } from '../../../../scene'
import type { Tie } from '../../structure'
import type { Area } from './frames'
import { RIGHT, roomOf, type Sides, type TieWords } from './lines'

/** Of more ties the words stand to the right of their lines, whatever runs there: each is compared with each. */
const MOST_COMPARED = 600

/**
 * On which side of its line the words of each end stand: to the right, where there is room for them, or to the left where another line runs through that and
 * nothing is in the way there. O(ties²)
 */
export function sidesOf(
  ways: ReadonlyMap<Tie, readonly Point[]>,
  wordsOf: (tie: Tie) => TieWords,
  classes: readonly Area[],
): ReadonlyMap<Tie, Sides> {
  const sides = new Map<Tie, Sides>()
  if (ways.size > MOST_COMPARED) return sides
  const ends = [...ways].flatMap(([tie, way]) => (tie.a === tie.b ? [] : endsOf(tie, way, wordsOf(tie))))
  const taken = new Map(ends.map((end) => [end, roomOf(end.words, end.at, end.next, 'right')]))
  const isCrossed = (room: Area, own: Tie | undefined) =>
    [...ways].some(([tie, way]) => tie !== own && way.some((to, at) => at > 0 && crosses(room, way[at - 1] ?? to, to)))
  for (const end of ends) {
    const { tie, which, words, at, next } = end
    if (!isCrossed(taken.get(end) ?? NOWHERE, tie)) continue
    const left = roomOf(words, at, next, 'left')
    const others = [...taken].flatMap(([other, room]) => (other === end ? [] : [room]))
    if (isCrossed(left, undefined) || [...classes, ...others].some((one) => meets(left, one))) continue
    taken.set(end, left)
    sides.set(tie, { ...(sides.get(tie) ?? RIGHT), [which]: 'left' })
  }
  return sides
}

const NOWHERE: Area = { x: 0, y: 0, width: 0, height: 0 }

function endsOf(tie: Tie, way: readonly Point[], words: TieWords) {
  const [first, second] = [way[0], way[1]]
  const [last, before] = [way.at(-1), way.at(-2)]
  if (!first || !second || !last || !before) return []
  return [
    { tie, which: 'a' as const, words: words.a, at: first, next: second },
    { tie, which: 'b' as const, words: words.b, at: last, next: before },
  ].filter((end) => end.words.length > 0)
}

const meets = (a: Area, b: Area): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height

/** Whether an upright or level piece of a line runs through a room. */
const crosses = (room: Area, from: Point, to: Point): boolean =>
  meets(room, {
    x: Math.min(from.x, to.x),
    y: Math.min(from.y, to.y),
    width: Math.abs(to.x - from.x) || 0.1,
    height: Math.abs(to.y - from.y) || 0.1,
  })
