import { asDay, asId, type Day, type Entity, type Model } from '../core/model'
import { addTable } from '../core/notations/uml/schema/facts'
import { keptIn, tablesKept } from '../core/notations/uml/schema/drift'
import type { Table, TableColumn } from '../core/notations/uml/schema/table'
import { classesOn } from '../core/notations/uml/structure'

/** The database of the booking service: made up, and changed by those who run it, who tell nobody. */
export const BOOKING_DATABASE = 'marram_booking'

/** The day on which its tables were as the classes say, but for the first change. */
const BEGINS = asDay('2026-11-20')

const column = (name: string, type: string, isRequired = false): TableColumn => ({ name, type, isRequired })
const within = (table: string, alter: (table: Table) => Table) => (tables: readonly Table[]) =>
  tables.map((one) => (one.name === table ? alter(one) : one))
const altered = (name: string, more: Partial<TableColumn>) => (table: Table) => ({
  ...table,
  columns: table.columns.map((one) => (one.name === name ? { ...one, ...more } : one)),
})

/** What was changed when, in this order. */
const CHANGES: readonly (readonly [Day, (tables: readonly Table[]) => readonly Table[]])[] = [
  [BEGINS, within('passenger', (table) => ({ ...table, columns: [...table.columns, column('phone', 'VARCHAR(40)')] }))],
  [
    asDay('2026-12-07'),
    within('voucher', (table) => ({
      ...table,
      columns: [...table.columns, column('code', 'VARCHAR(20)', true)],
      unique: [...table.unique, ['code']],
    })),
  ],
  [asDay('2026-12-21'), within('ticket', altered('valid_until', { isRequired: true }))],
  [
    asDay('2027-01-11'),
    (tables) => [
      ...tables,
      {
        name: 'waiting_list',
        columns: [
          { ...column('id', 'BIGINT UNSIGNED', true), isCounted: true },
          column('sailing_id', 'BIGINT UNSIGNED', true),
          column('seats', 'INT', true),
        ],
        key: ['id'],
        unique: [],
        foreign: [{ columns: ['sailing_id'], to: 'sailing', toColumns: ['id'], cascades: true }],
      },
    ],
  ],
  [asDay('2027-02-01'), within('passenger', altered('email', { name: 'mail' }))],
  [
    asDay('2027-03-01'),
    within('passenger', altered('language', { type: "ENUM('english', 'danish', 'german', 'norwegian')" })),
  ],
]

/** Its tables on a day, for the classes of the demo. */
export function bookingTables(model: Model, day: Day): readonly Table[] {
  const all = classesOn(model, BEGINS)
  const tables = tablesKept(all, keptIn(all, undefined))
  const plain = tables.map(({ of: _, columns, ...table }): Table => ({ ...table, columns: columns.map(said) }))
  return CHANGES.filter(([from]) => from <= day).reduce<readonly Table[]>((before, [, change]) => change(before), plain)
}

/** A column as a database tells of it. */
const said = ({ of: _, isPart: __, isLoose: ___, ...told }: TableColumn): TableColumn => told

/** The database as it was read when the facts were stated. */
export function databaseFacts(model: Model): Entity[] {
  const schema: Entity = { id: asId('schema-booking'), kind: 'schema', name: BOOKING_DATABASE, fields: { order: 1 } }
  const tables = bookingTables(model, BEGINS).map((table, at) =>
    addTable(asId(`table-${table.name.replaceAll('_', '-')}`), schema.id, table, at + 1),
  )
  return [schema, ...tables.flatMap((step) => (step.do === 'add-entity' ? step.entity : []))]
}
