import { counted, type Id, type Relation, type Step } from '../../model'
import {
  changed,
  addEntity,
  removal,
  removeEntity,
  removeRelation,
  setEntity,
  setRelation,
  type Outcome,
  type Wish,
} from '../../notation'
import { UNNAMED } from './kinds'
import { flowStep, newNode } from './edits'
import { processOf, processShown, type FlowNode } from './structure'

/** The selected elements become a subprocess, one step of this level; what led in or out now leads to and from that step. */
export function wrapSteps(wish: Wish): Outcome {
  const { model, view, day, selection, newId } = wish
  const process = processShown(model, view, day)
  const id = processOf(model, view)
  const inner = selection.flatMap((one) => process.nodes.get(one) ?? [])
  const [first] = inner
  if (!first || id === undefined) return { refused: 'Select the steps to be wrapped first.' }
  const own = new Set(inner.map((node) => node.id))
  const into = process.flows.filter((flow) => !own.has(flow.source) && own.has(flow.target))
  const out = process.flows.filter((flow) => own.has(flow.source) && !own.has(flow.target))
  const entries = new Set(into.map(({ target }) => target))
  const exits = new Set(out.map(({ source }) => source))
  if (entries.size > 1 || exits.size > 1)
    return { refused: 'Only a part that is entered and left in one place can be wrapped; here there are several.' }
  if (new Set(out.map(({ target }) => target)).size > 1)
    return { refused: 'This part is left by several ways. Wrap the decision’s branches with it.' }
  const made = newNode(wish, id, 'step', 'Subprocess', { type: 'subprocess' }, first)
  const start = innerEvent(wish, id, 'start', made.id)
  const end = innerEvent(wish, id, 'end', made.id)
  const [entry] = entries.size > 0 ? entries : [first.id]
  const [exit] = exits.size > 0 ? exits : [inner.find((node) => node.out.length === 0)?.id]
  const steps: Step[] = [
    ...made.steps,
    ...inner.map((node) => setEntity(node.id, 'fields.inside', made.id)),
    ...start.steps,
    ...end.steps,
    ...(entry === undefined ? [] : [flowStep(newId(), start.id, entry)]),
    ...(exit === undefined ? [] : [flowStep(newId(), exit, end.id)]),
    ...merged(
      into,
      (flow) => setRelation(flow.id, 'target', made.id),
      (flow) => flow.source,
    ),
    ...merged(
      out,
      (flow) => setRelation(flow.id, 'source', made.id),
      (flow) => flow.target,
    ),
  ]
  return changed(`Wrap ${counted(inner.length, 'element')} into a subprocess`, steps, { select: made.id, edit: 'name' })
}

/** Of several lines that would run between the same two elements one stays. */
function merged(flows: readonly Relation[], move: (flow: Relation) => Step, other: (flow: Relation) => Id): Step[] {
  const seen = new Set<Id>()
  return flows.map((flow) => {
    if (seen.has(other(flow))) return removeRelation(flow.id)
    seen.add(other(flow))
    return move(flow)
  })
}

function innerEvent({ newId }: Wish, process: Id, type: 'start' | 'end', inside: Id): { id: Id; steps: Step[] } {
  const id = newId()
  return { id, steps: [addEntity({ id, kind: 'event', name: UNNAMED, fields: { type, process, inside } })] }
}

/** The inner elements come back to this level, in the place of the subprocess. */
export function unwrap(wish: Wish): Outcome {
  const { model, view, day, selection } = wish
  const process = processShown(model, view, day)
  const [id] = selection
  const node = id === undefined ? undefined : process.nodes.get(id)
  if (!node) return { refused: 'Select a subprocess first.' }
  const inner = processShown(model, { ...view, scope: { ...view.scope, inside: node.id } }, day)
  const nodes = [...inner.nodes.values()]
  if (nodes.length === 0) return { refused: 'There is nothing inside this subprocess.' }
  const start = nodes.find(({ kind, type }) => kind === 'event' && type === 'start')
  const ends = nodes.filter(({ kind, type }) => kind === 'event' && type === 'end')
  const [entry] = start?.out ?? []
  const exits = ends.flatMap((end) => end.into)
  if (ends.length > 1 || exits.length > 1) return { refused: 'It has several ends. Lead them to one first.' }
  const gone = (one: FlowNode): Step[] => removal(model, one.id)
  const [exit] = exits
  const steps: Step[] = [
    ...nodes
      .filter((one) => one !== start && !ends.includes(one))
      .map((one) =>
        setEntity(
          one.id,
          'fields.inside',
          node.entity.fields['inside'] === undefined ? null : String(node.entity.fields['inside']),
        ),
      ),
    ...(start ? gone(start) : []),
    ...unique(ends.flatMap(gone), exit && start && entry?.id === exit.id ? exit.id : undefined),
    ...node.into.map((flow) => (entry ? setRelation(flow.id, 'target', entry.target) : removeRelation(flow.id))),
    ...node.out.map((flow) => (exit ? setRelation(flow.id, 'source', exit.source) : removeRelation(flow.id))),
    ...[...model.leaving(node.id), ...model.reaching(node.id)]
      .filter(({ kind }) => kind !== 'flow')
      .map((tie) => removeRelation(tie.id)),
    removeEntity(node.id),
  ]
  return changed(`Unwrap “${node.entity.name}”`, steps)
}

const unique = (steps: readonly Step[], already: Id | undefined): Step[] =>
  steps.filter((step) => !(step.do === 'remove-relation' && step.id === already))
