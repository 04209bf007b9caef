import { grouped, join } from './grouped'
import type { Entity, Relation, Settings, View } from './facts'
import type { Id } from './ids'

interface Parts {
  readonly name: string
  readonly settings: Settings
  readonly entities: ReadonlyMap<Id, Entity>
  readonly relations: ReadonlyMap<Id, Relation>
  readonly views: ReadonlyMap<Id, View>
}

const NO_ENTITIES: readonly Entity[] = []
const NO_RELATIONS: readonly Relation[] = []

/**
 * All facts of a workspace at one revision. Immutable: `apply` makes the next one.
 * Indexes by kind, source and target are made on first use in O(facts), and are handed on to a later model whose part did not change.
 */
export class Model implements Parts {
  readonly name: string
  readonly settings: Settings
  readonly entities: ReadonlyMap<Id, Entity>
  readonly relations: ReadonlyMap<Id, Relation>
  readonly views: ReadonlyMap<Id, View>
  #entitiesByKind: ReadonlyMap<string, readonly Entity[]> | undefined
  #relationsByKind: ReadonlyMap<string, readonly Relation[]> | undefined
  #bySource: ReadonlyMap<string, readonly Relation[]> | undefined
  #byTarget: ReadonlyMap<string, readonly Relation[]> | undefined

  static readonly empty = new Model({
    name: 'Untitled',
    settings: { thresholds: {}, accepted: {} },
    entities: new Map(),
    relations: new Map(),
    views: new Map(),
  })

  private constructor(parts: Parts) {
    this.name = parts.name
    this.settings = parts.settings
    this.entities = parts.entities
    this.relations = parts.relations
    this.views = parts.views
  }

  /** Facts in the given order; of two with one id the later wins. */
  static of(facts: {
    name?: string
    settings?: Settings
    entities?: Iterable<Entity>
    relations?: Iterable<Relation>
    views?: Iterable<View>
  }): Model {
    const byId = <T extends { readonly id: Id }>(list: Iterable<T> | undefined) =>
      new Map([...(list ?? [])].map((fact) => [fact.id, fact]))
    return new Model({
      name: facts.name ?? Model.empty.name,
      settings: facts.settings ?? Model.empty.settings,
      entities: byId(facts.entities),
      relations: byId(facts.relations),
      views: byId(facts.views),
    })
  }

  /** The same model with some parts replaced. */
  with(parts: Partial<Parts>): Model {
    const next = new Model({ ...this.#parts(), ...parts })
    if (next.entities === this.entities) next.#entitiesByKind = this.#entitiesByKind
    if (next.relations === this.relations) {
      next.#relationsByKind = this.#relationsByKind
      next.#bySource = this.#bySource
      next.#byTarget = this.#byTarget
    }
    return next
  }

  ofKind(kind: string): readonly Entity[] {
    this.#entitiesByKind ??= grouped(this.entities.values(), (entity) => entity.kind)
    return this.#entitiesByKind.get(kind) ?? NO_ENTITIES
  }

  relationsOfKind(kind: string): readonly Relation[] {
    this.#relationsByKind ??= grouped(this.relations.values(), (relation) => relation.kind)
    return this.#relationsByKind.get(kind) ?? NO_RELATIONS
  }

  /** Relations that leave an entity, of one kind or of all. */
  leaving(source: Id, kind?: string): readonly Relation[] {
    this.#bySource ??= groupedByEnd(this.relations.values(), (relation) => relation.source)
    return this.#bySource.get(kind === undefined ? source : `${kind} ${source}`) ?? NO_RELATIONS
  }

  /** Relations that reach an entity, of one kind or of all. */
  reaching(target: Id, kind?: string): readonly Relation[] {
    this.#byTarget ??= groupedByEnd(this.relations.values(), (relation) => relation.target)
    return this.#byTarget.get(kind === undefined ? target : `${kind} ${target}`) ?? NO_RELATIONS
  }

  #parts(): Parts {
    return {
      name: this.name,
      settings: this.settings,
      entities: this.entities,
      relations: this.relations,
      views: this.views,
    }
  }
}

function groupedByEnd(relations: Iterable<Relation>, end: (relation: Relation) => Id) {
  const groups = new Map<string, Relation[]>()
  for (const relation of relations) {
    join(groups, end(relation), relation)
    join(groups, `${relation.kind} ${end(relation)}`, relation)
  }
  return groups
}
