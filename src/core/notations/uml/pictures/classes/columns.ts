import { nth } from '../../../../graph'
import type { Classifier, Tie } from '../../structure'

/** How much further down than it has to a class may stand, to be near to what it is tied to. */
const SLACK = 8

/**
 * How far down each class stands, within its phase: the general above the special, what is realised above what realises it, and all else as near as can
 * be to what it is tied to, but never beside that. O(classes² + ties × slack)
 */
export function columnsFor(
  classes: readonly Classifier[],
  ties: readonly Tie[],
  phaseOf: (one: Classifier) => number,
  isBackwards: boolean,
): Int32Array {
  const index = new Map(classes.map((one, at) => [one, at]))
  const above = classes.map((): number[] => [])
  const below = classes.map((): number[] => [])
  const beside = classes.map((): number[] => [])
  for (const { a, b, sort } of ties) {
    const [one, other] = [index.get(a) ?? 0, index.get(b) ?? 0]
    if (sort === 'generalization' || sort === 'realization') {
      above[one]?.push(other)
      below[other]?.push(one)
    } else {
      beside[one]?.push(other)
      beside[other]?.push(one)
    }
  }
  const column = new Int32Array(classes.length).fill(-1)
  const waits = above.map((list) => list.length)
  const near = new Int32Array(classes.length)
  const open = new Set(classes.keys())
  // What waits for the fewest comes next; in a circle that is all there is to go by. Among equals what is tied to most of those that stand.
  const isBefore = (a: number, b: number) =>
    nth(waits, a) !== nth(waits, b) ? nth(waits, a) < nth(waits, b) : nth(near, a) > nth(near, b)
  while (open.size > 0) {
    let next = -1
    for (const at of open)
      if (next < 0 || isBefore(at, next) || (isBackwards && at > next && !isBefore(next, at))) next = at
    open.delete(next)
    const phase = phaseOf(nth(classes, next))
    const inPhase = (other: number) => nth(column, other) >= 0 && phaseOf(nth(classes, other)) === phase
    const parents = nth(above, next).filter(inPhase)
    const others = nth(beside, next).filter(inPhase)
    const taken = new Set(others.map((other) => nth(column, other)))
    const least = parents.reduce((most, parent) => Math.max(most, nth(column, parent) + 1), 0)
    let [best, cost] = [least, Infinity]
    for (let at = least; at <= least + SLACK + taken.size; at++) {
      if (taken.has(at)) continue
      const now = [...parents, ...others].reduce(
        (sum, other) => sum + Math.abs(at - nth(column, other)),
        0.5 * (at - least),
      )
      if (now < cost) [best, cost] = [at, now]
    }
    column[next] = best
    for (const other of nth(below, next)) waits[other] = nth(waits, other) - 1
    for (const other of [...nth(below, next), ...nth(beside, next)]) near[other] = nth(near, other) + 1
  }
  return column
}

/**
 * An order of all classes in which the general comes before the special, what is realised before what realises it, and as far as that leaves it open
 * the whole before the part. O(classes² + ties)
 */
export function ranked(
  classes: readonly Classifier[],
  ties: readonly Tie[],
  phaseOf: (one: Classifier) => number,
  isBackwards: boolean,
): Int32Array {
  const index = new Map(classes.map((one, at) => [one, at]))
  const near = new Int32Array(classes.length)
  const [firm, loose] = [new Int32Array(classes.length), new Int32Array(classes.length)]
  const after = classes.map((): { to: number; count: Int32Array }[] => [])
  for (const { a, b, sort } of ties) {
    const isFirm = sort === 'generalization' || sort === 'realization'
    const [from, to] = isFirm ? [index.get(b) ?? 0, index.get(a) ?? 0] : [index.get(a) ?? 0, index.get(b) ?? 0]
    const count = isFirm ? firm : loose
    after[from]?.push({ to, count })
    count[to] = nth(count, to) + 1
  }
  const rank = new Int32Array(classes.length)
  const open = new Set(classes.keys())
  // Among equals what hangs together with those that stand already, or what was stated first.
  const cost = (at: number) =>
    phaseOf(nth(classes, at)) * 1e9 + nth(firm, at) * 1e6 + nth(loose, at) * 1e3 - (isBackwards ? 0 : nth(near, at))
  for (let place = 0; place < classes.length; place++) {
    let best = -1
    for (const at of open) if (best < 0 || cost(at) < cost(best)) best = at
    open.delete(best)
    rank[best] = place
    for (const { to, count } of nth(after, best)) {
      count[to] = nth(count, to) - 1
      near[to] = nth(near, to) + 1
    }
  }
  return rank
}
