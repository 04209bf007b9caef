import { reach } from '../../../graph'
import type { Id, Relation } from '../../../model'
import type { FlowNode, Process } from '../structure'
import { leastSolution, type Equation } from './equations'

/** How often a case passes each element and each line, on average. */
export interface Visits {
  readonly nodes: ReadonlyMap<Id, number>
  readonly flows: ReadonlyMap<Id, number>
}

/** Of a decision’s ways, the share of each: as stated, and what is left divided among the others. */
export function sharesOf({ out }: FlowNode): ReadonlyMap<Id, number> {
  const stated = out.map(({ fields }) => (typeof fields['share'] === 'number' ? fields['share'] : undefined))
  const sum = stated.reduce<number>((total, share) => total + (share ?? 0), 0)
  const open = stated.filter((share) => share === undefined).length
  const rest = open > 0 ? Math.max(0, 1 - sum) / open : 0
  return new Map(out.map(({ id }, index) => [id, stated[index] ?? rest]))
}

/** Whether only one of the ways out is taken. */
export const choosesOne = ({ kind, type }: FlowNode): boolean =>
  kind === 'gateway' && type !== 'parallel' && type !== 'inclusive'

/** How much of an element’s visits goes on along each way out. Of an inclusive gateway every way is taken as often as its share says; without shares, always. */
export function portionsOf(node: FlowNode): ReadonlyMap<Id, number> {
  if (choosesOne(node)) return sharesOf(node)
  const inclusive = node.kind === 'gateway' && node.type === 'inclusive'
  return new Map(
    node.out.map(({ id, fields }) => [id, inclusive && typeof fields['share'] === 'number' ? fields['share'] : 1]),
  )
}

const waitsForAll = ({ kind, type, into }: FlowNode): boolean =>
  kind === 'gateway' && type === 'parallel' && into.length > 1
const gathers = ({ kind, type, into }: FlowNode): boolean =>
  kind === 'gateway' && type === 'inclusive' && into.length > 1

/**
 * Expected visits of every element: those of a start are 1 (of several, shared), each line carries its portion, a merge adds its lines up, a
 * parallel join is passed once for all of them, and an inclusive one once for those that were taken. It is the fundamental matrix of an
 * absorbing Markov chain where there is nothing parallel (Kemeny & Snell 1960). What would grow with every round is Infinity.
 * O(elements + Σ size of each circle³), and O(elements) rounds for each inclusive join.
 */
export function visitsOf(process: Process): Visits {
  const { nodes, flows } = process
  const list = [...nodes.values()].filter(({ kind }) => kind !== 'data')
  const index = new Map(list.map(({ id }, i) => [id, i]))
  const starts = list.filter(
    ({ kind, type, into, during }) => (into.length === 0 && !during) || (kind === 'event' && type === 'start'),
  )
  const begun = starts.some(({ kind, type }) => kind === 'event' && type === 'start')
    ? starts.filter(({ kind, type }) => kind === 'event' && type === 'start')
    : starts
  const portions = new Map(list.flatMap((node) => [...portionsOf(node)]))
  const above = list.some(gathers) ? dominators(list, index, begun) : []
  const equations = list.map((node, i): Equation => {
    const terms = new Map<number, number>()
    const add = (from: number, portion: number) => terms.set(from, (terms.get(from) ?? 0) + portion)
    const split = gathers(node) ? above[i] : undefined
    const origin = split === undefined ? undefined : list[split]
    if (split !== undefined && origin)
      gathered(process, origin, node, (id, portion) => add(index.get(id) ?? -1, portion))
    else {
      const weight = waitsForAll(node) ? 1 / node.into.length : 1
      for (const line of node.into) {
        const from = index.get(line.source)
        if (from !== undefined) add(from, weight * (portions.get(line.id) ?? 0))
      }
    }
    return { constant: begun.includes(node) ? 1 / begun.length : 0, terms }
  })
  const solved = leastSolution(equations)
  const visits = new Map(list.map(({ id }, i) => [id, solved[i] ?? Infinity]))
  return {
    nodes: visits,
    flows: new Map(
      flows.map((line: Relation) => [line.id, times(visits.get(line.source) ?? 0, portions.get(line.id) ?? 0)]),
    ),
  }
}

/** So many times an amount: of nothing there is nothing, however often. */
export const times = (count: number, amount: number): number => (amount === 0 ? 0 : count * amount)

/**
 * How often an inclusive join is passed: once for each time that its origin is, as likely as at least one of the ways from there comes to it;
 * and once more for what enters the ways between them from elsewhere.
 */
function gathered(process: Process, origin: FlowNode, join: FlowNode, add: (from: Id, portion: number) => void): void {
  const arrives = arrivalsAt(process, origin.id, join.id)
  add(origin.id, arrives.get(origin.id) ?? 0)
  for (const id of arrives.keys()) {
    if (id === origin.id) continue
    for (const line of process.nodes.get(id)?.into ?? []) {
      const from = process.nodes.get(line.source)
      if (!from || arrives.has(from.id)) continue
      add(from.id, (portionsOf(from).get(line.id) ?? 0) * (arrives.get(id) ?? 0))
    }
  }
  // What leads straight from elsewhere into the join itself.
  for (const line of join.into) {
    const from = process.nodes.get(line.source)
    if (from && !arrives.has(from.id)) add(from.id, portionsOf(from).get(line.id) ?? 0)
  }
}

const ROUNDS = 2000
const EXACT = 1e-12

/** How likely it is that something comes from each element between two to the second, taken by itself: a round at a time until it stays. */
function arrivalsAt({ nodes }: Process, from: Id, to: Id): Map<Id, number> {
  const reachable = reach(
    [from],
    (id) => nodes.get(id)?.out.flatMap(({ target }) => (target === to ? [] : target)) ?? [],
  )
  const before = (id: Id) => nodes.get(id)?.into.flatMap(({ source }) => (reachable.has(source) ? source : [])) ?? []
  const leading = reach(before(to), (id) => (id === from ? [] : before(id)))
  const list = [...leading]
    .flatMap((id) => nodes.get(id) ?? [])
    .reverse()
    .map((node) => ({ node, portions: portionsOf(node) }))
  const likely = new Map(list.map(({ node }) => [node.id, 0]))
  for (let round = 0, change = Infinity; round < ROUNDS && change > EXACT; round++) {
    change = 0
    for (const { node, portions } of list) {
      const ways = node.out.map(({ id, target }) => ({
        portion: portions.get(id) ?? 0,
        arrives: target === to ? 1 : (likely.get(target) ?? 0),
      }))
      const now = choosesOne(node)
        ? ways.reduce((sum, { portion, arrives }) => sum + portion * arrives, 0)
        : atLeastOne(ways)
      change = Math.max(change, Math.abs(now - (likely.get(node.id) ?? 0)))
      likely.set(node.id, now)
    }
  }
  return likely
}

/** Of ways taken independently, at least one of them in any case: how likely one that was taken arrives. */
function atLeastOne(ways: readonly { portion: number; arrives: number }[]): number {
  const none = (of: (way: { portion: number; arrives: number }) => number) =>
    ways.reduce((product, way) => product * (1 - Math.min(1, of(way))), 1)
  const taken = 1 - none(({ portion }) => portion)
  return taken <= 0 ? 0 : (1 - none(({ portion, arrives }) => portion * arrives)) / taken
}

/** For each element, by index, the nearest one that every case has passed before it (Cooper, Harvey & Kennedy 2001). O(elements²) at worst. */
function dominators(
  list: readonly FlowNode[],
  index: ReadonlyMap<Id, number>,
  begun: readonly FlowNode[],
): (number | undefined)[] {
  const order: number[] = []
  const seen = new Set<number>()
  for (const start of begun) {
    const path = [{ at: index.get(start.id) ?? -1, next: 0 }]
    if (seen.has(path[0]?.at ?? -1)) continue
    seen.add(path[0]?.at ?? -1)
    for (let top = path.at(-1); top; top = path.at(-1)) {
      const line = list[top.at]?.out[top.next++]
      if (!line) {
        order.push(top.at)
        path.pop()
        continue
      }
      const to = index.get(line.target)
      if (to === undefined || seen.has(to)) continue
      seen.add(to)
      path.push({ at: to, next: 0 })
    }
  }
  order.reverse()
  const rank = new Map(order.map((at, place) => [at, place]))
  // −1 stands before every beginning.
  const ROOT = -1
  const above = new Map<number, number>([[ROOT, ROOT]])
  const roots = new Set(begun.map(({ id }) => index.get(id) ?? -1))
  const meet = (first: number, second: number): number => {
    let [a, b] = [first, second]
    while (a !== b) {
      if (a === ROOT || b === ROOT) return ROOT
      if ((rank.get(a) ?? 0) > (rank.get(b) ?? 0)) a = above.get(a) ?? ROOT
      else b = above.get(b) ?? ROOT
    }
    return a
  }
  for (let changed = true; changed;) {
    changed = false
    for (const at of order) {
      const before = (list[at]?.into ?? []).flatMap(({ source }) => {
        const from = index.get(source)
        return from !== undefined && above.has(from) ? [from] : []
      })
      const all = roots.has(at) ? [ROOT, ...before] : before
      const [first, ...rest] = all
      if (first === undefined) continue
      const now = rest.reduce(meet, first)
      if (above.get(at) !== now) {
        above.set(at, now)
        changed = true
      }
    }
  }
  return list.map((_, at) => {
    const found = above.get(at)
    return found === undefined || found === ROOT ? undefined : found
  })
}
