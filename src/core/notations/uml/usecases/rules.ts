import { cyclicComponents, reach } from '../../../graph'
import { fix, removeEntity, removeRelation, type Found, type Rule } from '../../../notation'
import { isCase, casesOn, type Actor, type UseCase, type UseCases } from './structure'

const inCases =
  (find: (all: UseCases) => readonly Found[]): Rule['check'] =>
  (model, day) =>
    find(casesOn(model, day))

const listed = (names: readonly string[]): string => names.map((name) => `“${name}”`).join(', ')

/** Everything that is a kind of something, or of which it is one, itself included. */
function kin<T extends Actor | UseCase>({ links }: UseCases, one: T): ReadonlySet<Actor | UseCase> {
  const up = reach<Actor | UseCase>([one], (at) =>
    links.flatMap(({ sort, a, b }) => (sort === 'generalization' && a === at ? [b] : [])),
  )
  const down = reach<Actor | UseCase>([one], (at) =>
    links.flatMap(({ sort, a, b }) => (sort === 'generalization' && b === at ? [a] : [])),
  )
  return new Set([one, ...up, ...down])
}

export const actorUnused: Rule = {
  id: 'uml/actor-unused',
  severity: 'warning',
  title: 'An actor that takes part in nothing',
  why: 'An actor is a role that somebody plays in a use case; one that takes part in none may have been forgotten.',
  source: 'UML 2.5.1, 18.1.3.1 (actors interact with the subject)',
  check: inCases((all) => {
    const active = new Set(all.links.flatMap(({ sort, a }) => (sort === 'participation' ? [a] : [])))
    return all.actors.flatMap((one): Found[] =>
      [...kin(all, one)].some((each) => active.has(each))
        ? []
        : [
            {
              message: `“${one.name}” takes part in no use case.`,
              subjects: [one.id],
              fixes: all.links.some(({ a, b }) => a === one || b === one)
                ? []
                : [fix('Remove it', removeEntity(one.id))],
            },
          ],
    )
  }),
}

export const useCaseUnreached: Rule = {
  id: 'uml/use-case-unreached',
  severity: 'warning',
  title: 'A use case that nobody comes to',
  why: 'A use case is of value to some actor: one takes part in it, or in one that includes it, that it extends, or that it is a kind of.',
  source: 'UML 2.5.1, 18.1.3.2 (use cases yield a result of value for actors)',
  check: inCases((all) => {
    const next = new Map<Actor | UseCase, (Actor | UseCase)[]>()
    const lead = (a: Actor | UseCase, b: Actor | UseCase) => next.set(a, [...(next.get(a) ?? []), b])
    for (const { sort, a, b } of all.links) {
      if (sort === 'include') lead(a, b)
      if (sort === 'extend') lead(b, a)
      if (sort === 'generalization' && isCase(a)) {
        lead(b, a)
        lead(a, b)
      }
    }
    const begun = all.links.flatMap(({ sort, b }) => (sort === 'participation' ? [b] : []))
    const known = new Set([...begun, ...reach(begun, (at) => next.get(at) ?? [])])
    return all.cases.flatMap((one): Found[] =>
      known.has(one) ? [] : [{ message: `No actor comes to “${one.name}”.`, subjects: [one.id], fixes: [] }],
    )
  }),
}

export const includeCycle: Rule = {
  id: 'uml/include-cycle',
  severity: 'error',
  title: 'Use cases include each other',
  why: 'A use case includes none that includes it, directly or around corners: it would never come to an end.',
  source: 'UML 2.5.1, 18.2.5 (cannot_include_self)',
  check: inCases((all) => {
    const includes = all.links.filter(({ sort }) => sort === 'include')
    return cyclicComponents<Actor | UseCase>(all.cases, (at) =>
      includes.flatMap(({ a, b }) => (a === at ? [b] : [])),
    ).map((circle): Found => {
      const inside = new Set(circle)
      const ties = includes.filter(({ a, b }) => inside.has(a) && inside.has(b))
      return {
        message: `${listed(circle.map(({ name }) => name))} ${circle.length === 1 ? 'includes itself' : 'include each other'}.`,
        subjects: [...circle.map(({ id }) => id), ...ties.map(({ id }) => id)],
        fixes: ties
          .slice(0, 4)
          .map(({ id, a, b }) => fix(`“${a.name}” does not include “${b.name}”`, removeRelation(id))),
      }
    })
  }),
}

export const caseRules: readonly Rule[] = [actorUnused, useCaseUnreached, includeCycle]
