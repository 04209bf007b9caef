import type { Day, Id, Model, View } from '../model'
import { drawn } from './compared'
import { portionOf, SHARED } from './portion'
import type { Registry } from './registry'

/**
 * The facts that a view shows, with all that they name and their dates, and nothing beyond: what a picture of it may carry. A tie that leads out of what is
 * drawn stays behind. O(facts + drawing)
 */
export function shownPortion(registry: Registry, model: Model, view: View, day: Day): Model {
  const drawing = drawn(registry, model, view, day)
  if (!drawing) return portionOf(registry, model, [], [view])
  const facts: readonly Id[] = [...drawing.items.flatMap((item) => item.facts), ...drawing.links.map((link) => link.id)]
  const shown = new Set(facts)
  const isInside = (end: Id) => shown.has(end) || SHARED.has(model.entities.get(end)?.kind ?? '')
  const within = facts.filter((id) => {
    const tie = model.relations.get(id)
    return !tie || (isInside(tie.source) && isInside(tie.target))
  })
  return portionOf(registry, model, within, [view])
}
