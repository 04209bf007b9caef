import {
  covers,
  FactRecall,
  join,
  type Day,
  type Entity,
  type Id,
  type Model,
  type Relation,
  type View,
} from '../../../model'
import { inOrder, namedIn } from '../../../notation'

export interface Subject {
  readonly id: Id
  readonly entity: Entity
  readonly name: string
  readonly cases: readonly UseCase[]
}

export interface UseCase {
  readonly id: Id
  readonly entity: Entity
  readonly name: string
  readonly subject: Subject | undefined
}

export interface Actor {
  readonly id: Id
  readonly entity: Entity
  readonly name: string
}

export type LinkSort = 'participation' | 'include' | 'extend' | 'generalization'
export interface CaseLink {
  readonly id: Id
  readonly sort: LinkSort
  readonly relation: Relation
  readonly a: Actor | UseCase
  readonly b: Actor | UseCase
}

/** Who does what with what, on a day (UML 2.5.1, 18.1). */
export interface UseCases {
  readonly subjects: readonly Subject[]
  /** Subject by subject, then those of none. */
  readonly cases: readonly UseCase[]
  readonly actors: readonly Actor[]
  readonly links: readonly CaseLink[]
  readonly byId: ReadonlyMap<Id, Actor | UseCase>
  /** The ties of each that it is an end of, in their order. */
  readonly linksAt: ReadonlyMap<Id, readonly CaseLink[]>
}

const all = new FactRecall<UseCases>()
const SORTS: readonly LinkSort[] = ['participation', 'include', 'extend', 'generalization']

export const isCase = (one: Actor | UseCase): one is UseCase => one.entity.kind === 'use-case'

/** O(facts) once for the facts and each day. */
export const casesOn = (model: Model, day: Day): UseCases =>
  all.of(model, day, () => {
    const here = (kind: string) => inOrder(model.ofKind(kind).filter((fact) => covers(fact, day)))
    const subjects = here('subject').map((entity) => ({
      id: entity.id,
      entity,
      name: entity.name,
      cases: [] as UseCase[],
    }))
    const find = namedIn(subjects)
    const byId = new Map<Id, Actor | UseCase>()
    const loose: UseCase[] = []
    for (const entity of here('use-case')) {
      const subject = find(entity.fields['subject'])
      const one: UseCase = { id: entity.id, entity, name: entity.name, subject }
      byId.set(one.id, one)
      ;(subject?.cases ?? loose).push(one)
    }
    const actors = here('actor').map((entity): Actor => ({ id: entity.id, entity, name: entity.name }))
    for (const one of actors) byId.set(one.id, one)
    const links = SORTS.flatMap((sort) =>
      model.relationsOfKind(sort).flatMap((relation): CaseLink[] => {
        const [a, b] = [byId.get(relation.source), byId.get(relation.target)]
        return a && b && covers(relation, day) ? [{ id: relation.id, sort, relation, a, b }] : []
      }),
    )
    const linksAt = new Map<Id, CaseLink[]>()
    for (const link of links) for (const end of new Set([link.a.id, link.b.id])) join(linksAt, end, link)
    return { subjects, cases: [...subjects.flatMap(({ cases }) => cases), ...loose], actors, links, byId, linksAt }
  })

/** What a view shows: everything, or one subject with whoever has to do with it. */
export function casesShown(model: Model, view: Pick<View, 'scope'> | undefined, day: Day): UseCases {
  const every = casesOn(model, day)
  const scope = view?.scope['subject']
  if (scope === '') return { subjects: [], cases: [], actors: [], links: [], byId: new Map(), linksAt: new Map() }
  const subject = typeof scope === 'string' ? every.subjects.find(({ id }) => id === scope) : undefined
  if (!subject) return every
  const inside = new Set<Actor | UseCase>(subject.cases)
  const near = new Set(inside)
  for (const { a, b } of every.links) {
    if (inside.has(a)) near.add(b)
    if (inside.has(b)) near.add(a)
  }
  return {
    subjects: [subject],
    cases: every.cases.filter((one) => near.has(one)),
    actors: every.actors.filter((one) => near.has(one)),
    links: every.links.filter(
      ({ a, b }) => near.has(a) && near.has(b) && (inside.has(a) || inside.has(b) || (!isCase(a) && !isCase(b))),
    ),
    byId: every.byId,
    linksAt: every.linksAt,
  }
}
