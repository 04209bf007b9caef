import type { Entity, Fields, Id, Model, Relation, Step } from '../../model'
import {
  changed,
  addEntity,
  entityNamed,
  GONE,
  removal,
  removeRelation,
  setEntity,
  setRelation,
  tie,
  tooLongName,
  type Outcome,
  type Wish,
} from '../../notation'
import { UNNAMED } from './kinds'
import { calledNode, insideOf, processShown, type FlowNode, type Process } from './structure'

/** Steps that several actions share. None of them writes: they say what would have to be written. */

export const flowStep = (id: Id, source: Id, target: Id, fields?: Fields): Step =>
  tie(id, 'flow', source, target, fields)

interface NewNode {
  readonly id: Id
  readonly steps: readonly Step[]
}

/** An element of a process, in a lane and a phase where these are given; `later` counts those made before it in the same change. */
export function newNode(
  wish: Pick<Wish, 'model' | 'view' | 'newId'>,
  process: Id,
  kind: 'step' | 'event' | 'gateway' | 'data',
  name: string,
  fields: Fields,
  near: { readonly lane?: Id | undefined; readonly phase?: Id | undefined } = {},
  later = 0,
): NewNode {
  const id = wish.newId()
  const inside = insideOf(wish.view)
  const entity: Entity = {
    id,
    kind,
    name: name || UNNAMED,
    fields: {
      ...fields,
      process,
      ...(inside === undefined ? {} : { inside }),
      ...(near.phase === undefined ? {} : { phase: near.phase }),
      order: nextOrder(wish.model) + later,
    },
  }
  const steps = [addEntity(entity)]
  if (near.lane !== undefined) steps.push(tie(wish.newId(), 'performed-in', id, near.lane))
  return { id, steps }
}

/** A lane, which stands for the role of its name where there is one. */
export function newLane(
  { model, newId }: Pick<Wish, 'model' | 'newId'>,
  process: Id,
  name: string,
  order: number,
): Entity {
  const of = entityNamed(model, ['role'], name)
  return { id: newId(), kind: 'lane', name, fields: { process, order, ...(of ? { of: of.id } : {}) } }
}

const ORDERED = ['step', 'event', 'gateway', 'data']

function nextOrder(model: Model): number {
  let most = 0
  for (const kind of ORDERED)
    for (const { fields } of model.ofKind(kind))
      if (typeof fields['order'] === 'number') most = Math.max(most, fields['order'])
  return most + 1
}

/** Puts a node on a line: the line now leads to it, and a new one on from it. */
export function spliceSteps(newId: () => Id, flow: Relation, node: Id): Step[] {
  return [setRelation(flow.id, 'target', node), flowStep(newId(), node, flow.target)]
}

/** Takes a node out of the flow: what led to it leads on to what it led to, where that is one. */
export function healSteps(model: Model, node: FlowNode): Step[] {
  const [on, second] = node.out
  const steps: Step[] = []
  const self = (flow: Relation) => flow.source === flow.target
  const healed = on && !second && !self(on)
  for (const flow of node.into) {
    if (self(flow)) continue
    const twin = healed && model.leaving(flow.source, 'flow').some((other) => other.target === on.target)
    if (healed && flow.source !== on.target && !twin) steps.push(setRelation(flow.id, 'target', on.target))
    else steps.push(removeRelation(flow.id))
  }
  for (const flow of node.out) steps.push(removeRelation(flow.id))
  return steps
}

/** Removes a node with all its ties, and heals the flow. */
export function removeNodeSteps(model: Model, node: FlowNode): Step[] {
  const healed = healSteps(model, node)
  const touched = new Set(healed.flatMap((step) => ('id' in step ? [step.id] : [])))
  const inner = [...model.entities.values()].filter(({ fields }) => fields['inside'] === node.id)
  const gone = removal(model, ...inner.map(({ id }) => id), node.id)
  return [...healed, ...gone.filter((step) => !('id' in step && touched.has(step.id)))]
}

/** Typing into a name or a label on the sheet. */
export function writeText(wish: Wish, part: string, text: string): Outcome {
  const { model, selection } = wish
  const [id] = selection
  const name = text.trim()
  if (id === undefined) return { refused: 'Select something first.' }
  const tooLong = tooLongName(name)
  if (tooLong) return tooLong
  if (part === 'label') {
    const flow = model.relations.get(id)
    if (!flow) return { refused: 'This line no longer exists.' }
    const read = readLabel(name)
    if ('refused' in read) return read
    const steps = [setRelation(id, 'fields.label', read.label === '' ? null : read.label)]
    if (read.share !== undefined) steps.push(setRelation(id, 'fields.share', read.share))
    return changed(`Label a line “${name.slice(0, 60)}”`, steps)
  }
  const entity = model.entities.get(id)
  if (!entity) return GONE
  return changed(`Name “${name.slice(0, 60)}”`, [setEntity(id, 'name', name === '' ? UNNAMED : name)])
}

/** “yes”, “yes 70 %” or “70 %”. */
export function readLabel(text: string): { label: string; share?: number } | { refused: string } {
  const part = /(?:^|\s)\(?(\d{1,3}(?:[.,]\d+)?)\s*%\)?$/.exec(text)
  if (!part?.[1]) return { label: text }
  const share = Number(part[1].replace(',', '.')) / 100
  if (share > 1) return { refused: 'A share is at most 100 %.' }
  return { label: text.slice(0, part.index).trim(), share: Number(share.toFixed(6)) }
}

export const shownNode = (wish: Pick<Wish, 'model' | 'view' | 'day' | 'selection'>): FlowNode | undefined => {
  const process = processShown(wish.model, wish.view, wish.day)
  const nodes = wish.selection.flatMap((id) => process.nodes.get(id) ?? [])
  return nodes.length === 1 ? nodes[0] : undefined
}

export const flowSelected = ({ model, selection }: Pick<Wish, 'model' | 'selection'>): Relation | undefined => {
  const [id, second] = selection
  const relation = id === undefined || second !== undefined ? undefined : model.relations.get(id)
  return relation?.kind === 'flow' || relation?.kind === 'message' ? relation : undefined
}

/** A line from one element to another: a flow within a pool, a message between two. */
export function connectOutcome(wish: Wish, source: Id, target: Id): Outcome {
  const process = processShown(wish.model, wish.view, wish.day)
  const [from, to] = [process.nodes.get(source), process.nodes.get(target)]
  const pool = wish.model.entities.get(target)?.kind === 'pool' ? target : undefined
  if (!from || (!to && pool === undefined))
    return { refused: 'A line leads from an element of this process to another.' }
  if (source === target) return { refused: 'An element cannot lead to itself.' }
  const message = pool !== undefined || poolOf(process, from) !== (to && poolOf(process, to))
  const kind = message ? 'message' : 'flow'
  if (wish.model.leaving(source, kind).some((line) => line.target === target))
    return { refused: 'There is such a line already.' }
  if (!message && from.kind === 'event' && from.type === 'end') return { refused: 'Nothing follows an end event.' }
  if (!message && to?.kind === 'event' && to.type === 'start') return { refused: 'Nothing leads to a start event.' }
  const name = to ? calledNode(to) : `“${wish.model.entities.get(target)?.name ?? target}”`
  return changed(`Lead from ${calledNode(from)} to ${name}`, [tie(wish.newId(), kind, source, target)])
}

export function poolOf(process: Process, node: FlowNode): Id | undefined {
  const pool = process.lanes.find(({ id }) => id === node.lane)?.fields['pool']
  return typeof pool === 'string' ? (pool as Id) : undefined
}

/** Puts an element into a lane. */
export function laneSteps({ model, newId }: Pick<Wish, 'model' | 'newId'>, node: Id, lane: Id | undefined): Step[] {
  const ties = model.leaving(node, 'performed-in')
  const [first, ...more] = ties
  if (lane === undefined) return ties.map(({ id }) => removeRelation(id))
  const rest = more.map(({ id }) => removeRelation(id))
  if (!first) return [tie(newId(), 'performed-in', node, lane)]
  return first.target === lane ? rest : [setRelation(first.id, 'target', lane), ...rest]
}
