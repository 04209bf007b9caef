import type { Day, Id, Model } from '../../model'
import { plainView, type Handling } from '../../notation'
import { actions } from './actions'
import { arrangements } from './gestures'
import { entityKinds, figures, relationKinds } from './kinds'
import { lists } from './lists'
import { outline } from './outline'
import { registers } from './registers'
import { linesOn } from './structure'

/** How the lines of figures are stated. */
export const handling: Handling = {
  id: 'figure',
  title: 'Figures',
  chapter: 'Figures',
  entityKinds,
  relationKinds,
  pictures: arrangements,
  scope: [figures.field],
  actions,
  registers,
  outline,
  lists,
  describe,
  ties: () => [],
  view: (newId, title) => ({ ...plainView('figure', 'cards')(newId, title), look: { paper: 'A4', across: true } }),
  blank: { figure: '' },
}

function describe(model: Model, id: Id, day: Day): string | undefined {
  const entity = model.entities.get(id)
  if (entity?.kind === 'figure') {
    const { all } = linesOn(model, { scope: { figure: id } }, day)
    return `${all.length.toLocaleString('en')} line${all.length === 1 ? '' : 's'}`
  }
  const figure = entity?.fields['figure']
  if (entity?.kind !== 'part' || typeof figure !== 'string') return undefined
  const one = linesOn(model, { scope: { figure } }, day).byId.get(id)
  if (!one) return 'Not in force on the day shown'
  const under = one.parts.length
  return [`Level ${one.depth + 1}`, ...(under > 0 ? [`${under} line${under === 1 ? '' : 's'} under it`] : [])].join(
    ' · ',
  )
}
