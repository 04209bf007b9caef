import { readMoment, readWhen, tidyDuration } from '../calendar'
import { cut, isDay, isId, isWritable, type Entity, type Fields, type Id, type Relation, type View } from '../model'
import {
  fieldsOfKind,
  fieldsOfRelation,
  LIMITS,
  notationOf,
  optionsOf,
  pictureOf,
  type Field,
  type Registry,
} from '../notation'

/** What is wrong with something that came from outside, and where: `entities[3].fields.fte`. */
export interface Fault {
  readonly path: string
  readonly message: string
}

/** Collects faults while values from outside are read. Past `most` it counts no further. */
export class Faults {
  readonly list: Fault[] = []
  constructor(private readonly most = 50) {}
  get full(): boolean {
    return this.list.length >= this.most
  }
  add(path: string, message: string): void {
    if (this.list.length < this.most) this.list.push({ path, message })
  }
}

type Raw = Readonly<Record<string, unknown>>

export const isRecord = (value: unknown): value is Raw =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** Reads an entity, checked against its kind. Undefined when a fault was found. O(fields). */
export function readEntity(raw: unknown, path: string, registry: Registry, faults: Faults): Entity | undefined {
  if (!isRecord(raw)) return void faults.add(path, 'is not an object')
  const before = faults.list.length
  onlyKeys(raw, ['id', 'kind', 'name', 'fields', 'from', 'to'], path, faults)
  const kind = typeof raw['kind'] === 'string' ? registry.kinds.get(raw['kind']) : undefined
  if (!kind) return void faults.add(`${path}.kind`, `is not a kind of entity: ${quote(raw['kind'])}`)
  const alias = kind.nameField?.id
  const fields = readFields(raw['fields'], `${path}.fields`, fieldsOfKind(kind), faults, alias)
  const titled = alias === undefined || !isRecord(raw['fields']) ? undefined : raw['fields'][alias]
  const name = titled ?? raw['name']
  checkText(name, titled === undefined ? `${path}.name` : `${path}.fields.${alias}`, LIMITS.name, faults, true)
  const period = readPeriod(raw, path, faults)
  checkId(raw['id'], `${path}.id`, faults)
  if (faults.list.length > before) return undefined
  return { id: raw['id'] as Id, kind: kind.id, name: name as string, fields, ...period }
}

/** Reads a relation, checked against its kind. Its ends may be missing from the workspace: that is a finding, not a fault. */
export function readRelation(raw: unknown, path: string, registry: Registry, faults: Faults): Relation | undefined {
  if (!isRecord(raw)) return void faults.add(path, 'is not an object')
  const before = faults.list.length
  onlyKeys(raw, ['id', 'kind', 'source', 'target', 'fields', 'from', 'to'], path, faults)
  const kind = typeof raw['kind'] === 'string' ? registry.relationKinds.get(raw['kind']) : undefined
  if (!kind) return void faults.add(`${path}.kind`, `is not a kind of relation: ${quote(raw['kind'])}`)
  const fields = readFields(raw['fields'], `${path}.fields`, fieldsOfRelation(kind), faults)
  const period = readPeriod(raw, path, faults)
  for (const key of ['id', 'source', 'target']) checkId(raw[key], `${path}.${key}`, faults)
  if (faults.list.length > before) return undefined
  const { id, source, target } = raw as { id: Id; source: Id; target: Id }
  return { id, kind: kind.id, source, target, fields, ...period }
}

const VIEW_KEYS = ['id', 'notation', 'picture', 'title', 'caption', 'alt', 'order', 'scope', 'options', 'pins', 'look']

/** Reads a view; what it leaves out is empty, and its place is `order`. */
export function readView(
  raw: unknown,
  path: string,
  order: number,
  registry: Registry,
  faults: Faults,
): View | undefined {
  if (!isRecord(raw)) return void faults.add(path, 'is not an object')
  const before = faults.list.length
  onlyKeys(raw, VIEW_KEYS, path, faults)
  const { id, notation, picture, title, caption, alt } = raw
  checkId(id, `${path}.id`, faults)
  checkText(title, `${path}.title`, LIMITS.name, faults, true)
  if (caption !== undefined) checkText(caption, `${path}.caption`, LIMITS.note, faults)
  if (alt !== undefined) checkText(alt, `${path}.alt`, LIMITS.note, faults)
  const address = { notation: textOf(notation), picture: textOf(picture) }
  if (!notationOf(registry, address)) faults.add(`${path}.notation`, `is not a notation: ${quote(notation)}`)
  else if (!pictureOf(registry, address))
    faults.add(`${path}.picture`, `is not a picture of ${address.notation}: ${quote(picture)}`)
  const options = readFields(raw['options'], `${path}.options`, optionsOf(registry, address), faults)
  const [scope, look] = ['scope', 'look'].map((key) => readLoose(raw[key], `${path}.${key}`, faults))
  const pins = readPins(raw['pins'], `${path}.pins`, faults)
  if (raw['order'] !== undefined) checkNumber(raw['order'], `${path}.order`, faults)
  if (faults.list.length > before) return undefined
  return {
    id: id as Id,
    ...address,
    title: title as string,
    ...(caption === undefined ? {} : { caption: caption as string }),
    ...(alt === undefined ? {} : { alt: alt as string }),
    order: typeof raw['order'] === 'number' ? raw['order'] : order,
    scope: scope ?? {},
    options,
    pins,
    look: look ?? {},
  }
}

/** Whether a value suits a field; if not, the fault is added. */
export function checkField(value: unknown, field: Field, path: string, faults: Faults): void {
  switch (field.type) {
    case 'number':
    case 'integer':
      if (!checkNumber(value, path, faults)) return
      if (field.type === 'integer' && !Number.isInteger(value)) return faults.add(path, 'is not a whole number')
      if (field.min !== undefined && value < field.min) return faults.add(path, `is less than ${field.min}`)
      if (field.max !== undefined && value > field.max) return faults.add(path, `is more than ${field.max}`)
      return
    case 'flag':
      if (typeof value !== 'boolean') faults.add(path, `is neither true nor false: ${quote(value)}`)
      return
    case 'day':
      if (!isDay(value)) faults.add(path, `is not a day such as 2026-11-24: ${quote(value)}`)
      return
    case 'duration':
      if (typeof value !== 'string' || tidyDuration(value) !== value)
        faults.add(path, `is not a working time such as 5d, 4h, 30min or 2w: ${quote(value)}`)
      return
    case 'moment':
      if (typeof value !== 'string' || !readMoment(value))
        faults.add(path, `is not a day or a minute such as 2026-11-24 or 2026-11-24T13:00: ${quote(value)}`)
      return
    case 'when':
      if (typeof value !== 'string' || !readWhen(value))
        faults.add(path, `is not a date such as 1887, 1887-05, 1887-05-14 or -0043: ${quote(value)}`)
      return
    case 'choice':
      if (typeof value !== 'string' || !field.choices?.includes(value))
        faults.add(path, `is none of ${field.choices?.join(', ')}: ${quote(value)}`)
      return
    case 'list':
      if (!Array.isArray(value) || value.length > 1000) return faults.add(path, 'is not a list of texts')
      value.forEach((entry, index) => checkText(entry, `${path}[${index}]`, LIMITS.name, faults))
      return
    case 'note':
      return checkText(value, path, LIMITS.note, faults)
    case 'text':
    case 'image':
    case 'reference':
      return checkText(value, path, LIMITS.name, faults)
  }
}

export function checkId(value: unknown, path: string, faults: Faults): void {
  if (!isId(value))
    faults.add(path, `is not an identity (1 to 64 characters, no spaces or < > / & quotes): ${quote(value)}`)
}

export function checkText(value: unknown, path: string, most: number, faults: Faults, needed = false): void {
  if (typeof value !== 'string') faults.add(path, `is not a text: ${quote(value)}`)
  else if (value.length > most) faults.add(path, `has ${value.length} characters; ${most} is the most`)
  else if (!isWritable(value)) faults.add(path, 'holds a control character, or half of a character')
  else if (needed && value.trim() === '') faults.add(path, 'is empty')
}

function readFields(raw: unknown, path: string, known: readonly Field[], faults: Faults, skip?: string): Fields {
  if (raw === undefined) return {}
  if (!isRecord(raw)) return (faults.add(path, 'is not an object'), {})
  for (const key of Object.keys(raw)) {
    if (key === skip) continue
    const field = known.find(({ id }) => id === key)
    if (field) checkField(raw[key], field, `${path}.${key}`, faults)
    else faults.add(`${path}.${cut(key, 60)}`, 'is not a known field')
    if (faults.full) return {}
  }
  const { [skip ?? '']: _name, ...fields } = raw
  return fields as Fields
}

function readLoose(raw: unknown, path: string, faults: Faults): Fields {
  if (raw === undefined) return {}
  if (!isRecord(raw)) return (faults.add(path, 'is not an object'), {})
  const entries = Object.entries(raw)
  if (entries.length > 200) faults.add(path, 'has more than 200 entries')
  for (const [key, value] of entries.slice(0, 200)) {
    checkKey(key, path, faults)
    checkLoose(value, `${path}.${cut(key, 60)}`, faults)
  }
  return raw as Fields
}

function readPins(raw: unknown, path: string, faults: Faults): View['pins'] {
  if (raw === undefined) return {}
  if (!isRecord(raw)) return (faults.add(path, 'is not an object'), {})
  for (const [key, value] of Object.entries(raw)) {
    checkKey(key, path, faults)
    checkPin(value, `${path}.${cut(key, 60)}`, faults)
  }
  return raw as View['pins']
}

/** Whether a value is an acceptance of a finding, whose key begins with its rule. */
export function checkAcceptance(
  finding: string,
  value: unknown,
  path: string,
  registry: Registry,
  faults: Faults,
): void {
  if (!registry.rules.has(finding.split(' ')[0] ?? '') || finding.length > 2000)
    return faults.add(path, 'is not the key of a finding')
  if (!isRecord(value)) return faults.add(path, 'is not an object')
  onlyKeys(value, ['reason', 'until'], path, faults)
  checkText(value['reason'], `${path}.reason`, LIMITS.name, faults, true)
  if (value['until'] !== undefined && !isDay(value['until']))
    faults.add(`${path}.until`, `is not a day such as 2026-11-24: ${quote(value['until'])}`)
}

export function checkPin(value: unknown, path: string, faults: Faults): void {
  const isPair = Array.isArray(value) && value.length === 2 && value.every((n) => Number.isFinite(n))
  if (!isPair) faults.add(path, 'is not a pair of numbers')
}

function readPeriod(raw: Raw, path: string, faults: Faults) {
  for (const end of ['from', 'to'])
    if (raw[end] !== undefined && !isDay(raw[end]))
      faults.add(`${path}.${end}`, `is not a day such as 2026-11-24: ${quote(raw[end])}`)
  const { from, to } = raw
  return { ...(isDay(from) ? { from } : {}), ...(isDay(to) ? { to } : {}) }
}

export function onlyKeys(raw: Raw, known: readonly string[], path: string, faults: Faults): void {
  for (const key of Object.keys(raw)) {
    if (known.includes(key)) continue
    if (faults.full) return
    faults.add(path === '' ? cut(key, 60) : `${path}.${cut(key, 60)}`, 'is not known here')
  }
}

/** A value in words, for a message: of what is large or deep, only its sort. */
export function quote(value: unknown): string {
  if (value === undefined) return 'nothing'
  if (typeof value === 'object' && value !== null) return Array.isArray(value) ? 'a list' : 'an object'
  const text = JSON.stringify(typeof value === 'string' ? cut(value, 80) : value) ?? typeof value
  return text.length > 60 ? `${cut(text, 59)}…` : text
}

/** A text from outside, or nothing where it is none: never what an object says of itself. */
export const textOf = (value: unknown): string => (typeof value === 'string' ? value : '')

const MOST_KEY = 2100

/** Whether a name of an entry, such as an option's or a nudged fact's, can be kept. */
function checkKey(key: string, path: string, faults: Faults): void {
  if (key === '' || key === '__proto__' || key.length > MOST_KEY || !isWritable(key))
    faults.add(`${path}.${cut(key, 60)}`, 'cannot be the name of an entry')
}

/** Whether a value can be part of a view's scope or look. */
export function checkLoose(value: unknown, path: string, faults: Faults): void {
  if (typeof value === 'string') return checkText(value, path, LIMITS.name, faults)
  if (typeof value !== 'boolean' && (typeof value !== 'number' || !Number.isFinite(value)))
    faults.add(path, 'is neither a short text, a number nor true or false')
}

export function checkNumber(value: unknown, path: string, faults: Faults): value is number {
  if (typeof value === 'number' && Number.isFinite(value)) return true
  faults.add(path, `is not a number: ${quote(value)}`)
  return false
}
