import type { Entity, Fields, FieldValue, Id, Model, Step } from '../../model'
import { addEntity, containerOf, numberOf, removal, setField, type Wish } from '../../notation'
import { classesOn, type ClassModel } from './structure'
import { datedTie, named } from './typed'
import { TIES, type Typed } from './words'

/** Steps that several actions share. None of them writes: they say what would have to be written. */

export const packages = containerOf('package', 'Package', ['class'])

export const modelIn = ({ model, day }: Pick<Wish, 'model' | 'day'>): ClassModel => classesOn(model, day)

/** The package that what a wish makes stands in: the one that its view is of, made where the view is new; none where it shows everything. */
export function homeFor(wish: Wish): { readonly id: Id | undefined; readonly steps: readonly Step[] } {
  const scope = wish.view.scope['package']
  // What a view is of may be gone: then it shows everything.
  const isOfOne = scope === '' || (typeof scope === 'string' && wish.model.entities.has(scope as Id))
  return isOfOne ? packages.forWish(wish) : { id: undefined, steps: [] }
}

/** Whether a package is another one, or stands within it. */
export function isPackageWithin(model: Model, inner: Id | undefined, outer: Id): boolean {
  const seen = new Set<unknown>()
  for (
    let at: unknown = inner;
    typeof at === 'string' && !seen.has(at);
    at = model.entities.get(at as Id)?.fields['package']
  ) {
    if (at === outer) return true
    seen.add(at)
  }
  return false
}

const MEMBER_KINDS = ['attribute', 'operation', 'literal'] as const

/** All members of a class, on every day. */
export const membersOf = (model: Model, owner: Id): readonly Entity[] =>
  MEMBER_KINDS.flatMap((kind) => model.ofKind(kind)).filter(({ fields }) => fields['class'] === owner)

/** Takes classes away with their members and ties. */
export const removeClasses = (model: Model, ...ids: readonly Id[]): Step[] =>
  removal(model, ...ids, ...ids.flatMap((id) => membersOf(model, id).map((member) => member.id)))

/** What may stand in a package. */
const PACKAGED = [
  'class',
  'package',
  'machine',
  'subject',
  'actor',
  'use-case',
  'component',
  'deployment-node',
  'interaction',
]

/** Takes a package away: what stood in it stands where it stood. */
export function removePackage(model: Model, id: Id): Step[] {
  const outer = model.entities.get(id)?.fields['package'] ?? null
  const inside = PACKAGED.flatMap((kind) => model.ofKind(kind).filter(({ fields }) => fields['package'] === id))
  return [...inside.map((one) => setField(one.id, 'package', outer as string | null)), ...removal(model, id)]
}

export const lastOrder = (list: readonly Entity[]): number =>
  Math.max(0, ...list.map((one) => numberOf(one, 'order') ?? 0))

/** Where a typed line stands: beneath a class, in a package. */
export interface Place {
  readonly owner: Id | undefined
  readonly home: Id | undefined
}

interface Known {
  readonly id: Id
  readonly name: string
}

/** Turns typed lines into steps: facts that are made are known to the lines that follow, and a class that is only named is made. */
export class Scribe {
  readonly steps: Step[] = []
  readonly #classes: Known[]
  readonly #packages: Known[]
  readonly #orders = new Map<string, number>()

  constructor(private readonly wish: Wish) {
    const all = modelIn(wish)
    this.#classes = [...all.classes]
    this.#packages = [...all.packages]
  }

  /** States the entity of a line; ties are left to `tie`, when all that they may name is stated. */
  make({ is, name, fields, from, to }: Typed, { owner, home }: Place, known?: Id): Id | undefined {
    if (TIES.has(is)) return undefined
    const id = known ?? this.wish.newId()
    const isMember = is !== 'class' && is !== 'package'
    const place: Fields = isMember
      ? owner === undefined
        ? {}
        : { class: owner }
      : home === undefined
        ? {}
        : { package: home }
    const entity: Entity = {
      id,
      kind: is,
      name,
      fields: { ...resolved(this.wish.model, fields), ...place, order: this.#nextOrder(is, isMember ? owner : home) },
      ...(from === undefined ? {} : { from }),
      ...(to === undefined ? {} : { to }),
    }
    this.steps.push(addEntity(entity))
    if (is === 'class') this.#classes.push({ id, name })
    if (is === 'package') this.#packages.push({ id, name })
    return id
  }

  /** States a tie from a class, or from a package, to what its line names. */
  tie(one: Typed, source: Id, place: Place): Id {
    const id = this.wish.newId()
    const target = this.target(one, place)
    this.steps.push(datedTie(id, one.is, source, target, one.fields, one))
    return id
  }

  /** What a tie leads to; made where nobody has heard of it. */
  target({ is, target }: Typed, { owner, home }: Place): Id {
    const ref = target ?? { name: 'Class', nth: 1 }
    const isOfPackages = owner === undefined && is === 'dependency'
    const known = named(isOfPackages ? this.#packages : this.#classes, ref)
    if (known) return known.id
    const made: Typed = {
      is: isOfPackages ? 'package' : 'class',
      name: ref.name,
      fields: is === 'realization' ? { form: 'interface' } : {},
    }
    return this.make(made, { owner: undefined, home: isOfPackages ? undefined : home }) ?? this.wish.newId()
  }

  #nextOrder(kind: string, holder: Id | undefined): number {
    const key = `${kind} ${holder ?? ''}`
    const field = kind === 'class' || kind === 'package' ? 'package' : 'class'
    const known =
      this.#orders.get(key) ??
      lastOrder(this.wish.model.ofKind(kind).filter(({ fields }) => (fields[field] ?? undefined) === holder))
    this.#orders.set(key, known + 1)
    return known + 1
  }
}

/** Fields as they are kept: a system by its identity, where it is known. */
export function resolved(model: Model, fields: Typed['fields']): Record<string, FieldValue> {
  const system = fields['system']
  if (typeof system !== 'string') return { ...fields }
  const known = model.ofKind('system').find(({ name }) => name.toLowerCase() === system.toLowerCase())
  return { ...fields, system: known?.id ?? system }
}
