import { cut, type Id } from '../../../model'
import { LIMITS, textOf, type Wish } from '../../../notation'
import { modelIn, type Place, type Scribe } from '../edits'
import type { Classifier, ClassModel } from '../structure'
import { PRIMITIVE_TYPES } from '../types'
import { typed, type Typed } from '../words'
import {
  camel,
  keptAs,
  literalsIn,
  pascal,
  snake,
  sortOf,
  SURROGATE,
  TEXT,
  type ForeignKey,
  type Table,
  type TableColumn,
} from './table'

/** What tables of a database come to as classes. */

/** A table that is one of these is no class: it keeps what an association joins, or the many values of an attribute. */
type Sort =
  | { readonly is: 'class' }
  | { readonly is: 'join'; readonly ends: readonly [ForeignKey, ForeignKey] }
  | { readonly is: 'list'; readonly of: ForeignKey; readonly value: TableColumn }

const same = (one: readonly string[], other: readonly string[]): boolean =>
  one.length === other.length && one.every((name) => other.some((each) => alike(name, each)))
export const alike = (one: string, other: string): boolean => one.toLowerCase() === other.toLowerCase()
const within = (names: readonly string[], list: readonly string[]): boolean =>
  names.every((name) => list.some((each) => alike(name, each)))

export function sortOfTable({ columns, key, foreign }: Table): Sort {
  const names = columns.map(({ name }) => name)
  const [a, b] = foreign
  if (a && b && foreign.length === 2 && same([...a.columns, ...b.columns], names) && same(key, names))
    return { is: 'join', ends: [a, b] }
  const others = a ? columns.filter(({ name }) => !within([name], [...a.columns, 'position'])) : []
  const [value] = others
  if (a && value && foreign.length === 1 && others.length === 1 && a.cascades && same(key, [...a.columns, 'position']))
    return { is: 'list', of: a, value }
  return { is: 'class' }
}

/** Whether rows of a table are those of another one with more in them: they have its key. */
const isInherited = ({ key }: Table, { columns, toColumns, cascades }: ForeignKey): boolean =>
  cascades && same(columns, key) && same(columns, toColumns)

/** The role at the far end of a reference, by the name of its column; undefined where it is that of the table. */
export function roleOf({ columns: [column = ''], to, toColumns: [far = ''] }: ForeignKey): string | undefined {
  // Called as what it refers to is: the column says no role.
  if (alike(column, far)) return undefined
  const end = `_${far}`
  const stem = column.toLowerCase().endsWith(end.toLowerCase()) ? column.slice(0, -end.length) : column
  return stem === '' || alike(stem, to) || alike(stem, snake(pascal(to))) ? undefined : camel(stem)
}

/** An association as a reference between tables says it, in the fields of its ends; `to` names the class that it refers to. */
export function associationOf(table: Table, reference: ForeignKey, to: string) {
  const { columns } = reference
  const isRequired = columns.every((name) => columnOf(table, name)?.isRequired)
  const isOne = [table.key, ...table.unique].some((one) => same(one, columns))
  const owning = table.foreign.filter((one) => one.cascades && !isInherited(table, one))
  const role = roleOf(reference)
  const few = isRequired ? '1' : '0..1'
  const many = isOne ? '0..1' : '*'
  const isWhole = reference.cascades && owning.length === 1
  const usual = `${snake(role ?? to)}_${reference.toColumns[0] ?? ''}`
  const column: Readonly<Record<string, string>> =
    columns.length === 1 && columns[0] !== usual ? { column: columns[0] ?? '' } : {}
  return isWhole
    ? {
        isWhole,
        fields: {
          aggregation: 'composite',
          targetMultiplicity: many,
          targetNavigable: 'yes',
          sourceMultiplicity: few,
          ...(role === undefined ? {} : { sourceRole: role }),
          ...column,
        },
      }
    : {
        isWhole,
        fields: {
          targetMultiplicity: few,
          targetNavigable: 'yes',
          sourceMultiplicity: many,
          ...(role === undefined ? {} : { targetRole: role }),
          ...column,
        },
      }
}

const columnOf = ({ columns }: Table, name: string): TableColumn | undefined =>
  columns.find((one) => alike(one.name, name))

interface Known {
  readonly id: Id
  readonly name: string
}

/** What classes there are, by their tables, their literals and their names: the same for all that is made of one model. */
interface KnownClasses {
  readonly byTable: ReadonlyMap<string, Known>
  readonly enumerations: ReadonlyMap<string, string>
  readonly names: ReadonlySet<string>
}

const knownIn = new WeakMap<ClassModel, KnownClasses>()

function knownOf(all: ClassModel): KnownClasses {
  const { classes } = all
  const known = knownIn.get(all) ?? {
    byTable: new Map(
      classes.toReversed().flatMap((one) => (one.form === 'class' ? [[tableOf(one).toLowerCase(), one] as const] : [])),
    ),
    enumerations: new Map(
      classes.flatMap((one) =>
        one.form === 'enumeration' ? [[keyOf(one.literals.map(({ name }) => name)), one.name] as const] : [],
      ),
    ),
    names: new Set(classes.map(({ name }) => name)),
  }
  knownIn.set(all, known)
  return known
}

/** States classes for tables: what is known already is tied to. */
export class ClassMaker {
  readonly made: string[] = []
  readonly #known: KnownClasses
  readonly #byTable = new Map<string, Known>()
  readonly #enumerations = new Map<string, string>()
  readonly #names = new Set<string>()
  readonly #place: Place
  readonly #tables = new Map<string, string>()

  constructor(
    wish: Pick<Wish, 'model' | 'day'>,
    private readonly scribe: Scribe,
    home: Id | undefined,
    /** Whether a class says which table keeps it where its name says it already. */
    private readonly saysTable: boolean,
    /** What a type that several may make at once is known by. */
    private readonly typeId?: (name: string) => Id,
  ) {
    this.#known = knownOf(modelIn(wish))
    this.#place = { owner: undefined, home }
  }

  #keptIn(table: string): Known | undefined {
    const key = table.toLowerCase()
    return this.#byTable.get(key) ?? this.#known.byTable.get(key)
  }

  #isNamed = (name: string): boolean => this.#names.has(name) || this.#known.names.has(name)

  /** O(columns + references) @param all every table of the schema, among which those are that are to be made. */
  make(tables: readonly Table[]): void {
    for (const { name } of tables) this.#tables.set(name.toLowerCase(), name)
    const classes = tables.filter((one) => sortOfTable(one).is === 'class')
    for (const one of classes) this.#class(one)
    for (const one of classes) for (const reference of one.foreign) this.#reference(one, reference)
    for (const one of tables) {
      const sort = sortOfTable(one)
      if (sort.is === 'join') this.#join(one, ...sort.ends)
      if (sort.is === 'list') this.#list(sort.of, sort.value, one)
    }
  }

  /** What type an attribute for a column has; what nobody has stated of it yet is. */
  typeFor(table: string, { name, type }: TableColumn): string {
    const literals = /^ENUM/.test(type) ? literalsIn(type) : []
    if (literals.length > 0) {
      const known = this.#enumerations.get(keyOf(literals)) ?? this.#known.enumerations.get(keyOf(literals))
      if (known !== undefined) return known
      const called = this.#unused(`${pascal(table)}${pascal(name)}`)
      const owner = this.scribe.make(typed('class', called, { form: 'enumeration' }), this.#place)
      for (const literal of literals)
        this.scribe.make(typed('literal', cut(literal, LIMITS.name), {}), { owner, home: this.#place.home })
      this.#enumerations.set(keyOf(literals), called)
      return called
    }
    const sort = sortOf(type)
    if (!PRIMITIVE_TYPES.has(sort) && !this.#isNamed(sort)) {
      this.#names.add(sort)
      this.scribe.make(typed('class', sort, { form: 'primitive' }), this.#place, this.typeId?.(sort))
    }
    return sort
  }

  /** An attribute for a column. */
  attribute(owner: Id, table: Table, column: TableColumn, more: Typed['fields'] = {}): void {
    const [name, type] = [camel(column.name), this.typeFor(table.name, column)]
    const isKey = table.key.some((name) => alike(name, column.name))
    const initial = initialOf(column)?.slice(0, LIMITS.name)
    this.scribe.make(
      typed('attribute', name, {
        visibility: 'private',
        type,
        ...(column.isRequired ? {} : { multiplicity: '0..1' }),
        ...(initial === undefined ? {} : { default: initial }),
        ...(isKey && sortOfTable(table).is === 'class' ? { properties: ['id'] } : {}),
        ...(snake(name) === column.name ? {} : { column: column.name }),
        ...(column.isComputed ? { derived: true } : {}),
        ...(isUsual(type, column.type) ? {} : { keptAs: column.type }),
        ...more,
      }),
      { owner, home: this.#place.home },
    )
  }

  #unused(wanted: string): string {
    let name = wanted
    for (let count = 2; this.#isNamed(name); count++) name = `${wanted}${count}`
    this.#names.add(name)
    return name
  }

  #class(table: Table): void {
    const name = this.#unused(pascal(table.name))
    const isPlain = !this.saysTable && snake(name) === table.name
    const counter = table.columns.find((one) => one.isCounted && within([one.name], table.key))
    const fields = {
      ...(isPlain ? {} : { table: table.name }),
      ...(counter === undefined || counter.name === SURROGATE ? {} : { key: counter.name }),
    }
    const id = this.scribe.make(typed('class', name, fields), this.#place)
    if (id === undefined) return
    this.made.push(name)
    this.#byTable.set(table.name.toLowerCase(), { id, name })
    const refers = table.foreign.flatMap(({ columns }) => columns)
    for (const column of table.columns) {
      const isCounter = column.isCounted && within([column.name], table.key)
      if (!isCounter && !within([column.name], refers)) this.attribute(id, table, column)
    }
  }

  #reference(table: Table, reference: ForeignKey): void {
    const own = this.#keptIn(table.name)
    const far = this.#keptIn(reference.to)
    if (!own) return
    if (!far) {
      // What it refers to is not among the tables: the column is kept as it is.
      for (const name of reference.columns) {
        const column = columnOf(table, name)
        if (column) this.attribute(own.id, table, column)
      }
      return
    }
    if (isInherited(table, reference)) return void this.#tie('generalization', own.id, far.name, {})
    const { isWhole, fields } = associationOf(table, reference, far.name)
    this.#tie('association', isWhole ? far.id : own.id, (isWhole ? own : far).name, fields)
  }

  #join(table: Table, a: ForeignKey, b: ForeignKey): void {
    const [from, to] = [a, b].map((one) => this.#keptIn(one.to))
    if (!from || !to) return
    const [near, far] = [roleOf(a), roleOf(b)]
    const usual = [
      [from, near, a],
      [to, far, b],
    ] as const
    const names = usual.map(([one, role, { toColumns }]) => `${snake(role ?? one.name)}_${toColumns[0] ?? ''}`)
    const said = [a, b].map(({ columns }) => columns[0] ?? '')
    const isOne = a.columns.length === 1 && b.columns.length === 1
    this.#tie('association', from.id, to.name, {
      sourceMultiplicity: '*',
      targetMultiplicity: '*',
      targetNavigable: 'yes',
      ...(near === undefined ? {} : { sourceRole: near }),
      ...(far === undefined ? {} : { targetRole: far }),
      ...(isOne && said.join() !== names.join() ? { column: said.join(', ') } : {}),
      ...(table.name === `${this.#tableOf(a)}_${snake(far ?? to.name)}` ? {} : { table: table.name }),
    })
  }

  /** The table that a reference leads to, as it is written. */
  #tableOf = ({ to }: ForeignKey): string => this.#tables.get(to.toLowerCase()) ?? to

  #list(of: ForeignKey, value: TableColumn, table: Table): void {
    const owner = this.#keptIn(of.to)
    if (!owner) return
    const usual = `${this.#tableOf(of)}_${snake(camel(value.name))}`
    const named: Typed['fields'] = table.name === usual ? {} : { table: table.name }
    this.attribute(owner.id, table, value, { multiplicity: '*', properties: ['ordered'], ...named })
  }

  #tie(is: 'association' | 'generalization', from: Id, to: string, fields: Typed['fields']): void {
    this.scribe.tie(typed(is, '', fields, { name: to, nth: 1 }), from, this.#place)
  }
}

export const tableOf = (one: Classifier): string => textOf(one.entity, 'table') ?? snake(one.name)
/** Whether values of a type of the class are kept as this anyway. */
const isUsual = (type: string, column: string): boolean =>
  literalsIn(column).length > 0 ? /^ENUM/.test(column) : (keptAs(type) ?? TEXT) === column
const keyOf = (literals: readonly string[]): string => JSON.stringify(literals)

/** A default as it is written in a class. */
function initialOf({ initial, type }: TableColumn): string | undefined {
  if (initial === undefined || /\(/.test(initial)) return undefined
  const [, text] = /^'(.*)'$/s.exec(initial) ?? []
  const plain = text?.replaceAll("''", "'")
  if (/^ENUM/.test(type)) return plain !== undefined && /^[\p{L}_][\p{L}\p{N}_]*$/u.test(plain) ? plain : undefined
  if (sortOf(type) === 'Boolean') return /^(?:1|b'1'|TRUE)$/i.test(plain ?? initial) ? 'true' : 'false'
  if (plain === undefined) return /^-?[\d.]+$/.test(initial) ? initial : undefined
  return /^-?[\d.]+$/.test(plain) && sortOf(type) !== 'String' ? plain : `"${plain.replaceAll('"', "'")}"`
}
