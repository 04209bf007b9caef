import type { Day, Id, Model } from '../../model'
import { outlineBy, plainView, type Action, type Handling, type Outline } from '../../notation'
import { actions } from './actions'
import { arrangements } from './gestures'
import { entityKinds, figures, relationKinds } from './kinds'
import { lists } from './lists'
import { mapActions } from './maps/actions'
import { conceptGestures } from './maps/gestures'
import { mapOutline } from './maps/outline'
import { mapOn } from './maps/structure'
import { outline as lines } from './outline'
import { registers } from './registers'
import { linesOn } from './structure'

const isMap = ({ picture }: { readonly picture: string }): boolean => picture === conceptGestures.id
const outlineFor = (view: { readonly picture: string }): Outline => (isMap(view) ? mapOutline : lines)
/** A map is written as concepts, any other figure as lines. */
const outline = outlineBy(outlineFor, lines)

/** Actions of maps, or of all other figures. */
const beside = (ofMaps: boolean, list: readonly Action[]): readonly Action[] =>
  list.map((action) => ({
    ...action,
    id: ofMaps ? `map-${action.id}` : action.id,
    applies: (wish) => isMap(wish.view) === ofMaps && action.applies(wish),
  }))

/** How the lines of figures, and the concepts of maps, are stated. */
export const handling: Handling = {
  id: 'figure',
  title: 'Figures',
  chapter: 'Figures',
  entityKinds,
  relationKinds,
  pictures: [...arrangements, conceptGestures],
  scope: [figures.field],
  actions: [...beside(false, actions), ...beside(true, mapActions)],
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
    const { concepts } = mapOn(model, { scope: { figure: id } }, day)
    if (concepts.length > 0) return `${concepts.length.toLocaleString('en')} concept${concepts.length === 1 ? '' : 's'}`
    return `${all.length.toLocaleString('en')} line${all.length === 1 ? '' : 's'}`
  }
  if (entity?.kind === 'concept') {
    const one = mapOn(model, { scope: { figure: entity.fields['figure'] ?? '' } }, day).byId.get(id)
    const count = one ? one.says.length + one.said.length : 0
    return one ? `${count.toLocaleString('en')} link${count === 1 ? '' : 's'}` : 'Not in force on the day shown'
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
