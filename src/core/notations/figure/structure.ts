import { covers, FactRecall, grouped, type Day, type Entity, type Id, type Model, type View } from '../../model'
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
const byFigure = new FactRecall<ReadonlyMap<unknown, readonly Entity[]>>()

function linesOf(model: Model, figure: Id | undefined, day: Day): Lines {
  const byId = new Map<Id, Part>()
  const all: Part[] = []
  if (figure === undefined) return { figure: undefined, tops: [], all, byId }
  const parts = byFigure.of(model, '', () => grouped(model.ofKind('part'), ({ fields }) => fields['figure']))
  const own = inOrder((parts.get(figure) ?? []).filter((one) => covers(one, day)))
  const here = new Set(own.map(({ id }) => id))
  // What stands under something that is not there stands on its own.
  const under = grouped(own, ({ fields: { under: above } }) => (here.has(above as Id) ? (above as Id) : undefined))
  const tops: Part[] = []
  const take = (entity: Entity, above: Part | undefined): void => {
    // Lines may stand as deep as there are lines: no recursion.
    const open = [{ entity, above }]
    for (let next = open.pop(); next; next = open.pop()) {
      if (byId.has(next.entity.id)) continue
      const inner: Part[] = []
      const depth = next.above ? next.above.depth + 1 : 0
      const one: Part = { id: next.entity.id, entity: next.entity, depth, above: next.above, parts: inner }
      byId.set(one.id, one)
      all.push(one)
      if (next.above) held.get(next.above)?.push(one)
      else tops.push(one)
      held.set(one, inner)
      for (const below of (under.get(one.id) ?? []).toReversed()) open.push({ entity: below, above: one })
    }
  }
  const held = new Map<Part, Part[]>()
  for (const one of under.get(undefined) ?? []) take(one, undefined)
  // Of parts that stand under each other in a circle the first stands on its own, so that nothing is hidden.
  for (const one of own) take(one, undefined)
  return { figure: model.entities.get(figure), tops, all, byId }
}

/** A part with all that stands under it, in the order of the lines; no more than so many. O(lines taken) */
export function withBranch(top: Part, most = Infinity): readonly Part[] {
  const taken: Part[] = []
  const open = [top]
  for (let one = open.pop(); one && taken.length < most; one = open.pop()) {
    taken.push(one)
    // Of very many only those that may be taken are looked at.
    const inner = one.parts.slice(0, Math.min(one.parts.length, most - taken.length))
    for (const next of inner.toReversed()) open.push(next)
  }
  return taken
}

/** What stands on the level of a part, itself among them. */
export const peersOf = (lines: Lines, one: Part): readonly Part[] => one.above?.parts ?? lines.tops
