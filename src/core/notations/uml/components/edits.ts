import type { Entity, Fields, FieldValue, Id, Model, Step } from '../../../model'
import { addEntity, entityNamed, numberOf, removal, setField, type Wish } from '../../../notation'
import { classesOn } from '../structure'
import { datedTie, named, type Ref } from '../typed'
import { componentsOn, type Components } from './structure'
import type { Typed } from './words'

/** Steps that several actions share. None of them writes: they say what would have to be written. */

export const componentsIn = ({ model, day }: Pick<Wish, 'model' | 'day'>): Components => componentsOn(model, day)

export const lastOrder = (list: readonly Entity[]): number =>
  list.reduce((most, one) => Math.max(most, numberOf(one, 'order') ?? 0), 0)

/** Takes components away with their ports, and nodes, of which what stood in them stands where they stood. */
export function removeParts(model: Model, ...ids: readonly Id[]): Step[] {
  const ports = ids.flatMap((id) => model.ofKind('component-port').filter(({ fields }) => fields['component'] === id))
  const inner = ids.flatMap((id) => {
    const node = model.entities.get(id)
    return node?.kind === 'deployment-node'
      ? model
          .ofKind('deployment-node')
          .filter((one) => one.fields['within'] === id && !ids.includes(one.id))
          .map((one) => setField(one.id, 'within', (node.fields['within'] as string | undefined) ?? null))
      : []
  })
  return [...inner, ...removal(model, ...new Set([...ids, ...ports.map(({ id }) => id)]))]
}

/** Systems and devices by their identity, where they are known. */
export function resolved(model: Model, fields: Typed['fields']): Record<string, FieldValue> {
  const found: Record<string, FieldValue> = { ...fields }
  for (const kind of ['system', 'device']) {
    const text = fields[kind]
    if (typeof text === 'string') found[kind] = entityNamed(model, [kind], text)?.id ?? text
  }
  return found
}

const PLACE: Readonly<Record<string, string>> = { 'component-port': 'component', 'deployment-node': 'within' }

/** Turns typed lines into steps: what is made is known to the lines that follow, and what is only named is made. */
export class Scribe {
  readonly steps: Step[] = []
  readonly #components: { readonly id: Id; readonly name: string }[]
  readonly #interfaces: { readonly id: Id; readonly name: string }[]
  readonly #orders = new Map<string, number>()

  constructor(private readonly wish: Wish) {
    this.#components = [...componentsIn(wish).components]
    this.#interfaces = [...classesOn(wish.model, wish.day).classes]
  }

  make({ is, name, fields, from, to }: Typed, holder: Id | undefined): Id {
    const id = this.wish.newId()
    const field = PLACE[is]
    const place: Fields = field === undefined || holder === undefined ? {} : { [field]: holder }
    this.#add(id, is, name, { ...resolved(this.wish.model, fields), ...place }, { from, to })
    if (is === 'component') this.#components.push({ id, name })
    return id
  }

  tie({ is, target, fields, from, to }: Typed, source: Id): Id | undefined {
    if (!target) return undefined
    const id = this.wish.newId()
    this.steps.push(datedTie(id, is, source, this.target(is, target), fields, { from, to }))
    return id
  }

  /** The interface or the component that a tie leads to; made where nobody has heard of it. */
  target(is: Typed['is'], ref: Ref): Id {
    const isInterface = is === 'provides' || is === 'requires'
    const known = named(isInterface ? this.#interfaces : this.#components, ref)
    if (known) return known.id
    const id = this.wish.newId()
    this.#add(id, isInterface ? 'class' : 'component', ref.name, isInterface ? { form: 'interface' } : {}, {})
    ;(isInterface ? this.#interfaces : this.#components).push({ id, name: ref.name })
    return id
  }

  #add(
    id: Id,
    kind: string,
    name: string,
    fields: Fields,
    { from, to }: { from?: Typed['from']; to?: Typed['to'] },
  ): void {
    const order = (this.#orders.get(kind) ?? lastOrder(this.wish.model.ofKind(kind))) + 1
    this.#orders.set(kind, order)
    this.steps.push(
      addEntity({
        id,
        kind,
        name,
        fields: { ...fields, order },
        ...(from === undefined ? {} : { from }),
        ...(to === undefined ? {} : { to }),
      }),
    )
  }
}
