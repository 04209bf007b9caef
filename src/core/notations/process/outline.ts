import type { Entity, Fields, Id, Step } from '../../model'
import {
  removeEntity,
  addEntity,
  readList,
  removeRelation,
  setEntity,
  setRelation,
  type ListLine,
  type Outcome,
  type Outline,
  type OutlineLine,
  type Refusal,
  type Wish,
} from '../../notation'
import { flowStep, laneSteps, newNode, removeNodeSteps, spliceSteps } from './edits'
import { processes, UNNAMED } from './kinds'
import { calledNode, inFlowOrder, processShown, type FlowNode, type Process } from './structure'
import { branchOf, goTo, isJoin, lineOf, readBranch, readNode, type TypedNode } from './words'

/** A process as indented text: steps one under the other, branches beneath their decision, each with its own steps. */
export const outline: Outline = {
  hint: 'Verb and object @ Lane',

  lines: (model, view, day) => linesOf(processShown(model, view, day)),

  write: (wish, line, text) => {
    const process = processShown(wish.model, wish.view, wish.day)
    const node = process.nodes.get(line)
    if (node) return writeNode(wish, process, node, text)
    const flow = wish.model.relations.get(line)
    if (!flow) return { refused: 'This line no longer exists.' }
    const name = goTo(text)
    if (name !== undefined || /^go to\b/i.test(text)) {
      const target = named(process, name ?? '')
      return {
        change: {
          label: `Go to ${name ?? ''}`,
          steps: target && target.id !== flow.target ? [setRelation(line, 'target', target.id)] : [],
        },
      }
    }
    const fields = readBranch(text)
    if (isRefused(fields)) return fields
    const steps = ['label', 'share', 'default'].flatMap((key): Step[] => {
      const value = fields[key] ?? null
      return (flow.fields[key] ?? null) === value
        ? []
        : [setRelation(line, `fields.${key}`, value as string | number | boolean | null)]
    })
    return { change: { label: `Write “${text.trim().slice(0, 60)}”`, steps } }
  },

  insert: (wish, line, text) => {
    const process = processShown(wish.model, wish.view, wish.day)
    const typed = readNode(text)
    const made = processes.forWish(wish)
    const after = line === undefined ? undefined : process.nodes.get(line)
    const flow = line === undefined || after ? undefined : wish.model.relations.get(line)
    const lane = laneNamed(process, typed.lane)?.id ?? after?.lane ?? (flow && process.nodes.get(flow.target)?.lane)
    const node = nodeOf(wish, made.id, typed, { lane, phase: after?.phase })
    const steps: Step[] = [...made.steps, ...node.steps]
    const [on] = after?.out ?? []
    if (flow) steps.push(...spliceSteps(wish.newId, flow, node.id))
    else if (after && on && after.out.length === 1) steps.push(...spliceSteps(wish.newId, on, node.id))
    else if (after && !(after.kind === 'event' && after.type === 'end'))
      steps.push(flowStep(wish.newId(), after.id, node.id))
    else if (!after && process.nodes.size === 0) {
      const start = newNode(wish, made.id, 'event', '', { type: 'start' }, { lane })
      steps.push(...start.steps, flowStep(wish.newId(), start.id, node.id))
    }
    return { change: { label: 'Add a line', steps }, select: node.id }
  },

  indent: () => ({
    refused:
      'A step stands where the flow puts it. Move it with Alt and the arrows, or drop it on a line of the picture.',
  }),
  outdent: () => ({
    refused:
      'A step stands where the flow puts it. Move it with Alt and the arrows, or drop it on a line of the picture.',
  }),

  move: (wish, line, by) => {
    const process = processShown(wish.model, wish.view, wish.day)
    const node = process.nodes.get(line)
    const plain = (one: FlowNode | undefined): one is FlowNode =>
      one !== undefined && one.into.length === 1 && one.out.length === 1
    if (!plain(node)) return { refused: 'Only a step with one way in and one way out can be moved.' }
    const neighbour = process.nodes.get((by > 0 ? node.out[0]?.target : node.into[0]?.source) ?? node.id)
    if (!plain(neighbour))
      return {
        refused:
          by > 0
            ? 'Nothing simple follows that it could be put after.'
            : 'Nothing simple stands before that it could be put before.',
      }
    const [first, second] = by > 0 ? [node, neighbour] : [neighbour, node]
    const [into, between, out] = [first.into[0], first.out[0], second.out[0]]
    if (!into || !between || !out) return { refused: 'It cannot be moved.' }
    const steps = [
      setRelation(into.id, 'target', second.id),
      setRelation(between.id, 'source', second.id),
      setRelation(between.id, 'target', first.id),
      setRelation(out.id, 'source', first.id),
    ]
    return { change: { label: `Move ${calledNode(node)} ${by > 0 ? 'down' : 'up'}`, steps } }
  },

  remove: (wish, line) => {
    const process = processShown(wish.model, wish.view, wish.day)
    const node = process.nodes.get(line)
    if (node) return { change: { label: `Remove ${calledNode(node)}`, steps: removeNodeSteps(wish.model, node) } }
    if (!wish.model.relations.has(line)) return { refused: 'This line no longer exists.' }
    return { change: { label: 'Remove a line', steps: [removeRelation(line)] } }
  },

  paste: (wish, line, text) => {
    const lines = readList(text)
    if ('refused' in lines) return lines
    if (lines.length === 0) return { refused: 'There is no line with text in this paste.' }
    return pasted(wish, line, lines)
  },
}

const isRefused = (value: Fields | Refusal): value is Refusal =>
  'refused' in value && typeof value['refused'] === 'string'

/** O(elements × branches). */
function linesOf(process: Process): OutlineLine[] {
  const lines: OutlineLine[] = []
  const printed = new Set<Id>()
  let lane: Id | undefined
  const visit = (from: Id, via: Id | undefined, depth: number, stops: readonly Id[]) => {
    let via_ = via
    for (let node = process.nodes.get(from); node;) {
      if (stops.includes(node.id)) return
      if (printed.has(node.id)) {
        if (via_ !== undefined) lines.push({ id: via_, depth, text: `go to ${node.entity.name}` })
        return
      }
      printed.add(node.id)
      lines.push({ id: node.id, depth, text: lineOf(node, process, lane) })
      lane = node.lane
      const [only, second] = node.out
      if (!only) return
      if (!second) {
        via_ = only.id
        node = process.nodes.get(only.target)
        continue
      }
      const meeting = meetingFor(process, node, printed)
      for (const flow of node.out) {
        lines.push({ id: flow.id, depth: depth + 1, text: branchOf(flow) })
        visit(flow.target, undefined, depth + 2, meeting === undefined ? stops : [...stops, meeting])
        const target = process.nodes.get(flow.target)
        const back =
          target &&
          printed.has(target.id) &&
          lines.at(-1)?.id === flow.id &&
          target.id !== meeting &&
          !stops.includes(target.id)
        if (back) {
          const last = lines.pop()
          if (last) lines.push({ ...last, text: `${last.text}: go to ${target.entity.name}` })
        }
      }
      if (meeting === undefined) return
      via_ = undefined
      node = process.nodes.get(meeting)
    }
  }
  for (const node of inFlowOrder(process))
    if (node.kind !== 'data' && !printed.has(node.id)) visit(node.id, undefined, 0, [])
  return lines
}

/** Where the ways out of an element meet again: the nearest element not yet written that most of them come to. */
function meetingFor(process: Process, split: FlowNode, printed: ReadonlySet<Id>): Id | undefined {
  const counts = new Map<Id, { ways: number; far: number }>()
  for (const { target } of split.out) {
    const far = new Map([[target, 0]])
    const queue = [target]
    for (const id of queue)
      for (const flow of process.nodes.get(id)?.out ?? [])
        if (!far.has(flow.target) && !printed.has(flow.target)) {
          far.set(flow.target, (far.get(id) ?? 0) + 1)
          queue.push(flow.target)
        }
    for (const [id, distance] of far) {
      if (printed.has(id)) continue
      const known = counts.get(id)
      counts.set(id, { ways: (known?.ways ?? 0) + 1, far: Math.max(known?.far ?? 0, distance) })
    }
  }
  let best: { id: Id; ways: number; far: number } | undefined
  for (const [id, { ways, far }] of counts)
    if (ways > 1 && (!best || ways > best.ways || (ways === best.ways && far < best.far))) best = { id, ways, far }
  return best?.id
}

const named = (process: Process, name: string): FlowNode | undefined =>
  [...process.nodes.values()].find(({ entity }) => entity.name.toLowerCase() === name.toLowerCase())

const laneNamed = ({ lanes }: Process, name: string | undefined): Entity | undefined =>
  name === undefined ? undefined : lanes.find((lane) => lane.name.toLowerCase() === name.toLowerCase())

const nodeOf = (
  wish: Wish,
  process: Id,
  { kind, type, name }: TypedNode,
  near: { lane?: Id | undefined; phase?: Id | undefined },
  later = 0,
) => newNode(wish, process, kind, name, { type }, near, later)

/** A line as typed: name, kind and lane. While a lane’s name is not complete, it is a part of the step’s. */
function writeNode(wish: Wish, process: Process, node: FlowNode, text: string): Outcome {
  const read = readNode(text)
  const lane = laneNamed(process, read.lane)
  const typed =
    read.lane !== undefined && !lane ? { ...readNode(text.replace(/\s+@\s.*$/, '')), name: text.trim() } : read
  if (typed.name.length > 400) return { refused: 'A name has 400 characters at most.' }
  const steps: Step[] = []
  const { entity } = node
  if (typed.kind !== node.kind) {
    const { type: _type, ...fields } = entity.fields
    const { duration: _a, least: _b, most: _c, cost: _d, tool: _e, worth: _f, trigger: _g, wait: _h, ...rest } = fields
    steps.push(
      removeEntity(node.id),
      addEntity({ ...entity, kind: typed.kind, name: typed.name, fields: { ...rest, type: typed.type } }),
    )
  } else {
    if (typed.name !== entity.name) steps.push(setEntity(node.id, 'name', typed.name))
    if (typed.type !== node.type) steps.push(setEntity(node.id, 'fields.type', typed.type))
  }
  if (lane && lane.id !== node.lane) steps.push(...laneSteps(wish, node.id, lane.id))
  return { change: { label: `Write “${text.trim().slice(0, 60)}”`, steps } }
}

/** An end of the flow that waits for what comes next. */
interface Open {
  readonly node: Id
  readonly fields: Fields
}

function pasted(wish: Wish, after: Id | undefined, lines: readonly ListLine[]): Outcome {
  const { model, newId } = wish
  const process = processShown(model, wish.view, wish.day)
  const made = processes.forWish(wish)
  const steps: Step[] = [...made.steps]
  const lanes = new Map(process.lanes.map(({ id, name }) => [name.toLowerCase(), id]))
  let laneCount = process.lanes.length
  const laneOf = (name: string): Id => {
    const known = lanes.get(name.toLowerCase())
    if (known !== undefined) return known
    const id = newId()
    const of = model.ofKind('role').find((role) => role.name.toLowerCase() === name.toLowerCase())
    lanes.set(name.toLowerCase(), id)
    steps.push(
      addEntity({
        id,
        kind: 'lane',
        name,
        fields: { process: made.id, order: ++laneCount, ...(of ? { of: of.id } : {}) },
      }),
    )
    return id
  }
  const nodes = new Map<string, Id>(
    [...process.nodes.values()].map(({ entity }) => [entity.name.toLowerCase(), entity.id]),
  )
  const jumps: { from: readonly Open[]; to: string }[] = []
  let order = 0
  let lane: Id | undefined = after === undefined ? undefined : process.nodes.get(after)?.lane
  let first: Id | undefined
  const connect = (open: readonly Open[], to: Id) => {
    for (const { node, fields } of open) steps.push(flowStep(newId(), node, to, fields))
  }
  const make = (typed: TypedNode): Id => {
    if (typed.lane !== undefined) lane = laneOf(typed.lane)
    const node = nodeOf(wish, made.id, typed, { lane }, order++)
    steps.push(...node.steps)
    if (typed.name !== UNNAMED) nodes.set(typed.name.toLowerCase(), node.id)
    first ??= node.id
    return node.id
  }
  const jump = (open: readonly Open[], to: string) => {
    jumps.push({ from: open, to })
  }
  /** Lines from `at` on that are at least as deep; answers where they end and what is still open. */
  const sequence = (from: number, depth: number, begin: readonly Open[]): { at: number; open: readonly Open[] } => {
    let [at, open] = [from, begin]
    let split: { type: string } | undefined
    while (at < lines.length) {
      const line = lines[at]
      if (!line || line.depth < depth) break
      const to = goTo(line.text)
      if (to !== undefined) {
        jump(open, to)
        open = []
        at++
        continue
      }
      const typed = readNode(line.text)
      // Several open branches meet in a gateway of the sort that split them, whether it is written or not.
      if (open.length > 1 && !isJoin(line.text)) {
        const join = make({
          kind: 'gateway',
          type: split?.type === 'event-based' ? 'exclusive' : (split?.type ?? 'exclusive'),
          name: UNNAMED,
          lane: undefined,
        })
        connect(open, join)
        open = [{ node: join, fields: {} }]
      }
      const node = make(typed)
      connect(open, node)
      open = typed.kind === 'event' && typed.type === 'end' ? [] : [{ node, fields: {} }]
      at++
      const below = lines[at]
      if (!below || below.depth <= line.depth || typed.kind !== 'gateway') continue
      const branches: Open[] = []
      const branchDepth = below.depth
      let number = 0
      while (at < lines.length) {
        const branch = lines[at]
        if (!branch || branch.depth < branchDepth) break
        const [label = '', inline] = branch.text.split(/:\s*go to\s+/i)
        const fields = readBranch(label)
        const start: Open = { node, fields: { ...(isRefused(fields) ? { label } : fields), order: ++number } }
        at++
        if (inline !== undefined) {
          jump([start], inline.trim())
          continue
        }
        const inner = sequence(at, branchDepth + 1, [start])
        at = inner.at
        branches.push(...inner.open)
      }
      open = branches
      split = { type: typed.type }
    }
    return { at, open }
  }
  const host = after === undefined ? undefined : process.nodes.get(after)
  const [on] = host?.out ?? []
  const fresh = host === undefined && process.nodes.size === 0
  const begins = readNode(lines[0]?.text ?? '')
  const begin: Open[] = []
  if (fresh && !(begins.kind === 'event' && begins.type === 'start')) {
    if (begins.lane !== undefined) lane = laneOf(begins.lane)
    begin.push({ node: make({ kind: 'event', type: 'start', name: UNNAMED, lane: undefined }), fields: {} })
  } else if (host && host.out.length < 2) begin.push({ node: host.id, fields: {} })
  let { open } = sequence(0, 0, begin)
  if (open.length > 1) {
    const join = make({ kind: 'gateway', type: 'exclusive', name: UNNAMED, lane: undefined })
    connect(open, join)
    open = [{ node: join, fields: {} }]
  }
  if (on && host?.out.length === 1) {
    steps.push(removeRelation(on.id))
    connect(open, on.target)
  } else if (fresh && open.length > 0)
    connect(open, make({ kind: 'event', type: 'end', name: UNNAMED, lane: undefined }))
  const missing: string[] = []
  for (const { from, to } of jumps) {
    const target = nodes.get(to.toLowerCase())
    if (target === undefined) missing.push(to)
    else connect(from, target)
  }
  if (missing.length > 0)
    return { refused: `There is no step “${missing[0]?.slice(0, 60)}” to go to. Nothing was changed.` }
  const long = lines.find(({ text }) => text.length > 400)
  if (long)
    return { refused: `A line of ${long.text.length} characters is not taken; 400 is the most. Nothing was changed.` }
  return { change: { label: `Paste ${lines.length} lines`, steps }, ...(first === undefined ? {} : { select: first }) }
}
