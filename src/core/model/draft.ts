import type { Acceptance, Settings } from './facts'
import type { Id } from './ids'
import type { Model } from './model'
import { at, bySort, SORTS, sorts, splitPath, type Fact, type Sort } from './sorts'
import { ModelError, type StepValue } from './stepValue'

/** A model in the making: maps are copied on their first write, so a change of a thousand steps copies each once. */
export class Draft {
  readonly of: Readonly<Record<Sort, DraftMap>>
  #name: string
  #settings: Settings

  constructor(private readonly model: Model) {
    this.of = bySort((sort) => new DraftMap(sort, model[SORTS[sort].list]))
    this.#name = model.name
    this.#settings = model.settings
  }

  setWorkspace(path: string, value: StepValue): StepValue {
    if (path === 'name' && typeof value === 'string') {
      const before = this.#name
      this.#name = value
      return before
    }
    const [, part, key] = /^(thresholds|accepted|look|themes)\.(.+)$/s.exec(path) ?? []
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
      if (part === 'look' && (typeof value === 'string' || value === null)) {
        const { look = {} } = this.#settings
        this.#settings = withPart(this.#settings, 'look', withKey(look, key, value))
        return look[key] ?? null
      }
      if (part === 'themes' && (isTexts(value) || value === null)) {
        const { themes = {} } = this.#settings
        this.#settings = withPart(this.#settings, 'themes', withKey(themes, key, value))
        return themes[key] ?? null
      }
    }
    throw new ModelError(`the workspace has no “${path}” that could be ${JSON.stringify(value)}`, 'bad-path')
  }

  finish(): Model {
    const { model } = this
    return model.with({
      name: this.#name,
      settings: this.#settings,
      ...Object.fromEntries(sorts.map((sort) => [SORTS[sort].list, this.of[sort].finish()])),
    })
  }
}

/** A part of the settings that holds nothing is not there: so it is as it was before its first entry. */
function withPart<P extends 'look' | 'themes'>(settings: Settings, part: P, value: NonNullable<Settings[P]>): Settings {
  const { [part]: _, ...rest } = settings
  return Object.keys(value).length === 0 ? (rest as Settings) : { ...settings, [part]: value }
}

const isTexts = (value: StepValue): value is readonly string[] =>
  Array.isArray(value) && value.every((one) => typeof one === 'string')
const isAcceptance = (value: StepValue): value is Acceptance =>
  typeof value === 'object' && value !== null && 'reason' in value

class DraftMap {
  #copy: Map<Id, Fact> | undefined

  constructor(
    private readonly sort: Sort,
    private readonly original: ReadonlyMap<Id, Fact>,
  ) {}

  add(fact: Fact): void {
    if (this.#facts().has(fact.id)) throw new ModelError(`${this.sort} “${fact.id}” exists already`, 'exists')
    this.#write().set(fact.id, fact)
  }

  remove(id: Id): Fact {
    const fact = this.#existing(id)
    this.#write().delete(id)
    return fact
  }

  /** Writes one path of a fact and returns what stood there. */
  set(id: Id, path: string, value: StepValue): StepValue {
    const fact = this.#existing(id)
    const { head, key } = splitPath(path)
    const { paths, parts } = SORTS[this.sort]
    const known = key === undefined ? Object.hasOwn(paths, head) : parts.includes(head) && key !== ''
    if (!known || key === '__proto__') throw new ModelError(`${this.sort} “${id}” has no “${path}”`, 'bad-path')
    if (value === null && paths[path]?.needed)
      throw new ModelError(`“${path}” of ${this.sort} “${id}” cannot be empty`, 'bad-path')
    const record = fact as unknown as Readonly<Record<string, unknown>>
    const written =
      key === undefined
        ? withKey(record, head, value)
        : { ...record, [head]: withKey(record[head] as Readonly<Record<string, unknown>>, key, value) }
    this.#write().set(id, written as unknown as Fact)
    return (at(fact, path) ?? null) as StepValue
  }

  finish(): ReadonlyMap<Id, Fact> {
    return this.#facts()
  }

  #facts(): ReadonlyMap<Id, Fact> {
    return this.#copy ?? this.original
  }

  #existing(id: Id): Fact {
    const fact = this.#facts().get(id)
    if (!fact) throw new ModelError(`there is no ${this.sort} “${id}”`, 'missing')
    return fact
  }

  #write(): Map<Id, Fact> {
    return (this.#copy ??= new Map(this.original))
  }
}

function withKey<V>(record: Readonly<Record<string, V>>, key: string, value: V | null): Record<string, V> {
  if (value !== null) return { ...record, [key]: value }
  const { [key]: _gone, ...rest } = record
  return rest
}
