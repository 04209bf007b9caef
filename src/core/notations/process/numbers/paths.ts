import type { Id } from '../../../model'
import type { FlowNode, Process } from '../structure'
import { choosesOne, sharesOf, solve } from './visits'

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

const splitsParallel = (node: FlowNode): boolean => node.out.length > 1 && !choosesOne(node)

/** Where the ways of a parallel split meet again: the first element that every one of them comes to. */
function meetingOf(process: Process, split: FlowNode): Id | undefined {
  const reach = split.out.map(({ target }) => distances(process, target))
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

function distances({ nodes }: Process, from: Id): Map<Id, number> {
  const found = new Map([[from, 0]])
  const queue = [from]
  for (const id of queue)
    for (const { target } of nodes.get(id)?.out ?? [])
      if (!found.has(target)) {
        found.set(target, (found.get(id) ?? 0) + 1)
        queue.push(target)
      }
  return found
}

/**
 * Expected minutes from an element until a case comes to `stop` or to an end: sums along a sequence, the mean over a decision’s ways by their
 * shares, the longest of ways taken at once, and 1 / (1 − r) rounds of a loop repeated with probability r (standard cycle-time formulas).
 * O(elements³) for each level of parallel ways.
 */
export function expectedMinutes(process: Process, from: Id, stop?: Id): number {
  const list: FlowNode[] = []
  const index = new Map<Id, number>()
  const open = [from]
  const meetings = new Map<Id, Id | undefined>()
  for (let id = open.pop(); id !== undefined; id = open.pop()) {
    const node = process.nodes.get(id)
    if (!node || id === stop || index.has(id)) continue
    index.set(id, list.length)
    list.push(node)
    if (splitsParallel(node)) {
      const meeting = meetingOf(process, node)
      meetings.set(id, meeting)
      if (meeting !== undefined && meeting !== stop) open.push(meeting)
    } else for (const { target } of node.out) open.push(target)
  }
  const rows = list.map((node, i) => {
    const row = new Float64Array(list.length + 1)
    row[i] = 1
    const { work, wait } = minutesAt(node)
    let own = work + wait
    const take = (id: Id | undefined, portion: number) => {
      const at = id === undefined ? undefined : index.get(id)
      if (at !== undefined) row[at] = (row[at] ?? 0) - portion
    }
    if (splitsParallel(node)) {
      const meeting = meetings.get(node.id)
      own += Math.max(
        ...node.out.map(({ target }) => (target === meeting ? 0 : expectedMinutes(process, target, meeting ?? stop))),
      )
      take(meeting, 1)
    } else if (choosesOne(node))
      for (const [line, share] of sharesOf(node)) take(node.out.find(({ id }) => id === line)?.target, share)
    else take(node.out[0]?.target, 1)
    row[list.length] = own
    return row
  })
  return list.length === 0 ? 0 : (solve(rows)[0] ?? 0)
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

/** Least and most minutes through, every loop left out, ways taken at once counted by the longest. O(elements × depth). */
export function shortestAndLongest(
  process: Process,
  from: Id,
  stop?: Id,
  seen: ReadonlySet<Id> = new Set(),
): { least: number; most: number } | undefined {
  const node = process.nodes.get(from)
  if (!node || from === stop) return { least: 0, most: 0 }
  if (seen.has(from)) return undefined
  const known = memory.get(process) ?? new Map<string, { least: number; most: number } | undefined>()
  memory.set(process, known)
  const key = `${from} ${stop ?? ''}`
  if (known.has(key)) return known.get(key)
  const on = new Set([...seen, from])
  const own = boundsAt(node)
  const add = (rest: { least: number; most: number } | undefined) =>
    rest && { least: own.least + rest.least, most: own.most + rest.most }
  let result: { least: number; most: number } | undefined
  if (node.out.length === 0) result = own
  else if (splitsParallel(node)) {
    const meeting = meetingOf(process, node)
    const ways = node.out.flatMap(({ target }) => shortestAndLongest(process, target, meeting ?? stop, on) ?? [])
    const rest = meeting === undefined ? { least: 0, most: 0 } : shortestAndLongest(process, meeting, stop, on)
    result =
      ways.length === 0 || !rest
        ? undefined
        : add({
            least: Math.max(...ways.map(({ least }) => least)) + rest.least,
            most: Math.max(...ways.map(({ most }) => most)) + rest.most,
          })
  } else {
    const ways = node.out.flatMap(({ target }) => shortestAndLongest(process, target, stop, on) ?? [])
    result =
      ways.length === 0
        ? undefined
        : add({ least: Math.min(...ways.map(({ least }) => least)), most: Math.max(...ways.map(({ most }) => most)) })
  }
  known.set(key, result)
  return result
}

const memory = new WeakMap<Process, Map<string, { least: number; most: number } | undefined>>()
