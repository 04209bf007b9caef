import { crossRules } from '../findings'
import type { Model } from '../model'
import { makeRegistry, sharedKinds } from '../notation'
import { organisation } from './organisation'
import { process } from './process'

const notations = [organisation, process]

/** All that Skivel can state, draw and check. */
export const registry = makeRegistry(
  notations,
  crossRules({
    kinds: [...sharedKinds, ...notations.flatMap((notation) => notation.entityKinds)],
    relationKinds: notations.flatMap((notation) => notation.relationKinds),
    drawnKinds,
  }),
)

function drawnKinds(model: Model): ReadonlySet<string> {
  const pictures = notations.flatMap((notation) => notation.pictures.map((picture) => ({ notation, picture })))
  const drawn = pictures.filter(({ notation, picture }) =>
    [...model.views.values()].some((view) => view.notation === notation.id && view.picture === picture.id),
  )
  return new Set(drawn.flatMap(({ picture }) => picture.draws))
}
