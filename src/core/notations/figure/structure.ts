import { covers, FactRecall, type Day, type Entity, type Id, type Model, type View } from '../../model'
import { inOrder } from '../../notation'
import { figures } from './kinds'

/** A line of a figure with what stands under it. */
export interface Part {
  readonly id: Id
  readonly entity: Entity
  /** From 0. */
  readonly depth: number
  readonly above: Part | undefined
  readonly parts: readonly Part[]
}

/** All lines of a figure on a day. */
export interface Lines {
  readonly figure: Entity | undefined
  readonly tops: readonly Part[]
  /** In the order of the lines. */
  readonly all: readonly Part[]
  readonly byId: ReadonlyMap<Id, Part>
}

/** The lines of the figure that a view shows. O(parts log parts), once for the facts of a day. */
export function linesOn(model: Model, view: Pick<View, 'scope'>, day: Day): Lines {
  const figure = figures.isBlank(view) ? undefined : figures.of(model, view)
  return recalled.of(model, `${figure ?? ''} ${day}`, () => linesOf(model, figure, day))
}

const recalled = new FactRecall<Lines>()

function linesOf(model: Model, figure: Id | undefined, day: Day): Lines {
  const byId = new Map<Id, Part>()
  const all: Part[] = []
  if (figure === undefined) return { figure: undefined, tops: [], all, byId }
  const own = model.ofKind('part').filter((one) => one.fields['figure'] === figure && covers(one, day))
  const here = new Set(own.map(({ id }) => id))
  const under = new Map<Id | undefined, Entity[]>()
  for (const one of own) {
    const above = one.fields['under'] as Id | undefined
    // What stands under something that is not there stands on its own.
    const at = above !== undefined && here.has(above) ? above : undefined
    under.set(at, [...(under.get(at) ?? []), one])
  }
  const known = new Set<Id>()
  const made = (entity: Entity, above: Part | undefined): readonly Part[] => {
    if (known.has(entity.id)) return []
    known.add(entity.id)
    const parts: Part[] = []
    const one: Part = { id: entity.id, entity, depth: above ? above.depth + 1 : 0, above, parts }
    byId.set(entity.id, one)
    all.push(one)
    for (const next of inOrder(under.get(entity.id) ?? [])) parts.push(...made(next, one))
    return [one]
  }
  const tops = inOrder(under.get(undefined) ?? []).flatMap((one) => made(one, undefined))
  // Of parts that stand under each other in a circle the first stands on its own, so that nothing is hidden.
  for (const one of inOrder(own)) tops.push(...made(one, undefined))
  return { figure: model.entities.get(figure), tops, all, byId }
}

/** A part with all that stands under it, in the order of the lines. */
export const withBranch = (one: Part): readonly Part[] => [one, ...one.parts.flatMap(withBranch)]

/** What stands on the level of a part, itself among them. */
export const peersOf = (lines: Lines, one: Part): readonly Part[] => one.above?.parts ?? lines.tops
