import type { Day, Id, Model, View } from '../../../model'
import { numbered, textOf, type OutlineLine } from '../../../notation'
import { ownFields } from '../telling'
import type { Ref } from '../typed'
import { interactionShown, type Call, type Interaction, type Lifeline, type Operand } from './structure'
import { lineOf, typed, type Typed } from './words'

/** A fact with the line that states it. */
export interface Told {
  readonly id: Id
  readonly depth: number
  readonly typed: Typed
  readonly fact: Lifeline | Call | Operand
  /** The fragment that it stands in. */
  readonly within: Id | undefined
}

/** A sequence as lines: who takes part, where that is not told by the messages alone, and what happens one after the other. O(facts of it) */
export function told(model: Model, one: Interaction): Told[] {
  const lines: Told[] = []
  const numbers = numbered(one.lifelines)
  const refTo = ({ id, name }: Lifeline): Ref => ({ name, nth: numbers.get(id) ?? 1 })
  for (const lifeline of lifelinesToTell(one)) {
    const { class: _, ...own } = ownFields(lifeline.entity)
    const stated = textOf(lifeline.entity, 'class')
    const of = stated === undefined ? undefined : (model.entities.get(stated as Id)?.name ?? stated)
    const line = typed('lifeline', lifeline.name, own, { class: of, ...lifeline.entity })
    lines.push({ id: lifeline.id, depth: 0, typed: withoutEnds(line, lifeline), fact: lifeline, within: undefined })
  }
  const put = (list: readonly (Call | Operand)[], depth: number, within: Id | undefined) => {
    for (const each of list) {
      const { fields, from, to } = each.entity
      const sort = fields['sort']
      const { from: _, to: __, sort: ___, ...own } = ownFields(each.entity)
      const line =
        each.is === 'operand'
          ? typed('operand', each.entity.name, { ...own, sort: each.sort }, { from, to })
          : typed(
              'call',
              each.entity.name,
              { ...own, sort: sort === undefined || sort === 'asks' ? undefined : each.sort },
              { source: refTo(each.from), target: refTo(each.to), from, to },
            )
      lines.push({ id: each.id, depth, typed: line, fact: each, within })
      if (each.is === 'operand') put(each.list, depth + 1, each.id)
    }
  }
  put(one.list, 0, undefined)
  return lines
}

/** The dates of a lifeline are those of its entity. */
const withoutEnds = (line: Typed, { entity: { from, to } }: Lifeline): Typed => {
  const { from: _, to: __, ...rest } = line
  return { ...rest, ...(from === undefined ? {} : { from }), ...(to === undefined ? {} : { to }) }
}

/** Those that messages would not make again as they are, in their order; all of them up to the last such. */
function lifelinesToTell({ lifelines, calls }: Interaction): readonly Lifeline[] {
  const met = [...new Set(calls.flatMap(({ from, to }) => [from, to]))]
  const isTold = (one: Lifeline, at: number) =>
    met[at] !== one ||
    one.isActor ||
    one.entity.fields['class'] !== undefined ||
    one.entity.from !== undefined ||
    one.entity.to !== undefined ||
    lifelines.findIndex(({ name }) => name.toLowerCase() === one.name.toLowerCase()) !== at
  const last = lifelines.findLastIndex(isTold)
  return lifelines.slice(0, last + 1)
}

export function linesOf(model: Model, view: View, day: Day): OutlineLine[] {
  const shown = interactionShown(model, view, day)
  return shown ? told(model, shown).map(({ id, depth, typed: one }) => ({ id, depth, text: lineOf(one) })) : []
}
