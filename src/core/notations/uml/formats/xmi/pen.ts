import {
  covers,
  grouped,
  parseJson,
  type Day,
  type Entity,
  type Id,
  type Model,
  type Relation,
} from '../../../../model'
import { inOrder } from '../../../../notation'
import { readMultiplicity } from '../../syntax/multiplicity'
import { isFault } from '../../syntax/scan'
import { PRIMITIVE_TYPES } from '../../types'
import { KINDS_WRITTEN, TIES_WRITTEN, UNNAMED } from './names'
import { el, idsIn, keptEl, PRIMITIVES, typedEl, type El } from './tree'

/** What is written: both sorts of facts. */
export type Stated = Entity | Relation

/** By which identities facts and their parts stand in a file, and what several sorts of them are written with. */
export class Pen {
  readonly #xmlIds = new Map<string, string>()
  readonly #taken = new Set<string>()
  readonly of: (kind: string, field: string) => ReadonlyMap<string, readonly Entity[]>
  relations: readonly Relation[]
  #leaving: ReadonlyMap<string, readonly Relation[]> | undefined
  /** Facts that no element has a place for: what stands in itself, or in what is not there. */
  readonly #absent = new Set<string>()
  /** Facts whose kept elements are those of another fact. */
  readonly #twice = new Set<Stated>()
  readonly here: (kind: string) => readonly Entity[]
  readonly #classes: ReadonlyMap<string, Entity>
  readonly #parts = new Map<string, string>()

  constructor(
    private readonly model: Model,
    day: Day,
  ) {
    const known = new Map<string, readonly Entity[]>()
    this.here = (kind) => {
      const list = known.get(kind) ?? inOrder(model.ofKind(kind).filter((one) => covers(one, day)))
      known.set(kind, list)
      return list
    }
    const groups = new Map<string, ReadonlyMap<string, readonly Entity[]>>()
    this.of = (kind, field) => {
      const key = `${kind} ${field}`
      const group = groups.get(key) ?? grouped(this.here(kind), ({ fields }) => String(fields[field] ?? ''))
      groups.set(key, group)
      return group
    }
    const entities = KINDS_WRITTEN.flatMap((kind) => this.here(kind))
    const ids = new Set(entities.map(({ id }) => id))
    this.relations = TIES_WRITTEN.flatMap((kind) => model.relationsOfKind(kind)).filter(
      (one) => covers(one, day) && ids.has(one.source) && ids.has(one.target),
    )
    this.#all = this.relations
    // What is kept has identities of its own; a copy of it would say them twice.
    for (const one of [...entities, ...this.relations]) {
      const inside = idsIn(keptOf(one.fields['kept']).xml ?? '')
      if (inside.some((id) => this.#taken.has(id)) || new Set(inside).size < inside.length) this.#twice.add(one)
      else for (const id of inside) this.#taken.add(id)
    }
    // Facts first: they keep their identities, and what is made for them goes out of their way.
    for (const one of entities) this.#xmlIds.set(`entity ${one.id}`, this.unused(xmlName(this.#keptId(one) ?? one.id)))
    for (const one of this.relations)
      this.#xmlIds.set(`relation ${one.id}`, this.unused(xmlName(this.#keptId(one) ?? one.id)))
    this.#classes = new Map(
      this.here('class')
        .toReversed()
        .map((one) => [one.name, one]),
    )
  }

  readonly #all: readonly Relation[]

  get facts(): { readonly entities: readonly Entity[]; readonly relations: readonly Relation[] } {
    return { entities: KINDS_WRITTEN.flatMap((kind) => this.here(kind)), relations: this.#all }
  }

  /** By which identity a fact stands in the file. */
  idOf(fact: Stated): string {
    const id = this.#xmlIds.get(`${'source' in fact ? 'relation' : 'entity'} ${fact.id}`)
    if (id === undefined) throw new Error(`${fact.kind} ${fact.id} is not written`)
    return id
  }

  unused(wanted: string): string {
    let id = wanted
    for (let count = 2; this.#taken.has(id); count++) id = `${wanted}-${count}`
    this.#taken.add(id)
    return id
  }

  /** The identity of a part that is no fact. */
  part(fact: Stated, part: string): string {
    const wanted = `${this.idOf(fact)}.${part}`
    const id = this.#parts.get(wanted) ?? this.unused(wanted)
    this.#parts.set(wanted, id)
    return id
  }

  #keptId({ fields }: Stated): string | undefined {
    return keptOf(fields['kept']).id
  }

  /** A fact that is to be written. */
  written(id: unknown): Entity | undefined {
    const one = typeof id === 'string' ? this.model.entities.get(id as Id) : undefined
    return one && this.#xmlIds.has(`entity ${one.id}`) ? one : undefined
  }

  /** A fact that has its place among the elements. */
  entity(id: unknown): Entity | undefined {
    const one = this.written(id)
    return one && !this.#absent.has(this.idOf(one)) ? one : undefined
  }

  ref(id: unknown): string | undefined {
    const one = this.entity(id)
    return one && this.idOf(one)
  }

  /** A fact as an element: with its name, and whatever a file said of it that is no fact. */
  box(
    name: string,
    type: string,
    one: Entity,
    more: Record<string, string | undefined> = {},
    children: readonly (El | undefined)[] = [],
  ): El {
    const { attributes } = keptOf(one.fields['kept'])
    return typedEl(
      name,
      type,
      this.idOf(one),
      { name: isNameless(one) ? undefined : one.name, ...attributes, ...more },
      [...children, ...this.beside(one)],
    )
  }

  /** Ties of a kind that begin at a fact. */
  leaving(kind: string, { id }: Entity): readonly Relation[] {
    this.#leaving ??= grouped(this.relations, (tie) => `${tie.kind} ${tie.source}`)
    return this.#leaving.get(`${kind} ${id}`) ?? []
  }

  generals(one: Entity): readonly El[] {
    return this.leaving('generalization', one).map((tie) =>
      typedEl('generalization', 'Generalization', this.idOf(tie), { general: this.ref(tie.target) }, this.beside(tie)),
    )
  }

  beside(fact: Stated): readonly El[] {
    const xml = this.#twice.has(fact) ? undefined : keptEl(keptOf(fact.fields['kept']).xml)
    return xml === undefined ? [] : [xml]
  }

  dependency(name: string, type: string, tie: Relation, more: Record<string, string | undefined> = {}): El {
    const ends = { client: this.ref(tie.source), supplier: this.ref(tie.target) }
    return typedEl(name, type, this.idOf(tie), { ...ends, ...more }, this.beside(tie))
  }

  /** A type that is the name of a class or of a primitive type leads there; any other is kept beside. */
  type(text: string | undefined): { attributes: Record<string, string | undefined>; children: readonly El[] } {
    if (text === undefined) return { attributes: {}, children: [] }
    const known = this.ref(this.#classes.get(text)?.id)
    if (known !== undefined) return { attributes: { type: known }, children: [] }
    if (PRIMITIVE_TYPES.has(text))
      return {
        attributes: {},
        children: [el('type', { 'xmi:type': 'uml:PrimitiveType', href: `${PRIMITIVES}#${text}` })],
      }
    return { attributes: { 'skivel:type': text }, children: [] }
  }

  /** `lowerValue` and `upperValue`, where both are numbers. */
  multiplicity(fact: Stated, text: unknown, at = ''): readonly El[] {
    const read = typeof text === 'string' ? readMultiplicity(text) : undefined
    if (!read || isFault(read) || typeof read.lower !== 'number' || typeof read.upper !== 'number') return []
    const { lower, upper } = read
    return [
      typedEl('lowerValue', 'LiteralInteger', this.part(fact, `${at}lower`), { value: lower }),
      typedEl('upperValue', 'LiteralUnlimitedNatural', this.part(fact, `${at}upper`), {
        value: upper === Infinity ? '*' : upper,
      }),
    ]
  }

  expression(
    name: string,
    fact: Stated,
    part: string,
    body: string | undefined,
    type = 'OpaqueExpression',
  ): El | undefined {
    return body === undefined || body === ''
      ? undefined
      : typedEl(name, type, this.part(fact, part), {}, [el('body', {}, [], body)])
  }

  /** A default: of an enumeration the literal of that name. */
  initial(fact: Stated, part: string, type: string | undefined, text: string | undefined): El | undefined {
    const owner = type === undefined ? undefined : this.#classes.get(type)
    const literal =
      owner &&
      this.of('literal', 'class')
        .get(owner.id)
        ?.find(({ name }) => name === text)
    const instance = literal && this.ref(literal.id)
    return instance === undefined
      ? this.expression('defaultValue', fact, part, text)
      : typedEl('defaultValue', 'InstanceValue', this.part(fact, part), { instance })
  }

  /** The class of a name and form, by its identity. */
  classOf(form: string, name: string): string | undefined {
    const one = this.#classes.get(name)
    return one?.fields['form'] === form ? this.ref(one.id) : undefined
  }

  /** Takes note of what has no place. Answers whether that was known: else what leads there is written anew. */
  settled(absent: readonly Stated[]): boolean {
    const before = this.#absent.size
    for (const one of absent) this.#absent.add(this.idOf(one))
    if (this.#absent.size === before) return true
    this.relations = this.#all.filter((one) => this.entity(one.source) && this.entity(one.target))
    this.#leaving = undefined
    return false
  }
}

/** Whether nobody named it: a pseudostate then is called by its sort. */
const isNameless = ({ kind, name, fields }: Entity): boolean =>
  name === UNNAMED || (kind === 'state' && name === fields['form'])

/** An identity that XML takes: it begins with a letter or underscore (NCName). */
const xmlName = (id: string): string => (/^[A-Za-z_][\w.-]*$/.test(id) ? id : `_${id.replace(/[^\w.-]/g, '-')}`)

/** Attributes by plain names: what else somebody put there is none. */
const plainOf = (attributes: unknown): Record<string, string> =>
  typeof attributes === 'object' && attributes !== null
    ? Object.fromEntries(
        Object.entries(attributes).flatMap(([name, value]) =>
          /^[A-Za-z_][\w.-]*$/.test(name) && name !== 'name' && typeof value === 'string' ? [[name, value]] : [],
        ),
      )
    : {}

/** What a file said of a fact that is none: its identity there, attributes and elements. */
export interface Kept {
  readonly id?: string
  readonly attributes?: Readonly<Record<string, string>>
  readonly xml?: string
}
export function keptOf(value: unknown): Kept {
  if (typeof value !== 'string') return {}
  try {
    const read: unknown = parseJson(value)
    if (typeof read !== 'object' || read === null) return {}
    const { id, attributes, xml } = read as Record<string, unknown>
    return {
      ...(typeof id === 'string' ? { id } : {}),
      ...(attributes === undefined ? {} : { attributes: plainOf(attributes) }),
      ...(typeof xml === 'string' ? { xml } : {}),
    }
  } catch {
    // Somebody wrote something else there: it is no XML.
    return {}
  }
}
