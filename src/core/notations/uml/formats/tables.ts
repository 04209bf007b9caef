import type { Day, Id, Model, View } from '../../../model'
import { textOf } from '../../../notation'
import {
  aggregationOf,
  ancestorsOf,
  classesOn,
  endOf,
  isAssociation,
  shownIn,
  type Association,
  type Attribute,
  type ClassModel,
  type Classifier,
  type Tie,
} from '../structure'
import {
  keptAs,
  LONGEST_NAME,
  quoted,
  snake,
  sortOf,
  SURROGATE,
  TEXT,
  typeText,
  type Table,
  type TableColumn,
} from '../schema/table'
import { isMany, readMultiplicity } from '../syntax/multiplicity'
import { isFault } from '../syntax/scan'
import { unreadType } from '../syntax/sqlType'
import { classNamed } from '../types'

/** Classes as tables of a relational database: what each keeps in which columns, and how tables refer to each other. */

type Open = { -readonly [K in keyof Table]: Table[K] extends readonly (infer E)[] ? E[] : Table[K] }

/** So deep are data types within data types taken apart. */
const DEEPEST = 4
/** Of more texts than these in one table the rest are kept beside its rows, which hold 65 535 bytes. */
const MOST_TEXTS = 30

/**
 * The tables of the classes that a view shows: one for each class, joined to that of what it is a kind of by the same key; a reference for what
 * there is one of, a table of its own for what there are many of, and a table between for what are many on both sides. Data types are taken apart
 * into columns; derived and static attributes are kept nowhere. O(members + ties)
 */
export function tablesOf(model: Model, view: View, day: Day): readonly Table[] {
  const { classes, ties } = shownIn(model, view, day)
  return tablesFor(
    classesOn(model, day),
    classes.filter(({ form }) => form === 'class'),
    ties,
  )
}

/** The tables of some classes of a model and of what ties them: what those are a kind of and that is not among them is kept with each of them. */
export function tablesFor(all: ClassModel, kept: readonly Classifier[], ties: readonly Tie[]): readonly Table[] {
  const maker = new Maker(all, kept)
  for (const one of kept) maker.attributes(one)
  for (const tie of ties) if (isAssociation(tie)) maker.association(tie)
  return maker.tables
}

/** A name that nothing has yet, whatever the case. */
function unusedName(taken: Set<string>, wanted: string): string {
  let name = wanted.slice(0, LONGEST_NAME)
  for (let count = 2; taken.has(name.toLowerCase()); count++) {
    const end = `_${count}`
    name = `${wanted.slice(0, LONGEST_NAME - end.length)}${end}`
  }
  taken.add(name.toLowerCase())
  return name
}

class Maker {
  readonly #tables = new Map<Classifier, Open>()
  readonly #others: Open[] = []
  readonly #names = new Set<string>()
  readonly #columns = new Map<Open, Set<string>>()

  constructor(
    private readonly all: ClassModel,
    kept: readonly Classifier[],
  ) {
    for (const one of kept) this.#tables.set(one, this.#table(textOf(one.entity, 'table') ?? snake(one.name), one.id))
    const keyed = new Set<Classifier>()
    for (const one of kept) this.#key(one, keyed)
  }

  get tables(): readonly Table[] {
    return [...this.#tables.values(), ...this.#others].map((one) => ({ ...one, columns: fitting(one) }))
  }

  #table(name: string, of: Id): Open {
    const made: Open = { name: unusedName(this.#names, name), columns: [], key: [], unique: [], foreign: [], of }
    this.#columns.set(made, new Set())
    return made
  }

  #add(table: Open, wanted: string, column: Omit<TableColumn, 'name'>): string {
    const name = unusedName(this.#columns.get(table) ?? new Set(), wanted)
    table.columns.push({ name, ...column })
    return name
  }

  /** By what rows of a class are told apart: as those of what it is a kind of, by attributes that are an `{id}`, or by a number. */
  #key(one: Classifier, keyed: Set<Classifier>): void {
    const table = this.#tables.get(one)
    if (!table || keyed.has(one)) return
    keyed.add(one)
    const [first, ...others] = one.parents.flatMap((parent) => {
      this.#key(parent, keyed)
      const above = this.#tables.get(parent)
      return above && above !== table && above.key.length > 0 ? [above] : []
    })
    if (first) {
      table.key = first.key.map((name) => this.#add(table, name, this.#like(first, name, true)))
      table.foreign.push({ columns: [...table.key], to: first.name, toColumns: [...first.key], cascades: true })
    } else {
      const id = this.#idOf(one)
      table.key = id
        ? this.#values(table, keptOf(id), { isRequired: true, of: id.id })
        : [
            this.#add(table, textOf(one.entity, 'key') ?? SURROGATE, {
              type: 'BIGINT UNSIGNED',
              isRequired: true,
              isCounted: true,
            }),
          ]
    }
    for (const other of others)
      this.#refer(table, other, { called: snake(other.name) }, { isRequired: true, cascades: true })
  }

  /** The one attribute that is an `{id}`, where it makes one column: others are no key that is short enough to be referred to. */
  #idOf(one: Classifier): Attribute | undefined {
    const ids = this.#attributesOf(one).filter((each) => isKept(each) && isId(each))
    const [id] = ids
    const type = id?.type === undefined ? undefined : classNamed(this.all, id.type)
    return id &&
      ids.length === 1 &&
      !isMany(howMany(id)) &&
      (!type || type.form === 'enumeration' || type.form === 'primitive')
      ? id
      : undefined
  }

  #like(table: Open, name: string, isRequired: boolean): Omit<TableColumn, 'name'> {
    return { type: table.columns.find((each) => each.name === name)?.type ?? TEXT, isRequired }
  }

  /** What it has itself, and what it has of those above it that have no table of their own. */
  #attributesOf(one: Classifier): readonly Attribute[] {
    const above = ancestorsOf(one).filter((each) => !this.#tables.has(each) && each.form === 'class')
    return [...above.toReversed(), one].flatMap(({ attributes }) => attributes)
  }

  /** Columns that refer to a row of another table. */
  #refer(table: Open, to: Open, { called, column }: Kept, { isRequired, cascades, of }: Referring): string[] {
    const columns = to.key.map((name) =>
      this.#add(table, column !== undefined && to.key.length === 1 ? column : `${called}_${name}`, {
        ...this.#like(to, name, isRequired),
        ...(of === undefined ? {} : { of }),
      }),
    )
    table.foreign.push({ columns, to: to.name, toColumns: [...to.key], cascades })
    return columns
  }

  attributes(one: Classifier): void {
    const table = this.#tables.get(one)
    if (!table) return
    for (const each of this.#attributesOf(one)) {
      if (!isKept(each)) continue
      const many = howMany(each)
      // What it is told apart by is there already.
      if (each === this.#idOf(one) && one.parents.every((parent) => !this.#tables.has(parent))) continue
      const isRequired = many.lower !== 0
      if (isMany(many)) this.#list(table, keptOf(each), each.id)
      else this.#values(table, keptOf(each), { isRequired, initial: initialOf(each), of: each.id })
    }
  }

  /** A table of what a row has many of, in their order. */
  #list(owner: Open, kept: Kept, of: Id): void {
    const table = this.#table(kept.table ?? `${owner.name}_${kept.called}`, of)
    this.#others.push(table)
    const own = this.#refer(table, owner, { called: owner.name }, { isRequired: true, cascades: true, of })
    const place = this.#add(table, 'position', { type: 'INT UNSIGNED', isRequired: true })
    table.key = [...own, place]
    this.#values(table, kept, { isRequired: true, of })
  }

  /** The columns of a value: one, a reference, or those that its data type is taken apart into. */
  #values(table: Open, kept: Kept, wanted: Wanted, depth = 0): string[] {
    const { called, column, type, keptAs: stated } = kept
    const { isRequired, initial, of } = wanted
    const named = type === undefined ? undefined : classNamed(this.all, type)
    const to = named && this.#tables.get(named)
    if (to) return this.#refer(table, to, kept, { isRequired, cascades: false, of })
    if (named?.form === 'data type' && depth < DEEPEST) {
      const parts = named.attributes.filter((each) => isKept(each) && !isMany(howMany(each)))
      if (parts.length > 0)
        return parts.flatMap((each) =>
          this.#values(
            table,
            {
              ...keptOf(each),
              called: `${column ?? called}_${keptOf(each).column ?? snake(each.name)}`,
              column: undefined,
            },
            { isRequired: isRequired && howMany(each).lower !== 0, initial: initialOf(each), of },
            depth + 1,
          ),
        )
    }
    const literals =
      named?.form === 'enumeration'
        ? [...new Map(named.literals.map(({ name }) => [name.toLowerCase(), name])).values()]
        : []
    const known = stated ?? (literals.length > 0 ? `ENUM(${literals.map(quoted).join(', ')})` : keptAs(type))
    const ofColumn = known ?? TEXT
    const literal = initial === undefined ? undefined : literalOf(initial, ofColumn, literals)
    return [
      this.#add(table, column ?? called, {
        type: ofColumn,
        isRequired,
        ...(literal === undefined ? {} : { initial: literal }),
        of,
        ...(depth > 0 ? { isPart: true } : {}),
        ...(known === undefined ? { isLoose: true } : {}),
      }),
    ]
  }

  /** An association as a reference where there is one at an end, and as a table where there are many at both. */
  association({ a, b, relation }: Association): void {
    const [near, far] = [endOf(relation, 'source'), endOf(relation, 'target')]
    const [from, to] = [this.#tables.get(a), this.#tables.get(b)]
    if (!from) return
    const isWhole = aggregationOf(relation) === 'composite'
    const farMany = manyOf(far.multiplicity, '1')
    const nearMany = manyOf(near.multiplicity, isWhole ? '1' : '*')
    const called = snake(far.role ?? b.name)
    const own = { called: snake(near.role ?? a.name) }
    const column = textOf(relation, 'column')
    const tableName = textOf(relation, 'table')
    const there: Kept = { called, column, type: b.name, table: tableName }
    if (!to) {
      if (b.form === 'interface') return
      if (isMany(farMany)) this.#list(from, there, relation.id)
      else this.#values(from, there, { isRequired: farMany.lower !== 0, of: relation.id })
      return
    }
    const of = relation.id
    if (!isMany(nearMany) && (isWhole || isMany(farMany))) {
      const columns = this.#refer(
        to,
        from,
        { ...own, column },
        { isRequired: nearMany.lower !== 0, cascades: isWhole, of },
      )
      if (!isMany(farMany)) to.unique.push(columns)
    } else if (!isMany(farMany)) {
      const columns = this.#refer(from, to, there, { isRequired: farMany.lower !== 0, cascades: false, of })
      if (!isMany(nearMany)) from.unique.push(columns)
    } else {
      const table = this.#table(tableName ?? `${from.name}_${called}`, of)
      this.#others.push(table)
      const both = { isRequired: true, cascades: true, of }
      const [first, second] = pairIn(column)
      const mine = this.#refer(table, from, { ...own, column: first }, both)
      table.key = [...mine, ...this.#refer(table, to, { called, column: second }, both)]
    }
  }
}

/** How a value is kept: by which name, and what is stated of its column, its type there and its table. */
interface Kept {
  readonly called: string
  readonly column?: string | undefined
  readonly type?: string | undefined
  readonly keptAs?: string | undefined
  readonly table?: string | undefined
}
interface Wanted {
  readonly isRequired: boolean
  readonly initial?: string | undefined
  readonly of: Id
}
interface Referring {
  readonly isRequired: boolean
  readonly cascades: boolean
  readonly of?: Id | undefined
}

const keptOf = ({ name, type, entity }: Attribute): Kept => ({
  called: snake(name),
  column: textOf(entity, 'column'),
  type,
  keptAs: typeIn(textOf(entity, 'keptAs')),
  table: textOf(entity, 'table'),
})
const typeIn = (text: string | undefined): string | undefined =>
  text === undefined || unreadType(text) !== undefined ? undefined : typeText(text)
/** `order_id, tag_id`: the columns of a table between two others. */
function pairIn(text: string | undefined): readonly [first?: string, second?: string] {
  const [first, second, more] = (text ?? '').split(',').map((one) => one.trim())
  return first && second && more === undefined ? [first, second] : []
}

const isKept = ({ entity, isStatic }: Attribute): boolean => !isStatic && entity.fields['derived'] !== true
const isId = ({ entity }: Attribute): boolean => {
  const properties = entity.fields['properties']
  return Array.isArray(properties) && properties.includes('id')
}
const manyOf = (text: string | undefined, usual: string) => {
  const read = readMultiplicity(text ?? usual)
  return isFault(read) ? ({ lower: 0, upper: 1 } as const) : read
}
const howMany = ({ entity }: Attribute) => manyOf(textOf(entity, 'multiplicity'), '1')
const initialOf = ({ entity }: Attribute): string | undefined => textOf(entity, 'default')

/** A default that is a literal of the column’s type; any other one is left to the program. */
function literalOf(text: string, type: string, literals: readonly string[]): string | undefined {
  const plain = /^"(.*)"$/s.exec(text)?.[1] ?? /^'(.*)'$/s.exec(text)?.[1]
  if (literals.length > 0) {
    const found = literals.find((one) => one.toLowerCase() === (plain ?? text).toLowerCase())
    return found === undefined ? undefined : quoted(found)
  }
  const sort = sortOf(type)
  if (sort === 'Boolean') return /^(true|false)$/i.test(text) ? text.toUpperCase() : undefined
  if (sort === 'Real') return /^-?\d{1,15}(\.\d{1,15})?$/.test(text) ? text : undefined
  if (sort === 'Integer')
    return /^-?\d{1,9}$/.test(text) && !(type.endsWith('UNSIGNED') && text.startsWith('-')) ? text : undefined
  const room = Number(/^(?:VAR)?CHAR\((\d+)\)/.exec(type)?.[1] ?? 0)
  return plain !== undefined && plain.length <= room ? quoted(plain) : undefined
}

/** Texts that no key needs are kept beside the row where there are too many for one. */
function fitting({ columns, key, unique, foreign }: Open): readonly TableColumn[] {
  const bound = new Set([...key, ...unique.flat(), ...foreign.flatMap((one) => one.columns)])
  let texts = 0
  return columns.map((one) => {
    if (one.type !== TEXT || ++texts <= MOST_TEXTS || bound.has(one.name)) return one
    const { initial: _, ...rest } = one
    return { ...rest, type: 'TEXT' }
  })
}
