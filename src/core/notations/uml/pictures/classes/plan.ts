import { nth } from '../../../../graph'
import { flowOrder, layersOf, roomFor, type FlowOrder, type FlowShape } from '../../../../layout'
import type { Classifier, Package, Shown, Tie } from '../../structure'
import { columnsFor, ranked } from './columns'
import type { Size } from './frames'

/** What is written beside the two ends of a tie, in px. */
export interface Words {
  readonly a: number
  readonly b: number
}

/** How it is decided what stands above what, where nothing is special of something. */
export interface Manner {
  /** One after another from whole to part, or near to what it is tied to. */
  readonly columns: 'in turn' | 'near'
  /** Whether classes stay in the columns that were found for them, or move up as far as they can. */
  readonly isHeld: boolean
  readonly isBackwards: boolean
  /** In how many rows packages stand. */
  readonly rows: number
}

/** Around a class, and from the border of a class to where its lines may turn: room for heads and for words. */
export const GAP = 12
/** Between lines side by side. */
export const TRACK = 8
const STUB = { bare: 18, worded: 32 } as const
/** Lines meet a side in its straight part. */
const STRAIGHT = 0.9
/** So many classes that nothing leads to stand beneath one another. */
const STACK = 3
/** A longer search for an order with fewer crossings, up to so many ties. */
const MOST_THOROUGH = 1500
const MOST_LOOKED = 2_000_000

/** What does not depend on the manner. */
export interface Setting {
  readonly shown: Shown
  readonly homes: readonly (Package | undefined)[]
  /** The lanes of packages with nothing in them. */
  readonly empty: readonly number[]
  readonly homeOf: (one: Classifier) => number
  readonly sizeOf: (one: Classifier) => Size
  /** What stands at the right side of a class: ties to itself. */
  readonly roomBeside: (one: Classifier) => number
  readonly wordsOf: (tie: Tie) => Words
  readonly spacing: number
}

export function settingOf(
  shown: Shown,
  sizeOf: (one: Classifier) => Size,
  roomBeside: (one: Classifier) => number,
  wordsOf: (tie: Tie) => Words,
  spacing: number,
): Setting {
  const { classes, packages } = shown
  const homes = lanesOf(classes, packages)
  const used = new Set(classes.map((one) => one.package))
  const inner = new Set(packages.map(({ parent }) => parent))
  const here = new Set<Package | undefined>(packages)
  const laneAt = new Map(homes.map((home, lane) => [home, lane]))
  return {
    shown,
    homes,
    empty: homes.flatMap((home, lane) => (home && !used.has(home) && !inner.has(home) ? [lane] : [])),
    homeOf: (one) => laneAt.get(here.has(one.package) ? one.package : undefined) ?? 0,
    sizeOf,
    roomBeside,
    wordsOf,
    spacing,
  }
}

/** What is decided before any way is looked for. */
export interface Plan {
  readonly drawn: readonly Tie[]
  /** Of every class, wide enough for its lines. */
  readonly sizes: readonly Size[]
  readonly shape: FlowShape
  readonly ahead: FlowOrder
  /** From the border of a class to where its lines may turn. */
  readonly stub: number
  readonly rows: number
}

/** Classes as a flowchart that runs down, whose lanes are the packages. Grows as the order of a flowchart does. */
export function planOf(setting: Setting, manner: Manner): Plan {
  const { shown, homes, empty, homeOf, sizeOf, roomBeside, wordsOf, spacing } = setting
  const perRow = Math.ceil(homes.length / manner.rows)
  const { classes, ties } = shown
  const phaseOf = (one: Classifier) => Math.floor(homeOf(one) / perRow)
  const index = new Map(classes.map((one, at) => [one, at]))
  const drawn = ties.filter(({ a, b }) => a !== b)
  const column =
    manner.columns === 'near'
      ? columnsFor(classes, drawn, phaseOf, manner.isBackwards)
      : ranked(classes, drawn, phaseOf, manner.isBackwards)
  const held = !manner.isHeld ? undefined : manner.columns === 'near' ? column : short(setting, phaseOf, column)
  const isAbove = (a: Classifier, b: Classifier) =>
    phaseOf(a) === phaseOf(b)
      ? nth(column, index.get(a) ?? 0) < nth(column, index.get(b) ?? 0)
      : phaseOf(a) < phaseOf(b)
  const joints = new Map<Classifier, number>()
  const edges = drawn.map((tie) => {
    const { a, b, sort } = tie
    const isDown = isAbove(a, b)
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
  const [below, above] = [new Float64Array(classes.length), new Float64Array(classes.length)]
  const joined = new Set<number>()
  for (const { from, to, beside, joins } of edges) {
    above[to] = nth(above, to) + roomFor(beside.in)
    if (joins === undefined || !joined.has(joins)) below[from] = nth(below, from) + roomFor(beside.out)
    if (joins !== undefined) joined.add(joins)
  }
  const sizes = classes.map((one, at): Size => {
    const { width, height } = sizeOf(one)
    return { width: Math.max(width, Math.ceil((Math.max(nth(below, at), nth(above, at)) + 20) / STRAIGHT)), height }
  })
  const stub = edges.some(({ beside }) => beside.out + beside.in > 0) ? STUB.worded : STUB.bare
  const shape: FlowShape = {
    nodes: [
      ...classes.map((one, at) => ({
        lane: homeOf(one) % perRow,
        phase: phaseOf(one),
        ...(held ? { column: nth(held, at) } : {}),
        halfU: nth(sizes, at).height / 2 + stub,
        halfV: nth(sizes, at).width / 2 + GAP + roomBeside(one),
        form: 'box' as const,
      })),
      ...empty.map((lane) => ({
        lane: lane % perRow,
        phase: Math.floor(lane / perRow),
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
  return { drawn, sizes, shape, ahead: flowOrder(shape), stub, rows: manner.rows }
}

/** Layers for classes in an order, so that ties within a phase are as short as they can be; none where there are too many. */
function short(
  { shown: { classes, ties } }: Setting,
  phaseOf: (one: Classifier) => number,
  rank: Int32Array,
): Int32Array | undefined {
  if (ties.length > MOST_THOROUGH) return undefined
  const index = new Map(classes.map((one, at) => [one, at]))
  return layersOf(
    classes.length,
    ties.flatMap(({ a, b }) => {
      const [one, other] = [index.get(a) ?? 0, index.get(b) ?? 0]
      if (a === b || phaseOf(a) !== phaseOf(b)) return []
      return [nth(rank, one) < nth(rank, other) ? { from: one, to: other } : { from: other, to: one }]
    }),
  )
}

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
