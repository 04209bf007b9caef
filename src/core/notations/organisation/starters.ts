import { Model, type Id, type View } from '../../model'
import type { Starter } from '../../notation'
import { apply } from '../../model'
import { outline } from './outline'

/** A view of everything as a tree. */
export const newView = (newId: () => Id, title: string): View => ({
  id: newId(),
  notation: 'organisation',
  picture: 'tree',
  title,
  order: 1,
  scope: {},
  options: {},
  pins: {},
  look: {},
})

const starter = (id: string, title: string, summary: string, list: string): Starter => ({
  id,
  title,
  summary,
  make: (newId, day) => {
    const view = newView(newId, title)
    const empty = Model.of({ name: title, views: [view] })
    const outcome = outline.paste({ model: empty, view, day, selection: [], newId }, undefined, list)
    if ('refused' in outcome) throw new RangeError(`starter “${id}”: ${outcome.refused}`)
    return apply(empty, outcome.change).model
  },
})

export const starters: readonly Starter[] = [
  starter(
    'team',
    'Team and assistant',
    'One lead, an assistant, a handful of people',
    `vacant — Team lead
  vacant — Assistant (assistant)
  vacant — Analyst
  vacant — Planner
  vacant — Engineer
  vacant — Service desk`,
  ),
  starter(
    'departments',
    'Departments',
    'A head, four departments, their staff',
    `vacant — Managing director
  vacant — Assistant (assistant)
  vacant — Head of operations
    vacant — Duty controller
    vacant — Duty controller
    vacant — Planner
  vacant — Head of finance
    vacant — Accountant
    vacant — Payroll clerk
  vacant — Head of people
    vacant — Recruiter
    vacant — Trainer
  vacant — Head of technology
    vacant — Systems engineer
    vacant — Service desk`,
  ),
  starter(
    'sites',
    'Region with sites',
    'One regional office, three sites with shifts',
    `vacant — Regional manager
  vacant — Regional coordinator (assistant)
  vacant — Site manager, north
    vacant — Early shift lead
      vacant — Operator
      vacant — Operator
    vacant — Late shift lead
      vacant — Operator
  vacant — Site manager, south
    vacant — Early shift lead
      vacant — Operator
    vacant — Late shift lead
      vacant — Operator
  vacant — Safety officer`,
  ),
]
