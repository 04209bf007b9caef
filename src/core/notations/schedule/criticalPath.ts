import type { Instant, WorkingTime } from '../../calendar'
import { nth, cyclicComponents, topological } from '../../graph'
import type { Constraint, Precedence } from './terms'

/** One task of a network. Durations in working minutes of its own calendar; a milestone has none. */
export interface Activity {
  readonly time: WorkingTime
  readonly duration: number
  readonly constraint: Constraint
  readonly on?: Instant | undefined
  /** Both dates are stated: nothing moves it. */
  readonly fixed?: { readonly start: Instant; readonly finish: Instant } | undefined
  readonly actualStart?: Instant | undefined
  readonly actualFinish?: Instant | undefined
  /** Working minutes that are left, of a task that has begun. */
  readonly remaining?: number | undefined
}

export interface Network {
  readonly activities: readonly Activity[]
  readonly precedences: readonly Precedence[]
  /** Nothing starts before, unless its dates are stated. */
  readonly start: Instant
  /** What has not begun by then begins then at the earliest, and what is left of the rest is done from then on. */
  readonly status?: Instant | undefined
}

/** Early and late dates by index, floats in working minutes, and the order in which the network was worked through. */
interface CriticalPath {
  readonly earlyStart: Float64Array
  readonly earlyFinish: Float64Array
  readonly lateStart: Float64Array
  readonly lateFinish: Float64Array
  readonly totalFloat: Float64Array
  readonly freeFloat: Float64Array
  /** The last early finish. */
  readonly finish: Instant
  /** Activities that follow themselves, circle by circle; the links within a circle are left out. */
  readonly circles: readonly (readonly number[])[]
  /** Precedences that stated dates break, by index. */
  readonly broken: readonly number[]
}

/** What the passes reckon with: working time itself, or numbers that stand for its instants. */
type Reckoning = Pick<WorkingTime, 'add' | 'between' | 'closing' | 'opening'>

/**
 * Early and late dates by forward and backward pass (Kelley & Walker 1959), with all four kinds of precedence and lags in the working time of
 * the follower (Wiest 1981). Total float is the smaller of that of the start and that of the finish; free float is what an activity may slip
 * before an early date of a follower, or the end, moves. O((activities + precedences) · log days).
 */
export function criticalPath(network: Network): CriticalPath {
  const [first] = network.activities
  const shared = first && network.activities.every(({ time }) => time === first.time) ? first.time : undefined
  return shared ? inOneCalendar(network, shared) : passes(network)
}

/**
 * Instants of one calendar as numbers: twice the minutes worked since the start of the network, and one more where work opens rather than
 * closes. They sort as the instants do, and reckoning with them needs no calendar, only reading them at the end does.
 */
const COUNTED: Reckoning = {
  opening: (at) => Math.floor(at / 2) * 2 + 1,
  closing: (at) => Math.floor(at / 2) * 2,
  add: (at, minutes) => (minutes === 0 ? at : (Math.floor(at / 2) + minutes) * 2 + (minutes < 0 ? 1 : 0)),
  between: (from, to) => Math.floor(to / 2) - Math.floor(from / 2),
}

const readings = new WeakMap<WorkingTime, { readonly start: Instant; readonly known: Map<number, Instant> }>()
const MOST_READINGS = 200_000

/** Numbers that were read as instants before, of the same calendar from the same start on: most dates stay as they were. */
function readingsOf(time: WorkingTime, start: Instant): Map<number, Instant> {
  const before = readings.get(time)
  if (before && before.start === start && before.known.size < MOST_READINGS) return before.known
  const known = new Map<number, Instant>()
  readings.set(time, { start, known })
  return known
}

function inOneCalendar(network: Network, time: WorkingTime): CriticalPath {
  const { start } = network
  const count = (at: Instant): number => time.between(start, at) * 2 + (time.closing(at) === at ? 0 : 1)
  const countedIf = (at: Instant | undefined): number | undefined => (at === undefined ? undefined : count(at))
  const stated = network.activities.map((one): Activity => {
    const { on, fixed, actualStart, actualFinish } = one
    if (on === undefined && fixed === undefined && actualStart === undefined && actualFinish === undefined) return one
    return {
      ...one,
      on: countedIf(on),
      fixed: fixed && { start: count(fixed.start), finish: count(fixed.finish) },
      actualStart: countedIf(actualStart),
      actualFinish: countedIf(actualFinish),
    }
  })
  const path = passes(
    { ...network, activities: stated, start: count(start), status: countedIf(network.status) },
    COUNTED,
  )
  const known = readingsOf(time, start)
  const instantOf = (counted: number): Instant => {
    // Whole numbers within 32 bits are found much faster.
    const value = Math.abs(counted) < 2 ** 31 ? counted | 0 : counted
    const found = known.get(value)
    if (found !== undefined) return found
    const minutes = Math.floor(value / 2)
    const at = time.add(start, minutes)
    // What is counted onwards ends where work closes already.
    const instant = value % 2 !== 0 ? time.opening(at) : minutes > 0 ? at : time.closing(at)
    known.set(value, instant)
    return instant
  }
  const read = (list: Float64Array): Float64Array => list.map(instantOf)
  const [earlyStart, earlyFinish] = [read(path.earlyStart), read(path.earlyFinish)]
  // What is stated to the minute stays as it is, also where nobody works.
  network.activities.forEach(({ fixed, actualStart, actualFinish }, i) => {
    const [from, to] = [fixed?.start ?? actualStart, fixed?.finish ?? actualFinish]
    if (from !== undefined) earlyStart[i] = from
    if (to !== undefined) earlyFinish[i] = to
  })
  return {
    ...path,
    earlyStart,
    earlyFinish,
    lateStart: read(path.lateStart),
    lateFinish: read(path.lateFinish),
    finish: earlyFinish.reduce(
      (latest, at) => Math.max(latest, at),
      network.activities.length === 0 ? start : -Infinity,
    ),
  }
}

/** Both passes; with `alike`, all activities reckon with that. */
function passes(network: Network, alike?: Reckoning): CriticalPath {
  const { activities, precedences, start, status } = network
  const count = activities.length
  const { order, into, out, circles } = orderedOf(network)

  const earlyStart = new Float64Array(count)
  const earlyFinish = new Float64Array(count)
  for (const at of order) {
    const one = activities[at]
    if (!one) continue
    const time = alike ?? one.time
    const { duration } = one
    // Of what has begun, only what is left can wait for anything.
    const ahead = leftOf(one)
    let begin = -Infinity
    let logic = -Infinity
    for (let k = nth(into.first, at); k < nth(into.first, at + 1); k++) {
      const link = into.list[k]
      if (!link) continue
      const source = link.type[0] === 'F' ? nth(earlyFinish, link.from) : nth(earlyStart, link.from)
      const due = time.add(source, link.lag)
      logic = Math.max(logic, link.type[1] === 'S' ? due : time.add(due, -ahead))
    }
    if (one.fixed) {
      ;[earlyStart[at], earlyFinish[at]] = [one.fixed.start, one.fixed.finish]
      continue
    }
    if (one.actualStart !== undefined) {
      earlyStart[at] = one.actualStart
      earlyFinish[at] = one.actualFinish ?? finishOfBegun(one, time, logic, status)
      continue
    }
    if (one.constraint === 'must start' && one.on !== undefined) begin = one.on
    else if (one.constraint === 'must finish' && one.on !== undefined) begin = time.add(time.closing(one.on), -duration)
    else {
      begin = Math.max(logic, start)
      if (status !== undefined) begin = Math.max(begin, status)
      if (one.constraint === 'start no earlier' && one.on !== undefined) begin = Math.max(begin, one.on)
    }
    // A milestone stands where it falls; work begins when work can.
    const stays = duration === 0 && (begin === logic || (one.constraint === 'must finish' && one.on !== undefined))
    const starts = stays ? begin : time.opening(begin)
    earlyStart[at] = starts
    earlyFinish[at] = time.add(starts, duration)
  }

  let finish = count === 0 ? start : -Infinity
  for (const value of earlyFinish) finish = Math.max(finish, value)

  const lateStart = new Float64Array(count)
  const lateFinish = new Float64Array(count)
  for (let i = order.length - 1; i >= 0; i--) {
    const at = nth(order, i)
    const one = activities[at]
    if (!one) continue
    const time = alike ?? one.time
    const length =
      one.fixed || one.actualStart !== undefined
        ? time.between(nth(earlyStart, at), nth(earlyFinish, at))
        : one.duration
    let end = finish
    for (let k = nth(out.first, at); k < nth(out.first, at + 1); k++) {
      const link = out.list[k]
      const follower = link && activities[link.to]
      if (!link || !follower) continue
      if (follower.actualFinish !== undefined) continue
      const target = link.type[1] === 'S' ? latestBegin(follower, link.to) : nth(lateFinish, link.to)
      const due = (alike ?? follower.time).add(target, -link.lag)
      end = Math.min(end, link.type[0] === 'F' ? due : time.add(due, length))
    }
    if (one.on !== undefined && one.constraint !== 'as soon as possible' && !one.fixed) {
      if (one.constraint === 'must start') end = Math.min(end, time.add(time.opening(one.on), length))
      else if (one.constraint !== 'start no earlier') end = Math.min(end, one.on)
    }
    // A milestone at the end of a day stays there, one that opens a day likewise.
    const opens = length === 0 && time.closing(earlyFinish[at] ?? end) !== earlyFinish[at]
    lateFinish[at] = opens ? end : time.closing(end)
    lateStart[at] = time.add(lateFinish[at] ?? end, -length)
  }

  /** When what is left of an activity has to begin at the latest. */
  function latestBegin(one: Activity, at: number): Instant {
    if (one.actualStart === undefined || one.fixed) return nth(lateStart, at)
    return (alike ?? one.time).add(nth(lateFinish, at), -leftOf(one))
  }

  /** When what is left of an activity begins by the early dates. */
  function earliestBegin(one: Activity, at: number): Instant {
    if (one.actualStart === undefined || one.fixed) return nth(earlyStart, at)
    return (alike ?? one.time).add(nth(earlyFinish, at), -leftOf(one))
  }

  const totalFloat = new Float64Array(count)
  const freeFloat = new Float64Array(count)
  activities.forEach((one, at) => {
    const time = alike ?? one.time
    const [es, ef, ls, lf] = [nth(earlyStart, at), nth(earlyFinish, at), nth(lateStart, at), nth(lateFinish, at)]
    totalFloat[at] = Math.min(time.between(es, ls), time.between(ef, lf))
    let free = time.between(ef, finish)
    for (let k = nth(out.first, at); k < nth(out.first, at + 1); k++) {
      const link = out.list[k]
      const follower = link && activities[link.to]
      if (!link || !follower) continue
      if (follower.actualFinish !== undefined) continue
      const source = link.type[0] === 'F' ? ef : es
      const target = link.type[1] === 'S' ? earliestBegin(follower, link.to) : nth(earlyFinish, link.to)
      const following = alike ?? follower.time
      free = Math.min(free, following.between(following.add(source, link.lag), target))
    }
    freeFloat[at] = Math.max(0, free)
  })

  const broken: number[] = []
  precedences.forEach(({ from, to, type, lag }, index) => {
    const follower = activities[to]
    if (!follower || (!follower.fixed && follower.constraint !== 'must start' && follower.constraint !== 'must finish'))
      return
    if (from === to || follower.actualStart !== undefined) return
    const source = type[0] === 'F' ? nth(earlyFinish, from) : nth(earlyStart, from)
    const target = type[1] === 'S' ? nth(earlyStart, to) : nth(earlyFinish, to)
    const time = alike ?? follower.time
    if (time.between(time.add(source, lag), target) < 0) broken.push(index)
  })
  return { earlyStart, earlyFinish, lateStart, lateFinish, totalFloat, freeFloat, finish, circles, broken }
}

/** Working minutes of an activity that are still to be done. */
const leftOf = ({ duration, actualStart, remaining }: Activity): number =>
  actualStart === undefined ? duration : (remaining ?? duration)

/** When a task that has begun will be done: what is left is worked from the status date, or from its start, on. */
function finishOfBegun(one: Activity, time: Reckoning, logic: Instant, status: Instant | undefined): Instant {
  const { duration, actualStart = 0, remaining } = one
  const left = remaining ?? duration
  const done = duration - left
  const from = status === undefined ? time.add(actualStart, Math.max(0, done)) : Math.max(status, actualStart)
  // What is left waits for what it follows, as long as that is still going on.
  return left === 0 ? from : time.add(time.opening(Math.max(from, logic)), left)
}

interface Ordered {
  readonly order: Int32Array
  readonly into: Grouped
  readonly out: Grouped
  readonly circles: readonly (readonly number[])[]
}

const orders = new WeakMap<readonly Precedence[], { readonly count: number; readonly ordered: Ordered }>()

/** An order in which each follows all that it comes after; remembered by the list of precedences, which must not change. */
function orderedOf(network: Pick<Network, 'activities' | 'precedences'>): Ordered {
  const count = network.activities.length
  const known = orders.get(network.precedences)
  if (known?.count === count) return known.ordered
  const ordered = inOrder(network)
  orders.set(network.precedences, { count, ordered })
  return ordered
}

/** Circles are looked for only where there is no order. */
function inOrder({ activities, precedences }: Pick<Network, 'activities' | 'precedences'>): Ordered {
  const count = activities.length
  const [into, out] = [groupBy(count, precedences, ({ to }) => to), groupBy(count, precedences, ({ from }) => from)]
  const ends = Int32Array.from(out.list, ({ to }) => to)
  const order = topological(count, (one) => ends.subarray(nth(out.first, one), nth(out.first, one + 1)))
  if (order.length === count) return { order: Int32Array.from(order), into, out, circles: [] }
  const circles = cyclicComponents(activities.keys(), (one) =>
    out.list.slice(nth(out.first, one), nth(out.first, one + 1)).map(({ to }) => to),
  )
  const within = new Int32Array(count).fill(-1)
  circles.forEach((circle, index) => circle.forEach((one) => (within[one] = index)))
  const used = precedences.filter(({ from, to }) => from !== to && (within[from] === -1 || within[from] !== within[to]))
  return { ...inOrder({ activities, precedences: used }), circles }
}

interface Grouped {
  readonly list: readonly Precedence[]
  /** The first of each node's precedences in the list. */
  readonly first: Int32Array
}

function groupBy(count: number, links: readonly Precedence[], key: (link: Precedence) => number): Grouped {
  const counts = new Int32Array(count)
  for (const link of links) counts[key(link)] = nth(counts, key(link)) + 1
  const first = new Int32Array(count + 1)
  for (let i = 0; i < count; i++) first[i + 1] = nth(first, i) + nth(counts, i)
  const place = Int32Array.from(first)
  const list = new Array<Precedence>(links.length)
  for (const link of links) {
    const at = key(link)
    list[nth(place, at)] = link
    place[at] = nth(place, at) + 1
  }
  return { list, first }
}
