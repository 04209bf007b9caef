import { dice } from '../src/core/graph'
import { asId, Model, type Entity, type Id, type Relation, type View } from '../src/core/model'

/** Made-up class models of a size, for layouts and benches: hierarchies in packages, with associations and uses between any of them. */

export const classView = (more: Partial<View> = {}): View => ({
  id: asId('view'),
  notation: 'uml',
  picture: 'classes',
  title: 'The classes',
  order: 1,
  scope: {},
  options: {},
  pins: {},
  look: {},
  ...more,
})

interface Shape {
  readonly classes: number
  readonly ties: number
  readonly packages?: number
  readonly seed?: number
  /** Roles and multiplicities at the ends. */
  readonly named?: boolean
  /** So many ties from a class to itself, several at one now and then, and as many with roles as long as people write them. */
  readonly loops?: number
}

export function classModelOf({ classes, ties, packages = 0, seed = 1, named = true, loops = 0 }: Shape): Model {
  const roll = dice(seed, 4711)
  const below = (count: number) => Math.floor(roll() * count)
  const entities: Entity[] = []
  const relations: Relation[] = []
  for (let at = 0; at < packages; at++)
    entities.push({ id: asId(`k${at}`), kind: 'package', name: `package${at}`, fields: { order: at } })
  const home = (at: number) => Math.floor((at * packages) / classes)
  for (let at = 0; at < classes; at++) {
    const id = asId(`c${at}`)
    const place: Entity['fields'] = packages === 0 ? {} : { package: `k${home(at)}` }
    entities.push({ id, kind: 'class', name: `Class${at}`, fields: { ...place, order: at } })
    const count = below(4)
    for (let member = 0; member < count; member++)
      entities.push({
        id: asId(`m${at}-${member}`),
        kind: 'attribute',
        name: `field${member}`,
        fields: { class: id, type: ['String', 'Integer', 'Boolean'][below(3)] ?? 'Real', visibility: 'private' },
      })
  }
  const tie = (kind: string, source: Id, target: Id, fields: Relation['fields'] = {}) =>
    relations.push({ id: asId(`t${relations.length}`), kind, source, target, fields })
  // About a third of all ties make something special, mostly in one package.
  for (let at = 1; at < classes && relations.length < ties * 0.35; at++) {
    if (roll() < 0.45) continue
    const from = Math.max(0, at - 1 - below(6))
    if (packages === 0 || home(from) === home(at)) tie('generalization', asId(`c${at}`), asId(`c${from}`))
  }
  while (relations.length < ties) {
    const a = below(classes)
    const b = roll() < 0.75 ? Math.min(classes - 1, Math.max(0, a + below(13) - 6)) : below(classes)
    if (a === b) continue
    const words: Relation['fields'] = named
      ? {
          targetRole: `role${below(20)}`,
          targetMultiplicity: ['1', '*', '0..1'][below(3)] ?? '1',
          sourceMultiplicity: '1',
        }
      : {}
    const kind = roll() < 0.8 ? 'association' : 'dependency'
    tie(kind, asId(`c${a}`), asId(`c${b}`), kind === 'association' ? { ...words, targetNavigable: 'yes' } : {})
  }
  for (let at = 0; at < loops; at++) {
    const one = asId(`c${below(Math.ceil(classes / 2))}`)
    const words = { sourceRole: 'subordinates', sourceMultiplicity: '*', targetMultiplicity: '0..1', label: 'manages' }
    tie('association', one, one, { ...words, targetRole: 'reports to', targetNavigable: 'yes' })
    const long = { sourceRole: 'formerPrincipalContact', targetRole: 'responsibleReplacementCoordinator' }
    tie('association', asId(`c${below(classes)}`), asId(`c${below(classes)}`), long)
  }
  return Model.of({ entities, relations, views: [classView()] })
}
