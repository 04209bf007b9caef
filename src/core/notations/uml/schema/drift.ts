import { freeId, type Day, type Id, type Model, type Relation, type Step } from '../../../model'
import {
  addEntity,
  fix,
  numberOf,
  removal,
  setEntity,
  setField,
  setRelation,
  tie,
  type Fix,
  type Found,
} from '../../../notation'
import { lastOrder, membersOf, Scribe } from '../edits'
import { tablesFor } from '../formats/tables'
import { classesOn, inPackage, type ClassModel, type Classifier, type Tie } from '../structure'
import { ClassMaker, alike, associationOf, sortOfTable, tableOf } from './classes'
import { addTable, rewriteTable, schemasOn, type KeptTable, type Schema } from './facts'
import { camel, literalsIn, snake, sortOf, type ForeignKey, type Table, type TableColumn } from './table'

/** What a class model and the databases that keep it say differently; each difference can be taken over from either side. */

/** O(facts) */
export function driftIn(model: Model, day: Day): readonly Found[] {
  const all = classesOn(model, day)
  return schemasOn(model, day).flatMap((schema) => new Comparison(model, day, all, schema).found())
}

/** The classes that a database keeps: those that say in which table, within a package where it keeps only that. */
export function keptIn(all: ClassModel, within: Id | undefined): readonly Classifier[] {
  const outer = within === undefined ? undefined : all.packageById.get(within)
  const isInside = ({ package: home }: Classifier) => !outer || inPackage(home, outer)
  return all.classes.filter((one) => one.form === 'class' && one.entity.fields['table'] && isInside(one))
}

/** The tables that those classes would be kept in. */
export function tablesKept(all: ClassModel, kept: readonly Classifier[]): readonly Table[] {
  const inside = new Set(kept)
  // What is tied to a class that is kept elsewhere is kept elsewhere.
  const isHere = ({ a, b }: Tie) => inside.has(a) && (inside.has(b) || b.form !== 'class')
  return tablesFor(all, kept, all.ties.filter(isHere))
}

class Comparison {
  readonly #kept: readonly Classifier[]
  readonly #expected: readonly Table[]

  constructor(
    private readonly model: Model,
    private readonly day: Day,
    private readonly all: ClassModel,
    private readonly schema: Schema,
  ) {
    this.#kept = keptIn(all, schema.package)
    this.#expected = tablesKept(all, this.#kept)
  }

  found(): Found[] {
    const { schema } = this
    const actual = new Map(schema.tables.map((one) => [one.name.toLowerCase(), one]))
    const found = schema.tables.flatMap((one) =>
      one.faults.map((words): Found => ({
        message: `Table “${one.name}”: ${words}`,
        subjects: [one.id],
        about: words.slice(0, 80),
        fixes: [],
      })),
    )
    for (const expected of this.#expected) {
      const one = actual.get(expected.name.toLowerCase())
      actual.delete(expected.name.toLowerCase())
      found.push(...(one ? this.#columns(expected, one) : [this.#noTable(expected)]))
    }
    return [...found, ...[...actual.values()].map((one) => this.#noClass(one))]
  }

  #noTable(table: Table): Found {
    const { schema } = this
    const order = lastOrder(schema.tables.map(({ entity }) => entity)) + 1
    const id = freeId(this.model.entities, `${schema.id}-${table.name}`.replace(/[^\w.-]+/g, '-'))
    const isClass = this.#kept.some((one) => one.id === table.of)
    return {
      message: `${this.#called(table)} is kept in table “${table.name}”, which “${schema.name}” does not have.`,
      subjects: [...ids(table.of), schema.id],
      fixes: [
        ...(isClass && table.of !== undefined
          ? [fix(`${this.#called(table)} is kept in no table`, setField(table.of, 'table', null))]
          : this.#without(table.of)),
        fix(`“${schema.name}” is to have table “${table.name}”`, addTable(id, schema.id, table, order)),
      ],
    }
  }

  #noClass(table: KeptTable): Found {
    const { is } = sortOfTable(table)
    const makes = is === 'class' ? `a class of it` : is === 'join' ? 'an association of it' : 'an attribute of it'
    const steps = this.#making(table)
    return {
      message: `“${this.schema.name}” has a table “${table.name}”, which no class is kept in.`,
      subjects: [table.id, this.schema.id],
      fixes: [
        ...(steps.length > 0 ? [fix(`Make ${makes}`, ...steps)] : []),
        fix(`“${table.name}” is not of this model`, ...removal(this.model, table.id)),
      ],
    }
  }

  /** Steps that state classes for a table. */
  #making(table: KeptTable): readonly Step[] {
    const { scribe, maker } = this.#maker(table)
    maker.make([table])
    return scribe.steps
  }

  #maker(table: KeptTable, part = '') {
    const free = (name: string) => freeId(this.model.entities, name.toLowerCase().replace(/[^\w.-]+/g, '-'))
    let count = 0
    // Identities of its own for each table and column: several differences may be mended at once.
    const newId = () => free(`${table.id}${part}-${++count}`)
    const wish = { model: this.model, day: this.day, newId, selection: [], view: NO_VIEW }
    const scribe = new Scribe(wish)
    return {
      scribe,
      maker: new ClassMaker(wish, scribe, this.schema.package, true, (name) => free(`type-${name}`)),
    }
  }

  #columns(expected: Table, actual: KeptTable): Found[] {
    const found: Found[] = []
    const named = (table: Table, name: string) => table.columns.find((one) => alike(one.name, name))
    const isCounter = (table: Table, column: TableColumn) =>
      column.isCounted === true && table.key.some((name) => alike(name, column.name))
    const missing = expected.columns.filter((one) => !named(actual, one.name) && !isCounter(expected, one))
    const extra = actual.columns.filter((one) => !named(expected, one.name) && !isCounter(actual, one))
    const renamed = new Map<TableColumn, TableColumn>()
    for (const one of missing) {
      const before = columnBefore(expected, one)
      const like = extra.filter((other) => this.#isRenamed(expected, one, actual, other))
      const [only] = missing.length === 1 && extra.length === 1 ? like : []
      const other =
        like.find((each) => bare(each.name) === bare(one.name)) ??
        only ??
        like.find((each) => before !== undefined && columnBefore(actual, each) === before)
      if (other && ![...renamed.values()].includes(other)) renamed.set(one, other)
    }
    for (const one of missing) {
      const other = renamed.get(one)
      found.push(other ? this.#renamed(one, actual, other) : this.#noColumn(expected, one, actual))
    }
    for (const one of extra)
      if (![...renamed.values()].includes(one)) found.push(this.#noAttribute(expected, actual, one))
    for (const one of expected.columns) {
      const other = named(actual, one.name)
      if (other && one.of !== undefined) found.push(...this.#column(expected, one, actual, other))
    }
    return found
  }

  #isRenamed(expected: Table, one: TableColumn, actual: Table, other: TableColumn): boolean {
    if (one.of === undefined || one.isPart) return false
    const [mine, theirs] = [referenceOf(expected, one.name), referenceOf(actual, other.name)]
    // What refers to the same table is the same reference, whatever its column is called.
    if (mine || theirs)
      return mine !== undefined && theirs !== undefined && alike(mine.to, theirs.to) && this.#isAlone(one.of, mine)
    return this.model.entities.has(one.of) && (one.isLoose === true || sortOf(one.type) === sortOf(other.type))
  }

  /** Whether a tie or an attribute is kept in one column alone, which it may name. */
  #isAlone = (of: Id, { columns }: ForeignKey): boolean =>
    columns.length === 1 && (this.model.relations.has(of) || this.model.entities.has(of))

  #renamed(one: TableColumn, actual: KeptTable, other: TableColumn): Found {
    const id = one.of as Id
    const now = camel(other.name)
    const isTie = this.model.relations.has(id)
    const said = snake(now) === other.name ? null : other.name
    const keeps = fix(
      `It is kept in column “${other.name}”`,
      isTie ? setRelation(id, 'fields.column', other.name) : setField(id, 'column', other.name),
    )
    const renames = fix(`Call it “${now}” in the class`, setEntity(id, 'name', now), setField(id, 'column', said))
    // Where only the way of writing differs the class keeps its own.
    const ours = isTie ? [keeps] : bare(one.name) === bare(other.name) ? [keeps, renames] : [renames, keeps]
    return {
      message: `${this.#named(id)} is column “${other.name}” in table “${actual.name}”, and not “${one.name}”.`,
      subjects: [id, actual.id],
      fixes: [
        ...ours,
        fix(`The column is to be “${one.name}”`, ...this.#with(actual, other.name, { ...other, name: one.name })),
      ],
    }
  }

  #noColumn(expected: Table, one: TableColumn, actual: KeptTable): Found {
    const refers = referenceOf(expected, one.name)
    const table: Table = {
      ...actual,
      columns: [...actual.columns, one],
      foreign: refers ? [...actual.foreign, refers] : actual.foreign,
      unique: [...actual.unique, ...expected.unique.filter((names) => names.some((name) => alike(name, one.name)))],
    }
    return {
      message: `${this.#named(one.of)} would be kept in column “${one.name}”, which table “${actual.name}” does not have.`,
      subjects: [...ids(one.of), actual.id],
      about: one.name,
      fixes: [
        ...(one.isPart ? [] : this.#without(one.of)),
        fix(`“${actual.name}” is to have column “${one.name}”`, ...rewriteTable(actual.entity, table)),
      ],
    }
  }

  #noAttribute(expected: Table, actual: KeptTable, one: TableColumn): Found {
    const owner = this.all.byId.get(expected.of as Id)
    return {
      message: `Table “${actual.name}” has a column “${one.name}” (${one.type}), of which ${this.#called(expected)} says nothing.`,
      subjects: [...ids(expected.of), actual.id],
      about: one.name,
      fixes: [
        ...(owner ? [this.#stating(owner, actual, one)] : []),
        fix(`“${actual.name}” is to have no column “${one.name}”`, ...this.#with(actual, one.name, undefined)),
      ],
    }
  }

  /** States an attribute, or an association, for a column. */
  #stating(owner: Classifier, actual: KeptTable, column: TableColumn): Fix {
    const refers = referenceOf(actual, column.name)
    const far = refers && this.#kept.find((one) => alike(tableOf(one), refers.to))
    if (refers && far) {
      const { isWhole, fields } = associationOf(actual, refers, far.name)
      const [a, b] = isWhole ? [far, owner] : [owner, far]
      const id = freeId(this.model.relations, `${actual.id}-${column.name}`.replace(/[^\w.-]+/g, '-'))
      return fix(`“${a.name}” ${isWhole ? 'owns' : 'has'} “${b.name}”`, tie(id, 'association', a.id, b.id, fields))
    }
    const { scribe, maker } = this.#maker(actual, `-${column.name}`)
    maker.attribute(owner.id, actual, column)
    return fix(`“${owner.name}” has “${camel(column.name)}”`, ...scribe.steps)
  }

  #column(expected: Table, one: TableColumn, actual: KeptTable, other: TableColumn): Found[] {
    const found: Found[] = []
    const of = one.of as Id
    const [mine, theirs] = [referenceOf(expected, one.name), referenceOf(actual, other.name)]
    const say = (what: string, message: string, fixes: readonly Fix[]) =>
      found.push({
        message: `${this.#named(of)}: ${message}`,
        subjects: [of, actual.id],
        about: `${other.name} ${what}`,
        fixes,
      })
    const column = `column “${other.name}” of table “${actual.name}”`
    const likeOurs = (more: Partial<TableColumn>, label: string) =>
      fix(label, ...this.#with(actual, other.name, { ...other, ...more }))

    if (mine?.to.toLowerCase() !== theirs?.to.toLowerCase() && (mine ?? theirs)) {
      const words = (to: ForeignKey | undefined) => (to ? `refers to “${to.to}”` : 'refers to nothing')
      say('reference', `it ${words(mine)}, but ${column} ${words(theirs)}.`, [
        ...this.#referring(expected, of, actual, other, theirs),
        fix(
          `The column ${mine ? `is to refer to “${mine.to}”` : 'is to refer to nothing'}`,
          ...rewriteTable(actual.entity, {
            ...actual,
            foreign: [...actual.foreign.filter((each) => each !== theirs), ...(mine ? [mine] : [])],
          }),
        ),
      ])
      return found
    }
    const [ours, said] = [sortOf(one.type), sortOf(other.type)]
    const literals = [literalsIn(one.type), literalsIn(other.type)] as const
    if (!mine && !one.isLoose && ours !== said && !one.isPart)
      say('type', `it is ${this.#typeOf(of)}, but ${column} is ${other.type}.`, [
        ...this.#typed(actual, of, other),
        likeOurs({ type: one.type }, `The column is to be ${one.type}`),
      ])
    else if (literals[0].length > 0 && literals[1].length > 0 && differs(...literals))
      say('literals', `${column} takes ${listed(literals[1])}, the enumeration has ${listed(literals[0])}.`, [
        ...this.#enumerated(of, literals[1]),
        likeOurs({ type: one.type }, `The column is to take ${listed(literals[0])}`),
      ])
    if (one.isRequired !== other.isRequired && !one.isPart)
      say(
        'required',
        one.isRequired
          ? `it is always there, but ${column} may be NULL.`
          : `it may be missing, but ${column} is NOT NULL.`,
        [
          ...this.#required(expected, of, other.isRequired),
          likeOurs(
            { isRequired: one.isRequired },
            one.isRequired ? 'The column is to be NOT NULL' : 'The column may be NULL',
          ),
        ],
      )
    if (mine && theirs) {
      const [once, theirOnce] = [isUnique(expected, mine.columns), isUnique(actual, theirs.columns)]
      if (once !== theirOnce)
        say(
          'unique',
          once
            ? `only one refers to each, but ${column} is not UNIQUE.`
            : `many refer to one, but ${column} is UNIQUE.`,
          [
            fix(
              theirOnce ? 'Only one refers to each' : 'Many refer to one',
              setRelation(of, `fields.${this.#nearEnd(expected, of)}Multiplicity`, theirOnce ? '0..1' : '*'),
            ),
            fix(
              once ? 'The column is to be UNIQUE' : 'The column is not to be UNIQUE',
              ...rewriteTable(actual.entity, {
                ...actual,
                unique: once
                  ? [...actual.unique, mine.columns]
                  : actual.unique.filter((names) => !sameNames(names, theirs.columns)),
              }),
            ),
          ],
        )
    }
    return found
  }

  /** The end of an association at which the table that refers stands. */
  #nearEnd(expected: Table, of: Id): 'source' | 'target' {
    return this.model.relations.get(of)?.source === expected.of ? 'source' : 'target'
  }

  #required(expected: Table, of: Id, isRequired: boolean): readonly Fix[] {
    const label = isRequired ? 'It is always there' : 'It may be missing'
    if (this.model.entities.has(of)) return [fix(label, setField(of, 'multiplicity', isRequired ? null : '0..1'))]
    const far = this.#nearEnd(expected, of) === 'source' ? 'target' : 'source'
    return this.model.relations.has(of)
      ? [fix(label, setRelation(of, `fields.${far}Multiplicity`, isRequired ? '1' : '0..1'))]
      : []
  }

  #typed(actual: KeptTable, of: Id, other: TableColumn): readonly Fix[] {
    if (!this.model.entities.has(of)) return []
    const { scribe, maker } = this.#maker(actual, `-${other.name}`)
    const type = maker.typeFor(actual.name, other)
    // What it began with was of the other type.
    return [fix(`It is a ${type}`, ...scribe.steps, setField(of, 'type', type), setField(of, 'default', null))]
  }

  /** The enumeration of an attribute has other literals. */
  #enumerated(of: Id, literals: readonly string[]): readonly Fix[] {
    const one = this.all.classes.find(
      ({ form, name }) => form === 'enumeration' && name === this.model.entities.get(of)?.fields['type'],
    )
    if (!one) return []
    const surplus = one.literals.filter(({ name }) => !literals.some((each) => alike(each, name)))
    const lacking = literals.filter((each) => !one.literals.some(({ name }) => alike(each, name)))
    let order = Math.max(0, ...membersOf(this.model, one.id).map((each) => numberOf(each, 'order') ?? 0))
    return [
      fix(
        `“${one.name}” has ${listed(literals)}`,
        ...removal(this.model, ...surplus.map(({ id }) => id)),
        ...lacking.map((name, at) =>
          addEntity({
            id: freeId(this.model.entities, `${one.id}-literal-${at + 1}`),
            kind: 'literal',
            name,
            fields: { class: one.id, order: ++order },
          }),
        ),
      ),
    ]
  }

  /** What refers elsewhere, or no longer, in the model. */
  #referring(
    expected: Table,
    of: Id,
    actual: KeptTable,
    other: TableColumn,
    theirs: ForeignKey | undefined,
  ): readonly Fix[] {
    const owner = this.all.byId.get(expected.of as Id)
    const relation = this.model.relations.get(of)
    const far = theirs && this.#kept.find((one) => alike(tableOf(one), theirs.to))
    if (!owner || (theirs && !far)) return []
    if (relation && far)
      return [
        fix(
          `It leads to “${far.name}”`,
          setRelation(of, this.#nearEnd(expected, of) === 'source' ? 'target' : 'source', far.id),
        ),
      ]
    const stated = this.#stating(owner, actual, other)
    const { label, change } = this.#without(of)[0] ?? stated
    return label === stated.label ? [] : [fix(stated.label, ...change.steps, ...stated.change.steps)]
  }

  /** The model without a member or a tie. */
  #without(of: Id | undefined): readonly Fix[] {
    if (of === undefined) return []
    const relation = this.model.relations.get(of)
    if (relation) return [fix(`Leave out ${this.#named(of)}`, { do: 'remove-relation', id: of })]
    return this.model.entities.has(of) ? [fix(`Leave out ${this.#named(of)}`, ...removal(this.model, of))] : []
  }

  /** A table with another column in the place of one, or without it. */
  #with(actual: KeptTable, name: string, column: TableColumn | undefined): Step[] {
    const swap = (names: readonly string[]) => names.map((each) => (column && alike(each, name) ? column.name : each))
    const stays = (names: readonly string[]) => column !== undefined || !names.some((each) => alike(each, name))
    return rewriteTable(actual.entity, {
      name: actual.name,
      columns: actual.columns.flatMap((each) => (alike(each.name, name) ? (column ? [column] : []) : [each])),
      key: swap(actual.key).filter((each) => column !== undefined || !alike(each, name)),
      unique: actual.unique.filter(stays).map(swap),
      foreign: actual.foreign
        .filter((each) => stays(each.columns))
        .map((each) => ({ ...each, columns: swap(each.columns) })),
    })
  }

  #called({ of, name }: Table): string {
    return of === undefined ? `“${name}”` : this.#named(of)
  }

  /** A class, a member with its class, or a tie, in words. */
  #named(of: Id | undefined): string {
    const entity = of === undefined ? undefined : this.model.entities.get(of)
    if (entity) {
      const owner = this.model.entities.get(entity.fields['class'] as Id)
      return owner ? `“${entity.name}” of “${owner.name}”` : `“${entity.name}”`
    }
    const relation = of === undefined ? undefined : this.model.relations.get(of)
    return relation ? `What joins ${this.#ends(relation)}` : 'It'
  }

  #ends({ source, target, fields }: Relation): string {
    const name = (id: Id) => `“${this.model.entities.get(id)?.name ?? id}”`
    const role = fields['targetRole']
    return `${name(source)} and ${name(target)}${typeof role === 'string' ? ` as “${role}”` : ''}`
  }

  #typeOf(of: Id): string {
    const type = this.model.entities.get(of)?.fields['type']
    return typeof type === 'string' ? `of type ${type}` : 'of another type'
  }
}

const NO_VIEW = {
  id: 'drift' as Id,
  notation: 'uml',
  picture: 'classes',
  title: '',
  order: 0,
  scope: {},
  options: {},
  pins: {},
  look: {},
}

/** What of a name does not depend on the way of writing it: `firstName`, `first_name` and `FIRST-NAME` are one. */
const bare = (name: string): string => snake(camel(name)).replaceAll('_', '')

const columnBefore = ({ columns }: Table, column: TableColumn): string | undefined =>
  columns[columns.indexOf(column) - 1]?.name.toLowerCase()
const ids = (of: Id | undefined): readonly Id[] => (of === undefined ? [] : [of])
const listed = (names: readonly string[]): string => names.map((name) => `“${name}”`).join(', ')
const differs = (one: readonly string[], other: readonly string[]): boolean => !sameNames(one, other)
const sameNames = (one: readonly string[], other: readonly string[]): boolean =>
  one.length === other.length && one.every((name) => other.some((each) => alike(name, each)))
const referenceOf = ({ foreign }: Table, column: string): ForeignKey | undefined =>
  foreign.find(({ columns }) => columns.some((name) => alike(name, column)))
const isUnique = ({ key, unique }: Table, columns: readonly string[]): boolean =>
  [key, ...unique].some((names) => sameNames(names, columns))
