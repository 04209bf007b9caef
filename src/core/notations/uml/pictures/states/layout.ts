import { flowchart, type FlowShape, type Point } from '../../../../layout'
import { nth } from '../../../../graph'
import { join } from '../../../../model'
import { textWidth, wrap, type Box } from '../../../../scene'
import { commonRegion } from '../../states/runs'
import { ownersOf, type Machine, type Region, type Transition, type Vertex } from '../../states/structure'
import { BESIDE_SIZE, besideName, headOf, REGION_NAME, regionNameWidth, sidesOf, sizeOf, type Size } from './box'

/**
 * States within one another, laid out from the innermost region outwards: each is a flowchart of its own that runs down. A transition that leads
 * out of a composite state, or into one, meets the border of each region on its way, and runs between the border and the regions to where it is
 * met from outside.
 */

export const LABEL = { size: 10.5, line: 13, most: 150, lines: 4 } as const
/** Between the border of a composite state and its regions; and for every transition that crosses the border, a track. */
const RING = { least: 2, track: 7, most: 75 } as const
const ringFor = (tracks: number): number => Math.min(RING.most, RING.least + RING.track * tracks)
const BETWEEN = 14

export interface Laid {
  readonly boxes: ReadonlyMap<Vertex, Box>
  readonly ways: ReadonlyMap<Transition, readonly Point[]>
  readonly labels: ReadonlyMap<Transition, { readonly box: Box; readonly lines: readonly string[] }>
  readonly names: ReadonlyMap<Vertex, Box>
  /** The regions of each state that has several, or one with a name; under no state, those of the machine. */
  readonly regions: ReadonlyMap<
    Vertex | undefined,
    readonly {
      readonly region: Region
      readonly x: number
      readonly y: number
      readonly width: number
      readonly height: number
    }[]
  >
  readonly width: number
  readonly height: number
}

export const labelLines = ({ text }: Transition): readonly string[] =>
  text === '' ? [] : wrap(text, LABEL.most, LABEL.size, 'text400', LABEL.lines)

/** A region laid out by itself, everything counted from its corner. */
interface Area extends Size {
  readonly region: Region
  readonly spots: ReadonlyMap<Vertex, Point>
  readonly ways: ReadonlyMap<Transition, readonly Point[]>
  readonly labels: Laid['labels']
  readonly names: ReadonlyMap<Vertex, Box>
}

/** A state with what stands in it. */
interface Nest extends Size {
  readonly areas: readonly { readonly area: Area; readonly at: Point }[]
  /** What crosses its border: each has a track of its own inside. */
  readonly ins: readonly Transition[]
  readonly outs: readonly Transition[]
}

export function layOut(machine: Machine, spacing: number): Laid {
  const setting = settingOf(machine)
  const nests = new Map<Vertex, Nest>()
  const layRegion = (region: Region): Area => areaOf(region, setting, nestIn, spacing)
  const nestIn = (one: Vertex): Nest | undefined => {
    if (one.regions.length === 0 || one.form !== 'state') return undefined
    const known = nests.get(one)
    if (known) return known
    const made = nestOf(one, setting, one.regions.map(layRegion))
    nests.set(one, made)
    return made
  }
  const areas = machine.regions.map(layRegion)
  return put(setting, nests, areas)
}

/** What each region has to lay: transitions between its own, and those that cross its border. */
/** What leads into a region meets its border before all that stands in it, and what leads out after it. */
const PHASE = { in: 0, inside: 1, out: 2 } as const

interface Setting {
  readonly own: ReadonlyMap<
    Region,
    readonly { readonly transition: Transition; readonly from: Vertex; readonly to: Vertex }[]
  >
  readonly crossing: ReadonlyMap<
    Region,
    readonly { readonly transition: Transition; readonly inner: Vertex; readonly isOut: boolean }[]
  >
}

function settingOf(machine: Machine): Setting {
  const own = new Map<Region, { transition: Transition; from: Vertex; to: Vertex }[]>()
  const crossing = new Map<Region, { transition: Transition; inner: Vertex; isOut: boolean }[]>()
  const line = (one: Vertex) => [one, ...ownersOf(one)]
  for (const transition of machine.transitions) {
    const { source, target } = transition
    const scope = commonRegion([source, target])
    const [sources, targets] = [line(source), line(target)]
    const isTop = (one: Vertex) => one.region === scope
    const [from, to] = [sources.find(isTop), targets.find(isTop)]
    const outs = sources.slice(0, from ? sources.indexOf(from) : sources.length)
    const ins = targets.slice(0, to ? targets.indexOf(to) : targets.length)
    for (const inner of outs) join(crossing, inner.region, { transition, inner, isOut: true })
    for (const inner of ins) join(crossing, inner.region, { transition, inner, isOut: false })
    // Between a state and what stands in it the way ends at its border.
    if (scope && from && to && (from !== to || source === target)) join(own, scope, { transition, from, to })
  }
  return { own, crossing }
}

function areaOf(
  region: Region,
  { own, crossing }: Setting,
  nestIn: (one: Vertex) => Nest | undefined,
  spacing: number,
): Area {
  const { vertices } = region
  const sizes = vertices.map((one): Size => nestIn(one) ?? sizeOf(one))
  const index = new Map(vertices.map((one, at) => [one, at]))
  const inner = own.get(region) ?? []
  const ports = crossing.get(region) ?? []
  const carries = new Set(labelledHere(inner, ports, region))
  const lines = new Map([...carries].map((one) => [one, labelLines(one)]))
  const labelOf = (one: Transition): Pick<FlowShape['edges'][number], 'label'> => {
    const text = lines.get(one) ?? []
    return text.length === 0
      ? {}
      : {
          label: {
            u: text.length * LABEL.line,
            v: Math.ceil(Math.max(...text.map((each) => textWidth(each, LABEL.size, 'text400')))) + 4,
          },
        }
  }
  const nodes: FlowShape['nodes'][number][] = [
    ...vertices.map((one, at) => {
      const name = besideName(one)
      return {
        lane: 0,
        phase: PHASE.inside,
        halfU: nth(sizes, at).height / 2,
        halfV: nth(sizes, at).width / 2,
        form: sidesOf(one),
        ...(name === undefined ? {} : { name: { u: 14, v: Math.ceil(textWidth(name, BESIDE_SIZE, 'text400')) + 4 } }),
      }
    }),
    ...ports.map(({ isOut }) => ({
      lane: 0,
      phase: isOut ? PHASE.out : PHASE.in,
      halfU: 1,
      halfV: 1,
      form: 'box' as const,
    })),
  ]
  const edges: FlowShape['edges'][number][] = [
    ...inner.map(({ transition, from, to }) => ({
      from: index.get(from) ?? 0,
      to: index.get(to) ?? 0,
      sort: 'flow' as const,
      ...labelOf(transition),
    })),
    ...ports.map(({ transition, inner: one, isOut }, at) => {
      const [port, node] = [vertices.length + at, index.get(one) ?? 0]
      return {
        from: isOut ? node : port,
        to: isOut ? port : node,
        sort: 'flow' as const,
        ...labelOf(transition),
      }
    }),
  ]
  const places = flowchart({
    nodes,
    edges,
    lanes: [{ pool: 0, least: 40 }],
    isThorough: true,
    isCentred: true,
    mostLooked: 3_000_000,
    apart: 20,
    spacing,
  })
  const turned = ({ u, v }: { readonly u: number; readonly v: number }): Point => ({ x: v, y: u })
  const boxOf = (area: { u: number; v: number; du: number; dv: number }): Box => ({
    x: area.v,
    y: area.u,
    width: area.dv,
    height: area.du,
  })
  const top = region.entity ? REGION_NAME : 0
  const spots = new Map(
    vertices.map((one, at) => {
      const { x, y } = turned(nth(places.nodes, at))
      return [one, { x: x - nth(sizes, at).width / 2, y: y - nth(sizes, at).height / 2 + top }]
    }),
  )
  const height = places.length + top
  const all = [...inner.map(({ transition }) => transition), ...ports.map(({ transition }) => transition)]
  const ways = new Map<Transition, readonly Point[]>()
  const labels = new Map<Transition, { box: Box; lines: readonly string[] }>()
  const down = ({ x, y }: Point): Point => ({ x, y: y + top })
  all.forEach((transition, at) => {
    const way = (places.ways[at] ?? []).map(turned).map(down)
    const port = ports[at - inner.length]
    if (port && way.length > 0) {
      // It goes on to the very border of the region.
      const end = port.isOut ? way.at(-1) : way[0]
      const border: Point = { x: end?.x ?? 0, y: port.isOut ? height : 0 }
      ways.set(transition, port.isOut ? [...way, border] : [border, ...way])
    } else ways.set(transition, way)
    const label = places.labels[at]
    const text = lines.get(transition)
    if (label && text && text.length > 0)
      labels.set(transition, { box: { ...boxOf(label), y: label.u + top }, lines: text })
  })
  const names = new Map<Vertex, Box>()
  vertices.forEach((one, at) => {
    const name = places.names[at]
    if (name) names.set(one, { ...boxOf(name), y: name.u + top })
  })
  return {
    region,
    width: Math.max(places.breadth, regionNameWidth(region), 40),
    height: Math.max(height, 30),
    spots,
    ways,
    labels,
    names,
  }
}

/** Of the transitions that a region lays, those whose words stand here: by the innermost piece that is not cut, else where they begin. */
function labelledHere(
  inner: readonly { readonly transition: Transition }[],
  ports: readonly { readonly transition: Transition; readonly isOut: boolean }[],
  region: Region,
): Transition[] {
  const atBorder = ports.flatMap(({ transition, isOut }) => {
    const { source, target } = transition
    const scope = commonRegion([source, target])
    const hasPiece = scope !== undefined && outerEnds(transition, scope)
    if (hasPiece) return []
    // Where no piece of it lies between states side by side: where it begins, or where it ends if it begins at a border.
    const isHere = isOut ? source.region === region : target.region === region && within(target, source)
    return isHere ? [transition] : []
  })
  return [...inner.map(({ transition }) => transition), ...atBorder]
}

function outerEnds({ source, target }: Transition, scope: Region): boolean {
  const top = (one: Vertex) => [one, ...ownersOf(one)].find(({ region }) => region === scope)
  return top(source) !== top(target)
}
const within = (one: Vertex, outer: Vertex): boolean => ownersOf(one).includes(outer)

function nestOf(one: Vertex, { crossing }: Setting, areas: readonly Area[]): Nest {
  const all = areas.flatMap(({ region }) => crossing.get(region) ?? [])
  const tracks = (isOut: boolean) => [
    ...new Set(all.flatMap((each) => (each.isOut === isOut ? [each.transition] : []))),
  ]
  const [ins, outs] = [tracks(false), tracks(true)]
  const [top, bottom, side] = [ringFor(ins.length), ringFor(outs.length), ringFor(ins.length + outs.length)]
  const head = headOf(one)
  const inner = areas.reduce((sum, { width }) => sum + width, 0) + BETWEEN * Math.max(0, areas.length - 1)
  const width = Math.max(head.width, inner + 2 * side)
  const height = head.height + Math.max(...areas.map((area) => area.height)) + top + bottom
  let x = (width - inner) / 2
  const placed = areas.map((area) => {
    const at = { x, y: head.height + top }
    x += area.width + BETWEEN
    return { area, at }
  })
  return { width, height, areas: placed, ins, outs }
}

/** Everything from the corner of the picture. */
function put({ crossing }: Setting, nests: ReadonlyMap<Vertex, Nest>, areas: readonly Area[]): Laid {
  const boxes = new Map<Vertex, Box>()
  const pieces = new Map<Transition, Piece[]>()
  const labels = new Map<Transition, { box: Box; lines: readonly string[] }>()
  const names = new Map<Vertex, Box>()
  const regions = new Map<Vertex | undefined, Laid['regions'] extends ReadonlyMap<unknown, infer T> ? T : never>()
  const putArea = (area: Area, { x, y }: Point) => {
    const moved = <T extends Point>(one: T): T => ({ ...one, x: one.x + x, y: one.y + y })
    const { owner } = area.region
    const crossed = new Map((crossing.get(area.region) ?? []).map(({ transition, isOut }) => [transition, isOut]))
    for (const [one, way] of area.ways) {
      const isOut = crossed.get(one)
      const border = owner && isOut !== undefined ? { border: { owner, isOut } } : {}
      if (way.length > 0) join(pieces, one, { points: way.map(moved), ...border })
    }
    for (const [one, { box, lines }] of area.labels) labels.set(one, { box: moved(box), lines })
    for (const [one, box] of area.names) names.set(one, moved(box))
    for (const [one, spot] of area.spots) {
      const at = moved(spot)
      const nest = nests.get(one)
      const { width, height } = nest ?? sizeOf(one)
      boxes.set(one, { ...at, width, height })
      if (!nest) continue
      regions.set(
        one,
        nest.areas.map((inner) => ({
          region: inner.area.region,
          x: at.x + inner.at.x - (inner === nest.areas[0] ? 0 : BETWEEN / 2),
          y: at.y + headOf(one).height,
          width: inner.area.width,
          height: height - headOf(one).height,
        })),
      )
      for (const inner of nest.areas) putArea(inner.area, { x: at.x + inner.at.x, y: at.y + inner.at.y })
    }
  }
  let x = 0
  const tallest = Math.max(0, ...areas.map(({ height }) => height))
  const tops = areas.map((area) => {
    const at = { region: area.region, x: x - (x === 0 ? 0 : BETWEEN), y: 0, width: area.width, height: tallest }
    putArea(area, { x, y: 0 })
    x += area.width + 2 * BETWEEN
    return at
  })
  regions.set(undefined, tops)
  const ways = new Map<Transition, readonly Point[]>()
  for (const [one, list] of pieces) ways.set(one, joined(one, list, boxes, nests))
  return { boxes, ways, labels, names, regions, width: Math.max(60, x - 2 * BETWEEN), height: Math.max(40, tallest) }
}

/** A piece of a way: in the region that it leads out of or into, or in that in which it leads from one state to another. */
interface Piece {
  readonly points: readonly Point[]
  /** The state whose border it meets, and whether it leads out there. */
  readonly border?: { readonly owner: Vertex; readonly isOut: boolean }
}

/** The pieces of a way from its beginning to its end, joined along the inside of each border that it crosses. */
function joined(
  transition: Transition,
  pieces: readonly Piece[],
  boxes: ReadonlyMap<Vertex, Box>,
  nests: ReadonlyMap<Vertex, Nest>,
): readonly Point[] {
  const depth = ({ border }: Piece) => (border ? ownersOf(border.owner).length : 0)
  const outs = pieces.filter(({ border }) => border?.isOut === true).sort((a, b) => depth(b) - depth(a))
  const ins = pieces.filter(({ border }) => border?.isOut === false).sort((a, b) => depth(a) - depth(b))
  const chain = [...outs, ...pieces.filter(({ border }) => !border), ...ins]
  const way: Point[] = []
  chain.forEach((piece, at) => {
    const [first] = piece.points
    const before = chain[at - 1]
    const end = before?.points.at(-1)
    const owner = before?.border?.isOut === true ? before.border.owner : piece.border?.owner
    const [box, nest] = owner ? [boxes.get(owner), nests.get(owner)] : []
    if (first && box && nest && owner) {
      if (end) way.push(...alongRing(box, headOf(owner).height, tracksOf(nest, transition), end, first))
      // From a state to what stands in it, it begins at the border.
      else if (piece.border?.isOut === false) way.push({ x: first.x, y: box.y })
    }
    way.push(...piece.points)
  })
  const last = chain.at(-1)
  const [end, box] = [last?.points.at(-1), last?.border?.isOut === true ? boxes.get(last.border.owner) : undefined]
  if (end && box) way.push({ x: end.x, y: box.y + box.height })
  return straight(way)
}

interface Tracks {
  readonly top: number
  readonly bottom: number
  readonly side: number
}

/** How far inside a border a transition runs. */
function tracksOf({ ins, outs }: Nest, transition: Transition): Tracks {
  const track = (at: number) => Math.min(RING.most - 4, 5 + RING.track * Math.max(0, at))
  const [into, out] = [ins.indexOf(transition), outs.indexOf(transition)]
  return { top: track(into), bottom: track(out), side: track(out >= 0 ? out : outs.length + into) }
}

const isSame = (a: Point | undefined, b: Point): boolean =>
  a !== undefined && Math.abs(a.x - b.x) < 0.01 && Math.abs(a.y - b.y) < 0.01

/** Points between two places at the border of a box, or at that of the regions within, on a track inside the border. */
function alongRing({ x, y, width, height }: Box, head: number, tracks: Tracks, from: Point, to: Point): Point[] {
  const [left, right] = [x + tracks.side, x + width - tracks.side]
  const [top, bottom] = [y + head + tracks.top, y + height - tracks.bottom]
  const sideOf = (point: Point): 'left' | 'right' | 'top' | 'bottom' =>
    Math.abs(point.x - x) < 0.5
      ? 'left'
      : Math.abs(point.x - x - width) < 0.5
        ? 'right'
        : point.y < y + height / 2
          ? 'top'
          : 'bottom'
  const onTrack = (point: Point): Point => {
    const side = sideOf(point)
    if (side === 'left') return { x: left, y: clamp(point.y, top, bottom) }
    if (side === 'right') return { x: right, y: clamp(point.y, top, bottom) }
    return { x: clamp(point.x, left, right), y: side === 'top' ? top : bottom }
  }
  const [a, b] = [onTrack(from), onTrack(to)]
  const [sa, sb] = [sideOf(from), sideOf(to)]
  if (sa === sb) return [a, b]
  const corner = (one: string, other: string): Point => ({
    x: one === 'left' || other === 'left' ? left : right,
    y: one === 'top' || other === 'top' ? top : bottom,
  })
  const isAcross = (one: string, other: string) =>
    (one === 'top' && other === 'bottom') ||
    (one === 'bottom' && other === 'top') ||
    (one === 'left' && other === 'right') ||
    (one === 'right' && other === 'left')
  if (!isAcross(sa, sb)) return [a, corner(sa, sb), b]
  if (sa === 'left' || sa === 'right') {
    // Round beneath.
    return [a, corner(sa, 'bottom'), corner(sb, 'bottom'), b]
  }
  const by = a.x + b.x < left + right ? 'left' : 'right'
  return [a, corner(sa, by), corner(sb, by), b]
}

const clamp = (value: number, least: number, most: number): number => Math.min(most, Math.max(least, value))

/** A way without places that lie on a straight piece, or twice in one place. */
function straight(way: readonly Point[]): readonly Point[] {
  const found: Point[] = []
  for (const point of way) {
    if (isSame(found.at(-1), point)) continue
    const [before, last] = [found.at(-2), found.at(-1)]
    const isOn =
      before &&
      last &&
      ((Math.abs(before.x - last.x) < 0.01 && Math.abs(last.x - point.x) < 0.01) ||
        (Math.abs(before.y - last.y) < 0.01 && Math.abs(last.y - point.y) < 0.01))
    if (isOn) found.pop()
    found.push(point)
  }
  return found
}
