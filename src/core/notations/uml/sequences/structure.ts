import { covers, FactRecall, type Day, type Entity, type Id, type Model, type View } from '../../../model'
import { containerOf, inOrder, namedIn } from '../../../notation'
import { CALL_SORTS, OPERANDS, type CallSort, type OperandSort } from '../kinds'
import { classesOn, type Classifier } from '../structure'
import { parted } from '../syntax/scan'
import { classNamed } from '../types'

/** Somebody or something that takes part. */
export interface Lifeline {
  readonly id: Id
  readonly entity: Entity
  readonly name: string
  readonly isActor: boolean
  /** What it is an instance of: the class that it names, or the one that is called as it is, or as what follows its colon. */
  readonly class: Classifier | undefined
}

export interface Call {
  readonly is: 'call'
  readonly id: Id
  readonly entity: Entity
  readonly sort: CallSort
  readonly from: Lifeline
  readonly to: Lifeline
  /** What is said: `book(2)`; empty where nothing is. */
  readonly text: string
}

/** One way in which what stands in it comes about. */
export interface Operand {
  readonly is: 'operand'
  readonly id: Id
  readonly entity: Entity
  readonly sort: OperandSort
  /** When it comes about; empty where nothing is said. */
  readonly guard: string
  readonly list: readonly (Call | Operand)[]
}

export interface Interaction {
  readonly id: Id
  readonly entity: Entity
  readonly name: string
  readonly lifelines: readonly Lifeline[]
  readonly list: readonly (Call | Operand)[]
  /** All messages, as they follow one another. */
  readonly calls: readonly Call[]
}

/** What is said where nothing is: names cannot be empty. */
export const SILENT = '…'

export const interaction = containerOf('interaction', 'Sequence')

const interactions = new FactRecall<ReadonlyMap<Id, Interaction>>()

/** All sequences of a day. O(facts) once for the facts and each day. */
export const interactionsOn = (model: Model, day: Day): ReadonlyMap<Id, Interaction> =>
  interactions.of(model, day, () => {
    const here = (kind: string) => inOrder(model.ofKind(kind).filter((fact) => covers(fact, day)))
    const homes = here('interaction')
    const find = namedIn(homes)
    const inside = new Map<Id, { lifelines: Entity[]; events: Entity[] }>(
      homes.map(({ id }) => [id, { lifelines: [], events: [] }]),
    )
    const homeOf = (entity: Entity) => inside.get(find(entity.fields['interaction'])?.id ?? ('' as Id))
    for (const entity of here('lifeline')) homeOf(entity)?.lifelines.push(entity)
    for (const entity of inOrder([...here('call'), ...here('operand')])) homeOf(entity)?.events.push(entity)
    return new Map(homes.map((entity) => [entity.id, interactionOf(model, day, entity, inside.get(entity.id))]))
  })

function interactionOf(
  model: Model,
  day: Day,
  entity: Entity,
  parts: { readonly lifelines: readonly Entity[]; readonly events: readonly Entity[] } | undefined,
): Interaction {
  const all = classesOn(model, day)
  const lifelines = (parts?.lifelines ?? []).map((one): Lifeline => {
    const stated = one.fields['class']
    const known = typeof stated === 'string' ? (all.byId.get(stated as Id) ?? classNamed(all, stated)) : undefined
    return {
      id: one.id,
      entity: one,
      name: one.name,
      isActor: one.fields['actor'] === true,
      class: known ?? classNamed(all, typeIn(one.name)),
    }
  })
  const find = namedIn(lifelines)
  const events = parts?.events ?? []
  const holders = new Map(events.flatMap((one) => (one.kind === 'operand' ? [[one.id, one] as const] : [])))
  const holderOf = (one: Entity): Id | undefined => {
    const within = one.fields['within']
    return typeof within === 'string' && holders.has(within as Id) ? (within as Id) : undefined
  }
  const isCircle = (one: Entity): boolean => {
    const seen = new Set([one.id])
    for (let at = holderOf(one); at !== undefined;) {
      if (seen.has(at)) return true
      seen.add(at)
      const next = holders.get(at)
      at = next && holderOf(next)
    }
    return false
  }
  const children = new Map<Id | undefined, Entity[]>()
  for (const one of events) {
    const holder = isCircle(one) ? undefined : holderOf(one)
    children.set(holder, [...(children.get(holder) ?? []), one])
  }
  const calls: Call[] = []
  const listIn = (holder: Id | undefined): (Call | Operand)[] =>
    (children.get(holder) ?? []).flatMap((one): (Call | Operand)[] => {
      if (one.kind === 'operand') {
        const sort = OPERANDS.find((each) => each === one.fields['sort']) ?? 'if'
        return [
          {
            is: 'operand',
            id: one.id,
            entity: one,
            sort,
            guard: one.name === SILENT ? '' : one.name,
            list: listIn(one.id),
          },
        ]
      }
      const [from, to] = [find(one.fields['from']), find(one.fields['to'])]
      if (!from || !to) return []
      const sort = CALL_SORTS.find((each) => each === one.fields['sort']) ?? 'asks'
      const call: Call = {
        is: 'call',
        id: one.id,
        entity: one,
        sort,
        from,
        to,
        text: one.name === SILENT ? '' : one.name,
      }
      calls.push(call)
      return [call]
    })
  const list = listIn(undefined)
  return { id: entity.id, entity, name: entity.name, lifelines, list, calls }
}

/** The class in `<name> : <class>` (UML 2.5.1, 17.3.4); a name alone may be that of a class. */
const typeIn = (name: string): string => /:\s*(.+)$/.exec(name)?.[1]?.trim() ?? name.trim()

/** The sequence that a view shows. */
export function interactionShown(
  model: Model,
  view: Pick<View, 'scope'> | undefined,
  day: Day,
): Interaction | undefined {
  const id = interaction.of(model, view)
  return id === undefined ? undefined : interactionsOn(model, day).get(id)
}

/** Operands that are ways of one fragment stand together: what begins it, and those that go on with it. */
export interface Fragment {
  readonly operator: 'alt' | 'opt' | 'loop' | 'par'
  readonly operands: readonly Operand[]
}

const OPERATOR: Readonly<Record<OperandSort, Fragment['operator']>> = {
  either: 'alt',
  or: 'alt',
  if: 'opt',
  while: 'loop',
  'at once': 'par',
  meanwhile: 'par',
}

/** Messages and fragments in their order. */
export function blocksOf(list: readonly (Call | Operand)[]): readonly (Call | Fragment)[] {
  const blocks: (Call | { operator: Fragment['operator']; operands: Operand[] })[] = []
  for (const one of list) {
    if (one.is === 'call') {
      blocks.push(one)
      continue
    }
    const last = blocks.at(-1)
    const operator = OPERATOR[one.sort]
    const goesOn =
      (one.sort === 'or' || one.sort === 'meanwhile') && last && 'operands' in last && last.operator === operator
    if (goesOn) last.operands.push(one)
    else blocks.push({ operator, operands: [one] })
  }
  return blocks
}

/** What a message says, taken apart: `total = book(2, leg) : Ticket` is of the operation `book` and has two arguments (UML 2.5.1, 17.4.4). */
export function messageOf(text: string): { readonly name: string; readonly args: readonly string[] | undefined } {
  const [, head = text] = /^(?:[\p{L}_][\p{L}\p{N}_.]*\s*=\s*)?(.*)$/u.exec(text.trim()) ?? []
  const [, name = head, inner] = /^([^(]*)\((.*)\)\s*(?::.*)?$/.exec(head) ?? []
  return { name: name.replace(/\s*:.*$/, '').trim(), args: inner === undefined ? undefined : parted(inner) }
}
