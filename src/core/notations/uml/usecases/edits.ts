import type { Entity, FieldValue, Id, Model, Step } from '../../../model'
import { addEntity, containerOf, entityNamed, numberOf, removal, setField, type Wish } from '../../../notation'
import { datedTie, named, type Ref } from '../typed'
import { casesOn, type UseCases } from './structure'
import type { Typed } from './words'

/** Steps that several actions share. None of them writes: they say what would have to be written. */

export const subjects = containerOf('subject', 'Subject')

export const casesIn = ({ model, day }: Pick<Wish, 'model' | 'day'>): UseCases => casesOn(model, day)

export const lastOrder = (list: readonly Entity[]): number =>
  list.reduce((most, one) => Math.max(most, numberOf(one, 'order') ?? 0), 0)

/** The subject that what a wish makes stands in: the one that its view is of, made where the view is new. */
export function homeFor(wish: Wish): { readonly id: Id | undefined; readonly steps: readonly Step[] } {
  const scope = wish.view.scope['subject']
  const isOfOne = scope === '' || (typeof scope === 'string' && wish.model.entities.has(scope as Id))
  return isOfOne ? subjects.forWish(wish) : { id: undefined, steps: [] }
}

/** Takes actors, use cases and subjects away: what stood in a subject stands in none. */
export function removeParts(model: Model, ...ids: readonly Id[]): Step[] {
  const inside = ids.flatMap((id) =>
    model.entities.get(id)?.kind === 'subject'
      ? model.ofKind('use-case').filter(({ fields }) => fields['subject'] === id)
      : [],
  )
  return [
    ...inside.filter(({ id }) => !ids.includes(id)).map(({ id }) => setField(id, 'subject', null)),
    ...removal(model, ...ids),
  ]
}

/** Systems and roles by their identity, where they are known. */
export function resolved(model: Model, fields: Typed['fields']): Record<string, FieldValue> {
  const found: Record<string, FieldValue> = { ...fields }
  for (const [field, kind] of [
    ['system', 'system'],
    ['role', 'role'],
  ] as const) {
    const text = fields[field]
    if (typeof text === 'string') found[field] = entityNamed(model, [kind], text)?.id ?? text
  }
  return found
}

interface Known {
  readonly id: Id
  readonly name: string
}

/** Turns typed lines into steps: what is made is known to the lines that follow, and what is only named is made. */
export class Scribe {
  readonly steps: Step[] = []
  readonly #known: { readonly 'use-case': Known[]; readonly actor: Known[] }
  readonly #orders = new Map<string, number>()

  constructor(
    private readonly wish: Wish,
    private readonly home: Id | undefined,
  ) {
    const { cases, actors } = casesIn(wish)
    this.#known = { 'use-case': [...cases], actor: [...actors] }
  }

  make({ is, name, fields, from, to }: Typed, subject: Id | undefined): Id {
    const id = this.wish.newId()
    const order = (this.#orders.get(is) ?? lastOrder(this.wish.model.ofKind(is))) + 1
    this.#orders.set(is, order)
    this.steps.push(
      addEntity({
        id,
        kind: is,
        name,
        fields: {
          ...resolved(this.wish.model, fields),
          ...(is === 'use-case' && subject !== undefined ? { subject } : {}),
          order,
        },
        ...(from === undefined ? {} : { from }),
        ...(to === undefined ? {} : { to }),
      }),
    )
    if (is === 'use-case' || is === 'actor') this.#known[is].push({ id, name })
    return id
  }

  /** What a name stands for; made where nobody has heard of it. */
  find(kind: 'use-case' | 'actor', ref: Ref): Id {
    return named(this.#known[kind], ref)?.id ?? this.make({ is: kind, name: ref.name, fields: {} }, this.home)
  }

  tie(one: Typed, holder: { readonly id: Id; readonly kind: 'use-case' | 'actor' } | undefined): Id | undefined {
    const { source, target, from, to, fields, is } = one
    if (!target) return undefined
    const kind = is === 'generalization' ? (holder?.kind ?? 'use-case') : 'use-case'
    const a = holder?.id ?? (source ? this.find('actor', source) : undefined)
    if (a === undefined) return undefined
    const id = this.wish.newId()
    this.steps.push(datedTie(id, is, a, this.find(kind, target), fields, { from, to }))
    return id
  }
}
