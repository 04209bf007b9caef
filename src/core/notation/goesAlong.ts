import { grouped, type Entity, type Id, type Model, type Relation } from '../model'
import type { Field } from './kind'
import { fieldsOfKind, fieldsOfRelation, type Registry } from './registry'
import { DAYS, isStub } from './shownPortion'

/** What goes along with a picture, of one kind of facts. */
export interface Along {
  /** How facts of the kind are called: as many as there are. */
  readonly word: string
  readonly names: readonly string[]
  /** What is told of them besides. */
  readonly fields: readonly string[]
  /** So many more are there without anything of their own: something that goes along leads to them. */
  readonly bare: number
}

/** What goes along, by name: all that whoever has the picture can read. O(facts) */
export function goesAlong(registry: Registry, portion: Model): readonly Along[] {
  const kinds = [...new Set([...portion.entities.values()].map(({ kind }) => kind))]
  const entities = kinds.map((kind): Along => {
    const known = registry.kinds.get(kind)
    const facts = portion.ofKind(kind)
    const told = facts.filter((one) => !isStub(registry, one))
    return {
      word: ((facts.length === 1 ? known?.title : known?.plural) ?? kind).toLowerCase(),
      names: told.map(({ name }) => name),
      fields: labelsOf(known ? fieldsOfKind(known) : [], facts),
      bare: facts.length - told.length,
    }
  })
  const ties = [...grouped(portion.relations.values(), ({ kind }) => kind)].map(([kind, facts]): Along => {
    const known = registry.relationKinds.get(kind)
    const endOf = (id: Id) => portion.entities.get(id)?.name ?? ''
    return {
      word: `ties “${(known?.title ?? kind).toLowerCase()}”`,
      names: facts.map(({ source, target }) => `${endOf(source)} – ${endOf(target)}`),
      fields: labelsOf(known ? fieldsOfRelation(known) : [], facts),
      bare: 0,
    }
  })
  // What says nothing of itself comes last.
  return [...entities, ...ties].sort((a, b) => Number(a.names.length === 0) - Number(b.names.length === 0))
}

function labelsOf(known: readonly Field[], facts: readonly (Entity | Relation)[]): readonly string[] {
  const stated = new Set(facts.flatMap(({ fields }) => Object.keys(fields)))
  const label = (id: string) => (known.find((field) => field.id === id)?.label ?? id).toLowerCase()
  const days = DAYS.filter((day) => facts.some((fact) => fact[day] !== undefined))
  return [...[...stated].map(label), ...(days.length > 0 ? ['days'] : [])]
}
