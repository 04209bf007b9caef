import { apply, asId, Model, type Day, type Entity, type View } from '../../../src/core/model'
import { stateOutline } from '../../../src/core/notations/uml/states/outline'
import { machinesOn, type Machine } from '../../../src/core/notations/uml/states/structure'
import { DAY, numbering } from '../../facts'

/** State machines for tests, stated as their outline: as briefly as they can be read. */

export const stateView = (): View => ({
  id: asId('view'),
  notation: 'uml',
  picture: 'states',
  title: 'States',
  order: 1,
  scope: { machine: 'm' },
  options: {},
  pins: {},
  look: {},
})

const MACHINE: Entity = { id: asId('m'), kind: 'machine', name: 'M', fields: {} }

/** @throws Error with the reason where a line cannot be read. */
export function stateModel(text: string, more: readonly Entity[] = []): Model {
  const view = stateView()
  const begun = Model.of({ entities: [MACHINE, ...more], views: [view] })
  const outcome = stateOutline.paste(
    { model: begun, view, day: '2000-01-01' as Day, selection: [], newId: numbering('s') },
    undefined,
    text.replace(/^\n/, ''),
  )
  if ('refused' in outcome) throw new Error(outcome.refused)
  return apply(begun, outcome.change).model
}

export function machineIn(model: Model, day: Day = DAY): Machine {
  const found = machinesOn(model, day).get(asId('m'))
  if (!found) throw new Error('no machine')
  return found
}

/** The outline as a text. */
export const statesText = (model: Model, day: Day = DAY): string =>
  stateOutline
    .lines(model, stateView(), day)
    .map(({ depth, text }) => `${'  '.repeat(depth)}${text}`)
    .join('\n')
