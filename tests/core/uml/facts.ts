import { apply, asId, Model, type Day } from '../../../src/core/model'
import { outline } from '../../../src/core/notations/uml/outline'
import { classesOn, type ClassModel } from '../../../src/core/notations/uml/structure'
import { classView } from '../../classShapes'
import { DAY, numbering } from '../../facts'

/** Class models for tests, stated as their outline: as briefly as they can be read. */

/** @throws Error with the reason where a line cannot be read. */
export function classModel(text: string, view = classView()): Model {
  const begun = Model.of({ views: [view] })
  const outcome = outline.paste(
    { model: begun, view, day: '2000-01-01' as Day, selection: [], newId: numbering('n') },
    undefined,
    text.replace(/^\n/, ''),
  )
  if ('refused' in outcome) throw new Error(outcome.refused)
  return apply(begun, outcome.change).model
}

export const classesIn = (model: Model, day: Day = DAY): ClassModel => classesOn(model, day)

/** The outline of all classes as a text. */
export const textOf = (model: Model, day: Day = DAY): string =>
  outline
    .lines(model, model.views.get(asId('view')) ?? classView(), day)
    .map(({ depth, text }) => `${'  '.repeat(depth)}${text}`)
    .join('\n')
