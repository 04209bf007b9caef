import type { Id, Step } from '../../model'
import { changed, setEntity, type Outcome, type Wish } from '../../notation'
import { healSteps, laneSteps, spliceSteps } from './edits'
import { calledNode, processShown } from './structure'

/** Dropping elements into a lane, into a phase, or on a line, which they then split. */
export function dropOn(wish: Wish): Outcome {
  const { model, view, day, selection, target, newId } = wish
  const process = processShown(model, view, day)
  const nodes = selection.flatMap((id) => process.nodes.get(id) ?? [])
  const [first] = nodes
  if (!first) return { refused: 'Only elements of the process can be moved.' }
  const who = nodes.length === 1 ? calledNode(first) : `${nodes.length} elements`
  const into = target === undefined ? undefined : model.entities.get(target)
  if (into?.kind === 'lane')
    return changed(
      `Put ${who} into “${into.name}”`,
      nodes.flatMap(({ id }) => laneSteps(wish, id, into.id)),
    )
  if (into?.kind === 'phase')
    return changed(
      `Put ${who} into phase “${into.name}”`,
      nodes.map(({ id }) => setEntity(id, 'fields.phase', into.id)),
    )
  const line = target === undefined ? undefined : model.relations.get(target as Id)
  if (line?.kind === 'flow') {
    if (nodes.length > 1) return { refused: 'Put one element on a line at a time.' }
    if (line.source === first.id || line.target === first.id) return { refused: 'It stands at this line already.' }
    if (first.kind === 'data' || (first.kind === 'event' && first.type !== 'intermediate'))
      return { refused: `${calledNode(first)} cannot stand within a line.` }
    const steps: Step[] = [...healSteps(model, first), ...spliceSteps(newId, line, first.id)]
    return changed(`Put ${who} on a line`, steps)
  }
  return { refused: 'Drop it into a lane or phase, or on a line.' }
}
