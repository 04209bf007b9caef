import {
  covers,
  FactRecall,
  type Day,
  type Entity,
  type Id,
  type Model,
  type Relation,
  type View,
} from '../../../model'
import { inOrder, textOf } from '../../../notation'
import { figures } from '../kinds'

export interface Concept {
  readonly id: Id
  readonly entity: Entity
  /** What it says of others, in order. */
  readonly says: Link[]
  /** What others say of it. */
  readonly said: Link[]
}

/** A proposition: a concept, a phrase, another concept. */
export interface Link {
  readonly relation: Relation
  readonly phrase: string
  readonly from: Concept
  readonly to: Concept
}

/** The concepts of a figure on a day, and what they say of one another. */
export interface ConceptMap {
  readonly figure: Entity | undefined
  readonly concepts: readonly Concept[]
  readonly links: readonly Link[]
  readonly byId: ReadonlyMap<Id, Concept>
}

/** O(concepts + links), once for the facts of a day. */
export function mapOn(model: Model, view: Pick<View, 'scope'>, day: Day): ConceptMap {
  const figure = figures.isBlank(view) ? undefined : figures.of(model, view)
  return recalled.of(model, `${figure ?? ''} ${day}`, () => mapOf(model, figure, day))
}

const recalled = new FactRecall<ConceptMap>()

function mapOf(model: Model, figure: Id | undefined, day: Day): ConceptMap {
  const own =
    figure === undefined
      ? []
      : model.ofKind('concept').filter((one) => one.fields['figure'] === figure && covers(one, day))
  const concepts = inOrder(own).map((entity): Concept => ({ id: entity.id, entity, says: [], said: [] }))
  const byId = new Map(concepts.map((one) => [one.id, one]))
  const links = concepts.flatMap((from) =>
    model.leaving(from.id, 'links').flatMap((relation): Link[] => {
      const to = byId.get(relation.target)
      return to && covers(relation, day) ? [{ relation, phrase: textOf(relation, 'phrase') ?? '', from, to }] : []
    }),
  )
  return tied({ figure: figure === undefined ? undefined : model.entities.get(figure), concepts, links, byId })
}

/** The first concepts of a map with the first links between them; the map itself where it has no more. O(concepts + links) */
export function asFarAs(map: ConceptMap, most: number, mostLinks: number): ConceptMap {
  if (map.concepts.length <= most && map.links.length <= mostLinks) return map
  return within(map, map.concepts.slice(0, most), mostLinks)
}

/** Some of the concepts of a map with the first links between them. O(concepts + links) */
export function within(map: ConceptMap, some: readonly Concept[], mostLinks = Infinity): ConceptMap {
  const concepts = some.map((one): Concept => ({ ...one, says: [], said: [] }))
  const byId = new Map(concepts.map((one) => [one.id, one]))
  const links = map.links.flatMap((link): Link[] => {
    const [from, to] = [byId.get(link.from.id), byId.get(link.to.id)]
    return from && to ? [{ ...link, from, to }] : []
  })
  return tied({ ...map, concepts, links: links.slice(0, mostLinks), byId })
}

/** A map whose concepts know their links. */
function tied(map: ConceptMap): ConceptMap {
  for (const link of map.links) {
    link.from.says.push(link)
    link.to.said.push(link)
  }
  return map
}

/** How many links away from what nobody speaks of each concept is, from 1; what hangs on no such concept is counted from the first of it. O(concepts + links) */
export function levelsOf({ concepts }: ConceptMap): ReadonlyMap<Concept, number> {
  const levels = new Map<Concept, number>()
  const walk = (from: readonly Concept[]): void => {
    const queue = from.filter((one) => !levels.has(one))
    for (const one of queue) levels.set(one, 1)
    for (const one of queue)
      for (const { to } of one.says)
        if (!levels.has(to)) {
          levels.set(to, (levels.get(one) ?? 0) + 1)
          queue.push(to)
        }
  }
  walk(concepts.filter(({ said, says }) => said.length === 0 && says.length > 0))
  for (const one of concepts) walk([one])
  return levels
}

/** Links beyond those that first lead to a concept: what ties one part of a map to another. O(concepts + links) */
export function crossLinks(map: ConceptMap): readonly Link[] {
  const levels = levelsOf(map)
  const reached = new Set<Concept>()
  return map.links.filter(({ from, to }) => {
    const isFirst = (levels.get(to) ?? 0) === (levels.get(from) ?? 0) + 1 && !reached.has(to)
    if (isFirst) reached.add(to)
    return !isFirst
  })
}
