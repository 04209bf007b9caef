import { distances } from '../../graph/reach'
import type { Id, Relation } from '../../model'
import type { OutlineLine } from '../../notation'
import { inFlowOrder, type FlowNode, type Process } from './structure'
import { branchOf, isWrittenAsJoin, lineOf, namedAs } from './words'

/** A process as lines: each element beneath what leads to it, ways out with their own steps beneath them, and `go to` where a way comes to something written elsewhere. O(elements × ways out). */
export function linesOf(process: Process): OutlineLine[] {
  return worded(process, new Writing(process).all())
}

/** A line before it has its words. */
interface Line {
  readonly id: Id
  readonly depth: number
  readonly node?: FlowNode
  readonly flow?: Relation
  readonly isApart?: boolean
  /** The element that a way goes to, written elsewhere. */
  to?: Id
}

/** An end of what is written so far, which goes on to something that is not: to the target of a flow, or nowhere. */
interface End {
  readonly flow: Relation | undefined
  readonly after: Line
  readonly depth: number
}

class Writing {
  readonly #printed = new Set<Id>()
  readonly #lines: Line[] = []
  /** `go to` lines that stand right after a line. */
  readonly #then = new Map<Line, Line>()

  /** A process with an end is written as it is; one without is taken for a list of steps, and given a start and an end where it is read. */
  readonly #isEnded: boolean

  constructor(private readonly process: Process) {
    this.#isEnded = [...process.nodes.values()].some(isEnd)
  }

  all(): Line[] {
    for (const { id, kind } of inFlowOrder(this.process))
      if (kind !== 'data' && !this.#printed.has(id)) this.#chain(id, undefined, 0, [])
    return this.#lines.flatMap((line) => [line, ...(this.#then.has(line) ? [this.#then.get(line) as Line] : [])])
  }

  #push(line: Line): Line {
    this.#lines.push(line)
    return line
  }

  /** Writes an element and what follows it, as far as one thing follows another; answers what is left open at its end. */
  #chain(first: Id, via: End | undefined, depth: number, stops: readonly Id[]): End[] {
    let [at, by]: [Id, End | undefined] = [first, via]
    for (;;) {
      const node = this.process.nodes.get(at)
      if (!node) return []
      if (by && stops.includes(at)) return [by]
      if (by && (this.#printed.has(at) || beginsAnew(node))) return (this.#jump(by), [])
      this.#printed.add(at)
      const isApart = !by && !beginsAnew(node) && (this.#lines.length > 0 || this.#isEnded)
      const line = this.#push({ id: at, depth, node, isApart })
      const [only, second] = node.out
      if (!only) return isEnd(node) ? [] : [{ flow: undefined, after: line, depth }]
      if (!second && !isEnd(node) && isPlain(only)) {
        ;[at, by] = [only.target, { flow: only, after: line, depth }]
        continue
      }
      const meeting = meetingFor(this.process, node, this.#printed)
      const inner = meeting === undefined || stops.includes(meeting) ? undefined : meeting
      const ends = node.out.flatMap((flow) =>
        this.#branch(flow, depth, inner === undefined ? stops : [...stops, inner]),
      )
      if (inner === undefined) return ends
      ;[at, by] = [inner, this.#met(ends, inner)]
    }
  }

  #branch(flow: Relation, depth: number, stops: readonly Id[]): End[] {
    const after = this.#push({ id: flow.id, depth: depth + 1, flow })
    return this.#chain(flow.target, { flow, after, depth: depth + 2 }, depth + 2, stops)
  }

  /**
   * Ways that come together in an element which is written after them all. Those that can be read off the lines stay as they are: all
   * of them where they meet in a written join, else the last one; the others say where they go.
   */
  #met(ends: readonly End[], meeting: Id): End | undefined {
    const here = ends.filter(({ flow }) => flow?.target === meeting)
    const elsewhere = ends.filter(({ flow }) => flow && flow.target !== meeting)
    const isBroken = ends.length > here.length + elsewhere.length
    const node = this.process.nodes.get(meeting)
    const falls = isBroken ? [] : node && isWrittenAsJoin(node) ? here : here.slice(-1)
    for (const end of [...elsewhere, ...here]) if (!falls.includes(end)) this.#jump(end)
    return falls.at(-1)
  }

  #jump({ flow, after, depth }: End): void {
    if (!flow) return
    if (after.flow === flow) after.to = flow.target
    else this.#then.set(after, { id: flow.id, depth, to: flow.target })
  }
}

const isStart = ({ kind, type }: FlowNode): boolean => kind === 'event' && type === 'start'
const isEnd = ({ kind, type }: FlowNode): boolean => kind === 'event' && type === 'end'
/** Nothing on the lines above leads to such an element. */
const beginsAnew = (node: FlowNode): boolean => isStart(node) || node.during !== undefined
const isPlain = ({ fields }: Relation): boolean =>
  fields['label'] === undefined && fields['share'] === undefined && fields['default'] !== true

/** Where the ways out of an element meet again: the nearest element not yet written that most of them come to. */
function meetingFor(process: Process, split: FlowNode, printed: ReadonlySet<Id>): Id | undefined {
  const counts = new Map<Id, { ways: number; far: number }>()
  for (const { target } of split.out) {
    const far = distances(target, (id) =>
      (process.nodes.get(id)?.out ?? []).map((flow) => flow.target).filter((next) => !printed.has(next)),
    )
    for (const [id, distance] of far) {
      const node = process.nodes.get(id)
      if (!node || printed.has(id) || beginsAnew(node)) continue
      const known = counts.get(id)
      counts.set(id, { ways: (known?.ways ?? 0) + 1, far: Math.max(known?.far ?? 0, distance) })
    }
  }
  let best: { id: Id; ways: number; far: number } | undefined
  for (const [id, { ways, far }] of counts)
    if (ways > 1 && (!best || ways > best.ways || (ways === best.ways && far < best.far))) best = { id, ways, far }
  return best?.id
}

/** Lines with their words: a lane is written where it differs from that of the line before. */
function worded({ nodes, lanes }: Process, lines: readonly Line[]): OutlineLine[] {
  const names = new Map<string, number>()
  for (const { entity } of nodes.values())
    names.set(entity.name.toLowerCase(), (names.get(entity.name.toLowerCase()) ?? 0) + 1)
  const laneNames = new Map(lanes.map(({ id, name }) => [id, name]))
  const rows = new Map(lines.flatMap(({ node }, row) => (node ? [[node.id, row + 1] as const] : [])))
  const called = (id: Id): string | undefined => {
    const node = nodes.get(id)
    return node && namedAs(node, rows.get(id) ?? 0, names.get(node.entity.name.toLowerCase()) === 1)
  }
  let lane: Id | undefined
  return lines.map(({ id, depth, node, flow, to, isApart = false }) => {
    if (node) {
      const said = node.lane === lane ? undefined : node.lane === undefined ? null : (laneNames.get(node.lane) ?? null)
      lane = node.lane
      return { id, depth, text: lineOf(node, { lane: said, isApart, during: duringOf(node, called) }) }
    }
    const target = to === undefined ? undefined : called(to)
    if (!flow) return { id, depth, text: `go to ${target ?? ''}` }
    return { id, depth, text: branchOf(flow, nodes.get(flow.source)?.kind === 'gateway', target) }
  })
}

function duringOf({ during }: FlowNode, called: (id: Id) => string | undefined): string | undefined {
  if (!during) return undefined
  return `${called(during.target) ?? ''}${during.fields['goesOn'] === true ? ' (goes on)' : ''}`
}
