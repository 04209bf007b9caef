import { apply, asId, Model, type Entity, type Id, type Relation, type View } from '../../../src/core/model'
import { isRefusal, type Outcome, type Wish } from '../../../src/core/notation'
import { schedule } from '../../../src/core/notations/schedule'
import { momentText, planShown, type Plan, type Work } from '../../../src/core/notations/schedule/plan'
import { DAY, numbering } from '../../facts'

export { schedule }
export const outline = schedule.outline ?? never('no outline')

function never(message: string): never {
  throw new Error(message)
}

export const planView = (more: Partial<View> = {}): View => ({
  ...schedule.view(() => asId('view'), 'Plan'),
  ...more,
})

export const wishOf = (model: Model, more: Partial<Wish> = {}): Wish => ({
  model,
  view: model.views.get(asId('view')) ?? planView(),
  day: DAY,
  selection: [],
  newId: numbering('m'),
  ...more,
})

export function after(model: Model, outcome: Outcome | undefined): Model {
  if (!outcome || isRefusal(outcome)) throw new Error(`refused: ${outcome?.refused ?? 'nothing'}`)
  return apply(model, outcome.change).model
}

/** A plan from its outline, begun on Monday 5 January 2026. */
export function planned(text: string, start = '2026-01-05', more: readonly (Entity | Relation)[] = []): Model {
  const empty = Model.of({
    name: 'Test',
    entities: [
      { id: asId('plan'), kind: 'plan', name: 'Plan', fields: { start } },
      ...more.filter((fact): fact is Entity => !('source' in fact)),
    ],
    relations: more.filter((fact): fact is Relation => 'source' in fact),
    views: [planView()],
  })
  return after(empty, outline.paste(wishOf(empty, { newId: numbering('n') }), undefined, text))
}

export const shown = (model: Model): Plan => planShown(model, model.views.get(asId('view')) ?? planView(), DAY)
export const workOf = (model: Model, name: string): Work =>
  shown(model).list.find(({ entity }) => entity.name === name) ?? never(`no “${name}”`)
export const idOf = (model: Model, name: string): Id => workOf(model, name).id
/** `2026-01-05 to 2026-01-09`. */
export function datesOf(model: Model, name: string): string {
  const { start, finish, time } = workOf(model, name)
  return `${momentText(start, time, 'start')} to ${momentText(finish, time, 'finish')}`
}
export const text = (model: Model): string =>
  outline
    .lines(model, model.views.get(asId('view')) ?? planView(), DAY)
    .map(({ depth, text: line }) => '  '.repeat(depth) + line)
    .join('\n')
export const act = (model: Model, action: string, selection: readonly Id[], more: Partial<Wish> = {}): Outcome => {
  const found = schedule.actions.find(({ id }) => id === action) ?? never(`no action “${action}”`)
  const wish = wishOf(model, { selection, ...more })
  if (!found.applies(wish)) throw new Error(`“${action}” does not apply`)
  return found.run(wish)
}
