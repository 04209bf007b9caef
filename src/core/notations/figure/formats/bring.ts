import { apply } from '../../../model'
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
import { plainOf } from '../../../scene'
import { handling } from '../handling'
import { pasted } from '../outline'
import { linesOn } from '../structure'
import { readLine } from '../words'

/** Lines of a file as a figure of its own, in a view of its own. One that no title is said of is called after its first line, which is then drawn once. */
export function figureFrom(wish: Wish, title: string | undefined, lines: readonly ListLine[]): ImportedFile | Refusal {
  if (lines.length === 0) return { refused: 'There is no line with text in this file.' }
  const figure = wish.newId()
  const said = title?.trim() ?? ''
  const name = clip(plainOf(said || wordsOf(lines[0]?.text ?? '')).trim() || 'Figure')
  const order = Math.max(0, ...[...wish.model.views.values()].map((view) => view.order)) + 1
  const view = { ...handling.view(wish.newId, name), order, scope: { figure } }
  const entity = { id: figure, kind: 'figure', name, fields: {} }
  const begun = wish.model.with({
    entities: new Map([...wish.model.entities, [figure, entity]]),
    views: new Map([...wish.model.views, [view.id, view]]),
  })
  const outcome = pasted({ ...wish, model: begun, view }, undefined, lines, 'Bring in lines')
  if (isRefusal(outcome)) return outcome
  const { tops } = linesOn(apply(begun, outcome.change).model, view, wish.day)
  // The only line on top of others is drawn as the title.
  const isTitled = said !== '' || (tops.length === 1 && (tops[0]?.parts.length ?? 0) > 1)
  const shown = isTitled ? view : { ...view, options: { ...view.options, title: false } }
  const made = changed(`Bring in “${name}”`, [
    addEntity(entity),
    { do: 'add-view', view: shown },
    ...outcome.change.steps,
  ])
  if (isRefusal(made)) return made
  const count = lines.length
  return {
    change: made.change,
    view: view.id,
    facts: [`A figure “${name}” of ${count.toLocaleString('en')} line${count === 1 ? '' : 's'}, in a view of its own.`],
  }
}

/** What a line is called, without what else it says. */
function wordsOf(line: string): string {
  const read = readLine(line)
  return 'refused' in read ? line : read.name
}
