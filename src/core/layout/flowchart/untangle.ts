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

/**
 * Orders with fewer crossings than the ones given. In turn: items at the mean of what they are tied to, in one direction and the other; each item
 * at the best of all places in its lane (Matuszewski, Schönfeld & Molitor 1999); lines that pass several columns at the border of their lane,
 * in all columns at once. Stops when a round helps no more. O(rounds × items of a column × lines) for each column
 */
export function untangled({ columns, pairs, laneOf }: Tangle): { columns: readonly number[][]; crossings: number } {
  // An item has a cell in each column that it is in.
  const cells: { readonly item: number; readonly lane: number }[] = []
  const passing = new Map<number, number[]>()
  const order = columns.map((list) =>
    list.map((item) => {
      const cell = cells.push({ item, lane: laneOf(item) }) - 1
      join(passing, item, cell)
      return cell
    }),
  )
  const place = new Int32Array(cells.length)
  const columnOf = new Int32Array(cells.length)
  order.forEach((list, at) =>
    list.forEach((cell, index) => {
      place[cell] = index
      columnOf[cell] = at
    }),
  )
  const cellAt = (item: number, at: number) => passing.get(item)?.find((cell) => columnOf[cell] === at) ?? -1
  const before: number[][] = cells.map(() => [])
  const after: number[][] = cells.map(() => [])
  const lines = pairs.map((list, at) =>
    list.map(([a, b]) => {
      const [one, other] = [cellAt(a, at), cellAt(b, at + 1)]
      after[one]?.push(other)
      before[other]?.push(one)
      return [one, other] as const
    }),
  )
  const chains = [...passing.values()].filter((list) => list.length > 1)
  const counts = lines.map((_, at) => crossingsAfter(at))
  let least = total()
  let best = order.map((list) => [...list])
  let stale = 0
  for (let round = 0; round < ROUNDS && least > 0 && stale < 2; round++) {
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
  return { columns: best.map((list) => list.map((cell) => nth(cells, cell).item)), crossings: least }

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
    const list = (lines[at] ?? [])
      .map(([a, b]) => [nth(place, a), nth(place, b)] as const)
      .sort((p, q) => p[0] - q[0] || p[1] - q[1])
    const size = (order[at + 1]?.length ?? 0) + 1
    const sums = new Int32Array(size + 1)
    let [found, seen] = [0, 0]
    for (const [, second] of list) {
      let smaller = 0
      for (let index = second + 1; index > 0; index -= index & -index) smaller += nth(sums, index)
      found += seen - smaller
      seen++
      for (let index = second + 1; index <= size; index += index & -index) sums[index] = nth(sums, index) + 1
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
          nth(cells, a).lane - nth(cells, b).lane ||
          (mean.get(a) ?? 0) - (mean.get(b) ?? 0) ||
          (isReversed ? nth(place, b) - nth(place, a) : nth(place, a) - nth(place, b)),
      )
      setPlaces(at)
    }
  }
  /** Crossings that are saved when the second of two stands before the first. */
  function saved(a: number, b: number): number {
    let sum = 0
    for (const ties of [before, after])
      for (const one of nth(ties, a))
        for (const other of nth(ties, b)) sum += Math.sign(nth(place, one) - nth(place, other))
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
          const other = nth(list, to)
          if (nth(cells, other).lane !== nth(cells, cell).lane) break
          sum += saved(other, cell)
          if (sum > most || (sum === most && sum > 0 && !isLater)) [bestAt, most] = [to, sum]
        }
        sum = 0
        for (let to = own + 1; to < list.length; to++) {
          const other = nth(list, to)
          if (nth(cells, other).lane !== nth(cells, cell).lane) break
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
    for (const chain of chains) {
      const ats = chain.map((cell) => nth(columnOf, cell))
      const gaps = [...new Set(ats.flatMap((at) => [at - 1, at]))].filter((at) => at >= 0 && at < lines.length)
      const sumOf = () => gaps.reduce((sum, at) => sum + crossingsAfter(at), 0)
      const old = ats.map((at) => [...nth(order, at)])
      let now = sumOf()
      let kept = old
      for (const isFirst of [true, false]) {
        chain.forEach((cell, index) => {
          const list = nth(old, index).filter((one) => one !== cell)
          const lane = nth(cells, cell).lane
          const first = list.findIndex((one) => nth(cells, one).lane >= lane)
          const last = list.findLastIndex((one) => nth(cells, one).lane <= lane)
          list.splice(isFirst ? (first < 0 ? list.length : first) : last + 1, 0, cell)
          order[nth(ats, index)] = list
          setPlaces(nth(ats, index))
        })
        const next = sumOf()
        if (next < now) {
          now = next
          kept = ats.map((at) => [...nth(order, at)])
        }
      }
      ats.forEach((at, index) => {
        order[at] = kept[index] ?? []
        setPlaces(at)
      })
    }
  }
}
