import type { Entity, Id, Step } from '../../model'
import {
  addEntity,
  asKind,
  changed,
  clip,
  GONE,
  listText,
  readList,
  removeRelation,
  setEntity,
  setRelation,
  tooLongName,
  writing,
  type Outcome,
  type Outline,
  type Wish,
} from '../../notation'
import { besidesOf } from './besides'
import { flowStep, laneSteps, newLane, newNode, removeNodeSteps, spliceSteps } from './edits'
import { processes } from './kinds'
import { pasted } from './pasted'
import { calledNode, processShown, type FlowNode, type Process } from './structure'
import { goTo, readBranch, readNode, type Named } from './words'
import { linesOf } from './written'

/** A process as indented text: steps one under the other, branches beneath their decision, each with its own steps. */
export const outline: Outline = {
  hint: 'Verb and object @ Lane',

  lines: (model, view, day) => linesOf(processShown(model, view, day)),

  text: (model, view, day) => {
    const process = processShown(model, view, day)
    const lines = linesOf(process)
    return listText([...lines, ...besidesOf(model, process, lines)])
  },

  write: (wish, line, text) => {
    const process = processShown(wish.model, wish.view, wish.day)
    const node = process.nodes.get(line)
    if (node) return writeNode(wish, process, node, text)
    const flow = wish.model.relations.get(line)
    if (!flow) return GONE
    const to = goTo(text)
    if (to !== undefined || /^go to\b/i.test(text)) return changed(writing(text), leadSteps(wish, process, line, to))
    const read = readBranch(text, process.nodes.get(flow.source)?.kind === 'gateway')
    if ('refused' in read) return read
    const steps = ['label', 'share', 'default'].flatMap((key): Step[] => {
      const value = read.fields[key] ?? null
      return (flow.fields[key] ?? null) === value ? [] : [setRelation(line, `fields.${key}`, value)]
    })
    if (read.first !== undefined)
      return { refused: `“${clip(read.first)}” is a step: it goes on a line of its own, beneath its branch.` }
    return changed(writing(text), [...steps, ...leadSteps(wish, process, line, read.to)])
  },

  insert: (wish, line, text) => {
    const process = processShown(wish.model, wish.view, wish.day)
    const typed = readNode(text)
    const made = processes.forWish(wish)
    const after = line === undefined ? undefined : process.nodes.get(line)
    const flow = line === undefined || after ? undefined : wish.model.relations.get(line)
    const named = laneNamed(process, typed.lane)
    const fresh = typed.lane && !named ? newLane(wish, made.id, typed.lane, process.lanes.length + 1) : undefined
    const lane = (named ?? fresh)?.id ?? after?.lane ?? (flow && process.nodes.get(flow.target)?.lane)
    const near = { lane: typed.lane === null ? undefined : lane, phase: after?.phase }
    const node = newNode(wish, made.id, typed.kind, typed.name, { type: typed.type }, near)
    const steps: Step[] = [...made.steps, ...(fresh ? [addEntity(fresh)] : []), ...node.steps]
    const [on] = after?.out ?? []
    if (flow) steps.push(...spliceSteps(wish.newId, flow, node.id))
    else if (after && on && after.out.length === 1) steps.push(...spliceSteps(wish.newId, on, node.id))
    else if (after && !(after.kind === 'event' && after.type === 'end'))
      steps.push(flowStep(wish.newId(), after.id, node.id))
    else if (!after && process.nodes.size === 0) {
      const start = newNode(wish, made.id, 'event', '', { type: 'start' }, { lane })
      steps.push(...start.steps, flowStep(wish.newId(), start.id, node.id))
    }
    return changed('Add a line', steps, { select: node.id })
  },

  indent: () => BY_THE_FLOW,
  outdent: () => BY_THE_FLOW,

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
    return changed(`Move ${calledNode(node)} ${by > 0 ? 'down' : 'up'}`, steps)
  },

  remove: (wish, line) => {
    const process = processShown(wish.model, wish.view, wish.day)
    const node = process.nodes.get(line)
    if (node) return changed(`Remove ${calledNode(node)}`, removeNodeSteps(wish.model, node))
    return wish.model.relations.has(line) ? changed('Remove a line', [removeRelation(line)]) : GONE
  },

  paste: (wish, line, text) => {
    const lines = readList(text)
    if ('refused' in lines) return lines
    if (lines.length === 0) return { refused: 'There is no line with text in this paste.' }
    return pasted(wish, line, lines)
  },
}

const BY_THE_FLOW = {
  refused:
    'A step stands where the flow puts it. Move it with Alt and the arrows, or drop it on a line of the picture.',
}

/** Leads a way to what is named; nothing while nobody is called so. */
function leadSteps(wish: Wish, process: Process, flow: Id, to: Named | undefined): Step[] {
  const target = to && nodeNamed(process, to)
  const known = wish.model.relations.get(flow)
  return target && known && target.id !== known.target ? [setRelation(known.id, 'target', target.id)] : []
}

function nodeNamed(process: Process, named: Named): FlowNode | undefined {
  if ('line' in named) {
    const line = linesOf(process)[named.line - 1]
    return line && process.nodes.get(line.id)
  }
  return [...process.nodes.values()].find(({ entity }) => entity.name.toLowerCase() === named.name.toLowerCase())
}

const laneNamed = ({ lanes }: Process, name: string | null | undefined): Entity | undefined =>
  name ? lanes.find((lane) => lane.name.toLowerCase() === name.toLowerCase()) : undefined

/** What only steps have, and events. */
const OWN = new Set(['type', 'duration', 'least', 'most', 'cost', 'tool', 'worth', 'trigger', 'wait'])

/** A line as typed: name, kind and lane. While a lane’s name is not complete, it is a part of the step’s. */
function writeNode(wish: Wish, process: Process, node: FlowNode, text: string): Outcome {
  const typed = readNode(text)
  const tooLong = tooLongName(typed.name) ?? (typed.lane ? tooLongName(typed.lane) : undefined)
  if (tooLong) return tooLong
  const steps: Step[] = []
  const { entity } = node
  if (typed.kind !== node.kind) {
    const as = { ...entity, name: typed.name }
    steps.push(...asKind(as, typed.kind, (field) => !OWN.has(field), { type: typed.type }))
  } else {
    if (typed.name !== entity.name) steps.push(setEntity(node.id, 'name', typed.name))
    if (typed.type !== node.type) steps.push(setEntity(node.id, 'fields.type', typed.type))
  }
  const named = laneNamed(process, typed.lane)
  const fresh =
    typed.lane && !named ? newLane(wish, processes.forWish(wish).id, typed.lane, process.lanes.length + 1) : undefined
  if (fresh) steps.push(addEntity(fresh))
  const lane = named ?? fresh
  if (lane && lane.id !== node.lane) steps.push(...laneSteps(wish, node.id, lane.id))
  if (typed.lane === null && node.lane !== undefined) steps.push(...laneSteps(wish, node.id, undefined))
  return changed(writing(text), steps)
}
