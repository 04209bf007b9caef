import type { Entity, Fields, Id, Model, Step } from '../../../model'
import { addEntity, numberOf, removal, setField, type Wish } from '../../../notation'
import { classesOn } from '../structure'
import { classNamed } from '../types'
import { named, type Ref } from '../typed'
import { interactionShown, type Interaction } from './structure'
import type { Typed } from './words'

/** Steps that several actions share. None of them writes: they say what would have to be written. */

export const shownTo = ({ model, view, day }: Pick<Wish, 'model' | 'view' | 'day'>): Interaction | undefined =>
  interactionShown(model, view, day)

const EVENTS = ['call', 'operand'] as const

export const withinOf = ({ fields }: Entity): Id | undefined =>
  typeof fields['within'] === 'string' && fields['within'] !== '' ? (fields['within'] as Id) : undefined

/** Messages and fragments that stand in one, however deep, on every day. */
export function insideOf(model: Model, id: Id): readonly Entity[] {
  const all = EVENTS.flatMap((kind) => model.ofKind(kind))
  const found = new Map<Id, Entity>()
  const open = [id]
  for (let at = open.pop(); at !== undefined; at = open.pop())
    for (const one of all)
      if (withinOf(one) === at && one.id !== id && !found.has(one.id)) {
        found.set(one.id, one)
        open.push(one.id)
      }
  return [...found.values()]
}

/** Takes a fragment away with what stands in it, or a lifeline with its messages. */
export function removeParts(model: Model, ...ids: readonly Id[]): Step[] {
  const all = ids.flatMap((id) => {
    const kind = model.entities.get(id)?.kind
    if (kind === 'operand') return [id, ...insideOf(model, id).map((one) => one.id)]
    if (kind !== 'lifeline') return [id]
    const calls = model.ofKind('call').filter(({ fields }) => fields['from'] === id || fields['to'] === id)
    return [id, ...calls.map((one) => one.id)]
  })
  return removal(model, ...new Set(all))
}

/** What stands side by side with something, as it is stated, in its order on every day. */
export function siblingsOf(model: Model, home: Id, within: Id | undefined): readonly Entity[] {
  return EVENTS.flatMap((kind) => model.ofKind(kind))
    .filter((one) => one.fields['interaction'] === home && withinOf(one) === within)
    .map((one, at) => ({ one, at, order: numberOf(one, 'order') ?? 1e9 }))
    .sort((a, b) => a.order - b.order || a.at - b.at)
    .map(({ one }) => one)
}

/** Steps that number siblings anew, with some put in after one of them; at the front where it is nobody. */
export function putAfter(siblings: readonly Entity[], after: Id | undefined, made: readonly Id[]): Step[] {
  const rest = siblings.map(({ id }) => id).filter((id) => !made.includes(id))
  const at = after === undefined ? 0 : rest.indexOf(after) + 1
  rest.splice(after !== undefined && at === 0 ? rest.length : at, 0, ...made)
  const known = new Map(siblings.map((one) => [one.id, numberOf(one, 'order')]))
  return rest.flatMap((id, index) => (known.get(id) === index + 1 ? [] : [setField(id, 'order', index + 1)]))
}

export const lastOrder = (model: Model, kinds: readonly string[], home: Id): number =>
  kinds
    .flatMap((kind) => model.ofKind(kind))
    .filter(({ fields }) => fields['interaction'] === home)
    .reduce((most, one) => Math.max(most, numberOf(one, 'order') ?? 0), 0)

/** Turns typed lines into steps: lifelines that are made are known to the lines that follow, and one that is only named is made. */
export class Scribe {
  readonly steps: Step[] = []
  readonly #lifelines: { readonly id: Id; readonly name: string }[]
  #lastLifeline: number
  #lastEvent: number

  constructor(
    private readonly wish: Wish,
    private readonly home: Id,
  ) {
    this.#lifelines = [...(shownTo(wish)?.lifelines ?? [])]
    this.#lastLifeline = lastOrder(wish.model, ['lifeline'], home)
    this.#lastEvent = lastOrder(wish.model, EVENTS, home)
  }

  /** States a lifeline, a message or a fragment; those of one list follow one another. */
  make(one: Typed, within: Id | undefined): Id {
    if (one.is === 'lifeline') return this.#lifeline(one.name, { ...one.fields, ...this.classField(one) }, one)
    const id = this.wish.newId()
    const place: Fields = within === undefined ? {} : { within }
    const ends: Fields =
      one.is === 'call' && one.source && one.target
        ? { from: this.lifeline(one.source), to: this.lifeline(one.target) }
        : {}
    this.#add(id, one.is, one.name, { ...one.fields, ...ends, ...place, order: ++this.#lastEvent }, one)
    return id
  }

  /** A class by its identity, where it is known. */
  classField({ class: of }: Pick<Typed, 'class'>): Fields {
    if (of === undefined) return {}
    return { class: classNamed(classesOn(this.wish.model, this.wish.day), of)?.id ?? of }
  }

  lifeline(ref: Ref): Id {
    return named(this.#lifelines, ref)?.id ?? this.#lifeline(ref.name, {}, {})
  }

  #lifeline(name: string, fields: Fields, dates: Pick<Typed, 'from' | 'to'>): Id {
    const id = this.wish.newId()
    this.#add(id, 'lifeline', name, { ...fields, order: ++this.#lastLifeline }, dates)
    this.#lifelines.push({ id, name })
    return id
  }

  #add(id: Id, kind: string, name: string, fields: Fields, { from, to }: Pick<Typed, 'from' | 'to'>): void {
    this.steps.push(
      addEntity({
        id,
        kind,
        name,
        fields: { ...fields, interaction: this.home },
        ...(from === undefined ? {} : { from }),
        ...(to === undefined ? {} : { to }),
      }),
    )
  }
}
