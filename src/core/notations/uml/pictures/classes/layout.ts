import { nth } from '../../../../graph'
import { compacted, crossingsIn, flowchart, type Point } from '../../../../layout'
import type { Classifier, Package, Shown, Tie } from '../../structure'
import { bounding, FRAME, framesOf, type Area, type Size } from './frames'
import { GAP, planOf, settingOf, TRACK, type Manner, type Plan, type Setting, type Words } from './plan'

export interface Laid {
  readonly classes: ReadonlyMap<Classifier, Area>
  /** From the tie’s first class to its second, from border to border. */
  readonly ways: ReadonlyMap<Tie, readonly Point[]>
  readonly frames: ReadonlyMap<Package, Area>
  readonly width: number
  readonly height: number
}

const MANNERS: readonly Omit<Manner, 'rows'>[] = [
  { columns: 'in turn', isHeld: true, isBackwards: false },
  { columns: 'near', isHeld: true, isBackwards: false },
  { columns: 'near', isHeld: false, isBackwards: false },
  { columns: 'near', isHeld: true, isBackwards: true },
]
/** As a share of that of flowcharts: what is written beside lines keeps them apart already. */
export const USUAL_SPACING = 0.8
/** So many classes and ties are planned in all before the first manner is laid out. */
const MOST_PLANNED = 1000
/** Of those planned, how many are laid out, where there are no more ties than these. */
const LAID = { most: 2, ties: 120 } as const

/**
 * Classes from the general to the special, each package by itself; ties that make something special are joined where they lead to the same.
 * Planned in several manners, and laid out in those of which the order within columns foretells the fewest crossings; taken is the one that
 * crosses least for the room that it takes. Grows as the flowchart does.
 */
export function layOut(
  shown: Shown,
  sizeOf: (one: Classifier) => Size,
  roomBeside: (one: Classifier) => number,
  wordsOf: (tie: Tie) => Words,
  spacing: number,
): Laid {
  // The manner is that of the usual spacing: others set the same wider or tighter.
  const setting = settingOf(shown, sizeOf, roomBeside, wordsOf, USUAL_SPACING)
  const isSmall = shown.ties.length <= LAID.ties
  const all = rowsFor(setting)
  const rows = isSmall ? all : all.slice(-1)
  const count = Math.max(1, Math.floor(MOST_PLANNED / (shown.classes.length + shown.ties.length + 1) / rows.length))
  const tried = rows.flatMap((each) => {
    const plans = MANNERS.slice(0, count).map((manner) => planOf(setting, { ...manner, rows: each }))
    plans.sort((a, b) => a.ahead.order.crossings - b.ahead.order.crossings)
    return plans.slice(0, isSmall ? LAID.most : 1).map((plan) => {
      const laid = placed(setting, plan)
      return { plan, laid, cost: costOf(laid) }
    })
  })
  const [first, ...others] = tried
  if (!first) throw new RangeError('no manner')
  const best = others.reduce((least, next) => (next.cost < least.cost ? next : least), first)
  const laid = spacing === setting.spacing ? best.laid : placed({ ...setting, spacing }, best.plan)
  return closer({ ...setting, spacing }, best.plan, laid)
}

/** Into how many rows packages may go: one, or as many as make it about as broad as a screen; those within others stay beside them. */
function rowsFor({ homes, shown: { packages } }: Setting): readonly number[] {
  const isNested = packages.some(({ parent }) => parent && homes.includes(parent))
  const most = Math.round(Math.sqrt(homes.length / 1.2))
  return isNested || most < 2 ? [1] : [1, most]
}

/** A screen, in px: a picture that is shown whole is as small as the longer of its sides asks for. */
const SCREEN = { width: 1000, height: 600 } as const
/** So many crossings weigh as much as twice the room. */
const FEW = 6

function costOf({ ways, width, height }: Laid): number {
  return (crossingsIn([...ways.values()]) + FEW) * Math.max(width / SCREEN.width, height / SCREEN.height)
}

function placed(
  { shown: { classes, packages }, homes, empty, spacing }: Setting,
  { drawn, sizes, shape, ahead }: Plan,
): Laid {
  const { edges } = shape
  const index = new Map(classes.map((one, at) => [one, at]))
  const places = flowchart({ ...shape, spacing }, ahead)
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
    const at = empty.indexOf(homes.indexOf(home))
    if (at < 0) return undefined
    const { u, v } = nth(places.nodes, classes.length + at)
    return { x: v - 60, y: u - 20, width: 120, height: 40 }
  })
  return moved({ classes: laid, ways, frames })
}

/** A picture whose classes stand as near to what they are tied to as there is room: packages side by side keep their places, those in rows stay as they are. */
function closer(setting: Setting, { stub, rows }: Plan, laid: Laid): Laid {
  const { shown, homes, empty, spacing } = setting
  if (rows > 1 || laid.ways.size === 0) return laid
  const { classes, packages } = shown
  const index = new Map(classes.map((one, at) => [one, at]))
  const areas = classes.map((one) => laid.classes.get(one) ?? { x: 0, y: 0, width: 0, height: 0 })
  const ties = [...laid.ways.keys()]
  const runsDown = (way: readonly Point[]) => (way[0]?.y ?? 0) < (way.at(-1)?.y ?? 0)
  const down = [...laid.ways.values()].map(runsDown)
  const { boxes, ways } = compacted(
    areas.map((area, at) => ({ ...area, width: area.width + setting.roomBeside(nth(classes, at)) })),
    [...laid.ways].map(([{ a, b }, way]) => {
      const [from, to] = runsDown(way) ? [a, b] : [b, a]
      return {
        from: index.get(from) ?? 0,
        to: index.get(to) ?? 0,
        way: runsDown(way) ? way : way.toReversed(),
      }
    }),
    {
      lines: TRACK * (spacing / USUAL_SPACING),
      beside: GAP * (spacing / USUAL_SPACING),
      // Lines turn outside of the tabs of packages.
      stub: homes.length > 1 ? Math.max(stub, FRAME.pad + FRAME.tab + TRACK) : stub,
    },
    homes.length > 1 ? ['y'] : ['y', 'x'],
  )
  const nearer = new Map(
    classes.map((one, at) => [one, { ...nth(areas, at), x: nth(boxes, at).x, y: nth(boxes, at).y }] as const),
  )
  return moved({
    classes: nearer,
    ways: new Map(
      ties.map((tie, at) => {
        const way = straightened(nth(ways, at))
        return [tie, nth(down, at) ? way : way.toReversed()]
      }),
    ),
    frames: framesOf(packages, nearer, (home) =>
      empty.includes(homes.indexOf(home)) ? laid.frames.get(home) : undefined,
    ),
  })
}

/** Places of a way that lie on a straight piece are no turns. */
const straightened = (way: readonly Point[]): Point[] =>
  way.filter((point, at) => {
    const [before, after] = [way[at - 1], way[at + 1]]
    if (!before || !after) return true
    return !(Math.abs(before.x - point.x) < 0.01 && Math.abs(after.x - point.x) < 0.01)
  })

/** Everything moved so that it begins at 0, tabs included. */
function moved({ classes, ways, frames }: Omit<Laid, 'width' | 'height'>): Laid {
  const areas = [
    ...classes.values(),
    ...[...frames.values()].map((area) => ({ ...area, y: area.y - FRAME.tab, height: area.height + FRAME.tab })),
  ]
  const all = bounding(areas.length > 0 ? areas : [{ x: 0, y: 0, width: 1, height: 1 }])
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
