import { counted, addDays, isDay, type Fields, type FieldValue, type Id, type Step } from '../../../model'
import {
  differing,
  LIMITS,
  readCell,
  readRows,
  setEntity,
  setField,
  type FaultAt,
  type Field,
  type ImportOptions,
  type ImportPlan,
  type ImportRow,
  type TableImport,
  type Wish,
} from '../../../notation'
import { homeFor, modelIn, removeClasses, resolved, Scribe } from '../edits'
import { CLASS_FORMS, entityKinds } from '../kinds'
import { shownIn, type Classifier } from '../structure'
import { readMember } from '../syntax/members'
import { isFault } from '../syntax/scan'
import { fieldsOf, typed } from '../words'

/** One row a class or a member of one: what a class is may stand in any of its rows. */
export const classTable: TableImport = {
  id: 'classes',
  title: 'Classes and their members, one row each',
  columns: [
    { id: 'class', label: 'Class', headings: ['class', 'class name', 'name', 'classifier', 'entity', 'type name'] },
    { id: 'form', label: 'Sort', headings: ['sort', 'form', 'kind', 'class kind', 'metaclass'] },
    {
      id: 'member',
      label: 'Member',
      headings: ['member', 'attribute', 'operation', 'feature', 'field', 'property', 'method'],
    },
    { id: 'package', label: 'Package', headings: ['package', 'namespace', 'module'] },
    { id: 'abstract', label: 'Abstract', headings: ['abstract', 'is abstract'], says: 'flag' },
    { id: 'leaf', label: 'Final', headings: ['final', 'leaf', 'is final'], says: 'flag' },
    { id: 'stereotypes', label: 'Stereotypes', headings: ['stereotypes', 'stereotype'] },
    { id: 'table', label: 'Table', headings: ['table', 'table name'] },
    { id: 'system', label: 'System', headings: ['system', 'application', 'service'] },
    {
      id: 'parents',
      label: 'Is a',
      headings: ['is a', 'parent', 'parents', 'superclass', 'extends', 'generalization'],
    },
    { id: 'from', label: 'Since', headings: ['since', 'from', 'valid from'], says: 'day' },
    { id: 'to', label: 'Until', headings: ['until', 'to', 'valid to'], says: 'day' },
  ],
  readers: [],
  plan,
}

interface ToldMember {
  readonly is: 'attribute' | 'operation' | 'literal'
  readonly name: string
  readonly fields: Fields
  readonly from?: string | undefined
  readonly to?: string | undefined
}

interface ToldClass {
  readonly name: string
  readonly fields: Record<string, FieldValue>
  package?: string
  readonly parents: string[]
  readonly members: ToldMember[]
  from?: string
  to?: string
}

const classFields: ReadonlyMap<string, Field> = new Map(
  entityKinds.find(({ id }) => id === 'class')?.fields.map((field) => [field.id, field]),
)
const OWN = ['form', 'abstract', 'leaf', 'stereotypes', 'table', 'system'] as const

/** O(rows + classes). */
function plan(wish: Wish, rows: readonly ImportRow[], options: ImportOptions): ImportPlan {
  const { read, faults, bad } = readRows(rows, options, (kept, fault) => readClasses(wish, kept, fault))
  const told = bad.size > 0 ? [] : read
  const { classes } = shownIn(wish.model, wish.view, wish.day)
  const here = new Set(told.map(({ name }) => name))
  const gone = told.length === 0 ? [] : classes.filter(({ name }) => !here.has(name))
  const writer = new ClassWriter(wish)
  for (const one of told) writer.state(one)
  for (const one of told) writer.lead(one)
  const ends = options.endGone ? gone.flatMap((one) => ended(wish, one)) : []
  return {
    change: {
      label: `Bring in a table of ${counted(told.length, 'class', 'classes')}`,
      steps: [...writer.steps, ...ends],
    },
    faults,
    added: writer.added,
    altered: [...writer.altered],
    gone: gone.map(({ id, name }) => ({ id, name })),
  }
}

/** A class that is told of no longer ends before the day shown; one that would begin later goes. */
function ended({ model, day }: Wish, { id, entity }: Classifier): readonly Step[] {
  const last = addDays(day, -1)
  return entity.from !== undefined && entity.from > last ? removeClasses(model, id) : [setEntity(id, 'to', last)]
}

function readClasses(wish: Wish, rows: readonly ImportRow[], faultAt: FaultAt): ToldClass[] {
  const told = new Map<string, ToldClass>()
  // Beneath an enumeration a word is a literal, wherever it says that it is one.
  const enumerations = new Set([
    ...modelIn(wish).classes.flatMap(({ form, name }) => (form === 'enumeration' ? [name] : [])),
    ...rows.flatMap(({ cells }) => (/^enum/i.test(cells['form'] ?? '') ? [(cells['class'] ?? '').trim()] : [])),
  ])
  for (const { number, cells } of rows) {
    const fault = (column: string, message: string) => faultAt(number, column, message)
    const name = (cells['class'] ?? '').trim()
    if (name === '' || name.length > LIMITS.name) {
      fault(
        'Class',
        name === '' ? 'There is no name.' : `It has ${name.length} characters; ${LIMITS.name} is the most.`,
      )
      continue
    }
    const one = told.get(name) ?? { name, fields: {}, parents: [], members: [] }
    told.set(name, one)
    readOwn(one, cells, fault)
    const [from, to] = [cells['from'], cells['to']].map((text) => (isDay(text) ? text : undefined))
    const text = (cells['member'] ?? '').trim()
    if (text === '') {
      if (from !== undefined) one.from ??= from
      if (to !== undefined) one.to ??= to
      continue
    }
    const member = readOne(text, enumerations.has(name))
    if ('refused' in member) fault('Member', member.refused)
    else one.members.push({ ...member, from, to })
  }
  return [...told.values()]
}

function readOwn(one: ToldClass, cells: ImportRow['cells'], fault: (column: string, message: string) => void): void {
  const form = (cells['form'] ?? '').trim().toLowerCase()
  const known = CLASS_FORMS.find((each) => each === (FORM_WORDS[form] ?? form))
  if (form !== '' && !known) fault('Sort', `“${form.slice(0, 60)}” is none of ${CLASS_FORMS.join(', ')}.`)
  for (const id of OWN) {
    const field = classFields.get(id)
    const value = field && readCell(field, id === 'form' ? known : cells[id], fault)
    if (value !== undefined && value !== 'class' && value !== false) one.fields[id] ??= value
  }
  const home = (cells['package'] ?? '').trim()
  if (home !== '') one.package ??= home.slice(0, LIMITS.name)
  for (const parent of (cells['parents'] ?? '').split(/\s*[,;]\s*/))
    if (parent !== '' && !one.parents.includes(parent)) one.parents.push(parent.slice(0, LIMITS.name))
}

/** Words that people use for sorts of classes. */
const FORM_WORDS: Readonly<Record<string, string>> = {
  enum: 'enumeration',
  datatype: 'data type',
  struct: 'data type',
  'value object': 'data type',
  'primitive type': 'primitive',
}

function readOne(text: string, isOfEnumeration: boolean): ToldMember | { readonly refused: string } {
  if (isOfEnumeration && /^[^-+#~/:([={]+$/.test(text))
    return { is: 'literal', name: text.slice(0, LIMITS.name), fields: {} }
  const read = readMember(text)
  if (isFault(read)) return { refused: `At letter ${read.at + 1}: ${read.refused}` }
  return { is: read.is, name: read.name.slice(0, LIMITS.name), fields: fieldsOf(read) }
}

/** Steps that make the facts say what a table says; what is there by its name is altered. */
class ClassWriter {
  readonly added: string[] = []
  readonly altered = new Set<string>()
  readonly #steps: Step[] = []
  readonly #scribe: Scribe
  readonly #classes: Map<string, { readonly id: Id; readonly known: Classifier | undefined }>
  readonly #packages: Map<string, Id>
  readonly #home: ReturnType<typeof homeFor>

  constructor(private readonly wish: Wish) {
    const all = modelIn(wish)
    this.#scribe = new Scribe(wish)
    this.#home = homeFor(wish)
    this.#classes = new Map(all.classes.toReversed().map((one) => [one.name, { id: one.id, known: one }]))
    this.#packages = new Map(all.packages.toReversed().map(({ name, id }) => [name, id]))
  }

  get steps(): readonly Step[] {
    const made = [...this.#scribe.steps, ...this.#steps]
    return made.length > 0 ? [...this.#home.steps, ...made] : []
  }

  state(told: ToldClass): void {
    const at = this.#classes.get(told.name)
    const fields = resolved(this.wish.model, told.fields)
    if (!at) {
      const id = this.#scribe.make(typed('class', told.name, fields, undefined, datesOf(told)), {
        owner: undefined,
        home: this.#packageFor(told),
      })
      if (id === undefined) return
      this.#classes.set(told.name, { id, known: undefined })
      this.added.push(told.name)
    } else if (at.known) {
      const home = told.package === undefined ? undefined : this.#packageFor(told)
      const stated = { ...fields, ...(home === undefined ? {} : { package: home }) }
      this.#rewrite(told.name, at.known.entity, { ...at.known.entity.fields, ...stated }, told)
    }
    for (const member of told.members) this.#member(told, member)
  }

  /** What it is a kind of, once all classes are known. */
  lead({ name, parents }: ToldClass): void {
    const own = this.#classes.get(name)
    for (const parent of parents) {
      if (!own || own.known?.parents.some((each) => each.name === parent)) continue
      this.#scribe.tie(typed('generalization', '', {}, { name: parent, nth: 1 }), own.id, {
        owner: undefined,
        home: this.#home.id,
      })
      if (own.known) this.altered.add(name)
    }
  }

  #packageFor({ package: name }: ToldClass): Id | undefined {
    if (name === undefined) return this.#home.id
    const known = this.#packages.get(name)
    if (known !== undefined) return known
    const id = this.#scribe.make(typed('package', name, {}), { owner: undefined, home: undefined })
    if (id !== undefined) this.#packages.set(name, id)
    return id
  }

  #member(told: ToldClass, member: ToldMember): void {
    const owner = this.#classes.get(told.name)
    if (!owner) return
    const list = owner.known
      ? { attribute: owner.known.attributes, operation: owner.known.operations, literal: owner.known.literals }[
          member.is
        ]
      : []
    // Operations of one name are told apart by their parameters.
    const [same] = list.filter(({ name }) => name === member.name)
    const known =
      list.find((one) => {
        const entity = 'entity' in one ? one.entity : one
        return one.name === member.name && entity.fields['parameters'] === member.fields['parameters']
      }) ?? (list.filter(({ name }) => name === member.name).length === 1 ? same : undefined)
    if (!known) {
      this.#scribe.make(typed(member.is, member.name, member.fields, undefined, datesOf(member)), {
        owner: owner.id,
        home: undefined,
      })
      if (owner.known) this.altered.add(told.name)
      return
    }
    const entity = 'entity' in known ? known.entity : known
    const { class: holder, order, kept } = entity.fields
    const place = Object.entries({ class: holder, order, kept }).flatMap(([key, value]) =>
      value === undefined ? [] : [[key, value] as const],
    )
    this.#rewrite(told.name, entity, { ...member.fields, ...Object.fromEntries(place) }, member)
  }

  #rewrite(
    name: string,
    before: { readonly id: Id; readonly fields: Fields; readonly from?: string; readonly to?: string },
    fields: Fields,
    said: { readonly from?: string | undefined; readonly to?: string | undefined },
  ): void {
    const steps = [
      ...differing(before.fields, fields).map(([key, value]) => setField(before.id, key, value)),
      ...(['from', 'to'] as const).flatMap((end) =>
        said[end] && said[end] !== before[end] ? [setEntity(before.id, end, said[end])] : [],
      ),
    ]
    if (steps.length > 0) this.altered.add(name)
    this.#steps.push(...steps)
  }
}

const datesOf = ({ from, to }: { readonly from?: string | undefined; readonly to?: string | undefined }) => ({
  ...(isDay(from) ? { from } : {}),
  ...(isDay(to) ? { to } : {}),
})
