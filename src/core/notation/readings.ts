import type { Day, Entity, Id, Model, View } from '../model'
import type { Box, Scene } from '../scene'
import { wordOf } from './emphasisRule'
import type { Field } from './kind'
import type { Column } from './notation'
import { referenceName } from './refer'
import { fieldsOfKind, fieldsOfRelation, notationOf, type Handlings } from './registry'

type Value = string | number

/** What the facts of a view say, by the words that its registers have for it. */
export interface Readings {
  readonly value: (fact: Id, word: string) => Value | undefined
  /** Whether it is something that such a fact could say. */
  readonly asks: (fact: Id, word: string) => boolean
  /** What it is called, and its values in their order, where a list states them. */
  readonly label: (word: string) => string
  readonly order: (word: string) => readonly string[] | undefined
  /** Whether one of some facts is a named fact, or stands beneath it, or says of itself that it belongs to it. */
  readonly isInside: (facts: readonly Id[], name: string) => boolean
}

type Read = (id: Id) => Value | undefined

/** Ways to read facts of a view, found once for each kind and word. */
export function readingsOf(registry: Handlings, scene: Scene, model: Model, view: View, day: Day): Readings {
  const notation = notationOf(registry, view)
  const ways = new Map<string, Read | undefined>()
  const labels = new Map<string, string>()
  const orders = new Map<string, readonly string[]>()

  const wayFor = (kind: string, word: string): Read | undefined => {
    const isMeant = ({ id, label }: { id: string; label: string }) =>
      wordOf(label) === word || id.toLowerCase() === word
    const name = (found: { readonly label: string; readonly choices?: unknown }) => {
      if (!labels.has(word)) labels.set(word, found.label)
      if (Array.isArray(found.choices)) orders.set(word, found.choices as readonly string[])
    }
    if (word === 'kind') {
      name({ label: 'Kind' })
      return () => registry.kinds.get(kind)?.title ?? registry.relationKinds.get(kind)?.title ?? kind
    }
    const column = notation?.registers
      .filter((one) => one.kind === kind)
      .flatMap(({ columns }) => columns)
      .find(isMeant)
    if (column) {
      name({ label: column.label, choices: fieldsOf(registry, kind).find(({ id }) => id === column.id)?.choices })
      return (id) => column.read(model, id, day)
    }
    const field = fieldsOf(registry, kind).find(isMeant)
    if (field) {
      name(field)
      return (id) => stated(model, id, field)
    }
    const tied = (id: Id): Column | undefined => {
      const entity = model.entities.get(id)
      return entity && notation?.ties(model, entity).find(isMeant)
    }
    return (id) => {
      const found = tied(id)
      if (found) name(found)
      return found?.read(model, id, day)
    }
  }
  const way = (id: Id, word: string): Read | undefined => {
    const kind = (model.entities.get(id) ?? model.relations.get(id))?.kind
    if (kind === undefined) return undefined
    const key = `${kind} ${word}`
    if (!ways.has(key)) ways.set(key, wayFor(kind, word))
    return ways.get(key)
  }
  const inside = new Map<string, ReadonlySet<Id>>()
  const within = (name: string): ReadonlySet<Id> => {
    const known = inside.get(name)
    if (known) return known
    const { found, isGround } = branchOf(scene, model, name)
    const lines = isGround ? [] : (notation?.outline?.lines(model, view, day) ?? [])
    for (const id of outlined(lines, found)) found.add(id)
    inside.set(name, found)
    return found
  }
  return {
    value: (id, word) => way(id, word)?.(id),
    asks: (id, word) => {
      const kind = model.entities.get(id)?.kind
      return (
        kind !== undefined &&
        (fieldsOf(registry, kind).some((one) => wordOf(one.label) === word || one.id === word) || labels.has(word))
      )
    },
    label: (word) => labels.get(word) ?? `${word.charAt(0).toUpperCase()}${word.slice(1)}`,
    order: (word) => orders.get(word),
    isInside: (facts, name) => {
      const branch = within(name)
      // A tie is inside where both its ends are.
      const isIn = (fact: Id): boolean => {
        const tie = model.relations.get(fact)
        return branch.has(fact) || (tie !== undefined && branch.has(tie.source) && branch.has(tie.target))
      }
      return facts.some(isIn)
    },
  }
}

const fieldsOf = (registry: Handlings, kind: string): readonly Field[] => {
  const [entity, relation] = [registry.kinds.get(kind), registry.relationKinds.get(kind)]
  const own = entity ? fieldsOfKind(entity) : relation ? fieldsOfRelation(relation) : []
  const named: readonly Field[] = [
    { id: 'name', label: entity?.nameField?.label ?? 'Name', type: 'text' },
    { id: 'from', label: 'From', type: 'day' },
    { id: 'to', label: 'To', type: 'day' },
  ]
  return [...own.filter(({ hidden, type }) => hidden !== true && type !== 'image'), ...named]
}

function stated(model: Model, id: Id, field: Field): Value | undefined {
  const fact = model.entities.get(id) ?? model.relations.get(id)
  if (!fact) return undefined
  if (field.id === 'name' || field.id === 'from' || field.id === 'to') {
    const value = (fact as Partial<Entity>)[field.id]
    return value === '' ? undefined : value
  }
  if (field.type === 'reference') return referenceName(model, model.entities.get(id), field)
  const value = fact.fields[field.id]
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  return typeof value === 'object' ? value.join(', ') : value
}

/** A named fact with what is drawn beneath it or within it, and with what says that it belongs to it. O(items × depth) */
function branchOf(
  { items }: Scene,
  model: Model,
  name: string,
): { readonly found: Set<Id>; readonly isGround: boolean } {
  const wanted = wordOf(name)
  const found = new Set<Id>()
  const isNamed = (id: Id) => id === name || wordOf(model.entities.get(id)?.name ?? '') === wanted
  for (const item of items) if (item.facts.some(isNamed)) for (const id of [item.id, ...item.facts]) found.add(id)
  const owners = new Set([...model.entities.values()].filter(({ id }) => isNamed(id)).map(({ id }) => id))
  // What is drawn on the ground of another, as in a lane, a zone or a package, belongs to it.
  const grounds = items.filter(({ ground, facts }) => ground === true && facts.some(isNamed))
  for (const { id, facts, ground, box } of items)
    if (ground !== true && grounds.some((one) => isOn(one.box, box))) for (const one of [id, ...facts]) found.add(one)
  const parents = new Map(items.map(({ id, parent }) => [id, parent]))
  for (const { id, facts, parent } of items) {
    const belongs = facts.some((fact) =>
      Object.values(model.entities.get(fact)?.fields ?? {}).some(
        (value) => typeof value === 'string' && owners.has(value as Id),
      ),
    )
    let above = parent
    const seen = new Set<Id>()
    while (above !== undefined && !found.has(above) && !seen.has(above)) {
      seen.add(above)
      above = parents.get(above)
    }
    // Where things stand on grounds, what they lead on to does not stand beneath them.
    const isBeneath = grounds.length === 0 && above !== undefined && found.has(above)
    if (belongs || isBeneath) for (const one of [id, ...facts]) found.add(one)
  }
  return { found, isGround: grounds.length > 0 }
}

const isOn = (ground: Box, { x, y, width, height }: Box): boolean =>
  x + width / 2 >= ground.x &&
  x + width / 2 <= ground.x + ground.width &&
  y + height / 2 >= ground.y &&
  y + height / 2 <= ground.y + ground.height

/** The lines of an outline that stand beneath one that is in a branch. O(lines) */
function outlined(
  lines: readonly { readonly id: Id; readonly depth: number }[],
  branch: ReadonlySet<Id>,
): readonly Id[] {
  let depth: number | undefined
  return lines.flatMap((line) => {
    if (depth !== undefined && line.depth > depth) return [line.id]
    depth = branch.has(line.id) ? line.depth : undefined
    return []
  })
}

/** The names of what the facts of a view’s picture can say, for rules. O(fields) */
export function wordsToAsk(registry: Handlings, view: View): readonly string[] {
  const notation = notationOf(registry, view)
  const kinds = notation?.pictures.find(({ id }) => id === view.picture)?.draws ?? []
  const columns = (notation?.registers ?? []).filter(({ kind }) => kinds.includes(kind)).flatMap((one) => one.columns)
  const fields = kinds.flatMap((kind) => fieldsOf(registry, kind)).filter(({ type }) => type !== 'note')
  return [...new Set(['Kind', ...[...columns, ...fields].map(({ label }) => label)])].filter(
    (word) => word !== 'Emphasis',
  )
}
