import {
  cut,
  isDay,
  isId,
  isWritable,
  parseJson,
  writable,
  type Day,
  type Fields,
  type FieldValue,
  type Id,
  type Model,
} from '../../../../model'
import { LIMITS, type Field } from '../../../../notation'
import { entityKinds, relationKinds } from '../../kinds'
import type { ReadFact } from './read'
import type { Pen, Stated } from './pen'

/** What stands in a file beside its elements of UML: what those do not say of our facts, so that nothing of them is lost. */
export interface Beside {
  readonly facts: Readonly<Record<string, Patch>>
  /** What is read from elements and is no fact of ours. */
  readonly without: readonly string[]
}

interface Patch {
  readonly id?: string
  /** Set for a fact that no element says. */
  readonly kind?: string
  readonly source?: string
  readonly target?: string
  readonly name?: string
  readonly from?: Day
  readonly to?: Day
  /** Null where an element says more than the fact does. */
  readonly fields?: Readonly<Record<string, FieldValue | Named | null>>
}

/** A fact that is not in the file: it may be known by its name elsewhere. */
interface Named {
  readonly id: string
  readonly name: string
}

const FIELDS: ReadonlyMap<string, ReadonlyMap<string, Field>> = new Map(
  [...entityKinds, ...relationKinds].map(({ id, fields }) => [id, new Map(fields.map((field) => [field.id, field]))]),
)
const leads = (kind: string, field: string): boolean => FIELDS.get(kind)?.get(field)?.type === 'reference'

/** What a file has to say beside its elements, as those are read back. O(facts) */
export function besideOf(model: Model, pen: Pen, read: readonly ReadFact[]): Beside {
  const byId = new Map(read.map((one) => [one.id, one]))
  const facts: Record<string, Patch> = {}
  const written = new Map<string, string>()
  const { entities, relations } = pen.facts
  for (const one of entities) written.set(one.id, pen.idOf(one))
  for (const fact of [...entities, ...relations]) {
    const id = pen.idOf(fact)
    const patch = patchFor(model, fact, id, byId.get(id), written)
    byId.delete(id)
    if (Object.keys(patch).length > 0) facts[id] = patch
  }
  return { facts, without: [...byId.keys()] }
}

function patchFor(
  model: Model,
  fact: Stated,
  id: string,
  read: ReadFact | undefined,
  written: ReadonlyMap<string, string>,
): Patch {
  const known = read?.kind === fact.kind ? read : undefined
  const fields: Record<string, FieldValue | Named | null> = {}
  for (const key of new Set([...Object.keys(fact.fields), ...Object.keys(known?.fields ?? {})])) {
    const value = fact.fields[key]
    const said =
      leads(fact.kind, key) && typeof value === 'string' ? (written.get(value) ?? namedIn(model, value)) : value
    if (JSON.stringify(said) !== JSON.stringify(known?.fields[key])) fields[key] = said ?? null
  }
  const [source, target] = 'source' in fact ? [written.get(fact.source), written.get(fact.target)] : []
  const name = 'name' in fact ? fact.name : ''
  return {
    ...(id === fact.id ? {} : { id: fact.id }),
    ...(known ? {} : { kind: fact.kind }),
    ...(source === known?.source ? {} : { source }),
    ...(target === known?.target ? {} : { target }),
    ...(name === (known?.name ?? '') ? {} : { name }),
    ...(fact.from === undefined ? {} : { from: fact.from }),
    ...(fact.to === undefined ? {} : { to: fact.to }),
    ...(Object.keys(fields).length > 0 ? { fields } : {}),
  }
}

const namedIn = (model: Model, id: string): string | Named => {
  const entity = model.entities.get(id as Id)
  return entity ? { id, name: entity.name } : id
}

/** A fact as it is stated, once all that a file says of it is taken together; identities are still those of the file. */
export interface Told {
  readonly kind: string
  readonly name: string
  readonly fields: Record<string, FieldValue>
  readonly source?: string
  readonly target?: string
  readonly from?: Day
  readonly to?: Day
  /** The identity that it had where it was written. */
  readonly id: string
}

/** Elements with what stands beside them. */
export function toldBy(model: Model, read: readonly ReadFact[], beside: Beside | undefined): ReadonlyMap<string, Told> {
  const told = new Map<string, Told>()
  const without = new Set(beside?.without)
  for (const one of read)
    if (!without.has(one.id)) told.set(one.id, { ...one, ...patched(model, one, beside?.facts[one.id]) })
  for (const [id, patch] of Object.entries(beside?.facts ?? {})) {
    if (told.has(id) || patch.kind === undefined) continue
    const base: ReadFact = {
      id,
      kind: patch.kind,
      name: '',
      fields: {},
      ...(patch.source === undefined ? {} : { source: patch.source }),
      ...(patch.target === undefined ? {} : { target: patch.target }),
    }
    told.set(id, { ...base, ...patched(model, base, patch) })
  }
  return told
}

/** Whether a fact may say such a thing: what a file tells is nobody’s word yet. */
function isAllowed(kind: string, key: string, value: FieldValue): boolean {
  const field = FIELDS.get(kind)?.get(key)
  const isText = (one: unknown, most: number) => typeof one === 'string' && one.length <= most && isWritable(one)
  if (!field) return false
  switch (field.type) {
    case 'flag':
      return typeof value === 'boolean'
    case 'number':
      return typeof value === 'number' && Number.isFinite(value)
    case 'choice':
      return typeof value === 'string' && field.choices?.includes(value) === true
    case 'list':
      return Array.isArray(value) && value.length <= MOST_LISTED && value.every((one) => isText(one, LIMITS.name))
    default:
      return isText(value, field.type === 'note' ? LIMITS.note : LIMITS.name)
  }
}
const MOST_LISTED = 1000

function patched(
  model: Model,
  one: ReadFact,
  patch: Patch | undefined,
): Omit<Told, 'kind'> & { readonly kind: string } {
  const fields: Record<string, FieldValue> = { ...one.fields }
  for (const [key, value] of Object.entries(patch?.fields ?? {})) {
    if (value === null) delete fields[key]
    else if (!isNamed(value)) fields[key] = value
    else fields[key] = model.entities.has(value.id as Id) ? value.id : value.name
  }
  const kind = patch?.kind ?? one.kind
  for (const [key, value] of Object.entries(fields)) if (!isAllowed(kind, key, value)) delete fields[key]
  const { source, target } = { source: patch?.source ?? one.source, target: patch?.target ?? one.target }
  return {
    id: patch?.id ?? one.id,
    kind,
    name: nameOf(patch?.name ?? one.name),
    fields,
    ...(source === undefined ? {} : { source }),
    ...(target === undefined ? {} : { target }),
    ...(patch?.from === undefined ? {} : { from: patch.from }),
    ...(patch?.to === undefined ? {} : { to: patch.to }),
  }
}

const nameOf = (text: string): string => cut(writable(text), LIMITS.name)

const isNamed = (value: FieldValue | Named): value is Named =>
  typeof value === 'object' && !Array.isArray(value) && 'name' in value

/** Fields of a fact, with the facts of the file that they lead to known by the identities that they have here. */
export function linked(kind: string, fields: Fields, here: ReadonlyMap<string, Id>): Fields {
  return Object.fromEntries(
    Object.entries(fields).map(([key, value]): [string, FieldValue] => [
      key,
      leads(kind, key) && typeof value === 'string' ? (here.get(value) ?? value) : value,
    ]),
  )
}

const KINDS: ReadonlySet<string> = new Set(FIELDS.keys())

/** What a file says beside its elements, if it says so in our way: a part of another shape is left out. */
export function readBeside(text: string): Beside | undefined {
  let json: unknown
  try {
    json = parseJson(text)
  } catch {
    return undefined
  }
  if (!isRecord(json) || !isRecord(json['facts'])) return undefined
  const facts = Object.entries(json['facts']).flatMap(([id, patch]): [string, Patch][] =>
    isRecord(patch) && isPatch(patch) ? [[id, patch as Patch]] : [],
  )
  const without = Array.isArray(json['without']) ? json['without'].filter((one) => typeof one === 'string') : []
  return { facts: Object.fromEntries(facts), without }
}

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)
const isPatch = ({ id, kind, name, source, target, from, to, fields }: Record<string, unknown>): boolean =>
  [from, to].every((one) => one === undefined || isDay(one)) &&
  (id === undefined || isId(id)) &&
  (kind === undefined || (typeof kind === 'string' && KINDS.has(kind))) &&
  [name, source, target].every((one) => one === undefined || typeof one === 'string') &&
  (fields === undefined || isRecord(fields))
