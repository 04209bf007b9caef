import type { Acceptance, Entity, Relation, Settings, View } from './facts'
import type { Id } from './ids'
import type { Model } from './model'
import { ModelError, type StepValue } from './step'

type Fact = Entity | Relation | View

const ENTITY_PATHS = { whole: ['name', 'from', 'to'], within: ['fields'] }
const RELATION_PATHS = { whole: ['source', 'target', 'from', 'to'], within: ['fields'] }
const VIEW_PATHS = {
  whole: ['title', 'caption', 'alt', 'order', 'picture'],
  within: ['scope', 'options', 'pins', 'look'],
}
const NEVER_CLEARED = new Set(['name', 'source', 'target', 'title', 'order', 'picture'])

/** A model in the making: maps are copied on their first write, so a change of a thousand steps copies each once. */
export class Draft {
  readonly entities: DraftMap<Entity>
  readonly relations: DraftMap<Relation>
  readonly views: DraftMap<View>
  #name: string
  #settings: Settings

  constructor(private readonly model: Model) {
    this.entities = new DraftMap('entity', model.entities, ENTITY_PATHS)
    this.relations = new DraftMap('relation', model.relations, RELATION_PATHS)
    this.views = new DraftMap('view', model.views, VIEW_PATHS)
    this.#name = model.name
    this.#settings = model.settings
  }

  setWorkspace(path: string, value: StepValue): StepValue {
    if (path === 'name' && typeof value === 'string') {
      const before = this.#name
      this.#name = value
      return before
    }
    const [, part, key] = /^(thresholds|accepted)\.(.+)$/s.exec(path) ?? []
    if (key !== undefined && key !== '__proto__') {
      if (part === 'thresholds' && (typeof value === 'number' || value === null)) {
        const before = this.#settings.thresholds[key] ?? null
        this.#settings = { ...this.#settings, thresholds: withKey(this.#settings.thresholds, key, value) }
        return before
      }
      if (part === 'accepted' && (value === null || isAcceptance(value))) {
        const before = this.#settings.accepted[key] ?? null
        this.#settings = { ...this.#settings, accepted: withKey(this.#settings.accepted, key, value) }
        return before
      }
    }
    throw new ModelError(`the workspace has no “${path}” that could be ${JSON.stringify(value)}`, 'bad-path')
  }

  finish(): Model {
    const { model } = this
    return model.with({
      name: this.#name,
      settings: this.#settings,
      entities: this.entities.finish(),
      relations: this.relations.finish(),
      views: this.views.finish(),
    })
  }
}

const isAcceptance = (value: StepValue): value is Acceptance =>
  typeof value === 'object' && value !== null && 'reason' in value

class DraftMap<T extends Fact> {
  #copy: Map<Id, T> | undefined

  constructor(
    private readonly sort: string,
    private readonly original: ReadonlyMap<Id, T>,
    private readonly paths: { readonly whole: readonly string[]; readonly within: readonly string[] },
  ) {}

  get(id: Id): T | undefined {
    return (this.#copy ?? this.original).get(id)
  }

  add(fact: T): void {
    if (this.get(fact.id)) throw new ModelError(`${this.sort} “${fact.id}” exists already`, 'exists')
    this.#write().set(fact.id, fact)
  }

  remove(id: Id): T {
    const fact = this.#existing(id)
    this.#write().delete(id)
    return fact
  }

  /** Writes one path of a fact and returns what stood there. */
  set(id: Id, path: string, value: StepValue): StepValue {
    const fact = this.#existing(id)
    const dot = path.indexOf('.')
    const head = dot < 0 ? path : path.slice(0, dot)
    const key = dot < 0 ? '' : path.slice(dot + 1)
    const known = dot < 0 ? this.paths.whole.includes(head) : this.paths.within.includes(head) && key !== ''
    if (!known || key === '__proto__') throw new ModelError(`${this.sort} “${id}” has no “${path}”`, 'bad-path')
    if (value === null && NEVER_CLEARED.has(path))
      throw new ModelError(`“${path}” of ${this.sort} “${id}” cannot be empty`, 'bad-path')
    const record = fact as unknown as Readonly<Record<string, unknown>>
    if (dot < 0) {
      this.#put(id, withKey(record, head, value))
      return (record[head] ?? null) as StepValue
    }
    const inner = record[head] as Readonly<Record<string, unknown>>
    this.#put(id, { ...record, [head]: withKey(inner, key, value) })
    return (inner[key] ?? null) as StepValue
  }

  finish(): ReadonlyMap<Id, T> {
    return this.#copy ?? this.original
  }

  #put(id: Id, fact: Readonly<Record<string, unknown>>): void {
    this.#write().set(id, fact as unknown as T)
  }

  #existing(id: Id): T {
    const fact = this.get(id)
    if (!fact) throw new ModelError(`there is no ${this.sort} “${id}”`, 'missing')
    return fact
  }

  #write(): Map<Id, T> {
    return (this.#copy ??= new Map(this.original))
  }
}

function withKey<V>(record: Readonly<Record<string, V>>, key: string, value: V | null): Record<string, V> {
  if (value !== null) return { ...record, [key]: value }
  const { [key]: _gone, ...rest } = record
  return rest
}
