import {
  addEntity,
  changed,
  clip,
  isRefusal,
  type ImportedFile,
  type ListLine,
  type Refusal,
  type Wish,
} from '../../../notation'
import { handling } from '../handling'
import { pasted } from '../outline'

/** Lines of a file as a figure of its own, in a view of its own. */
export function figureFrom(wish: Wish, title: string | undefined, lines: readonly ListLine[]): ImportedFile | Refusal {
  if (lines.length === 0) return { refused: 'There is no line with text in this file.' }
  const figure = wish.newId()
  const name = clip(title?.trim() || lines[0]?.text || 'Figure')
  const order = Math.max(0, ...[...wish.model.views.values()].map((view) => view.order)) + 1
  const view = { ...handling.view(wish.newId, name), order, scope: { figure } }
  const entity = { id: figure, kind: 'figure', name, fields: {} }
  const begun = wish.model.with({
    entities: new Map([...wish.model.entities, [figure, entity]]),
    views: new Map([...wish.model.views, [view.id, view]]),
  })
  const outcome = pasted({ ...wish, model: begun, view }, undefined, lines, 'Bring in lines')
  if (isRefusal(outcome)) return outcome
  const made = changed(`Bring in “${name}”`, [addEntity(entity), { do: 'add-view', view }, ...outcome.change.steps])
  if (isRefusal(made)) return made
  const count = lines.length
  return {
    change: made.change,
    view: view.id,
    facts: [`A figure “${name}” of ${count.toLocaleString('en')} line${count === 1 ? '' : 's'}, in a view of its own.`],
  }
}
