import type { Day, Model, View } from '../../../model'
import { textOf, type FileExport } from '../../../notation'
import {
  aggregationOf,
  ancestorsOf,
  classesOn,
  endOf,
  shownIn,
  type Attribute,
  type ClassModel,
  type Classifier,
} from '../structure'
import { isMany, readMultiplicity, type Multiplicity } from '../syntax/multiplicity'
import { isFault } from '../syntax/scan'
import { classNamed, namesIn } from '../types'

type Json = null | boolean | number | string | readonly Json[] | { readonly [key: string]: Json }
type Schema = { readonly [key: string]: Json }

/** Types that need not be stated, and what usually goes by these names. */
const KNOWN: Readonly<Record<string, Schema>> = {
  String: { type: 'string' },
  Integer: { type: 'integer' },
  UnlimitedNatural: { type: 'integer', minimum: 0 },
  Real: { type: 'number' },
  Boolean: { type: 'boolean' },
  Date: { type: 'string', format: 'date' },
  Time: { type: 'string', format: 'time' },
  DateTime: { type: 'string', format: 'date-time' },
}

/** The classes of a view as JSON Schema (draft 2020-12), with those that they name. */
export const jsonSchemaExport = {
  id: 'json-schema',
  title: 'JSON Schema',
  extension: '.schema.json',
  mediaType: 'application/schema+json',
  write: (model, view, day) => `${JSON.stringify(schemaOf(model, view, day), null, 2)}\n`,
} satisfies FileExport

/**
 * What a class has is a property; how many of it there are says whether it must be there or is a list. A part that is owned stands within its whole;
 * what is only associated is referred to by its attribute that is an `{id}`, else by a text. O(members + ties)
 */
export function schemaOf(model: Model, view: View, day: Day): Schema {
  const all = classesOn(model, day)
  const shown = shownIn(model, view, day).classes
  const listed = withNamed(all, shown)
  const keys = keysOf(listed)
  const refTo = (one: Classifier): Schema => ({ $ref: `#/$defs/${pointer(keys.get(one) ?? one.name)}` })
  const writer = new Writer(all, refTo)
  const roots = shown.filter(({ form, isAbstract }) => !isAbstract && (form === 'class' || form === 'signal'))
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: view.title,
    ...(roots.length > 0 ? { anyOf: roots.map(refTo) } : {}),
    $defs: Object.fromEntries(listed.map((one) => [keys.get(one) ?? one.name, writer.classifier(one)])),
  }
}

/** A name as a part of a JSON pointer in an address (RFC 6901, sections 3 and 6). */
const pointer = (name: string): string => encodeURIComponent(name.replaceAll('~', '~0').replaceAll('/', '~1'))

/** Classes with all that they are kinds of, name as types and own. */
function withNamed(all: ClassModel, shown: readonly Classifier[]): readonly Classifier[] {
  const found = new Set(shown)
  const queue = [...shown]
  for (const one of queue) {
    const next = [
      ...one.parents,
      ...one.attributes.flatMap(({ type }) => (type === undefined ? [] : (classNamed(all, type) ?? []))),
      ...one.associations.flatMap(({ a, b }) => (a === one ? [b] : [])),
    ]
    for (const each of next)
      if (!found.has(each)) {
        found.add(each)
        queue.push(each)
      }
  }
  return all.classes.filter((one) => found.has(one))
}

/** Their names, with those of their packages where a name stands more than once. */
function keysOf(list: readonly Classifier[]): ReadonlyMap<Classifier, string> {
  const counts = new Map<string, number>()
  for (const { name } of list) counts.set(name, (counts.get(name) ?? 0) + 1)
  const used = new Set<string>()
  return new Map(
    list.map((one) => {
      const outer: string[] = []
      if ((counts.get(one.name) ?? 0) > 1) for (let at = one.package; at; at = at.parent) outer.unshift(at.name)
      const name = [...outer, one.name].join('.')
      let key = name
      for (let count = 2; used.has(key); count++) key = `${name}-${count}`
      used.add(key)
      return [one, key]
    }),
  )
}

class Writer {
  constructor(
    private readonly all: ClassModel,
    private readonly refTo: (one: Classifier) => Schema,
  ) {}

  classifier(one: Classifier): Schema {
    const note = textOf(one.entity, 'note')
    const described: Schema = note === undefined ? {} : { description: note }
    if (one.form === 'enumeration') {
      const literals = [...new Set(one.literals.map(({ name }) => name))]
      return { type: 'string', ...(literals.length > 0 ? { enum: literals } : {}), ...described }
    }
    if (one.form === 'primitive') return { ...(KNOWN[one.name] ?? { type: 'string' }), ...described }
    const properties: Record<string, Schema> = {}
    const required: string[] = []
    const put = (name: string, schema: Schema, isRequired: boolean) => {
      if (Object.hasOwn(properties, name)) return
      properties[name] = schema
      if (isRequired) required.push(name)
    }
    for (const attribute of one.attributes) {
      if (attribute.isStatic) continue
      const many = multiplicityOf(textOf(attribute.entity, 'multiplicity'))
      const isDerived = attribute.entity.fields['derived'] === true
      put(attribute.name, this.#attribute(attribute, many), !isDerived && needs(many))
    }
    for (const tie of one.associations) {
      if (tie.a === one)
        this.#end(tie.b, endOf(tie.relation, 'target'), aggregationOf(tie.relation) === 'composite', put)
      if (tie.b === one && tie.a !== one) {
        const near = endOf(tie.relation, 'source')
        if (near.navigable === 'yes') this.#end(tie.a, near, false, put)
      }
    }
    const own: Schema = {
      type: 'object',
      properties,
      ...(required.length > 0 ? { required } : {}),
    }
    return {
      ...(one.isAbstract ? { $comment: 'abstract' } : {}),
      ...described,
      ...(one.parents.length === 0 ? own : { allOf: [...one.parents.map(this.refTo), own] }),
    }
  }

  #attribute({ type, entity }: Attribute, many: Multiplicity): Schema {
    const value = textOf(entity, 'default')
    const properties = entity.fields['properties']
    const isFixed =
      entity.fields['derived'] === true ||
      (Array.isArray(properties) && (properties as readonly string[]).includes('readOnly'))
    const initial = isMany(many) ? undefined : this.#initial(type, value)
    return {
      ...listed(this.#type(type), many),
      ...(initial === undefined ? {} : { default: initial }),
      ...(isFixed ? { readOnly: true } : {}),
    }
  }

  #type(type: string | undefined): Schema {
    if (type === undefined) return {}
    const one = classNamed(this.all, type)
    if (one) return this.refTo(one)
    return KNOWN[type] ?? { $comment: `of type ${namesIn(type).join(', ') || type}, which nobody states` }
  }

  /** A default as JSON: a number, a truth, a text in quotation marks, or the literal of an enumeration. */
  #initial(type: string | undefined, value: string | undefined): Json | undefined {
    if (value === undefined) return undefined
    const quoted = /^"(.*)"$/s.exec(value)?.[1]
    if (quoted !== undefined) return quoted
    if (type === 'Boolean') return value === 'true' ? true : value === 'false' ? false : undefined
    if (type === 'Integer' || type === 'Real' || type === 'UnlimitedNatural')
      return /^-?\d+(?:\.\d+)?$/.test(value) ? Number(value) : undefined
    const one = type === undefined ? undefined : classNamed(this.all, type)
    return one?.literals.some(({ name }) => name === value) ? value : undefined
  }

  #end(
    other: Classifier,
    { role, multiplicity, navigable }: ReturnType<typeof endOf>,
    isOwned: boolean,
    put: (name: string, schema: Schema, isRequired: boolean) => void,
  ): void {
    if (navigable === 'no') return
    const many = multiplicityOf(multiplicity)
    const name = role ?? `${other.name.charAt(0).toLowerCase()}${other.name.slice(1)}`
    put(name, listed(isOwned || isValue(other) ? this.refTo(other) : this.#reference(other), many), needs(many))
  }

  /** What identifies another thing: as its attribute with `{id}` says, else some text. */
  #reference(other: Classifier): Schema {
    const lines = [other, ...ancestorsOf(other)]
    const own = lines
      .flatMap(({ attributes }) => attributes)
      .find(
        ({ entity }) =>
          Array.isArray(entity.fields['properties']) &&
          (entity.fields['properties'] as readonly string[]).includes('id'),
      )
    const description = own ? `The ${own.name} of a ${other.name}` : `Identifies a ${other.name}`
    return { ...(own ? this.#type(own.type) : { type: 'string' }), description }
  }
}

/** What has no identity is not referred to: it stands where it is used. */
const isValue = ({ form }: Classifier): boolean =>
  form === 'data type' || form === 'enumeration' || form === 'primitive'

/** One, where nothing is said or it cannot be read. */
function multiplicityOf(text: string | undefined): Multiplicity {
  const read = text === undefined ? undefined : readMultiplicity(text)
  return read && !isFault(read) ? read : { lower: 1, upper: 1 }
}

const needs = ({ lower }: Multiplicity): boolean => lower !== 0

function listed(items: Schema, many: Multiplicity): Schema {
  if (!isMany(many)) return items
  return {
    type: 'array',
    items,
    ...(typeof many.lower === 'number' && many.lower > 0 ? { minItems: many.lower } : {}),
    ...(typeof many.upper === 'number' && Number.isFinite(many.upper) ? { maxItems: many.upper } : {}),
  }
}
