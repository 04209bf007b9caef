import { asId, Model, type Entity } from '../core/model'

/** Facts of some kinds by identities that say their names, where these are numbers; what is named more than once keeps its number. */
export function calledByName(model: Model, numbered: RegExp, kinds: readonly string[]): Model {
  const counts = new Map<string, number>()
  const keyOf = ({ kind, name }: Entity) => `${kind}-${name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}`
  for (const entity of model.entities.values()) counts.set(keyOf(entity), (counts.get(keyOf(entity)) ?? 0) + 1)
  const idOf = (id: string): string => {
    const entity = model.entities.get(asId(id))
    return entity && numbered.test(id) && kinds.includes(entity.kind) && counts.get(keyOf(entity)) === 1
      ? keyOf(entity)
      : id
  }
  const renamed = (fields: Entity['fields']) =>
    Object.fromEntries(
      Object.entries(fields).map(([key, value]) => [
        key,
        typeof value === 'string' && numbered.test(value) ? idOf(value) : value,
      ]),
    )
  return Model.of({
    entities: [...model.entities.values()].map((one) => ({
      ...one,
      id: asId(idOf(one.id)),
      fields: renamed(one.fields),
    })),
    relations: [...model.relations.values()].map((one) => ({
      ...one,
      source: asId(idOf(one.source)),
      target: asId(idOf(one.target)),
      fields: renamed(one.fields),
    })),
    views: model.views.values(),
  })
}
