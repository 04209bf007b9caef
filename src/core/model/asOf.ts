import { covers, type Day } from './day'
import { Model } from './model'

/** The facts of one day: entities in force on it, and relations in force whose both ends are. Views stay. O(facts). */
export function asOf(model: Model, day: Day): Model {
  const entities = [...model.entities.values()].filter((entity) => covers(entity, day))
  const here = new Set(entities.map((entity) => entity.id))
  const relations = [...model.relations.values()].filter(
    (relation) => covers(relation, day) && here.has(relation.source) && here.has(relation.target),
  )
  return Model.of({
    name: model.name,
    settings: model.settings,
    entities,
    relations,
    views: model.views.values(),
  })
}
