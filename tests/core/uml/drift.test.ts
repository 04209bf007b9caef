import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { addDays, apply, asId, Model, type Step } from '../../../src/core/model'
import { keyOf, mendAll } from '../../../src/core/findings'
import type { Found } from '../../../src/core/notation'
import { read } from '../../../src/core/notations/uml/formats/readSchema'
import { rules } from '../../../src/core/notations/uml/rules'
import { tableRegister } from '../../../src/core/notations/uml/schema/registers'
import { driftIn, keptIn, tablesKept } from '../../../src/core/notations/uml/schema/drift'
import { bringSchema } from '../../../src/core/notations/uml/schema/facts'
import type { Table, TableColumn } from '../../../src/core/notations/uml/schema/table'
import { BOOKING_DATABASE, bookingTables, marramSoundFerries } from '../../../src/demo'
import { classView } from '../../classShapes'
import { databaseModels } from '../../databaseShapes'
import { carriedOut, DAY, day, numbering, refusal, wishFor } from '../../facts'
import { classesIn, classModel, textOf } from './facts'

/** A class model with a database that keeps it just so. */
function kept(text: string): { readonly model: Model; readonly tables: readonly Table[] } {
  const model = classModel(text)
  const all = classesIn(model)
  return { model, tables: tablesKept(all, keptIn(all, undefined)) }
}
let runs = 0
const withDatabase = (model: Model, tables: readonly Table[]): Model =>
  apply(model, {
    label: 'Read',
    steps: bringSchema(wishFor(model, { view: classView(), newId: numbering(`s${++runs}-`) }), 'shop', tables).steps,
  }).model

const SHOP = `Language  (enumeration)
  english
  danish
Date  (primitive)
Order  table: orders
  - number : String {id}
  - placed : Date [0..1]
  - language : Language = english
  - size : Integer
  - note : Whatever
  has 1 Customer as buyer  each *
  has 0..1 Voucher  each 0..1
  has * Tag as tags  each *
  owns * Line  each 1
Customer  table: customer
  - name : String
Voucher  table: voucher
  - worth : Real
Tag  table: tag
  - lines : String [*]
Line  table: line
  - seats : Integer`

const alter = (table: string, change: (table: Table) => Table) => (tables: readonly Table[]) =>
  tables.map((one) => (one.name === table ? change(one) : one))
const column = (name: string, change: (column: TableColumn) => readonly TableColumn[]) => (table: Table) => ({
  ...table,
  columns: table.columns.flatMap((one) => (one.name === name ? change(one) : [one])),
})

function drift(change: (tables: readonly Table[]) => readonly Table[]): { model: Model; found: readonly Found[] } {
  const { model, tables } = kept(SHOP)
  const both = withDatabase(model, change(tables))
  return { model: both, found: driftIn(both, DAY) }
}

/** Each way out of each difference does away with it. */
function mendedEitherWay(model: Model, found: readonly Found[]): void {
  for (const one of found) {
    expect(one.fixes.length).toBeGreaterThan(0)
    for (const { change } of one.fixes) {
      const left = driftIn(apply(model, change).model, DAY)
      expect(left.map(({ message }) => message)).not.toContain(one.message)
    }
  }
}

describe('a database that keeps the classes as they are', () => {
  it('says nothing else than they do, whatever they are', () => {
    expect(drift((tables) => tables).found).toEqual([])
    fc.assert(
      fc.property(databaseModels, (text) => {
        const { model, tables } = kept(
          text.replace(/^(Thing\d+)$/gm, (name) => `${name}  table: ${name.toLowerCase()}`),
        )
        expect(driftIn(withDatabase(model, tables), DAY)).toEqual([])
      }),
      { numRuns: 40 },
    )
  })
  it('may keep values in other types of the same sort, and an enumeration as text', () => {
    const { found } = drift((tables) =>
      alter(
        'orders',
        column('language', (one) => [{ ...one, type: 'VARCHAR(20)' }]),
      )(
        alter(
          'orders',
          column('size', (one) => [{ ...one, type: 'BIGINT' }]),
        )(
          alter(
            'orders',
            column('note', (one) => [{ ...one, type: 'DECIMAL(10, 2)' }]),
          )(
            alter(
              'voucher',
              column('worth', (one) => [{ ...one, type: 'DECIMAL(10, 2)' }]),
            )(tables),
          ),
        ),
      ),
    )
    expect(found).toEqual([])
  })
})

describe('what a database says differently', () => {
  const cases: readonly (readonly [string, (tables: readonly Table[]) => readonly Table[], RegExp, RegExp?])[] = [
    [
      'a column of another sort',
      alter(
        'orders',
        column('size', (one) => [{ ...one, type: 'VARCHAR(9)' }]),
      ),
      /“size” of “Order”: it is of type Integer, but column “size” of table “orders” is VARCHAR\(9\)/,
      /- size : String/,
    ],
    [
      'a column that must be there',
      alter(
        'orders',
        column('placed', (one) => [{ ...one, isRequired: true }]),
      ),
      /“placed” of “Order”: it may be missing, but .* is NOT NULL/,
      /- placed : Date$/m,
    ],
    [
      'a column that may be missing',
      alter(
        'customer',
        column('name', (one) => [{ ...one, isRequired: false }]),
      ),
      /it is always there, but .* may be NULL/,
      /- name : String \[0..1\]/,
    ],
    [
      'a reference that may be missing',
      alter(
        'orders',
        column('buyer_id', (one) => [{ ...one, isRequired: false }]),
      ),
      /What joins “Order” and “Customer” as “buyer”: it is always there/,
      /has 0..1 Customer as buyer  each \*/,
    ],
    [
      'other literals',
      alter(
        'orders',
        column('language', (one) => [{ ...one, type: "ENUM('english', 'dutch')" }]),
      ),
      /takes “english”, “dutch”, the enumeration has “english”, “danish”/,
      /Language  \(enumeration\)\n {2}english\n {2}dutch/,
    ],
    [
      'a column that is called otherwise',
      alter(
        'orders',
        column('size', (one) => [{ ...one, name: 'how_many' }]),
      ),
      /“size” of “Order” is column “how_many” in table “orders”, and not “size”/,
      /- howMany : Integer/,
    ],
    [
      'a column too many',
      alter('customer', (one) => ({
        ...one,
        columns: [...one.columns, { name: 'born_on', type: 'DATE', isRequired: false }],
      })),
      /Table “customer” has a column “born_on” \(DATE\), of which “Customer” says nothing/,
      /- bornOn : Date \[0..1\]/,
    ],
    [
      'a column too few',
      alter(
        'customer',
        column('name', () => []),
      ),
      /“name” of “Customer” would be kept in column “name”, which table “customer” does not have/,
    ],
    [
      'a reference too many',
      alter('voucher', (one) => ({
        ...one,
        columns: [...one.columns, { name: 'payer_id', type: 'BIGINT UNSIGNED', isRequired: true }],
        foreign: [...one.foreign, { columns: ['payer_id'], to: 'customer', toColumns: ['id'], cascades: false }],
      })),
      /a column “payer_id”/,
      /has 1 Customer as payer  each \*/,
    ],
    [
      'a reference that is none there',
      alter('orders', (one) => ({ ...one, foreign: one.foreign.filter(({ to }) => to !== 'customer') })),
      /it refers to “customer”, but column “buyer_id” of table “orders” refers to nothing/,
      /- buyerId : Integer/,
    ],
    [
      'a reference to another table',
      alter('orders', (one) => ({
        ...one,
        foreign: one.foreign.map((each) => (each.to === 'customer' ? { ...each, to: 'tag' } : each)),
      })),
      /it refers to “customer”, but .* refers to “tag”/,
      /has 1 Tag as buyer  each \*/,
    ],
    [
      'many where there is one',
      alter('orders', (one) => ({ ...one, unique: [] })),
      /only one refers to each, but .* is not UNIQUE/,
      /has 0..1 Voucher  each \*/,
    ],
    [
      'one where there are many',
      alter('orders', (one) => ({ ...one, unique: [...one.unique, ['buyer_id']] })),
      /many refer to one, but .* is UNIQUE/,
      /has 1 Customer as buyer  each 0..1/,
    ],
    [
      'a table too few',
      (tables) => tables.filter(({ name }) => name !== 'line'),
      /“Line” is kept in table “line”, which “shop” does not have/,
    ],
    [
      'a table between too few',
      (tables) => tables.filter(({ name }) => name !== 'orders_tags'),
      /What joins “Order” and “Tag” as “tags” is kept in table “orders_tags”/,
    ],
    [
      'a table too many',
      (tables) => [
        ...tables,
        {
          name: 'audit_log',
          columns: [{ name: 'at', type: 'DATETIME', isRequired: true }],
          key: [],
          unique: [],
          foreign: [],
        },
      ],
      /“shop” has a table “audit_log”, which no class is kept in/,
      /AuditLog  table: audit_log\n {2}- at : DateTime/,
    ],
  ]
  for (const [name, change, words, becomes] of cases)
    it(`${name}: is said once, and taken over from either side`, () => {
      const { model, found } = drift(change)
      expect(found.map(({ message }) => message).filter((one) => words.test(one))).toHaveLength(1)
      expect(found).toHaveLength(1)
      mendedEitherWay(model, found)
      const [first] = found[0]?.fixes ?? []
      if (becomes && first) expect(textOf(apply(model, first.change).model)).toMatch(becomes)
    })
  it('is taken over as a whole, all at once, as each by itself', () => {
    const { model, found } = drift((tables) =>
      alter('customer', (one) => ({
        ...one,
        columns: [
          ...one.columns,
          { name: 'a', type: "ENUM('x', 'y')", isRequired: true },
          { name: 'b', type: 'TIME', isRequired: true },
        ],
      }))(
        alter('voucher', (one) => ({
          ...one,
          columns: [...one.columns, { name: 'c', type: "ENUM('p', 'q')", isRequired: true }],
        }))(tables),
      ),
    )
    expect(found).toHaveLength(3)
    expect(new Set(found.map((one) => keyOf({ ...one, rule: 'uml/schema-drift' }))).size).toBe(3)
    const steps: Step[] = found.flatMap(({ fixes: [first] }) => first?.change.steps ?? [])
    expect(driftIn(apply(model, { label: 'all', steps }).model, DAY)).toEqual([])
  })
  it('is mended all at once without stating a type twice', () => {
    const more = (name: string) => (one: Table) => ({
      ...one,
      columns: [...one.columns, { name, type: 'TIME', isRequired: true }],
    })
    const { model, found } = drift((tables) => alter('customer', more('a'))(alter('voucher', more('b'))(tables)))
    const rule = rules.find(({ id }) => id === 'uml/schema-drift')
    if (!rule) throw new Error('no such rule')
    const keys = new Set(found.map((one) => keyOf({ ...one, rule: rule.id })))
    const mended = mendAll(rule, keys, model, DAY)
    const after = apply(model, { label: 'all', steps: mended.steps }).model
    expect(driftIn(after, DAY)).toEqual([])
    expect(after.ofKind('class').filter(({ name }) => name === 'Time')).toHaveLength(1)
  })
  it('holds on the days on which its table, and the class, are there', () => {
    const { model } = drift((tables) => [
      ...tables,
      { name: 'later', columns: [{ name: 'a', type: 'INT', isRequired: true }], key: [], unique: [], foreign: [] },
    ])
    const [later] = model.ofKind('table').filter(({ name }) => name === 'later')
    const dated = apply(model, {
      label: 'x',
      steps: [{ do: 'set-entity', id: later?.id ?? asId('none'), path: 'from', value: DAY }],
    }).model
    expect(driftIn(dated, DAY)).toHaveLength(1)
    expect(driftIn(dated, addDays(DAY, -1))).toEqual([])
  })
  it('is not asked of classes that say no table, and only within the package that a database keeps', () => {
    const model = withDatabase(
      classModel(
        'a  (package)\n  A  table: a\n    - x : Integer\nb  (package)\n  B  table: b\n    - y : Integer\nC\n  - z : Integer',
      ),
      [],
    )
    const schema = model.ofKind('schema')[0]?.id ?? asId('none')
    expect(driftIn(model, DAY).map(({ message }) => message)).toEqual([
      expect.stringContaining('“A” is kept in table “a”') as string,
      expect.stringContaining('“B” is kept in table “b”') as string,
    ])
    const [home] = model.ofKind('package')
    const inside = apply(model, {
      label: 'x',
      steps: [{ do: 'set-entity', id: schema, path: 'fields.package', value: home?.id ?? null }],
    }).model
    expect(driftIn(inside, DAY)).toHaveLength(1)
  })
  it('is told where a line of a table cannot be read', () => {
    const { model } = drift((tables) => tables)
    const [table] = model.ofKind('table')
    const broken = apply(model, {
      label: 'x',
      steps: [{ do: 'set-entity', id: table?.id ?? asId('none'), path: 'fields.columns', value: ['what is this?'] }],
    }).model
    expect(driftIn(broken, DAY)[0]?.message).toContain('“what is this?” is no column')
  })
})

describe('a database that is read', () => {
  const told = (tables: readonly Table[], database = 'shop') => JSON.stringify({ database, tables })
  it('is kept table by table; read again, what is gone is gone and what is the same stays', () => {
    const { model, tables } = kept(SHOP)
    const wish = wishFor(model, { view: classView() })
    const first = read(wish, told(tables))
    if ('refused' in first) throw new Error(first.refused)
    expect(first.facts[0]).toBe(`${tables.length} tables of “shop”: ${tables.length} new, 0 changed, 0 gone.`)
    const kept1 = apply(model, first.change).model
    const again = read(wishFor(kept1, { view: classView() }), told(tables))
    expect('refused' in again ? again : again.change.steps).toEqual([])
    // A database tells of its keys in an order of its own.
    const turned = tables.map((one) => ({ ...one, foreign: one.foreign.toReversed(), unique: one.unique.toReversed() }))
    const other = read(wishFor(kept1, { view: classView() }), told(turned))
    expect('refused' in other ? other : other.change.steps).toEqual([])
    const fewer = read(wishFor(kept1, { view: classView() }), told(tables.slice(1)))
    if ('refused' in fewer) throw new Error(fewer.refused)
    expect(fewer.facts[0]).toContain('0 new, 0 changed, 1 gone')
    expect(apply(kept1, fewer.change).model.ofKind('table')).toHaveLength(tables.length - 1)
  })
  it('is refused in words where it tells nothing that can be read', () => {
    const wish = wishFor(Model.of({ views: [classView()] }), { view: classView() })
    for (const text of [
      '',
      '{}',
      '[]',
      'null',
      '{"database":""}',
      '{"database":"x"}',
      '{"database":"x","tables":[]}',
      told([], 'x'.repeat(500)),
    ])
      expect(read(wish, text)).toHaveProperty('refused')
    const odd = read(
      wish,
      '{"database":"x","tables":[1,null,{"name":""},{"name":"t","columns":[1,{},{"name":"a","type":"INT"}],"key":[2],"foreign":[3]}]}',
    )
    expect('refused' in odd ? odd : odd.change.steps).toHaveLength(2)
  })
  it('of the demo differs from its classes by one column, and by more from day to day', () => {
    const demo = marramSoundFerries()
    expect(driftIn(demo, DAY).map(({ message }) => message)).toEqual([
      'Table “passenger” has a column “phone” (VARCHAR(40)), of which “Passenger” says nothing.',
    ])
    const on = (text: string) => {
      const found = read(wishFor(demo, { view: classView() }), told(bookingTables(demo, day(text)), BOOKING_DATABASE))
      if ('refused' in found) throw new Error(found.refused)
      return driftIn(apply(demo, found.change).model, DAY).length
    }
    expect(['2026-11-24', '2026-12-08', '2026-12-22', '2027-01-12', '2027-02-02', '2027-03-02'].map(on)).toEqual([
      1, 2, 3, 4, 5, 6,
    ])
  })
})

describe('the register of tables', () => {
  const { model } = drift((tables) => tables)
  const wish = wishFor(model, { view: classView() })
  const row = model.ofKind('table').find(({ name }) => name === 'orders')?.id ?? asId('none')
  const of = (id: string) => tableRegister.columns.find((one) => one.id === id)
  it('takes what it shows, and refuses what is no column', () => {
    for (const id of ['columns', 'key', 'unique', 'references']) {
      const shown = of(id)?.read(model, row, DAY)
      const written = of(id)?.write?.(wish, row, String(shown))
      const after = written && !('refused' in written) ? apply(model, written.change).model : model
      expect(after.entities.get(row)).toEqual(model.entities.get(row))
    }
    expect(refusal(of('columns')?.write?.(wish, row, 'a INT, b') ?? { refused: '' })).toContain('“b” is no column')
    const after = carriedOut(
      model,
      of('columns')?.write?.(wish, row, "a enum('x', 'y,z') not null, b INT") ?? { refused: '' },
    )
    expect(after.entities.get(row)?.fields['columns']).toEqual(["a ENUM('x', 'y,z') NOT NULL", 'b INT'])
  })
})
