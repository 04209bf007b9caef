import { join } from '../../../model'
import { runsIn, type Runs } from './runs'
import { isPassing, type Machine, type Transition } from './structure'

/** A way from the beginning: what is taken, step by step, and the events that it answers to. */
export interface TestPath {
  readonly taken: readonly Transition[]
  readonly triggers: readonly string[]
}

interface Arc {
  readonly from: number
  readonly to: number
  readonly taken: readonly Transition[]
  readonly trigger: string | undefined
}

/**
 * Paths from the beginning that together take every transition that can be taken: where one ends the next begins anew, so that they are a tour of
 * the standings in which going back to the beginning costs nothing. Standings that have more ways in than out are joined with those that have
 * more out than in along the shortest ways, which makes the tour of a machine without regions the shortest there is (directed Chinese postman,
 * Edmonds & Johnson 1973); with regions it is short, and covers.
 * O(surplus × arcs) and at most `standings` of them.
 */
export function testPaths(machine: Machine, runs: Runs = runsIn(machine)): readonly TestPath[] {
  const { standings, happenings } = runs
  if (standings.length === 0) return []
  const index = new Map(standings.map(({ key }, at) => [key, at]))
  const out: Arc[][] = happenings.map((list, from) =>
    list.flatMap(({ taken, trigger, to }) => {
      const at = index.get(to.key)
      return at === undefined ? [] : [{ from, to: at, taken, trigger }]
    }),
  )
  const needed = neededArcs(runs, out)
  if (needed.length === 0) return []
  return walked(balanced(runs, out, needed))
}

/** For each transition the first arc that takes it, with the way there where none of it is needed already. */
function neededArcs({ before }: Runs, out: readonly (readonly Arc[])[]): Arc[] {
  const covered = new Set<Transition>()
  const taken = new Set<Arc>()
  const into = new Map<number, Arc>()
  out.forEach((arcs, from) => {
    for (const arc of arcs) if (before[arc.to]?.at === from && !into.has(arc.to)) into.set(arc.to, arc)
  })
  const joined = new Set([0])
  for (const arcs of out)
    for (const arc of arcs) {
      const isNew = arc.taken.some((one) => !covered.has(one))
      if (!isNew) continue
      for (const one of arc.taken) covered.add(one)
      taken.add(arc)
      for (let at = arc.from; !joined.has(at);) {
        joined.add(at)
        const way = into.get(at)
        if (!way) break
        taken.add(way)
        for (const one of way.taken) covered.add(one)
        at = way.from
      }
      joined.add(arc.to)
    }
  return [...taken]
}

/** How often each arc is taken so that each standing is left as often as it is come to. */
function balanced(
  { standings, before }: Runs,
  out: readonly (readonly Arc[])[],
  needed: readonly Arc[],
): Map<Arc, number> {
  const times = new Map<Arc, number>(needed.map((arc) => [arc, 1]))
  const surplus = standings.map(() => 0)
  const add = (at: number, more: number) => (surplus[at] = (surplus[at] ?? 0) + more)
  for (const { from, to } of needed) {
    add(to, 1)
    add(from, -1)
  }
  const carry = (way: Way | undefined) => {
    if (!way) return
    for (const { arc, by } of way.arcs) times.set(arc, (times.get(arc) ?? 0) + by)
    add(way.from, -1)
    add(way.to, 1)
  }
  const isPassed = standings.map(({ active }) => active.some(isPassing))
  const residual = new Residual(standings.length, out.flat(), times)
  const isLarge = standings.length > MOST_BALANCED
  // From a place that is only passed through nobody begins anew: what comes there goes on.
  isPassed.forEach((passes, at) => {
    for (let tries = surplus[at] ?? 0; passes && tries > 0; tries--)
      carry(residual.cheapest([at], (to) => !isPassed[to] || (surplus[to] ?? 0) < 0))
  })
  // The beginning has as much as anybody needs.
  surplus.forEach((some, at) => {
    for (let tries = -some; at !== 0 && tries > 0; tries--)
      carry(
        isLarge
          ? fromBeginning(before, out, at)
          : residual.cheapest(
              surplus.flatMap((more, from) => (from === 0 || more > 0 ? [from] : [])),
              (to) => to === at,
            ),
      )
  })
  return times
}

/** Of more standings than these a way that is missing is gone from the beginning. */
const MOST_BALANCED = 1500

interface Way {
  readonly from: number
  readonly to: number
  readonly arcs: readonly { readonly arc: Arc; readonly by: 1 | -1 }[]
}

function fromBeginning(before: Runs['before'], out: readonly (readonly Arc[])[], to: number): Way {
  const arcs: Way['arcs'][number][] = []
  for (let at = to; at !== 0;) {
    const from = before[at]?.at
    const arc = from === undefined ? undefined : out[from]?.find((one) => one.to === at)
    if (from === undefined || !arc) break
    arcs.push({ arc, by: 1 })
    at = from
  }
  return { from: 0, to, arcs }
}

/** Arcs that may be taken as often as one likes, and taken back where they are taken more often than needed. */
class Residual {
  readonly #needed: ReadonlySet<Arc>
  readonly #leaving: Arc[][]
  readonly #arriving: Arc[][]

  constructor(
    private readonly count: number,
    arcs: readonly Arc[],
    private readonly times: ReadonlyMap<Arc, number>,
  ) {
    this.#needed = new Set(times.keys())
    this.#leaving = Array.from({ length: count }, () => [])
    this.#arriving = Array.from({ length: count }, () => [])
    for (const arc of arcs) {
      this.#leaving[arc.from]?.push(arc)
      this.#arriving[arc.to]?.push(arc)
    }
  }

  #canGoBack(arc: Arc): boolean {
    return (this.times.get(arc) ?? 0) > (this.#needed.has(arc) ? 1 : 0)
  }

  /** The cheapest way from some standings to one of others (Bellman & Ford, by a queue). */
  cheapest(from: readonly number[], isGoal: (at: number) => boolean): Way | undefined {
    const cost = new Float64Array(this.count).fill(Infinity)
    const last: ({ arc: Arc; by: 1 | -1 } | undefined)[] = Array.from({ length: this.count })
    const queue = [...from]
    const isQueued = new Set(queue)
    for (const at of from) cost[at] = 0
    for (let head = 0; head < queue.length; head++) {
      const at = queue[head] ?? 0
      isQueued.delete(at)
      const relax = (to: number, price: number, arc: Arc, by: 1 | -1) => {
        const total = (cost[at] ?? Infinity) + price
        if (total >= (cost[to] ?? Infinity)) return
        cost[to] = total
        last[to] = { arc, by }
        if (isQueued.has(to)) return
        isQueued.add(to)
        queue.push(to)
      }
      for (const arc of this.#leaving[at] ?? []) relax(arc.to, 1, arc, 1)
      for (const arc of this.#arriving[at] ?? []) if (this.#canGoBack(arc)) relax(arc.from, -1, arc, -1)
    }
    let goal = -1
    for (let at = 0; at < this.count; at++)
      if (isGoal(at) && last[at] && (goal < 0 || (cost[at] ?? 0) < (cost[goal] ?? 0))) goal = at
    if (goal < 0) return undefined
    const arcs: { arc: Arc; by: 1 | -1 }[] = []
    let at = goal
    for (let step = last[at]; step; step = last[at]) {
      arcs.push(step)
      at = step.by === 1 ? step.arc.from : step.arc.to
    }
    return { from: at, to: goal, arcs }
  }
}

/** The arcs, each as often as it is taken, walked from the beginning: a tour (Hierholzer 1873), cut where it begins anew. */
function walked(times: ReadonlyMap<Arc, number>): readonly TestPath[] {
  const out = new Map<number, Arc[]>()
  const balance = new Map<number, number>()
  for (const [arc, count] of times)
    for (let turn = 0; turn < count; turn++) {
      join(out, arc.from, arc)
      balance.set(arc.to, (balance.get(arc.to) ?? 0) + 1)
      balance.set(arc.from, (balance.get(arc.from) ?? 0) - 1)
    }
  for (const [at, more] of balance)
    for (let turn = 0; at !== 0 && turn < more; turn++)
      join(out, at, { from: at, to: 0, taken: [], trigger: undefined })
  for (const arcs of out.values()) arcs.reverse()
  const stack: { at: number; by: Arc | undefined }[] = [{ at: 0, by: undefined }]
  const tour: Arc[] = []
  for (let top = stack.at(-1); top; top = stack.at(-1)) {
    const arc = out.get(top.at)?.pop()
    if (arc) stack.push({ at: arc.to, by: arc })
    else {
      stack.pop()
      if (top.by) tour.push(top.by)
    }
  }
  const paths: Arc[][] = [[]]
  for (const arc of tour.reverse()) {
    if (arc.to === 0 && arc.taken.length === 0 && arc.trigger === undefined) paths.push([])
    else paths.at(-1)?.push(arc)
  }
  return paths
    .filter((arcs) => arcs.length > 0)
    .map((arcs) => ({
      taken: arcs.flatMap(({ taken }) => taken),
      triggers: arcs.flatMap(({ trigger }) => trigger ?? []),
    }))
}
