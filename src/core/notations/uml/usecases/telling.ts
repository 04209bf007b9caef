import type { Day, Entity, Id, Model, View } from '../../../model'
import { numbered, referenceName, type Field, type OutlineLine } from '../../../notation'
import { entityKinds } from '../kinds'
import { ownFields } from '../telling'
import type { Ref } from '../typed'
import { casesShown, isCase, casesOn, type Actor, type CaseLink, type UseCase } from './structure'
import { lineOf, typed, type Typed, type Within } from './words'

/** A fact with the line that states it. */
export interface Told {
  readonly id: Id
  readonly depth: number
  readonly typed: Typed
  readonly within: Within
  /** The subject, the use case or the actor that it stands beneath. */
  readonly holder: Id | undefined
}

const fieldOf = (kind: string, id: string): Field | undefined =>
  entityKinds.find((one) => one.id === kind)?.fields.find((field) => field.id === id)

/** Use cases as lines: actors, subjects with their use cases, and who takes part in what. O(facts shown) */
export function told(model: Model, view: Pick<View, 'scope'> | undefined, day: Day): Told[] {
  const shown = casesShown(model, view, day)
  const every = casesOn(model, day)
  const numbers = new Map([...numbered(every.cases), ...numbered(every.actors)])
  const refTo = ({ id, name }: Actor | UseCase): Ref => ({ name, nth: numbers.get(id) ?? 1 })
  const lines: Told[] = []
  const put = (id: Id, depth: number, line: Typed, within: Within, holder?: Id) =>
    lines.push({ id, depth, typed: line, within, holder })
  const ownTyped = (is: 'subject' | 'use-case' | 'actor', entity: Entity, reference?: string) => {
    const field = reference === undefined ? undefined : fieldOf(is, reference)
    const { subject: _, ...own } = ownFields(entity)
    return typed(
      is,
      entity.name,
      { ...own, ...(field ? { [field.id]: referenceName(model, entity, field) } : {}) },
      entity,
    )
  }
  const putTies = (one: Actor | UseCase, depth: number) => {
    for (const link of shown.links)
      if (link.a === one && link.sort !== 'participation')
        put(link.id, depth, tieTyped(link, refTo), isCase(one) ? 'use-case' : 'actor', one.id)
  }
  const putCase = (one: UseCase, depth: number, within: Within) => {
    put(one.id, depth, ownTyped('use-case', one.entity), within, one.subject?.id)
    putTies(one, depth + 1)
  }
  for (const one of shown.actors) {
    put(one.id, 0, ownTyped('actor', one.entity, 'role'), 'elsewhere')
    putTies(one, 1)
  }
  for (const subject of shown.subjects) {
    put(subject.id, 0, ownTyped('subject', subject.entity, 'system'), 'elsewhere')
    for (const one of subject.cases) putCase(one, 1, 'subject')
  }
  for (const one of shown.cases) if (!one.subject || !shown.subjects.includes(one.subject)) putCase(one, 0, 'elsewhere')
  for (const link of shown.links) if (link.sort === 'participation') put(link.id, 0, tieTyped(link, refTo), 'elsewhere')
  return lines
}

const tieTyped = ({ sort, relation, a, b }: CaseLink, refTo: (one: Actor | UseCase) => Ref): Typed =>
  typed(sort, '', ownFields(relation), {
    ...(sort === 'participation' ? { source: refTo(a) } : {}),
    target: refTo(b),
    from: relation.from,
    to: relation.to,
  })

export const linesOf = (model: Model, view: View, day: Day): OutlineLine[] =>
  told(model, view, day).map(({ id, depth, typed: one, within }) => ({ id, depth, text: lineOf(one, within) }))
