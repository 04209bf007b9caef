import { distances, cyclicComponents } from '../../../graph'
import type { Id } from '../../../model'
import type { FlowNode, Process } from '../structure'
import { leastSolution, type Equation } from './equations'
import { choosesOne, portionsOf, sharesOf } from './visits'

/** Minutes that a case spends at an element: its time, by three points where these are stated ((a + 4m + b) / 6: Malcolm et al. 1959), and the wait before it. */
export function minutesAt({ kind, entity }: FlowNode): { work: number; wait: number } {
  const number = (id: string) => (typeof entity.fields[id] === 'number' ? entity.fields[id] : undefined)
  const [likely, least, most] = [number('duration'), number('least'), number('most')]
  const middle = likely ?? (least !== undefined && most !== undefined ? (least + most) / 2 : (least ?? most ?? 0))
  const work =
    kind !== 'step' ? 0 : least !== undefined && most !== undefined ? (least + 4 * middle + most) / 6 : middle
  return { work, wait: number('wait') ?? 0 }
}

/** Least and most minutes at an element. */
function boundsAt(node: FlowNode): { least: number; most: number } {
  const { fields } = node.entity
  const { work, wait } = minutesAt(node)
  const number = (id: string, otherwise: number) => (typeof fields[id] === 'number' ? fields[id] : otherwise)
  if (node.kind !== 'step') return { least: wait, most: wait }
  const likely = number('duration', work)
  return { least: wait + number('least', likely), most: wait + number('most', likely) }
}

/** Whether several ways out may be taken at once. */
export const takesSeveral = (node: FlowNode): boolean => node.out.length > 1 && !choosesOne(node)
const isInclusive = ({ kind, type }: FlowNode): boolean => kind === 'gateway' && type === 'inclusive'

/** Where the ways of a parallel split meet again: the first element that every one of them comes to. */
function meetingOf(process: Process, split: FlowNode): Id | undefined {
  const reach = split.out.map(({ target }) =>
    distances(target, (id) => process.nodes.get(id)?.out.map((flow) => flow.target) ?? []),
  )
  const [first, ...others] = reach
  let best: { id: Id; far: number } | undefined
  for (const [id, far] of first ?? []) {
    const all = others.map((other) => other.get(id))
    if (all.some((one) => one === undefined)) continue
    const most = Math.max(far, ...all.map((one) => one ?? 0))
    if (!best || most < best.far) best = { id, far: most }
  }
  return best?.id
}

interface Known {
  readonly expected: Map<string, number>
  readonly under: Set<string>
}
const memory = new WeakMap<Process, Known>()

/**
 * Expected minutes from an element until a case comes to `stop` or to an end: sums along a sequence, the mean over a decision’s ways by their
 * shares, and 1 / (1 − r) rounds of a loop repeated with probability r (standard cycle-time formulas). Of ways taken at once it is the longest of
 * their means, which is never more than the mean of the longest: where there are any, the whole is a lower bound. Infinity where a case that has
 * split comes back and splits again without end. Remembered by process. O(elements + Σ size of each circle³) for each level of ways at once.
 */
export function expectedMinutes(process: Process, from: Id, stop?: Id): number {
  const known = memory.get(process) ?? { expected: new Map<string, number>(), under: new Set<string>() }
  memory.set(process, known)
  const key = `${from} ${stop ?? ''}`
  const found = known.expected.get(key)
  if (found !== undefined) return found
  // A way that leads back to where it split before it met the others.
  if (known.under.has(key)) return Infinity
  known.under.add(key)
  const minutes = reckoned(process, from, stop)
  known.under.delete(key)
  known.expected.set(key, minutes)
  return minutes
}

function reckoned(process: Process, from: Id, stop: Id | undefined): number {
  const list: FlowNode[] = []
  const index = new Map<Id, number>()
  const open = [from]
  const meetings = new Map<Id, Id | undefined>()
  for (let id = open.pop(); id !== undefined; id = open.pop()) {
    const node = process.nodes.get(id)
    if (!node || id === stop || index.has(id)) continue
    index.set(id, list.length)
    list.push(node)
    if (takesSeveral(node)) {
      const meeting = meetingOf(process, node)
      meetings.set(id, meeting)
      if (meeting !== undefined && meeting !== stop) open.push(meeting)
    } else for (const { target } of node.out) open.push(target)
  }
  const equations = list.map((node): Equation => {
    const terms = new Map<number, number>()
    const { work, wait } = minutesAt(node)
    let constant = work + wait
    const take = (id: Id | undefined, portion: number) => {
      const at = id === undefined ? undefined : index.get(id)
      if (at !== undefined) terms.set(at, (terms.get(at) ?? 0) + portion)
    }
    if (takesSeveral(node)) {
      const meeting = meetings.get(node.id)
      const portions = portionsOf(node)
      const ways = node.out.map(({ id, target }) => ({
        portion: portions.get(id) ?? 1,
        minutes: target === meeting ? 0 : expectedMinutes(process, target, meeting ?? stop),
      }))
      constant += longestOf(ways)
      take(meeting, 1)
    } else if (choosesOne(node))
      for (const [line, share] of sharesOf(node)) take(node.out.find(({ id }) => id === line)?.target, share)
    else take(node.out[0]?.target, 1)
    return { constant, terms }
  })
  return list.length === 0 ? 0 : (leastSolution(equations)[0] ?? 0)
}

/** The mean of the longest of ways each of which is taken with its portion; where none of the others is, the shortest is. */
function longestOf(ways: readonly { readonly portion: number; readonly minutes: number }[]): number {
  const taken = ways.filter(({ portion }) => portion > 0).sort((a, b) => b.minutes - a.minutes)
  let [mean, left] = [0, 1]
  taken.forEach(({ portion, minutes }, index) => {
    const first = index === taken.length - 1 ? left : left * Math.min(1, portion)
    if (first > 0) mean += first * minutes
    left -= first
  })
  return mean
}

/** The elements of the way that most cases take, each once: of a decision the largest share, of ways taken at once the longest. O(elements²). */
export function likelyPath(process: Process): FlowNode[] {
  const start =
    [...process.nodes.values()].find(({ kind, type }) => kind === 'event' && type === 'start') ??
    [...process.nodes.values()].find(({ into, kind }) => into.length === 0 && kind !== 'data')
  const path: FlowNode[] = []
  const seen = new Set<Id>()
  for (let node = start; node && !seen.has(node.id);) {
    seen.add(node.id)
    path.push(node)
    const shares = choosesOne(node) ? sharesOf(node) : undefined
    const ways = node.out.filter(({ target }) => !seen.has(target))
    const weight = (line: { id: Id; target: Id }) =>
      shares ? (shares.get(line.id) ?? 0) : ways.length > 1 ? expectedMinutes(process, line.target) : 1
    const [best] = [...ways].sort((a, b) => weight(b) - weight(a))
    node = best ? process.nodes.get(best.target) : undefined
  }
  return path
}

export interface Bounds {
  readonly least: number
  /** Undefined where there are too many ways within a loop to look at all of them. */
  readonly most: number | undefined
}

/** Ways within loops that are looked at. */
const MOST_WAYS = 50_000

/**
 * Least and most minutes through, no element twice on one way; of ways taken at once the longest counts, of inclusive ones as few or as many as may
 * be. Undefined where nothing comes to an end. O(elements × depth); within loops every way is looked at, up to a bound, beyond which the least is
 * found as the cheapest derivation (Knuth 1977) and the most is left open.
 */
export function shortestAndLongest(process: Process, from: Id): Bounds | undefined {
  const { nodes } = process
  const next = (id: Id) => (nodes.get(id)?.out ?? []).map(({ target }) => target)
  const circling = new Set(cyclicComponents(nodes.keys(), next).flat())
  const known = new Map<string, Bounds | undefined>()
  const meetings = new Map<Id, Id | undefined>()
  const meeting = (node: FlowNode): Id | undefined => {
    if (!meetings.has(node.id)) meetings.set(node.id, meetingOf(process, node))
    return meetings.get(node.id)
  }
  let looked = 0
  const found = through(from, undefined, new Set())
  if (looked <= MOST_WAYS) return found
  const least = cheapest(process, from, meeting)
  return least === undefined ? undefined : { least, most: undefined }

  /** What lies on the way already matters only within a loop: nothing outside of one is come to again. */
  function through(first: Id, stop: Id | undefined, seen: ReadonlySet<Id>): Bounds | undefined {
    // A plain sequence is walked, not descended into.
    const walked: FlowNode[] = []
    let at: FlowNode | undefined
    for (let id = first; ;) {
      at = nodes.get(id)
      if (!at || id === stop) return along(walked, { least: 0, most: 0 })
      if (seen.has(id) || (circling.has(id) && walked.some((one) => one.id === id))) return undefined
      const [only, second] = at.out
      if (!only || second) break
      walked.push(at)
      id = only.target
    }
    const node = at
    const inLoop = circling.has(node.id)
    const key = `${node.id} ${stop ?? ''}`
    if (!inLoop && known.has(key)) return along(walked, known.get(key))
    if (inLoop && ++looked > MOST_WAYS) return undefined
    const on = new Set([...seen, ...walked.filter(({ id }) => circling.has(id)).map(({ id }) => id), node.id])
    const result = along([node], onwards(node, stop, on))
    if (!inLoop) known.set(key, result)
    return along(walked, result)
  }

  function onwards(node: FlowNode, stop: Id | undefined, on: ReadonlySet<Id>): Bounds | undefined {
    if (node.out.length === 0) return { least: 0, most: 0 }
    if (!takesSeveral(node)) return anyOf(node.out.flatMap(({ target }) => through(target, stop, on) ?? []))
    const meet = meeting(node)
    const ways = node.out.flatMap(({ target }) => through(target, meet ?? stop, on) ?? [])
    const rest = meet === undefined ? { least: 0, most: 0 } : through(meet, stop, on)
    const within = isInclusive(node) ? anyOf(ways) : allOf(ways)
    return within && rest && sum(within, rest)
  }
}

const sum = (a: Bounds, b: Bounds): Bounds => ({
  least: a.least + b.least,
  most: a.most === undefined || b.most === undefined ? undefined : a.most + b.most,
})
const along = (walked: readonly FlowNode[], rest: Bounds | undefined): Bounds | undefined =>
  rest && walked.reduce((total, node) => sum(total, boundsAt(node)), rest)
const longest = (ways: readonly Bounds[]): number | undefined =>
  ways.some(({ most }) => most === undefined) ? undefined : Math.max(...ways.map(({ most }) => most ?? 0))
const anyOf = (ways: readonly Bounds[]): Bounds | undefined =>
  ways.length === 0 ? undefined : { least: Math.min(...ways.map(({ least }) => least)), most: longest(ways) }
const allOf = (ways: readonly Bounds[]): Bounds | undefined =>
  ways.length === 0 ? undefined : { least: Math.max(...ways.map(({ least }) => least)), most: longest(ways) }

/** The least minutes through, by lowering what is known until nothing changes. O(rounds × elements × depth). */
function cheapest(process: Process, from: Id, meeting: (node: FlowNode) => Id | undefined): number | undefined {
  const { nodes } = process
  const value = new Map<string, number>()
  const asked: { id: Id; stop: Id | undefined; key: string }[] = []
  const of = (id: Id, stop: Id | undefined): number => {
    const key = `${id} ${stop ?? ''}`
    if (id === stop || !nodes.has(id)) return 0
    if (!value.has(key)) {
      value.set(key, Infinity)
      asked.push({ id, stop, key })
    }
    return value.get(key) ?? Infinity
  }
  of(from, undefined)
  for (let changed = true; changed;) {
    changed = false
    // The list grows while it is walked.
    for (const { id, stop, key } of asked) {
      const node = nodes.get(id)
      if (!node) continue
      let now = boundsAt(node).least
      if (takesSeveral(node)) {
        const meet = meeting(node)
        const ways = node.out.map(({ target }) => of(target, meet ?? stop))
        now += (isInclusive(node) ? Math.min(...ways) : Math.max(...ways)) + (meet === undefined ? 0 : of(meet, stop))
      } else if (node.out.length > 0) now += Math.min(...node.out.map(({ target }) => of(target, stop)))
      if (now < (value.get(key) ?? Infinity)) {
        value.set(key, now)
        changed = true
      }
    }
  }
  const least = value.get(`${from} `)
  return least !== undefined && Number.isFinite(least) ? least : undefined
}
