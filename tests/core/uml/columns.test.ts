import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { apply, asId, Model, type Id } from '../../../src/core/model'
import { readEntry } from '../../../src/core/notation'
import { handlings } from '../../../src/core/notations/handling'
import { ddlOf } from '../../../src/core/notations/uml/formats/ddl'
import { read, tablesIn } from '../../../src/core/notations/uml/formats/readDdl'
import { tablesOf } from '../../../src/core/notations/uml/formats/tables'
import { registers } from '../../../src/core/notations/uml/registers'
import { driftIn } from '../../../src/core/notations/uml/schema/drift'
import { bringSchema } from '../../../src/core/notations/uml/schema/facts'
import { camel, snake, type Table } from '../../../src/core/notations/uml/schema/table'
import { classView } from '../../classShapes'
import { DAY, numbering, wishFor } from '../../facts'
import { classModel, textOf } from './facts'

/** Names as columns and tables of real databases have them: in every way of writing. */
const SHAPES = [
  'firstName',
  'FirstName',
  'FIRST_NAME',
  'first-name',
  'first name',
  'CustomerID',
  'customerId',
  'customer_id',
  'URL',
  'homepageURL',
  'HTMLText',
  'address_2',
  'address2',
  'line_1_text',
  'e-mail',
  'eMail',
  'email_address',
  'größe',
  'prénom',
  'número',
  'straße',
  'odd name',
  'Odd  Name',
  'x',
  'X',
  '_hidden',
  'trailing_',
  '2nd_line',
  'isActive',
  'is_active',
  'ISBN13',
  'VATNo',
  'created_at',
  'createdAt',
  'CREATED',
  'Unit Price',
  'qty%',
  'a.b',
  'price($)',
  'order',
  'key',
  'tblOrders',
  'dbo_item',
  'Ω',
  'column: x',
  'say "so"',
  'a, b',
  "driver's",
] as const
const TYPES = [
  'VARCHAR(9)',
  'VARCHAR(255)',
  'CHAR(2)',
  'TEXT',
  'INT',
  'BIGINT UNSIGNED',
  'DECIMAL(10, 2)',
  'DOUBLE',
  'BOOLEAN',
  'DATE',
  'DATETIME',
  'TIMESTAMP(3)',
] as const

const name = fc.constantFrom(...SHAPES)
const shape = fc.array(
  fc.record({
    name,
    counter: name,
    columns: fc.array(fc.record({ name, type: fc.constantFrom(...TYPES), isRequired: fc.boolean() }), { maxLength: 5 }),
    refers: fc.option(fc.record({ to: fc.nat({ max: 4 }), name, isRequired: fc.boolean() })),
  }),
  { minLength: 1, maxLength: 4 },
)

/** Tables with a counted key each, whatever their columns are called, some of which refer to others. */
const databases: fc.Arbitrary<readonly Table[]> = shape.map((drawn) => {
  const isNew = (taken: Set<string>, one: string) => {
    // Names that one class could not tell apart are no columns of one table.
    const key = camel(one).toLowerCase()
    const isFree = !taken.has(key) && !taken.has(snake(one))
    if (isFree) taken.add(key).add(snake(one))
    return isFree
  }
  const names = new Set<string>()
  const shapes = drawn.filter((one) => isNew(names, one.name))
  return shapes.map((one): Table => {
    const taken = new Set<string>()
    isNew(taken, one.counter)
    const refers = one.refers && isNew(taken, one.refers.name) ? one.refers : undefined
    const columns = one.columns.filter((each) => isNew(taken, each.name))
    const far = refers && shapes[refers.to % shapes.length]
    return {
      name: one.name,
      key: [one.counter],
      unique: [],
      columns: [
        { name: one.counter, type: 'BIGINT UNSIGNED', isRequired: true, isCounted: true },
        ...columns,
        ...(refers ? [{ name: refers.name, type: 'BIGINT UNSIGNED', isRequired: refers.isRequired }] : []),
      ],
      foreign:
        refers && far ? [{ columns: [refers.name], to: far.name, toColumns: [far.counter], cascades: false }] : [],
    }
  })
})

const begun = Model.of({ views: [classView()] })
let runs = 0
const wish = (model: Model) => wishFor(model, { view: classView(), newId: numbering(`c${++runs}-`) })
function asClasses(sql: string): { model: Model; facts: readonly string[] } {
  const found = read(wish(begun), sql)
  if ('refused' in found) throw new Error(found.refused)
  return { model: apply(begun, found.change).model, facts: found.facts }
}
const withDatabase = (model: Model, tables: readonly Table[]): Model =>
  apply(model, { label: 'Read', steps: bringSchema(wish(model), 'shop', tables).steps }).model

/** What SQL says of tables, whatever the order. */
function said(tables: readonly Table[]): readonly string[] {
  return tables.flatMap(({ name: called, columns, key, foreign }) => [
    ...columns.map(({ name: one, type, isRequired }) => `${called} | ${one} ${type} ${String(isRequired)}`),
    `${called} key ${key.join()}`,
    ...foreign.map(({ columns: own, to, toColumns }) => `${called} ${own.join()} -> ${to} ${toColumns.join()}`),
  ])
}

describe('columns that are called in any way', () => {
  it('come back from classes with their names, types and lengths', () => {
    fc.assert(
      fc.property(databases, (tables) => {
        const { model } = asClasses(ddlOf(tables))
        const written = tablesIn(ddlOf(tablesOf(model, classView(), DAY)))
        if ('refused' in written) throw new Error(written.refused)
        expect([...said(written.tables)].sort()).toEqual([...said(tables)].sort())
      }),
      { numRuns: 150 },
    )
  })
  it('are no difference any more when each difference is taken over into the classes, or into the database', () => {
    fc.assert(
      fc.property(databases, fc.boolean(), (tables, intoClasses) => {
        const plain = apply(withDatabase(begun, tables), { label: '', steps: [] }).model
        let model = plain
        for (let turn = 0; ; turn++) {
          const [found] = driftIn(model, DAY)
          if (!found) break
          expect(turn, found.message).toBeLessThan(80)
          const change = (intoClasses ? found.fixes[0] : found.fixes.at(-1))?.change
          if (!change) throw new Error(`no way out of ${found.message}`)
          model = apply(model, change).model
        }
        expect(driftIn(model, DAY)).toEqual([])
      }),
      { numRuns: 100 },
    )
  })
  it.each(SHAPES)(
    '%s is taken for the attribute that it is by another way of writing, and kept by its own name',
    (one) => {
      const table = { name: 'customer', key: ['id'], unique: [], foreign: [] }
      const counter = { name: 'id', type: 'BIGINT UNSIGNED', isRequired: true, isCounted: true as const }
      const model = withDatabase(classModel(`Customer  table: customer\n  - "${camel(one)}" : String`), [
        { ...table, columns: [counter, { name: one, type: 'VARCHAR(255)', isRequired: true }] },
      ])
      const found = driftIn(model, DAY)
      if (snake(camel(one)) === one.toLowerCase()) return expect(found).toEqual([])
      expect(found.map(({ fixes }) => fixes[0]?.label)).toEqual([`It is kept in column “${one}”`])
      const mended = apply(model, found[0]?.fixes[0]?.change ?? { label: '', steps: [] }).model
      expect(driftIn(mended, DAY)).toEqual([])
      expect(classModel(textOf(mended)).ofKind('attribute')[0]?.fields['column']).toBe(one)
    },
  )
})

describe('an attribute', () => {
  it('says its column, its type there and its table, in a line that is read back', () => {
    const text = [
      'Order  table: orders  key column: OrderID',
      '  - code : String {id}  column: Code  kept as: CHAR(8)',
      '  - a  b : String = "x  column: y"  column: "odd  name"',
      '  - tags : String [*]  column: tag  table: OrderTags  since 2026-01-01',
      '  has 1 Customer as buyer  each *  column: CustomerID',
      'Customer  table: customer',
    ].join('\n')
    expect(textOf(classModel(text))).toBe(text)
  })
  it('is kept as it says', () => {
    const tables = tablesOf(
      classModel(
        'Order  key column: OrderID\n  - code : String = "abc"  kept as: CHAR(2)\n  - size : Integer = 7  kept as: BIGINT\n  - tags : String [*]  column: tag  table: OrderTags\n  has 1 Customer  each *  column: CustomerID\n  has * Shop  each *  column: Ord, Shp  table: OrderShops\nCustomer\nShop',
      ),
      classView(),
      DAY,
    )
    expect(said(tables).filter((one) => /^[Oo]rder/.test(one))).toEqual([
      'order | OrderID BIGINT UNSIGNED true',
      'order | code CHAR(2) true',
      'order | size BIGINT true',
      'order | CustomerID BIGINT UNSIGNED true',
      'order key OrderID',
      'order CustomerID -> customer id',
      'OrderTags | order_OrderID BIGINT UNSIGNED true',
      'OrderTags | position INT UNSIGNED true',
      'OrderTags | tag VARCHAR(255) true',
      'OrderTags key order_OrderID,position',
      'OrderTags order_OrderID -> order OrderID',
      'OrderShops | Ord BIGINT UNSIGNED true',
      'OrderShops | Shp BIGINT UNSIGNED true',
      'OrderShops key Ord,Shp',
      'OrderShops Ord -> order OrderID',
      'OrderShops Shp -> shop id',
    ])
    const initials = tables[0]?.columns.map(({ initial }) => initial)
    // A text longer than its column is no default of it.
    expect(initials?.slice(1, 3)).toEqual([undefined, '7'])
  })
  it('and an association alone are asked for their columns in registers', () => {
    const model = classModel('A\n  - b : String\n  + c()\n  has 1 B\n  is a B\nB')
    const write = (register: string, column: string, row: Id | undefined) =>
      registers
        .find(({ id }) => id === register)
        ?.columns.find(({ id }) => id === column)
        ?.write?.(wish(model), row ?? asId(''), 'X')
    const [attribute, operation] = ['attribute', 'operation'].map((kind) => model.ofKind(kind)[0]?.id)
    const [association, kind] = ['association', 'generalization'].map((of) => model.relationsOfKind(of)[0]?.id)
    expect(write('members', 'column', attribute)).toHaveProperty('change')
    expect(write('members', 'column', operation)).toEqual({ refused: 'Only an attribute has this.' })
    expect(write('ties', 'column', association)).toHaveProperty('change')
    expect(write('ties', 'targetRole', kind)).toEqual({ refused: 'Only an association has this.' })
  })
  it('is refused what is no type of a database', () => {
    const field = handlings.kinds.get('attribute')?.fields.find(({ id }) => id === 'keptAs')
    for (const text of ['VARCHAR(', '9', "x'y", 'a; DROP TABLE b'])
      expect(field && readEntry(field, text)).toHaveProperty(
        'refused',
        expect.stringContaining('is no type of a database'),
      )
    expect(field && readEntry(field, 'DECIMAL(10, 2)')).toEqual({ value: 'DECIMAL(10, 2)' })
    expect(() => classModel('A\n  - b : String  kept as: 9')).toThrow('is no type of a database')
  })
})

describe('a dump', () => {
  it('says what of it classes have no place for, each sort once', () => {
    const { facts } =
      asClasses(`CREATE TABLE a (id INT AUTO_INCREMENT PRIMARY KEY, b INT DEFAULT (1 + 2) CHECK (b > 1), c TIMESTAMP DEFAULT now() COMMENT 'when',
        d VARCHAR(5) COLLATE utf8_bin, e INT AS (b + 1) STORED, UNIQUE (b, c), KEY k (b), CONSTRAINT x CHECK (b < 9)) COMMENT='all (of it)';
      CREATE TABLE f (id INT PRIMARY KEY AUTO_INCREMENT, a_id INT REFERENCES a (id) ON DELETE SET NULL ON UPDATE CASCADE, UNIQUE (a_id));
      CREATE TABLE g LIKE a;
      CREATE VIEW v AS SELECT 1;
      CREATE INDEX i ON a (b);
      ALTER TABLE a DROP COLUMN b, ENGINE=InnoDB;`)
    expect(facts.slice(1)).toEqual([
      'Line 4: “CREATE TABLE g LIKE a” was not understood.',
      'Line 7: “DROP COLUMN b” in table “a” was left out.',
      'Classes have no place for checks, left out: a.b, a.',
      'Classes have no place for defaults that are worked out, left out: a.b, a.c.',
      'Classes have no place for comments, left out: a.c, a.',
      'Classes have no place for collations, left out: a.d.',
      'Classes have no place for how columns are computed, left out: a.e.',
      'Classes have no place for indexes, left out: a, line 6.',
      'Classes have no place for what becomes of references, left out: f (a_id) ON DELETE SET NULL, f (a_id) ON UPDATE CASCADE.',
      'Classes have no place for views, left out: line 5.',
      'Classes have no place for unique keys, left out: a (b, c).',
    ])
  })
  it('takes what is computed for derived, and what is altered as it is then', () => {
    const { model, facts } = asClasses(
      'CREATE TABLE a (id INT NOT NULL, b INT NOT NULL, c INT AS (b + 1) VIRTUAL);\nALTER TABLE a ADD PRIMARY KEY (id);\nALTER TABLE a MODIFY id INT NOT NULL AUTO_INCREMENT;',
    )
    expect(textOf(model)).toBe('A\n  - b : Integer\n  - / c : Integer [0..1]')
    expect(facts.slice(1)).toEqual(['Classes have no place for how columns are computed, left out: a.c.'])
  })
})
