import { nth } from '../../graph'
import { join } from '../../model'

/** Items in columns with lines from each column to the next: what stands in one lane may change places. */
export interface Tangle {
  /** The items of every column in their order. */
  readonly columns: readonly (readonly number[])[]
  /** Lines from each column to the next, as items. */
  readonly pairs: readonly (readonly (readonly [number, number])[])[]
  readonly laneOf: (item: number) => number
}

const ROUNDS = 8
/** Pairs of lines looked at in search of a better place: some tenths of a second. */
const MOST_LOOKED = 2_000_000
const NONE: readonly number[] = []

/**
 * Orders with fewer crossings than the ones given. In turn: items at the mean of what they are tied to, in one direction and the other; each item
 * at the best of all places in its lane (Matuszewski, Schönfeld & Molitor 1999); lines that pass several columns at the border of their lane,
 * in all columns at once. Stops when a round helps no more,
 * or so much has been looked at. O(rounds × items of a column × lines) for each column
 */
export function untangled({ columns, pairs, laneOf }: Tangle): { columns: readonly number[][]; crossings: number } {
  // An item has a cell in each column that it is in.
  const items: number[] = []
  const passing = new Map<number, number[]>()
  const order = columns.map((list) =>
    list.map((item) => {
      const cell = items.push(item) - 1
      join(passing, item, cell)
      return cell
    }),
  )
  // Between two places for a moment, when a line is tried at the border of its lane.
  const place = new Float64Array(items.length)
  const laneAt = Int32Array.from(items, laneOf)
  const columnOf = new Int32Array(items.length)
  order.forEach((list, at) =>
    list.forEach((cell, index) => {
      place[cell] = index
      columnOf[cell] = at
    }),
  )
  const cellAt = (item: number, at: number) => passing.get(item)?.find((cell) => columnOf[cell] === at) ?? -1
  const before: number[][] = items.map(() => [])
  const after: number[][] = items.map(() => [])
  const lines = pairs.map((list, at) =>
    list.map(([a, b]) => {
      const [one, other] = [cellAt(a, at), cellAt(b, at + 1)]
      after[one]?.push(other)
      before[other]?.push(one)
      return [one, other] as const
    }),
  )
  const chains = [...passing.values()].filter((list) => list.length > 1)
  const chainOf = new Int32Array(items.length).fill(-1)
  chains.forEach((chain, number) => chain.forEach((cell) => (chainOf[cell] = number)))
  const own = chains.map((): { gap: number; one: number; other: number }[] => [])
  lines.forEach((list, gap) =>
    list.forEach(([one, other]) => {
      for (const chain of new Set([nth(chainOf, one), nth(chainOf, other)])) own[chain]?.push({ gap, one, other })
    }),
  )
  const counts = lines.map((_, at) => crossingsAfter(at))
  let least = total()
  let best = order.map((list) => [...list])
  let stale = 0
  let looked = 0
  for (let round = 0; round < ROUNDS && least > 0 && stale < 2 && looked < MOST_LOOKED; round++) {
    const from = least
    for (const isForward of [true, false]) {
      sweep(isForward, round % 2 === 1)
      sift(round % 2 === 0)
      aside()
      keep()
    }
    sift(round % 2 === 1)
    keep()
    stale = least < from ? 0 : stale + 1
  }
  return { columns: best.map((list) => list.map((cell) => nth(items, cell))), crossings: least }

  /** Remembers the order when it is the best so far. */
  function keep(): void {
    lines.forEach((_, at) => (counts[at] = crossingsAfter(at)))
    const now = total()
    if (now >= least) return
    least = now
    best = order.map((list) => [...list])
  }
  function total(): number {
    return counts.reduce((sum, count) => sum + count, 0)
  }
  /** Inversions, by a tree of sums over the places of the second column. */
  function crossingsAfter(at: number): number {
    const size = (order[at + 1]?.length ?? 0) + 1
    const sums = new Int32Array(size + 1)
    let [found, seen] = [0, 0]
    for (const cell of nth(order, at)) {
      const ends = nth(after, cell)
      for (const end of ends) {
        let smaller = 0
        for (let index = nth(place, end) + 1; index > 0; index -= index & -index) smaller += nth(sums, index)
        found += seen - smaller
      }
      // Lines from one place cross nothing of one another.
      for (const end of ends)
        for (let index = nth(place, end) + 1; index <= size; index += index & -index) sums[index] = nth(sums, index) + 1
      seen += ends.length
    }
    return found
  }
  function setPlaces(at: number): void {
    nth(order, at).forEach((cell, index) => (place[cell] = index))
  }
  /** Puts every item at the mean place of what it is tied to on one side. */
  function sweep(isForward: boolean, isReversed: boolean): void {
    for (let step = 0; step < order.length; step++) {
      const at = isForward ? step : order.length - 1 - step
      const list = nth(order, at)
      const ties = isForward ? before : after
      const mean = new Map(
        list.map((cell) => {
          const near = nth(ties, cell)
          return [
            cell,
            near.length === 0
              ? nth(place, cell)
              : near.reduce((sum, other) => sum + nth(place, other), 0) / near.length,
          ]
        }),
      )
      list.sort(
        (a, b) =>
          nth(laneAt, a) - nth(laneAt, b) ||
          (mean.get(a) ?? 0) - (mean.get(b) ?? 0) ||
          (isReversed ? nth(place, b) - nth(place, a) : nth(place, a) - nth(place, b)),
      )
      setPlaces(at)
    }
  }
  /** Crossings that are saved when the second of two stands before the first. */
  function saved(a: number, b: number): number {
    return savedBeside(before[a], before[b]) + savedBeside(after[a], after[b])
  }
  function savedBeside(first: readonly number[] = NONE, second: readonly number[] = NONE): number {
    let sum = 0
    for (let i = 0; i < first.length; i++) {
      const at = place[first[i] ?? 0] ?? 0
      for (let j = 0; j < second.length; j++) {
        const to = place[second[j] ?? 0] ?? 0
        sum += at > to ? 1 : at < to ? -1 : 0
      }
    }
    looked += 1 + first.length * second.length
    return sum
  }
  /** Moves every item to the place in its lane that saves most; among equal ones to the later or the earlier. */
  function sift(isLater: boolean): void {
    for (const list of order)
      for (const cell of [...list]) {
        const own = nth(place, cell)
        let [bestAt, most] = [own, 0]
        let sum = 0
        for (let to = own - 1; to >= 0; to--) {
          const other = list[to] ?? 0
          if (laneAt[other] !== laneAt[cell]) break
          sum += saved(other, cell)
          if (sum > most || (sum === most && sum > 0 && !isLater)) [bestAt, most] = [to, sum]
        }
        sum = 0
        for (let to = own + 1; to < list.length; to++) {
          const other = list[to] ?? 0
          if (laneAt[other] !== laneAt[cell]) break
          sum += saved(cell, other)
          if (sum > most || (sum === most && isLater)) [bestAt, most] = [to, sum]
        }
        if (bestAt === own) continue
        list.splice(own, 1)
        list.splice(bestAt, 0, cell)
        setPlaces(nth(columnOf, cell))
      }
  }
  /** Moves every passing line to the border of its lane, in all its columns at once, where that saves. */
  function aside(): void {
    chains.forEach((chain, number) => {
      const bounds = chain.map((cell) => {
        const list = nth(order, nth(columnOf, cell))
        const lane = nth(laneAt, cell)
        return {
          cell,
          own: nth(place, cell),
          first: list.findIndex((one) => nth(laneAt, one) === lane) - 0.5,
          last: list.findLastIndex((one) => nth(laneAt, one) === lane) + 0.5,
        }
      })
      const crossed = (side: 'own' | 'first' | 'last'): number => {
        for (const bound of bounds) place[bound.cell] = bound[side]
        return crossingsWith(number)
      }
      const now = crossed('own')
      if (now === 0) return
      const [first, last] = [crossed('first'), crossed('last')]
      for (const { cell, own } of bounds) place[cell] = own
      if (Math.min(first, last) >= now) return
      const isFirst = first <= last
      for (const bound of bounds) {
        const at = nth(columnOf, bound.cell)
        const list = nth(order, at)
        list.splice(bound.own, 1)
        list.splice(isFirst ? bound.first + 0.5 : bound.last - 0.5, 0, bound.cell)
        setPlaces(at)
      }
    })
  }
  /** How often the lines of one chain cross others, and one another. */
  function crossingsWith(number: number): number {
    let found = 0
    for (const { gap, one, other } of nth(own, number)) {
      const [p, q] = [nth(place, one), nth(place, other)]
      for (const [a, b] of nth(lines, gap)) {
        if (((place[a] ?? 0) - p) * ((place[b] ?? 0) - q) >= 0) continue
        // Two lines of its own meet twice.
        found += chainOf[a] === number || chainOf[b] === number ? 0.5 : 1
      }
    }
    return found
  }
}
