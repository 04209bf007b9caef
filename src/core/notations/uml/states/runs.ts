import { join, type Id } from '../../../model'
import { eventName } from '../syntax/transition'
import { isPassing, ownersOf, type Machine, type Region, type Transition, type Vertex } from './structure'

/** Where a machine stands: the innermost states that are active, and what histories remember. */
export interface Standing {
  readonly active: readonly Vertex[]
  /** By history, what was active in its region when that was last left. */
  readonly memory: ReadonlyMap<Vertex, readonly Vertex[]>
  readonly key: string
}

/** What can happen next: a transition is taken, or several that meet in a join; none where a history brings back what it remembers. */
export interface Happening {
  readonly taken: readonly Transition[]
  /** The event that is met by it; undefined where it goes on by itself. */
  readonly trigger: string | undefined
  readonly to: Standing
}

/** Everything that can come about, each standing once, in the order of the least that has to happen before. */
export interface Runs {
  readonly standings: readonly Standing[]
  readonly happenings: readonly (readonly Happening[])[]
  /** By standing, how it is come by first: the standing before and what happens there. */
  readonly before: readonly ({ readonly at: number; readonly by: Happening } | undefined)[]
  /** There is more than the bound allows: what is not here may yet come about. */
  readonly isCut: boolean
}

const MOST_STANDINGS = 6000
/** So many ways into what has regions are looked at. */
const MOST_WAYS = 64

/** Where a machine begins; none where it has no beginning. */
export function beginnings(machine: Machine): readonly Standing[] {
  const initial = machine.regions.flatMap(({ vertices }) => vertices.find(({ form }) => form === 'initial') ?? [])
  return initial.length > 0 && initial.length === machine.regions.length ? [standing(initial, new Map())] : []
}

/**
 * All standings that a machine comes to, guards being taken to hold or not as it may be (run to completion, UML 2.5.1, 14.2.3.9): one transition
 * at a time, inner ones before those of what they stand in where both answer to one event and the inner one asks no more.
 * O(standings × transitions), at most `bound` of them.
 */
export function runsOf(machine: Machine, bound = MOST_STANDINGS): Runs {
  const index = new Map<string, number>()
  const standings: Standing[] = []
  const before: Runs['before'][number][] = []
  const put = (one: Standing, from: Runs['before'][number]) => {
    if (index.has(one.key)) return
    index.set(one.key, standings.length)
    standings.push(one)
    before.push(from)
  }
  for (const one of beginnings(machine)) put(one, undefined)
  const happenings: (readonly Happening[])[] = []
  let isCut = false
  for (let at = 0; at < standings.length; at++) {
    const from = standings[at]
    if (!from) break
    const next = happeningsAt(from)
    happenings.push(next)
    for (const by of next)
      if (standings.length < bound || index.has(by.to.key)) put(by.to, { at, by })
      else isCut = true
  }
  return { standings, happenings, before, isCut }
}

const remembered = new WeakMap<Machine, Runs>()
/** The same, worked out once for the facts. */
export function runsIn(machine: Machine): Runs {
  const known = remembered.get(machine) ?? runsOf(machine)
  remembered.set(machine, known)
  return known
}

/** What happens from the beginning until a standing, first to last. */
export function wayTo({ before }: Runs, at: number): readonly Happening[] {
  const way: Happening[] = []
  for (let from = before[at]; from; from = before[from.at]) way.unshift(from.by)
  return way
}

/** Everything that is active in a standing: innermost states and what they stand in. */
export function allActive({ active }: Standing): ReadonlySet<Vertex> {
  return new Set(active.flatMap((one) => [one, ...ownersOf(one)]))
}

/** Whether it has come to its end: nothing more happens. */
export const isOver = ({ active }: Standing): boolean =>
  active.some(({ form }) => form === 'terminate') ||
  active.every(({ form, region }) => form === 'final' && region.owner === undefined)

/** What can happen next in a standing. O(transitions there × depth) */
export function happeningsAt(from: Standing): readonly Happening[] {
  if (isOver(from)) return []
  const passing = from.active.filter(isPassing)
  const sources = passing.length > 0 ? new Set(passing) : allActive(from)
  const found: Happening[] = []
  const joins = new Set<Vertex>()
  for (const source of sources) {
    if (source.form === 'history' || source.form === 'deep history') found.push(...recalled(from, source))
    if (source.form === 'fork') {
      found.push(...taking(from, source.out, undefined))
      continue
    }
    const goesOn = isDone(from, source)
    for (const one of source.out) if (goesOn || one.triggers.length > 0) found.push(...answering(from, one, joins))
  }
  return together(from, found)
}

/** So many transitions that answer to one event are tried in all their ways; of more each is taken by itself. */
const MOST_TOGETHER = 10

/**
 * An event that several regions answer to is one step: each of them takes it, but where two would leave the same state, which then is one way or another, and
 * but where a condition may not hold (14.2.3.9.3 and 14.2.3.9.4). O(2^happenings of an event, at most 1 024)
 */
function together(from: Standing, list: readonly Happening[]): readonly Happening[] {
  const events = new Map<string, Happening[]>()
  for (const one of list) if (one.trigger !== undefined) join(events, eventName(one.trigger), one)
  return [
    ...list.filter(({ trigger }) => trigger === undefined),
    ...[...events.values()].flatMap((answers) =>
      answers.length < 2 || answers.length > MOST_TOGETHER ? answers : inOneStep(from, answers),
    ),
  ]
}

function inOneStep(from: Standing, answers: readonly Happening[]): readonly Happening[] {
  const left = answers.map((one) => leftBy(from, one))
  const isApart = (a: number, b: number) => !left[a]?.some((leaf) => left[b]?.includes(leaf))
  const mayStay = answers.map(({ taken }) => taken.some(({ guard }) => guard !== undefined))
  const ways: Happening[] = []
  const choose = (at: number, chosen: readonly number[]): void => {
    if (ways.length >= MOST_WAYS) return
    if (at < answers.length) {
      if (chosen.every((other) => isApart(at, other))) choose(at + 1, [...chosen, at])
      return choose(at + 1, chosen)
    }
    // What nothing keeps from it answers.
    const isWhole = answers.every(
      (_, one) => chosen.includes(one) || mayStay[one] || chosen.some((other) => !isApart(one, other)),
    )
    const [first, ...others] = chosen.flatMap((one) => answers[one] ?? [])
    if (first && isWhole)
      ways.push(
        ...others.reduce<readonly Happening[]>((all, next) => all.flatMap((one) => following(one, next)), [first]),
      )
  }
  choose(0, [])
  // Where there are more than are followed, none is left out by itself.
  return ways.length < MOST_WAYS ? ways : [...ways, ...answers]
}

/** One answer after another that left its states alone. */
const following = (before: Happening, { taken, trigger }: Happening): readonly Happening[] =>
  taking(before.to, taken, trigger).map((next) => ({ ...next, taken: [...before.taken, ...taken] }))

/** The innermost states that are left. */
function leftBy({ active }: Standing, { taken }: Happening): readonly Vertex[] {
  const scope = commonRegion(taken.flatMap(({ source, target }) => [source, target]))
  return active.filter((one) => scope === undefined || regionsOf(one).includes(scope))
}

/** Whether what a source does is done, so that it goes on by itself: a composite state has come to the end in each region. */
function isDone({ active }: Standing, source: Vertex): boolean {
  if (source.regions.length === 0) return true
  return source.regions.every((region) => active.some((one) => one.region === region && one.form === 'final'))
}

function answering(from: Standing, one: Transition, joins: Set<Vertex>): readonly Happening[] {
  if (one.target.form === 'join') {
    if (joins.has(one.target)) return []
    joins.add(one.target)
    return meeting(from, one.target)
  }
  if (one.triggers.length === 0) return taking(from, [one], undefined)
  return one.triggers
    .filter((trigger) => !isForestalled(from, one, trigger))
    .flatMap((trigger) => taking(from, [one], trigger))
}

/** Whether something that stands further inside answers to an event before it: the innermost goes first (14.2.3.9.4). */
function isForestalled({ active }: Standing, { source }: Transition, trigger: string): boolean {
  if (source.regions.length === 0) return false
  const name = eventName(trigger)
  return active.some((leaf) => {
    const line = [leaf, ...ownersOf(leaf)]
    const at = line.indexOf(source)
    return line
      .slice(0, Math.max(0, at))
      .some(({ out, internal }) =>
        [...out, ...internal].some(
          ({ guard, triggers }) => guard === undefined && triggers.some((each) => eventName(each) === name),
        ),
      )
  })
}

/** Ways that meet in a join go on when all of them are there (14.2.3.7). */
function meeting(from: Standing, target: Vertex): readonly Happening[] {
  const on = allActive(from)
  if (!target.into.every(({ source }) => on.has(source) && (source.regions.length === 0 || isDone(from, source))))
    return []
  const trigger = target.into.flatMap(({ triggers }) => triggers)[0]
  return taking(from, target.into, trigger)
}

/** A history brings back what was there when its region was last left; where nothing was, its own transition leads on (14.2.3.7). */
function recalled(from: Standing, history: Vertex): readonly Happening[] {
  const remembered = from.memory.get(history)
  if (!remembered) {
    if (history.out.length > 0) return []
    // Without a default it is as if the region had been entered.
    return entering(history.region).map((active) => ({
      taken: [],
      trigger: undefined,
      to: replaced(from, history, active),
    }))
  }
  const back = history.form === 'history' ? product(remembered.map(entered)) : [remembered]
  return back.map((active) => ({ taken: [], trigger: undefined, to: replaced(from, history, active) }))
}

const replaced = ({ active, memory }: Standing, gone: Vertex, come: readonly Vertex[]): Standing =>
  standing([...active.filter((one) => one !== gone), ...come], memory)

/** Leaves what the transitions lead out of, and enters what they lead to. */
function taking(from: Standing, taken: readonly Transition[], trigger: string | undefined): readonly Happening[] {
  const [first] = taken
  if (!first) return []
  if ((first.source.form === 'history' || first.source.form === 'deep history') && from.memory.has(first.source))
    return []
  const targets = [...new Set(taken.map(({ target }) => target))]
  const scope = commonRegion([...taken.map(({ source }) => source), ...targets])
  const isWithin = (one: Vertex) => scope === undefined || regionsOf(one).includes(scope)
  const memory = remembering(from, scope)
  const stays = from.active.filter((one) => !isWithin(one))
  return enteringAll(scope, targets).map((active) => ({ taken, trigger, to: standing([...stays, ...active], memory) }))
}

/** The regions that a vertex stands in, the innermost first. */
function regionsOf(vertex: Vertex): readonly Region[] {
  return [vertex.region, ...ownersOf(vertex).map(({ region }) => region)]
}

/** The innermost region in which all of them stand: what is left and entered lies within it. */
export function commonRegion(list: readonly Vertex[]): Region | undefined {
  const [first, ...others] = list
  if (!first) return undefined
  return regionsOf(first).find((region) => others.every((other) => regionsOf(other).includes(region)))
}

/** What histories remember once everything within a region is left: the regions in there are left, it itself is not. */
function remembering(from: Standing, scope: Region | undefined): Standing['memory'] {
  const inside = new Map<Region, Vertex[]>()
  for (const one of from.active) {
    const regions = regionsOf(one)
    const at = scope === undefined ? regions.length : regions.indexOf(scope)
    for (const region of regions.slice(0, Math.max(0, at))) join(inside, region, one)
  }
  let memory = from.memory
  for (const [region, left] of inside)
    for (const history of region.vertices) {
      if (history.form !== 'history' && history.form !== 'deep history') continue
      const near = left.flatMap((one) => [one, ...ownersOf(one)].find((each) => each.region === region) ?? [])
      const kept = history.form === 'deep history' ? left : [...new Set(near)]
      const next = new Map(memory)
      // What has come to its end is begun anew.
      if (near.every(({ form }) => form === 'state')) next.set(history, kept)
      else next.delete(history)
      memory = next
    }
  return memory
}

/** The ways in which some vertices of a region, or of what stands in it, are entered together, as the innermost ones that are then active. */
function enteringAll(scope: Region | undefined, targets: readonly Vertex[]): readonly (readonly Vertex[])[] {
  const [one] = targets
  if (!one) return [[]]
  const top = targets.map((target) => [target, ...ownersOf(target)].find(({ region }) => region === scope))
  const outer = top[0]
  if (outer === undefined) return targets.length === 1 ? entered(one) : [targets]
  if (targets.length === 1 && outer === one) return entered(one)
  if (targets.includes(outer)) return entered(outer)
  return product(
    outer.regions.map((region) => {
      const own = targets.filter((target) => regionsOf(target).includes(region))
      return own.length === 0 ? entering(region) : enteringAll(region, own)
    }),
  )
}

/** A vertex entered at its border: each of its regions from its beginning (14.2.3.4.5). */
function entered(vertex: Vertex): readonly (readonly Vertex[])[] {
  if (vertex.regions.length === 0 || vertex.form !== 'state') return [[vertex]]
  return product(vertex.regions.map(entering)).map((active) => (active.length === 0 ? [vertex] : active))
}

/** A region without a beginning is entered nowhere. */
function entering(region: Region): readonly (readonly Vertex[])[] {
  const initial = region.vertices.find(({ form }) => form === 'initial')
  return [initial ? [initial] : []]
}

function product(parts: readonly (readonly (readonly Vertex[])[])[]): readonly (readonly Vertex[])[] {
  let all: (readonly Vertex[])[] = [[]]
  for (const ways of parts) all = all.flatMap((one) => ways.map((way) => [...one, ...way])).slice(0, MOST_WAYS)
  return all
}

function standing(active: readonly Vertex[], memory: Standing['memory']): Standing {
  const ids = (list: readonly Vertex[]) => [...new Set(list.map(({ id }) => id))].sort().join(' ')
  const unique = [...new Set(active)]
  const kept = [...memory].map(([history, list]) => `${history.id}=${ids(list)}`).sort()
  return { active: unique, memory, key: [ids(unique), ...kept].join(' | ') }
}

/** Which standings, by their number, each vertex is active in. */
export function whereActive({ standings }: Runs): ReadonlyMap<Id, readonly number[]> {
  const found = new Map<Id, number[]>()
  standings.forEach((one, at) => {
    for (const { id } of allActive(one)) join(found, id, at)
  })
  return found
}
