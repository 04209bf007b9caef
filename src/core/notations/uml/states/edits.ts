import type { Entity, Fields, Id, Model, Step } from '../../../model'
import { addEntity, numberOf, removal, type Wish } from '../../../notation'
import { STATE_FORMS } from '../kinds'
import { datedTie, type Ref } from '../typed'
import { machineShown, type Machine } from './structure'
import type { Typed } from './words'

/** Steps that several actions share. None of them writes: they say what would have to be written. */

export const shownTo = ({ model, view, day }: Pick<Wish, 'model' | 'view' | 'day'>): Machine | undefined =>
  machineShown(model, view, day)

/** All states and regions that stand in one, however deep, on every day. O(states of the machine × depth) */
export function insideOf(model: Model, id: Id): readonly Entity[] {
  const all = [...model.ofKind('state'), ...model.ofKind('region')]
  const found = new Map<Id, Entity>()
  const open = [id]
  for (let at = open.pop(); at !== undefined; at = open.pop())
    for (const one of all)
      if (one.fields['within'] === at && one.id !== id && !found.has(one.id)) {
        found.set(one.id, one)
        open.push(one.id)
      }
  return [...found.values()]
}

/** Takes states and regions away with what stands in them and what leads there. */
export const removeStates = (model: Model, ...ids: readonly Id[]): Step[] =>
  removal(model, ...new Set(ids.flatMap((id) => [id, ...insideOf(model, id).map((one) => one.id)])))

export const lastOrder = (model: Model): number =>
  [...model.ofKind('state'), ...model.ofKind('region')].reduce(
    (most, one) => Math.max(most, numberOf(one, 'order') ?? 0),
    0,
  )

interface Known {
  readonly id: Id
  readonly name: string
  readonly holder: Id | undefined
}

/** What a new state of a name is: the names of pseudostates make them. */
const formFor = (name: string) => STATE_FORMS.find((one) => one !== 'state' && one === name.toLowerCase())

/** Turns typed lines into steps: states that are made are known to the lines that follow, and one that is only named is made. */
export class Scribe {
  readonly steps: Step[] = []
  readonly #known: Known[]
  #order: number

  constructor(
    private readonly wish: Wish,
    private readonly machine: Id,
  ) {
    this.#known = (shownTo(wish)?.vertices ?? []).map(({ id, name, entity }) => ({
      id,
      name,
      holder: holderOf(entity),
    }))
    this.#order = lastOrder(wish.model)
  }

  /** States a state or a region. */
  make(
    { is, name, fields, from, to }: Pick<Typed, 'is' | 'name' | 'fields' | 'from' | 'to'>,
    holder: Id | undefined,
  ): Id {
    const id = this.wish.newId()
    const place: Fields = holder === undefined ? {} : { within: holder }
    this.steps.push(
      addEntity({
        id,
        kind: is === 'region' ? 'region' : 'state',
        name,
        fields: { ...fields, machine: this.machine, ...place, order: ++this.#order },
        ...(from === undefined ? {} : { from }),
        ...(to === undefined ? {} : { to }),
      }),
    )
    if (is === 'state') this.#known.push({ id, name, holder })
    return id
  }

  /** States what leads away from a state, or what it does by itself. */
  lead({ fields, target, from, to }: Typed, source: Id): Id {
    const id = this.wish.newId()
    this.steps.push(
      datedTie(id, 'transition', source, target ? this.target(target, source) : source, fields, { from, to }),
    )
    return id
  }

  /** The state that a line names, one that stands beside the source before any other; made beside it where there is none. */
  target(ref: Ref, source: Id): Id {
    const holder = this.#known.find(({ id }) => id === source)?.holder
    const all = this.#known.filter(({ name }) => name.toLowerCase() === ref.name.toLowerCase())
    const sorted = [...all.filter((one) => one.holder === holder), ...all.filter((one) => one.holder !== holder)]
    const known = sorted[ref.nth - 1] ?? (ref.nth === 1 ? undefined : sorted[0])
    if (known) return known.id
    const form = formFor(ref.name)
    return this.make({ is: 'state', name: ref.name, fields: form ? { form } : {} }, holder)
  }
}

export const holderOf = ({ fields }: Entity): Id | undefined =>
  typeof fields['within'] === 'string' && fields['within'] !== '' ? (fields['within'] as Id) : undefined
