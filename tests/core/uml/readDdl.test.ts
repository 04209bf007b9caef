import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { apply, Model } from '../../../src/core/model'
import { ddlOf } from '../../../src/core/notations/uml/formats/ddl'
import { read, tablesIn } from '../../../src/core/notations/uml/formats/readDdl'
import { tablesOf } from '../../../src/core/notations/uml/formats/tables'
import {
  columnLine,
  readColumn,
  readReference,
  referenceLine,
  typeText,
} from '../../../src/core/notations/uml/schema/table'
import { classView } from '../../classShapes'
import { databaseModels, statements } from '../../databaseShapes'
import { DAY, numbering, wishFor } from '../../facts'
import { classModel, textOf } from './facts'

const begun = Model.of({ views: [classView()] })
function brought(sql: string, onto: Model = begun) {
  const found = read(wishFor(onto, { view: classView(), newId: numbering(`b${onto.entities.size}-`) }), sql)
  if ('refused' in found) throw new Error(found.refused)
  return { model: apply(onto, found.change).model, facts: found.facts }
}
const outline = (sql: string) => textOf(brought(sql).model)
const tables = (sql: string) => {
  const found = tablesIn(sql)
  if ('refused' in found) throw new Error(found.refused)
  return found.tables
}

describe('SQL tables as classes', () => {
  it('have attributes with their types, whether they may be missing, and how they begin', () => {
    expect(
      outline(`create table if not exists shop.order_line (
        code char(8) primary key comment 'told; apart',
        seats int(11) unsigned not null default 1, -- how many; of them
        price decimal(10, 2), paid tinyint(1) not null default 0 /* not; yet */,
        state enum('open', 'it''s, paid') not null default 'open',
        note text default 'a;b', born date, at timestamp(3) default current_timestamp(3),
        picture longblob, \`größe\` double
      ) engine=InnoDB;`),
    ).toBe(
      [
        'OrderLine',
        '  - code : String {id}  kept as: CHAR(8)',
        '  - seats : Integer = 1  kept as: INT UNSIGNED',
        '  - price : Real [0..1]  kept as: DECIMAL(10, 2)',
        '  - paid : Boolean = false',
        '  - state : OrderLineState = open',
        '  - note : String [0..1] = "a;b"  kept as: TEXT',
        '  - born : Date [0..1]',
        '  - at : DateTime [0..1]  kept as: TIMESTAMP(3)',
        '  - picture : Binary [0..1]',
        '  - größe : Real [0..1]  column: größe',
        'OrderLineState  (enumeration)',
        '  open',
        "  it's, paid",
        'Date  (primitive)',
        'DateTime  (primitive)',
        'Binary  (primitive)',
      ].join('\n'),
    )
  })
  it('lead to each other by their references: one, some, one of one, parts, many to many, kinds', () => {
    const text = outline(`
      CREATE TABLE port (id INT AUTO_INCREMENT PRIMARY KEY, name VARCHAR(9) NOT NULL);
      CREATE TABLE leg (id INT PRIMARY KEY AUTO_INCREMENT, from_id INT NOT NULL, port_id INT, twin_id INT UNIQUE,
        FOREIGN KEY (from_id) REFERENCES port (id), FOREIGN KEY (port_id) REFERENCES port (id),
        FOREIGN KEY (twin_id) REFERENCES leg (id));
      CREATE TABLE stop (id INT PRIMARY KEY AUTO_INCREMENT, leg_id INT NOT NULL REFERENCES leg (id) ON DELETE CASCADE);
      CREATE TABLE tag (id INT PRIMARY KEY AUTO_INCREMENT);
      CREATE TABLE leg_tag (leg_id INT, tag_id INT, PRIMARY KEY (leg_id, tag_id));
      CREATE TABLE quay (id INT PRIMARY KEY, depth INT);
      ALTER TABLE leg_tag ADD FOREIGN KEY (leg_id) REFERENCES leg (id), ADD CONSTRAINT two FOREIGN KEY (tag_id) REFERENCES tag (id);
      ALTER TABLE quay ADD CONSTRAINT k FOREIGN KEY (id) REFERENCES port (id) ON DELETE CASCADE;`)
    expect(text).toContain('has 1 Port as from  each *')
    expect(text).toContain('has 0..1 Port  each *')
    expect(text).toContain('has 0..1 Leg as twin  each 0..1')
    expect(text).toContain('owns * Stop  each 1')
    expect(text).toContain('has * Tag  each *')
    expect(text).toContain('Quay\n  - depth : Integer [0..1]\n  is a Port')
    expect(text).not.toContain('LegTag')
  })
  it('keep a column whose other table is not there, and know classes by their tables', () => {
    expect(outline('CREATE TABLE a (id INT PRIMARY KEY, b_id INT NOT NULL REFERENCES b(id));')).toContain(
      '- bId : Integer',
    )
    const onto = brought('CREATE TABLE b (id INT AUTO_INCREMENT PRIMARY KEY);').model
    const both = textOf(
      brought('CREATE TABLE a (b_id INT NOT NULL, FOREIGN KEY (b_id) REFERENCES b (id));', onto).model,
    )
    expect(both).toContain('has 1 B  each *')
  })
  it('are read though one part of them is not understood, which is said with its line', () => {
    const { model, facts } = brought(
      "SET x = 1;\nINSERT INTO a VALUES ('CREATE TABLE no (id INT);');\nCREATE TABLE a (\n  id INT,\n  odd GEOHASH(3) STRANGE,\n  KEY k (id),\n  name VARCHAR(5)\n);",
    )
    expect(textOf(model)).toBe('A\n  - id : Integer [0..1]\n  - name : String [0..1]  kept as: VARCHAR(5)')
    expect(facts).toContain('Line 5: “odd GEOHASH(3) STRANGE” in table “a” was not understood.')
  })
  it('are refused in words where there are none, or too much', () => {
    const refused = (sql: string) => {
      const found = read(wishFor(begun, { view: classView() }), sql)
      return 'refused' in found ? found.refused : ''
    }
    for (const text of ['', 'hello', 'DROP TABLE x;', 'CREATE TABLE', "'", '`', '/*', 'CREATE TABLE a (('])
      expect(refused(text)).toMatch(/Nothing here makes a table/)
    expect(refused('x'.repeat(20_000_001))).toMatch(/20 million/)
    expect(refused(Array.from({ length: 2001 }, (_, at) => `CREATE TABLE t${at} (id INT);`).join(''))).toMatch(
      /2000 tables/,
    )
  })
  it('come back as they were written, for whatever a database can keep', () => {
    fc.assert(
      fc.property(databaseModels, (text) => {
        const model = classModel(text)
        const written = tablesOf(model, classView(), DAY)
        const back = outline(ddlOf(written))
        expect(statements(back)).toEqual(statements(textOf(model)).filter((one) => isKept(one, text)))
      }),
      { numRuns: 40 },
    )
  })
  it('are the same tables again, whatever the classes', () => {
    fc.assert(
      fc.property(databaseModels, (text) => {
        const plain = tablesOf(classModel(text), classView(), DAY).map(({ of: _, columns, ...one }) => ({
          ...one,
          columns: columns.map(({ of: __, isPart: ___, isLoose: ____, ...column }) => column),
        }))
        expect(tables(ddlOf(plain))).toEqual(plain)
      }),
      { numRuns: 40 },
    )
  })
})

/** A primitive that no attribute has is in no table. */
const isKept = (line: string, text: string): boolean =>
  !/^Date(?:Time)?  \(primitive\)$/.test(line) || new RegExp(`: ${line.split('  ')[0] ?? ''}\\b`).test(text)

describe('a line of a table', () => {
  it('is read back as it is written', () => {
    const name = fc.oneof(
      fc.stringMatching(/^[a-z][a-z0-9_]{0,9}$/),
      fc.constantFrom('a b', 'x`y', 'größe', 'select', '1st'),
    )
    const column = fc.record({
      name,
      type: fc.constantFrom(
        'INT',
        'VARCHAR(8)',
        'DECIMAL(10, 2)',
        "ENUM('a', 'b''c, d', '(')",
        'BOOLEAN',
        'DATETIME(3)',
        'BIGINT UNSIGNED',
      ),
      isRequired: fc.boolean(),
    })
    fc.assert(
      fc.property(
        column,
        fc.constantFrom(undefined, '37', "'NOT NULL'", "'it''s'"),
        fc.boolean(),
        (one, initial, isCounted) => {
          const whole = { ...one, ...(initial ? { initial } : {}), ...(isCounted ? { isCounted: true as const } : {}) }
          expect(readColumn(columnLine(whole))).toEqual(whole)
        },
      ),
    )
    const names = fc.array(name, { minLength: 1, maxLength: 3 })
    fc.assert(
      fc.property(names, name, names, fc.boolean(), (columns, to, toColumns, cascades) => {
        const one = { columns, to, toColumns, cascades }
        expect(readReference(referenceLine(one))).toEqual(one)
      }),
    )
  })
  it('is refused in words where it is none', () => {
    for (const text of ['', 'name', 'a b c', 'x INT NOT', `a ${'x'.repeat(5000)}`, 'a VARCHAR(3'])
      expect(readColumn(text)).toHaveProperty('refused')
    for (const text of ['', 'a -> b', 'a -> (b)', '-> b(c)']) expect(readReference(text)).toHaveProperty('refused')
  })
  it('says types in one way', () => {
    // MariaDB Knowledge Base, “Data Types”: synonyms; display widths tell nothing of what is kept.
    for (const [said, meant] of [
      ['int(11)', 'INT'],
      ['integer', 'INT'],
      ['tinyint(1)', 'BOOLEAN'],
      ['tinyint(4)', 'TINYINT'],
      ['bigint(20) unsigned', 'BIGINT UNSIGNED'],
      ['numeric(10,2)', 'DECIMAL(10, 2)'],
      ['double precision', 'DOUBLE'],
      ['bool', 'BOOLEAN'],
      ["enum('a','b''c')", "ENUM('a', 'b''c')"],
      ['varchar( 8 )', 'VARCHAR(8)'],
      ['datetime(3)', 'DATETIME(3)'],
    ] as const)
      expect(typeText(said)).toBe(meant)
  })
})
