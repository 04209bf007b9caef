import { nth } from '../../../../graph'
import { flowchart, roomFor, type FlowShape, type Point } from '../../../../layout'
import { type Classifier, type Package, type Shown, type Tie } from '../../structure'

export interface Size {
  readonly width: number
  readonly height: number
}
export type Area = Point & Size

/** What is written beside the two ends of a tie, in px. */
export interface Words {
  readonly a: number
  readonly b: number
}

export interface Laid {
  readonly classes: ReadonlyMap<Classifier, Area>
  /** From the tie’s first class to its second, from border to border. */
  readonly ways: ReadonlyMap<Tie, readonly Point[]>
  readonly frames: ReadonlyMap<Package, Area>
  readonly width: number
  readonly height: number
}

/** Around a class, and from the border of a class to where its lines may turn: room for heads and for words. */
const GAP = 12
const STUB = { bare: 18, worded: 32 } as const
const FRAME = { pad: 14, tab: 21, step: 9 } as const
/** Beside what stands on its own. */
const LOOP = 26
/** So many classes that nothing leads to stand beneath one another. */
const STACK = 3
/** Packages beneath one another, where there are more than these. */
const MOST_ACROSS = 5
/** A longer search for an order with fewer crossings, up to so many ties. */
const MOST_THOROUGH = 1500
const MOST_LOOKED = 12_000_000

/**
 * Classes from the general to the special and from the whole to the part, each package by itself: a flowchart that runs down, whose lanes are the
 * packages. Ties that make something special are joined where they lead to the same. Grows as the flowchart does.
 */
export function layOut(
  { classes, packages, ties }: Shown,
  sizeOf: (one: Classifier) => Size,
  wordsOf: (tie: Tie) => Words,
  spacing: number,
): Laid {
  const homes = lanesOf(classes, packages)
  const empty = homes.flatMap((home, lane) =>
    home && !classes.some((one) => one.package === home) && !packages.some(({ parent }) => parent === home)
      ? [lane]
      : [],
  )
  const perRow =
    homes.length <= MOST_ACROSS || packages.some(({ parent }) => parent && homes.includes(parent))
      ? homes.length
      : Math.ceil(Math.sqrt(1.6 * homes.length))
  const laneAt = new Map(homes.map((home, lane) => [home, lane]))
  const homeOf = (one: Classifier) =>
    laneAt.get(packages.includes(one.package as Package) ? one.package : undefined) ?? 0
  const phaseOf = (lane: number) => Math.floor(lane / perRow)
  const index = new Map(classes.map((one, at) => [one, at]))
  const drawn = ties.filter(({ a, b }) => a !== b)
  const rank = ranked(classes, drawn, (one) => phaseOf(homeOf(one)))
  const joints = new Map<Classifier, number>()
  const edges = drawn.map((tie) => {
    const { a, b, sort } = tie
    const isDown = nth(rank, index.get(a) ?? 0) < nth(rank, index.get(b) ?? 0)
    const [upper, lower] = isDown ? [a, b] : [b, a]
    const words = wordsOf(tie)
    const isJoined = sort === 'generalization' && !isDown
    if (isJoined && !joints.has(b)) joints.set(b, joints.size)
    return {
      from: index.get(upper) ?? 0,
      to: index.get(lower) ?? 0,
      sort: 'flow' as const,
      beside: { out: isDown ? words.a : words.b, in: isDown ? words.b : words.a },
      ...(isJoined ? { joins: joints.get(b) ?? 0 } : {}),
    }
  })
  const sizes = classes.map((one) => {
    const { width, height } = sizeOf(one)
    const own = drawn.flatMap((tie, at) => (tie.a === one || tie.b === one ? [at] : []))
    const joined = new Set<number>()
    let [below, above] = [0, 0]
    for (const at of own) {
      const { from, beside, joins } = nth(edges, at)
      if (from !== index.get(one)) above += roomFor(beside.in)
      else if (joins === undefined || !joined.has(joins)) below += roomFor(beside.out)
      if (joins !== undefined) joined.add(joins)
    }
    return { width: Math.max(width, Math.max(below, above) + 24), height }
  })
  const hasWords = edges.some(({ beside }) => beside.out + beside.in > 0)
  const stub = hasWords ? STUB.worded : STUB.bare
  const looped = new Set(ties.flatMap(({ a, b }) => (a === b ? [a] : [])))
  const shape: FlowShape = {
    nodes: [
      ...classes.map((one, at) => ({
        lane: homeOf(one) % perRow,
        phase: phaseOf(homeOf(one)),
        halfU: nth(sizes, at).height / 2 + stub,
        halfV: nth(sizes, at).width / 2 + GAP + (looped.has(one) ? LOOP : 0),
        form: 'box' as const,
      })),
      ...empty.map((lane) => ({
        lane: lane % perRow,
        phase: phaseOf(lane),
        halfU: 20,
        halfV: 70,
        form: 'box' as const,
      })),
    ],
    edges,
    after: stacked(classes, drawn, homeOf),
    lanes: Array.from({ length: Math.min(perRow, homes.length) }, (_, pool) => ({ pool, least: 90 })),
    isThorough: drawn.length <= MOST_THOROUGH,
    isCentred: true,
    mostLooked: MOST_LOOKED,
    spacing,
  }
  const places = flowchart(shape)
  const areas = sizes.map(({ width, height }, at): Area => {
    const { u, v } = nth(places.nodes, at)
    return { x: v - width / 2, y: u - height / 2, width, height }
  })
  const ways = new Map<Tie, readonly Point[]>()
  drawn.forEach((tie, at) => {
    const { from, to } = nth(edges, at)
    const way = (places.ways[at] ?? []).map(({ u, v }): Point => ({ x: v, y: u }))
    const [upper, lower] = [nth(areas, from), nth(areas, to)]
    const [first, last] = [way[0], way.at(-1)]
    if (!first || !last) return
    const whole = straightened([
      { x: first.x, y: upper.y + upper.height },
      ...way.slice(1, -1),
      { x: last.x, y: lower.y },
    ])
    ways.set(tie, from === index.get(tie.a) ? whole : whole.reverse())
  })
  const laid = new Map(classes.map((one, at) => [one, nth(areas, at)]))
  const frames = framesOf(packages, laid, (home) => {
    const lane = laneAt.get(home)
    if (lane === undefined || !empty.includes(lane)) return undefined
    const { u, v } = nth(places.nodes, classes.length + empty.indexOf(lane))
    return { x: v - 60, y: u - 20, width: 120, height: 40 }
  })
  return moved({ classes: laid, ways, frames })
}

/** Places of a way that lie on a straight piece are no turns. */
const straightened = (way: readonly Point[]): Point[] =>
  way.filter((point, at) => {
    const [before, after] = [way[at - 1], way[at + 1]]
    if (!before || !after) return true
    return !(Math.abs(before.x - point.x) < 0.01 && Math.abs(after.x - point.x) < 0.01)
  })

/** What stands in no package, then the packages that hold classes, or nothing, as they are listed. */
function lanesOf(classes: readonly Classifier[], packages: readonly Package[]): readonly (Package | undefined)[] {
  const here = new Set(packages)
  const used = new Set(classes.map((one) => (one.package && here.has(one.package) ? one.package : undefined)))
  const inner = new Set(packages.map(({ parent }) => parent))
  const order: Package[] = []
  const walk = (one: Package) => {
    order.push(one)
    for (const next of one.inner) if (here.has(next)) walk(next)
  }
  for (const one of packages) if (!one.parent || !here.has(one.parent)) walk(one)
  const lanes: (Package | undefined)[] = order.filter((one) => used.has(one) || !inner.has(one))
  return used.has(undefined) || lanes.length === 0 ? [undefined, ...lanes] : lanes
}

/**
 * An order of all classes in which the general comes before the special, what is realised before what realises it, and as far as that leaves it open
 * the whole before the part. O(classes² + ties)
 */
function ranked(
  classes: readonly Classifier[],
  ties: readonly Tie[],
  phaseOf: (one: Classifier) => number,
): Int32Array {
  const index = new Map(classes.map((one, at) => [one, at]))
  const [firm, loose] = [new Int32Array(classes.length), new Int32Array(classes.length)]
  const after = classes.map((): { to: number; isFirm: boolean }[] => [])
  for (const { a, b, sort } of ties) {
    const isFirm = sort === 'generalization' || sort === 'realization'
    const [from, to] = isFirm ? [index.get(b) ?? 0, index.get(a) ?? 0] : [index.get(a) ?? 0, index.get(b) ?? 0]
    after[from]?.push({ to, isFirm })
    const count = isFirm ? firm : loose
    count[to] = nth(count, to) + 1
  }
  const rank = new Int32Array(classes.length)
  const open = new Set(classes.keys())
  const cost = (at: number) => phaseOf(nth(classes, at)) * 1e9 + nth(firm, at) * 1e5 + nth(loose, at)
  for (let place = 0; place < classes.length; place++) {
    let best = -1
    for (const at of open) if (best < 0 || cost(at) < cost(best)) best = at
    open.delete(best)
    rank[best] = place
    for (const { to, isFirm } of nth(after, best)) {
      const count = isFirm ? firm : loose
      count[to] = nth(count, to) - 1
    }
  }
  return rank
}

/** Classes without ties stand beneath one another by threes. */
function stacked(
  classes: readonly Classifier[],
  ties: readonly Tie[],
  homeOf: (one: Classifier) => number,
): (readonly [number, number])[] {
  const tied = new Set(ties.flatMap(({ a, b }) => [a, b]))
  const byLane = new Map<number, number[]>()
  classes.forEach((one, at) => {
    if (!tied.has(one)) byLane.set(homeOf(one), [...(byLane.get(homeOf(one)) ?? []), at])
  })
  return [...byLane.values()].flatMap((list) =>
    list.flatMap((at, place) => (place % STACK === 0 ? [] : [[nth(list, place - 1), at] as const])),
  )
}

/** The frame of each package around all that is in it, inner frames and their tabs included. */
function framesOf(
  packages: readonly Package[],
  laid: ReadonlyMap<Classifier, Area>,
  emptyPlace: (one: Package) => Area | undefined,
): Map<Package, Area> {
  const frames = new Map<Package, Area>()
  const frame = (one: Package): Area | undefined => {
    const known = frames.get(one)
    if (known) return known
    const areas: Area[] = []
    for (const [inner, area] of laid) if (inner.package === one) areas.push(padded(area, FRAME.pad))
    for (const inner of packages) {
      const area = inner.parent === one ? frame(inner) : undefined
      if (area) areas.push(padded({ ...area, y: area.y - FRAME.tab, height: area.height + FRAME.tab }, FRAME.step))
    }
    const empty = emptyPlace(one)
    if (empty) areas.push(empty)
    if (areas.length === 0) return undefined
    const around = bounding(areas)
    frames.set(one, around)
    return around
  }
  for (const one of packages) frame(one)
  return frames
}

const padded = ({ x, y, width, height }: Area, by: number): Area => ({
  x: x - by,
  y: y - by,
  width: width + 2 * by,
  height: height + 2 * by,
})

function bounding(areas: readonly Area[]): Area {
  const [x, y] = [Math.min(...areas.map((one) => one.x)), Math.min(...areas.map((one) => one.y))]
  const right = Math.max(...areas.map((one) => one.x + one.width))
  const bottom = Math.max(...areas.map((one) => one.y + one.height))
  return { x, y, width: right - x, height: bottom - y }
}

/** Everything moved so that it begins at 0, tabs included. */
function moved({ classes, ways, frames }: Omit<Laid, 'width' | 'height'>): Laid {
  const all = bounding([
    { x: 0, y: 0, width: 1, height: 1 },
    ...classes.values(),
    ...[...frames.values()].map((area) => ({ ...area, y: area.y - FRAME.tab, height: area.height + FRAME.tab })),
  ])
  const points = [...ways.values()].flat()
  const [left, top] = [Math.min(all.x, ...points.map(({ x }) => x)), Math.min(all.y, ...points.map(({ y }) => y))]
  const right = points.reduce((most, { x }) => Math.max(most, x), all.x + all.width)
  const bottom = points.reduce((most, { y }) => Math.max(most, y), all.y + all.height)
  const shift = <T extends Point>(one: T): T => ({ ...one, x: one.x - left, y: one.y - top })
  return {
    classes: new Map([...classes].map(([one, area]) => [one, shift(area)])),
    ways: new Map([...ways].map(([tie, way]) => [tie, way.map(shift)])),
    frames: new Map([...frames].map(([one, area]) => [one, shift(area)])),
    width: right - left,
    height: bottom - top,
  }
}

export const TAB = FRAME.tab
