import Ajv from 'ajv/dist/2020'
import { describe, expect, it } from 'vitest'
import { registry } from '../../src/core/notations'
import { schemaOf } from '../../src/core/notations/uml/formats/jsonSchema'
import { marramSoundFerries } from '../../src/demo'
import { classModelOf, classView } from '../classShapes'
import { classModel } from '../core/uml/facts'
import { DAY, id, writtenAtOnce } from '../facts'

/** JSON Schema, draft 2020-12: what is written is valid by npm ajv, and a thing made by it is one. */

type Any = Record<string, unknown>

/** The least thing that a schema allows: all that is required, one of each. */
function sample(schema: Any, root: Any): unknown {
  const merged = (parts: readonly Any[]): unknown =>
    Object.assign({}, ...parts.map((part) => sample(part, root) as Any))
  if (typeof schema['$ref'] === 'string') {
    const keys = schema['$ref']
      .slice(2)
      .split('/')
      .map((part) => decodeURIComponent(part))
    return sample(
      keys.reduce((at, key) => at[key] as Any, root),
      root,
    )
  }
  if (Array.isArray(schema['allOf'])) return merged(schema['allOf'] as Any[])
  if (Array.isArray(schema['enum'])) return (schema['enum'] as unknown[])[0]
  switch (schema['type']) {
    case 'object':
      return Object.fromEntries(
        ((schema['required'] ?? []) as string[]).map((key) => [
          key,
          sample((schema['properties'] as Any)[key] as Any, root),
        ]),
      )
    case 'array':
      return Array.from({ length: Number(schema['minItems'] ?? 0) }, () => sample(schema['items'] as Any, root))
    case 'integer':
    case 'number':
      return 7
    case 'boolean':
      return true
    default:
      return schema['format'] === 'date'
        ? '2026-11-24'
        : schema['format'] === 'date-time'
          ? '2026-11-24T13:00:00Z'
          : 'text'
  }
}

/** What checks a thing against one of the classes of a schema, or against the schema itself. */
function checker(schema: Any) {
  const ajv = new Ajv({ strict: true, strictTypes: false, allErrors: true })
  // The forms that the schemas name, as RFC 3339 writes them.
  ajv.addFormat('date', /^\d{4}-\d{2}-\d{2}$/)
  ajv.addFormat('time', /^\d{2}:\d{2}:\d{2}/)
  ajv.addFormat('date-time', /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}:\d{2}/)
  ajv.addSchema(schema, 'classes')
  const at = (name: string) => {
    const check = ajv.getSchema(name === '' ? 'classes' : `classes#/$defs/${name}`)
    if (!check) throw new Error(`no class “${name}”`)
    return check
  }
  at('')
  return at
}

describe('a JSON Schema of classes', () => {
  const demo = marramSoundFerries()
  const view = demo.views.get(id('tickets')) ?? classView()
  const schema = schemaOf(demo, view, DAY) as Any
  const defs = schema['$defs'] as Record<string, Any>

  it('is valid, and the least of each class is one', () => {
    expect(Object.keys(defs)).toHaveLength(demo.ofKind('class').length)
    const at = checker(schema)
    for (const [name, one] of Object.entries(defs)) {
      const check = at(name)
      const made = sample(one, schema)
      expect([name, check(made), check.errors]).toEqual([name, true, null])
    }
  })
  it('refuses what lacks a part, has a faulty one or too few', () => {
    const check = checker(schema)('Booking')
    const booking = sample(defs['Booking'] ?? {}, schema) as Any
    expect(check(booking)).toBe(true)
    expect(check({ ...booking, number: 4 })).toBe(false)
    expect(check({ ...booking, tickets: [] })).toBe(false)
    expect(check({ ...booking, bookedOn: 'tomorrow' })).toBe(false)
    const { bookedBy: _, ...without } = booking
    expect(check(without)).toBe(false)
  })
  it('says of each member what the standard says of it', () => {
    const model = classModel(`Day  (primitive)
Kind  (enumeration)
  small
  large
Base  (abstract)
  + key : Integer {id}
Thing
  is a Base
  - name : String [0..1]
  - sizes : Integer [2..5]
  / total : Real
  - kind : Kind = large
  - count : Integer = 3
  - shared : Integer {static}
  - odd : Foreign
  + run()
  owns 1..* Part as parts  each 1
  has 0..1 Thing as next
Part`)
    const { $defs } = schemaOf(model, classView(), DAY) as { $defs: Record<string, Any> }
    expect($defs['Kind']).toEqual({ type: 'string', enum: ['small', 'large'] })
    expect($defs['Base']).toMatchObject({ $comment: 'abstract', required: ['key'] })
    expect($defs['Thing']).toEqual({
      allOf: [
        { $ref: '#/$defs/Base' },
        {
          type: 'object',
          properties: {
            name: { type: 'string' },
            sizes: { type: 'array', items: { type: 'integer' }, minItems: 2, maxItems: 5 },
            total: { type: 'number', readOnly: true },
            kind: { $ref: '#/$defs/Kind', default: 'large' },
            count: { type: 'integer', default: 3 },
            odd: { $comment: 'of type Foreign, which nobody states' },
            parts: { type: 'array', items: { $ref: '#/$defs/Part' }, minItems: 1 },
            next: { type: 'integer', description: 'The key of a Thing' },
          },
          required: ['sizes', 'kind', 'count', 'odd', 'parts'],
        },
      ],
    })
  })
  it('tells classes of one name apart, and escapes names', () => {
    const model = classModel('p  (package)\n  A\nq  (package)\n  A\n    has B/C as b\n  B/C  (data type)')
    const found = schemaOf(model, classView(), DAY) as { $defs: Record<string, Any> }
    expect(Object.keys(found.$defs)).toEqual(['p.A', 'q.A', 'B/C'])
    expect(found.$defs['q.A']).toMatchObject({ properties: { b: { $ref: '#/$defs/B~1C' } } })
    checker(found as unknown as Any)
  })
  it('is valid for any model', () => {
    for (let seed = 1; seed <= 4; seed++)
      checker(schemaOf(classModelOf({ classes: 12, ties: 20, packages: 2, seed }), classView(), DAY) as Any)
  })
  it('is offered where classes are handed out', () => {
    const exports = registry.notations.find((one) => one.id === 'uml')?.exports ?? []
    const text = writtenAtOnce(exports.find((one) => one.id === 'json-schema')?.write(demo, view, DAY))
    expect(JSON.parse(text)).toEqual(schema)
  })
})
