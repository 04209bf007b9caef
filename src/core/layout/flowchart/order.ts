import { hanging, nth } from '../../graph'
import { join } from '../../model'
import { lists, type Columns } from './columns'
import type { FlowShape } from './shape'
import { untangled, type Tangle } from './untangle'

/** An edge that passes columns on its way: it takes a place in each, as a node would. */
interface Chain {
  readonly edge: number
  readonly lane: number
  /** First and last column passed. A loop passes those of its ends as well. */
  readonly first: number
  readonly last: number
}

/** The items of every column in their order across the flow: nodes by index, then chains, the first of them numbered as the count of nodes. */
export interface Order {
  readonly chains: readonly Chain[]
  readonly columns: readonly (readonly number[])[]
  /** Lines from each column to the next, as items. */
  readonly pairs: Tangle['pairs']
  /** How often these cross. */
  readonly crossings: number
  /** What is put in when the rest is in order, each after what it hangs on. */
  readonly hanging: readonly Loose[]
}

interface Loose {
  readonly item: number
  readonly at: number
  /** The item that it hangs on, and in which column. */
  readonly on: number
  readonly onAt: number
}

const SWEEPS = 12

/**
 * The order of nodes and passing lines in every column, lane by lane. It begins as a walk along the flow finds them, which crosses nothing where
 * blocks lie within blocks; then the middles of neighbours and exchanges of neighbours mend what crosses, as long as that helps
 * (Sugiyama, Tagawa & Toda 1981; Gansner, Koutsofios, North & Vo 1993). O(sweeps × items per column² × columns).
 */
export function orderOf(shape: FlowShape, { column, count, back }: Columns): Order {
  const { nodes, edges } = shape
  const chains = chainsOf(shape, column, back)
  const laneOf = (item: number): number => nodes[item]?.lane ?? chains[item - nodes.length]?.lane ?? 0
  const loose = shape.isSteady === true ? looseIn(shape, column) : []
  const isLoose = new Uint8Array(nodes.length + chains.length)
  for (const { item } of loose) isLoose[item] = 1
  const key = walkKeys(shape, chains, isLoose)
  const columns: number[][] = Array.from({ length: count }, () => [])
  nodes.forEach((_, node) => isLoose[node] === 0 && columns[nth(column, node)]?.push(node))
  chains.forEach(({ first, last }, index) => {
    for (let at = first; at <= last; at++) columns[at]?.push(nodes.length + index)
  })
  for (const list of columns) list.sort((a, b) => laneOf(a) - laneOf(b) || nth(key, a) - nth(key, b))

  // Pairs of neighbours from each column to the next, as items.
  const pairs: [number, number][][] = Array.from({ length: count }, () => [])
  const chainOf = new Map(chains.map(({ edge }, index) => [edge, nodes.length + index]))
  edges.forEach(({ from, to, sort }, edge) => {
    if (to < 0 || sort !== 'flow' || isLoose[from] === 1 || isLoose[to] === 1) return
    const [a, b] = [nth(column, from), nth(column, to)]
    const chain = chainOf.get(edge)
    if (chain === undefined) {
      if (Math.abs(a - b) === 1) pairs[Math.min(a, b)]?.push(a < b ? [from, to] : [to, from])
      return
    }
    const { first, last } = chains[chain - nodes.length] ?? { first: 0, last: 0 }
    for (let at = first; at < last; at++) pairs[at]?.push([chain, chain])
    const [left, right] = a < b ? [from, to] : [to, from]
    if (back[edge] === 0) {
      pairs[first - 1]?.push([left, chain])
      pairs[last]?.push([chain, right])
    } else {
      // A loop stands beside its ends: it is held near them by what they lead to.
      pairs[first]?.push([left, chain])
      if (last > 0) pairs[last - 1]?.push([chain, right])
    }
  })

  // Of every item in every column.
  const places = columns.map(() => new Int32Array(nodes.length + chains.length))
  const setPlaces = (at: number) => {
    const place = nth(places, at)
    columns[at]?.forEach((item, index) => (place[item] = index))
  }
  columns.forEach((_, at) => setPlaces(at))
  const crossingsAfter = (at: number): number =>
    inversions((pairs[at] ?? []).map(([a, b]) => [places[at]?.[a] ?? 0, places[at + 1]?.[b] ?? 0] as const))
  const all = () => columns.reduce((sum, _, at) => sum + crossingsAfter(at), 0)
  // The items that each is led to from on either side.
  const before: ReadonlyMap<number, readonly number[]>[] = columns.map((_, at) =>
    at === 0 ? new Map() : neighbours((pairs[at - 1] ?? []).map(([a, b]) => [b, a])),
  )
  const after = columns.map((_, at) => neighbours(pairs[at] ?? []))
  let best = columns.map((list) => [...list])
  let least = all()
  for (let sweep = 0; sweep < SWEEPS && least > 0; sweep++) {
    const rightwards = sweep % 2 === 0
    for (let step = 1; step < count; step++) {
      const at = rightwards ? step : count - 1 - step
      const near = new Map<number, { sum: number; count: number }>()
      for (const [a, b] of nth(pairs, rightwards ? at - 1 : at)) {
        const [own, other, otherAt] = rightwards ? [b, a, at - 1] : [a, b, at + 1]
        const known = near.get(own) ?? { sum: 0, count: 0 }
        near.set(own, { sum: known.sum + (places[otherAt]?.[other] ?? 0), count: known.count + 1 })
      }
      const list = columns[at] ?? []
      const place = nth(places, at)
      const middle = new Map(
        list.map((item, index) => {
          const { sum = index, count: ties = 1 } = near.get(item) ?? {}
          return [item, sum / ties]
        }),
      )
      list.sort(
        (a, b) => laneOf(a) - laneOf(b) || (middle.get(a) ?? 0) - (middle.get(b) ?? 0) || nth(place, a) - nth(place, b),
      )
      setPlaces(at)
    }
    exchange()
    const now = all()
    if (now < least) {
      least = now
      best = columns.map((list) => [...list])
    }
  }
  return { chains, columns: best, pairs, crossings: least, hanging: loose }

  /** Neighbours of one lane change places where that saves a crossing: only the lines of the two can cross otherwise by it. */
  function exchange(): void {
    columns.forEach((list, at) => {
      for (let i = 0; i + 1 < list.length; i++) {
        const [a, b] = [list[i], list[i + 1]]
        if (a === undefined || b === undefined || laneOf(a) !== laneOf(b)) continue
        if (saved(before[at], places[at - 1], a, b) + saved(after[at], places[at + 1], a, b) <= 0) continue
        list[i] = b
        list[i + 1] = a
        setPlaces(at)
      }
    })
  }

  /** Crossings on one side that are saved when the second stands before the first. */
  function saved(
    ties: ReadonlyMap<number, readonly number[]> | undefined,
    place: Int32Array | undefined,
    a: number,
    b: number,
  ): number {
    let sum = 0
    for (const one of ties?.get(a) ?? [])
      for (const other of ties?.get(b) ?? []) sum += Math.sign((place?.[one] ?? 0) - (place?.[other] ?? 0))
    return sum
  }
}

/** The order that a longer search finds from another one. */
export function longer({ nodes }: FlowShape, order: Order): Order {
  const { chains, columns, pairs } = order
  const laneOf = (item: number): number => nodes[item]?.lane ?? chains[item - nodes.length]?.lane ?? 0
  return { ...order, ...untangled({ columns, pairs, laneOf }) }
}

/** The order with what hangs on it: each where it crosses least, as near to what it hangs on as that lets it. O(hanging × lines of a column × its items) */
export function withHanging(order: Order): Order {
  const columns = order.columns.map((list) => [...list])
  const pairs = order.pairs.map((list) => [...list])
  let { crossings } = order
  for (const { item, at, on, onAt } of order.hanging) {
    const [list, others, lines] = [nth(columns, at), nth(columns, onAt), nth(pairs, Math.min(at, onAt))]
    const [place, far] = [list, others].map((items) => new Map(items.map((one, index) => [one, index])))
    const own = far?.get(on) ?? 0
    const ends = lines.map(([a, b]) => {
      const [near, other] = at < onAt ? [a, b] : [b, a]
      return { near: place?.get(near) ?? 0, side: Math.sign((far?.get(other) ?? 0) - own) }
    })
    const best = leastBy(
      Array.from({ length: list.length + 1 }, (_, index) => index),
      (index) => ends.filter(({ near, side }) => (near < index ? side > 0 : side < 0)).length,
      (index) => Math.abs(index - ((own + 0.5) * list.length) / others.length),
    )
    crossings += best.cost
    list.splice(best.one, 0, item)
    lines.push(at < onAt ? [item, on] : [on, item])
  }
  return { ...order, columns, pairs, crossings, hanging: [] }
}

/** The one that costs least; of those that cost as much, the one that is least by a second measure. */
function leastBy(
  list: readonly number[],
  costOf: (one: number) => number,
  second: (one: number) => number,
): { one: number; cost: number } {
  return list
    .map((one) => ({ one, cost: costOf(one) }))
    .reduce((least, next) => ((next.cost - least.cost || second(next.one) - second(least.one)) < 0 ? next : least))
}

/** Nodes that hang on the rest by one line; none where there are lanes, or one of them is not in the column beside what it hangs on. */
function looseIn({ nodes, edges, lanes }: FlowShape, column: Int32Array): readonly Loose[] {
  const flows = edges.filter(({ sort, to }) => sort === 'flow' && to >= 0)
  const loose = hanging(nodes.length, flows).map(({ node, on }) => ({
    item: node,
    at: nth(column, node),
    on,
    onAt: nth(column, on),
  }))
  return lanes.length === 1 && loose.every(({ at, onAt }) => Math.abs(at - onAt) === 1) ? loose : []
}

function neighbours(pairs: readonly (readonly [number, number])[]): Map<number, number[]> {
  const found = new Map<number, number[]>()
  for (const [one, other] of pairs) join(found, one, other)
  return found
}

/** Pairs of ends that stand the other way round on the second side than on the first: merge sort counts them. O(pairs · log pairs) */
function inversions(ends: readonly (readonly [number, number])[]): number {
  const seconds = [...ends].sort((a, b) => a[0] - b[0] || a[1] - b[1]).map(([, second]) => second)
  let found = 0
  const sorted = (list: number[]): number[] => {
    if (list.length < 2) return list
    const middle = list.length >> 1
    const [low, high] = [sorted(list.slice(0, middle)), sorted(list.slice(middle))]
    const merged: number[] = []
    let [i, j] = [0, 0]
    while (i < low.length || j < high.length) {
      const [a, b] = [low[i], high[j]]
      if (b === undefined || (a !== undefined && a <= b)) {
        merged.push(a ?? 0)
        i++
      } else {
        merged.push(b)
        found += low.length - i
        j++
      }
    }
    return merged
  }
  sorted(seconds)
  return found
}

function chainsOf({ nodes, edges }: FlowShape, column: Int32Array, back: Uint8Array): Chain[] {
  return edges.flatMap(({ from, to, sort }, edge): Chain[] => {
    if (to < 0 || sort !== 'flow') return []
    const [a, b] = [nth(column, from), nth(column, to)]
    const [lane, other] = [nth(nodes, from).lane, nth(nodes, to).lane]
    if (back[edge] === 1) return a > b ? [{ edge, lane: Math.min(lane, other), first: b, last: a }] : []
    return b > a + 1 ? [{ edge, lane: lane === other ? lane : other, first: a + 1, last: b - 1 }] : []
  })
}

/** When a walk along the flow, branch by branch, meets each item. */
function walkKeys({ nodes, edges }: FlowShape, chains: readonly Chain[], isLoose: Uint8Array): Float64Array {
  const flows = edges.flatMap(({ sort, from, to }, index) =>
    sort === 'flow' && to >= 0 && isLoose[from] === 0 && isLoose[to] === 0 ? [index] : [],
  )
  const out = lists(nodes.length, flows, (edge) => nth(edges, edge).from)
  const reached = new Uint8Array(nodes.length)
  for (const edge of flows) reached[nth(edges, edge).to] = 1
  const chainOf = new Map(chains.map(({ edge }, index) => [edge, nodes.length + index]))
  const key = new Float64Array(nodes.length + chains.length)
  const seen = new Uint8Array(nodes.length)
  let clock = 0
  const walk = (start: number) => {
    if (seen[start] === 1) return
    seen[start] = 1
    key[start] = ++clock
    const open = [{ node: start, next: 0 }]
    for (let at = open.at(-1); at; at = open.at(-1)) {
      const edge = out[at.node]?.[at.next++]
      if (edge === undefined) {
        open.pop()
        continue
      }
      const chain = chainOf.get(edge)
      if (chain !== undefined) key[chain] = ++clock
      const to = nth(edges, edge).to
      if (seen[to] === 1) continue
      seen[to] = 1
      key[to] = ++clock
      open.push({ node: to, next: 0 })
    }
  }
  nodes.forEach((_, node) => reached[node] === 0 && walk(node))
  nodes.forEach((_, node) => walk(node))
  return key
}
