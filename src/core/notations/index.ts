import { crossRules } from '../findings'
import { LAND_SOURCE, mapOf } from '../maps'
import type { Model } from '../model'
import { drawn, makeRegistry, pictureOf, SPACING } from '../notation'
import { figure } from './figure'
import { network } from './network'
import { organisation } from './organisation'
import { process } from './process'
import { schedule } from './schedule'
import { uml } from './uml'

const notations = [organisation, process, schedule, network, uml, figure]
const { kinds, relationKinds } = makeRegistry(notations, [])

/** All that Skivel can state, draw and check. */
export const registry = makeRegistry(
  notations,
  crossRules({
    kinds: [...kinds.values()],
    relationKinds: [...relationKinds.values()],
    drawnKinds,
    drawn: (model, view, day) => drawn(registry, model, view, day),
    spaced: (view) => pictureOf(registry, view)?.options.includes(SPACING) === true,
  }),
  { land: (places, width, height) => mapOf(places, width, height).land, source: LAND_SOURCE },
)

function drawnKinds(model: Model): ReadonlySet<string> {
  const pictures = notations.flatMap((notation) => notation.pictures.map((picture) => ({ notation, picture })))
  const shown = pictures.filter(({ notation, picture }) =>
    [...model.views.values()].some((view) => view.notation === notation.id && view.picture === picture.id),
  )
  return new Set(shown.flatMap(({ picture }) => picture.draws))
}
