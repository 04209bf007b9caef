import {
  covers,
  FactRecall,
  grouped,
  type Day,
  type Entity,
  type Fields,
  type Id,
  type Model,
  type Step,
} from '../../../model'
import { addEntity, inOrder, listOf, removal, setField, type Wish } from '../../../notation'
import { lastOrder } from '../edits'
import {
  columnLine,
  namesLine,
  readColumn,
  readNames,
  readReference,
  referenceLine,
  type ForeignKey,
  type Table,
  type TableColumn,
} from './table'

/** A database as its tables were read or stated: what the classes that name them are compared with. */
export interface Schema {
  readonly id: Id
  readonly entity: Entity
  readonly name: string
  /** The classes of this package, and of those in it; without one all classes. */
  readonly package: Id | undefined
  readonly tables: readonly KeptTable[]
}

export interface KeptTable extends Table {
  readonly id: Id
  readonly entity: Entity
  /** Lines that are not understood. */
  readonly faults: readonly string[]
}

const schemas = new FactRecall<readonly Schema[]>()

/** The databases of a day. O(facts) once for the facts and each day. */
export const schemasOn = (model: Model, day: Day): readonly Schema[] =>
  schemas.of(model, day, () => {
    const here = (kind: string) => inOrder(model.ofKind(kind).filter((fact) => covers(fact, day)))
    const tables = grouped(here('table'), ({ fields }) => String(fields['schema'] ?? ''))
    return here('schema').map((entity) => ({
      id: entity.id,
      entity,
      name: entity.name,
      package: typeof entity.fields['package'] === 'string' ? (entity.fields['package'] as Id) : undefined,
      tables: (tables.get(entity.id) ?? []).map(tableOfFact),
    }))
  })

const byId = new FactRecall<ReadonlyMap<Id, Schema>>()

export const schemasById = (model: Model, day: Day): ReadonlyMap<Id, Schema> =>
  byId.of(model, day, () => new Map(schemasOn(model, day).map((one) => [one.id, one])))

export function tableOfFact(entity: Entity): KeptTable {
  const faults: string[] = []
  const kept = <T extends object>(
    lines: readonly string[],
    read: (line: string) => T | { readonly refused: string },
  ): T[] =>
    lines.flatMap((line) => {
      const one = read(line)
      if (!('refused' in one)) return [one]
      faults.push(one.refused)
      return []
    })
  return {
    id: entity.id,
    entity,
    name: entity.name,
    columns: kept<TableColumn>(listOf(entity, 'columns'), readColumn),
    key: readNames(listOf(entity, 'key').join(', ')),
    unique: listOf(entity, 'unique').map(readNames),
    foreign: kept<ForeignKey>(listOf(entity, 'references'), readReference),
    faults,
  }
}

/** A table as it is kept. */
export const fieldsOfTable = ({ columns, key, unique, foreign }: Table): Record<TableField, readonly string[]> => ({
  columns: columns.map(columnLine),
  key: key.map((name) => namesLine([name])),
  unique: unique.map(namesLine),
  references: foreign.map(referenceLine),
})
type TableField = 'columns' | 'key' | 'unique' | 'references'

export const addTable = (id: Id, schema: Id, table: Table, order: number): Step => {
  const said = Object.entries(fieldsOfTable(table)).filter(([, lines]) => lines.length > 0)
  return addEntity({ id, kind: 'table', name: table.name, fields: { ...Object.fromEntries(said), schema, order } })
}

/** Steps by which a table is kept as another one: in which order it refers to others means nothing. */
export const rewriteTable = (entity: Entity, table: Table): Step[] =>
  Object.entries(fieldsOfTable(table)).flatMap(([field, lines]) => {
    const inOneOrder = (list: readonly string[]) =>
      JSON.stringify(field === 'columns' || field === 'key' ? list : [...list].sort())
    return inOneOrder(listOf(entity, field)) === inOneOrder(lines)
      ? []
      : [setField(entity.id, field, lines.length === 0 ? null : lines)]
  })

export interface BroughtSchema {
  readonly steps: readonly Step[]
  readonly added: readonly string[]
  readonly altered: readonly string[]
  readonly gone: readonly string[]
}

/** Steps that make the facts say which tables a database has: those that it has no longer are gone. O(tables) */
export function bringSchema(wish: Wish, name: string, tables: readonly Table[]): BroughtSchema {
  const known = schemasOn(wish.model, wish.day).find((one) => one.name.toLowerCase() === name.toLowerCase())
  const scope = wish.view.scope['package']
  const home: Fields = typeof scope === 'string' && wish.model.entities.has(scope as Id) ? { package: scope } : {}
  const id = known?.id ?? wish.newId()
  const steps: Step[] = known
    ? []
    : [addEntity({ id, kind: 'schema', name, fields: { ...home, order: lastOrder(wish.model.ofKind('schema')) + 1 } })]
  const before = new Map(known?.tables.map((one) => [one.name.toLowerCase(), one]))
  const [added, altered]: [string[], string[]] = [[], []]
  let order = lastOrder(known?.tables.map(({ entity }) => entity) ?? [])
  for (const table of tables) {
    const one = before.get(table.name.toLowerCase())
    before.delete(table.name.toLowerCase())
    if (!one) {
      steps.push(addTable(wish.newId(), id, table, ++order))
      added.push(table.name)
      continue
    }
    const changes = rewriteTable(one.entity, table)
    if (changes.length > 0) altered.push(table.name)
    steps.push(...changes)
  }
  const gone = [...before.values()]
  steps.push(...removal(wish.model, ...gone.map((one) => one.id)))
  return { steps, added, altered, gone: gone.map((one) => one.name) }
}
