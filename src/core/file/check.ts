import { readMoment, readWhen, tidyDuration } from '../calendar'
import {
  cut,
  isAsset,
  isDay,
  isId,
  isWritable,
  readTheme,
  SORTS,
  TONES,
  type Fields,
  type Shape,
  type Sort,
  type Stated,
} from '../model'
import { fieldAt, LIMITS, notationOf, partsOf, pictureOf, type Field, type Registry } from '../notation'

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

/**
 * Reads a fact of a sort, checked against its kind or picture; undefined when a fault was found. Ends may be missing from the
 * workspace: that is a finding, not a fault. Parts that are left out are empty, and a view without a place gets `order`. O(entries)
 */
export function readFact<S extends Sort>(
  sort: S,
  raw: unknown,
  path: string,
  registry: Registry,
  faults: Faults,
  order = 1,
): Stated[S] | undefined {
  if (!isRecord(raw)) return void faults.add(path, 'is not an object')
  const before = faults.list.length
  const { fixed, paths, parts } = SORTS[sort]
  onlyKeys(raw, ['id', ...fixed, ...Object.keys(paths), ...parts], path, faults)
  const known = partsOf(registry, sort, raw)
  if (!known) return void faults.add(...unknownKind(sort, raw, path, registry))
  const alias = sort === 'entity' ? aliasOf(registry, raw) : undefined
  checkId(raw['id'], `${path}.id`, faults)
  const stated: Record<string, unknown> = { id: raw['id'] }
  for (const key of fixed) stated[key] = raw[key]
  for (const [key, { shape, needed = false }] of Object.entries(paths)) {
    const aliased = key === 'name' ? alias : undefined
    const value = aliased ? aliased.value : (raw[key] ?? (shape === 'order' ? order : raw[key]))
    if (value === undefined && !needed) continue
    checkShape(value, shape, aliased ? `${path}.fields.${aliased.field}` : `${path}.${key}`, faults, needed)
    stated[key] = value
  }
  for (const key of parts)
    stated[key] = readFields(
      raw[key],
      `${path}.${key}`,
      known[key] ?? [],
      faults,
      key === 'fields' ? alias?.field : undefined,
    )
  return faults.list.length > before ? undefined : (stated as unknown as Stated[S])
}

/** The field that stands for the name, where a file says it so. */
function aliasOf(registry: Registry, raw: Raw): { readonly field: string; readonly value: unknown } | undefined {
  const field = registry.kinds.get(textOf(raw['kind']))?.nameField?.id
  const value = field !== undefined && isRecord(raw['fields']) ? raw['fields'][field] : undefined
  return field === undefined || value === undefined ? undefined : { field, value }
}

function unknownKind(sort: Sort, raw: Raw, path: string, registry: Registry): [path: string, message: string] {
  if (sort !== 'view') return [`${path}.kind`, `is not a kind of ${sort}: ${quote(raw['kind'])}`]
  const notation = textOf(raw['notation'])
  return notationOf(registry, { notation })
    ? [`${path}.picture`, `is not a picture of ${notation}: ${quote(raw['picture'])}`]
    : [`${path}.notation`, `is not a notation: ${quote(raw['notation'])}`]
}

/** Whether a value can stand at a path of this shape; if not, the fault is added. A picture is known by its view alone. */
export function checkShape(value: unknown, shape: Shape, path: string, faults: Faults, needed = false): void {
  switch (shape) {
    case 'name':
      return checkText(value, path, LIMITS.name, faults, needed)
    case 'note':
      return checkText(value, path, LIMITS.note, faults)
    case 'day':
      if (!isDay(value)) faults.add(path, `is not a day such as 2026-11-24: ${quote(value)}`)
      return
    case 'end':
      return checkId(value, path, faults)
    case 'order':
      return void checkNumber(value, path, faults)
    case 'picture':
      return
  }
}

/** Whether a value can be the picture of a view of this notation. */
export function checkPicture(value: unknown, notation: string, path: string, registry: Registry, faults: Faults): void {
  if (!pictureOf(registry, { notation, picture: textOf(value) }))
    faults.add(path, `is not a picture of ${notation}: ${quote(value)}`)
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
      value.forEach((entry, index) => {
        checkText(entry, `${path}[${index}]`, LIMITS.name, faults)
        if (field.choices && !field.choices.includes(entry as string))
          faults.add(`${path}[${index}]`, `is none of ${field.choices.join(', ')}: ${quote(entry)}`)
      })
      return
    case 'pair':
      if (!Array.isArray(value) || value.length !== 2 || !value.every((one) => Number.isFinite(one)))
        faults.add(path, 'is not a pair of numbers')
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
    const field = fieldAt(known, key)
    if (field) checkField(raw[key], field, `${path}.${key}`, faults)
    else faults.add(`${path}.${cut(key, 60)}`, 'is not a known field')
    if (faults.full) return {}
  }
  const { [skip ?? '']: _name, ...fields } = raw
  return fields as Fields
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

/** How views look that say nothing of their own. */
export function checkLook(key: string, value: unknown, path: string, faults: Faults): void {
  if (key === 'tone') {
    if (value !== undefined && !TONES.some((tone) => tone === value)) faults.add(path, `is none of ${TONES.join(', ')}`)
  } else if (key === 'mark') {
    if (value !== undefined && !(typeof value === 'string' && isAsset(value))) faults.add(path, 'is not a picture')
  } else if (key !== 'theme') faults.add(path, `is not known: ${quote(key)}`)
  else if (value !== undefined) checkId(value, path, faults)
}

/** A theme of one’s own: a title, one to three colours, and what is not usual of it. */
export function checkTheme(id: string, value: unknown, path: string, faults: Faults): void {
  if (readTheme(id, value) === undefined)
    faults.add(
      path,
      'is not a theme: a title of 60 characters at most, one to three colours as #rrggbb, and words that are known',
    )
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

function checkNumber(value: unknown, path: string, faults: Faults): value is number {
  if (typeof value === 'number' && Number.isFinite(value)) return true
  faults.add(path, `is not a number: ${quote(value)}`)
  return false
}
