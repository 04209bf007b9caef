import { nth, Heap } from '../graph'

export interface Point {
  readonly x: number
  readonly y: number
}

export interface Obstacle {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

/** A bend costs as much as this many px of way: few bends are worth a detour. */
const BEND = 40
const MOST_OBSTACLES = 300

/**
 * The cheapest right-angled way from one of `starts` to one of `ends` that keeps `clearance` px from every obstacle, by length
 * and bends: a shortest path on the grid of the lines beside the obstacles (Dijkstra 1959). Starts and ends lie outside the
 * clearance of all obstacles. Undefined where there is no way, or where there are more than 300 obstacles.
 * O(obstacles² log obstacles) for the grid, times the obstacles for what blocks it.
 */
export function rightAngledWay(
  starts: readonly Point[],
  ends: readonly Point[],
  obstacles: readonly Obstacle[],
  clearance: number,
): Point[] | undefined {
  if (obstacles.length > MOST_OBSTACLES) return undefined
  const terminals = [...starts, ...ends]
  const xs = lines([
    ...terminals.map(({ x }) => x),
    ...obstacles.flatMap(({ x, width }) => [x - clearance, x + width + clearance]),
  ])
  const ys = lines([
    ...terminals.map(({ y }) => y),
    ...obstacles.flatMap(({ y, height }) => [y - clearance, y + height + clearance]),
  ])
  const grid = new Grid(xs, ys, obstacles, clearance)
  const goals = new Set(ends.map((point) => grid.at(point)))
  const heap = new Heap<number>()
  const cost = new Map<number, number>()
  const from = new Map<number, number>()
  // A state is a grid point and the direction it was reached in: 0 across, 1 down or up.
  const reach = (state: number, price: number, before: number) => {
    if (price >= (cost.get(state) ?? Infinity)) return
    cost.set(state, price)
    from.set(state, before)
    heap.push(state, price)
  }
  for (const start of starts)
    for (const direction of [0, 1]) reach(2 * grid.at(start) + direction, direction === 0 ? 0 : BEND, -1)
  const settled = new Set<number>()
  for (let state = heap.pop(); state !== undefined; state = heap.pop()) {
    if (settled.has(state)) continue
    settled.add(state)
    const node = state >> 1
    const direction = state & 1
    if (goals.has(node) && direction === 0) return corners(traced(state, from).map((one) => grid.point(one >> 1)))
    const price = cost.get(state) ?? 0
    reach(2 * node + (1 - direction), price + BEND, state)
    for (const step of [-1, 1] as const) {
      const next = grid.step(node, direction, step)
      if (next >= 0) reach(2 * next + direction, price + grid.distance(node, next), state)
    }
  }
  return undefined
}

class Grid {
  readonly #open = new Map<number, boolean>()
  readonly #columns: number

  constructor(
    private readonly xs: readonly number[],
    private readonly ys: readonly number[],
    private readonly obstacles: readonly Obstacle[],
    private readonly clearance: number,
  ) {
    this.#columns = xs.length
  }

  at({ x, y }: Point): number {
    return this.ys.indexOf(y) * this.#columns + this.xs.indexOf(x)
  }

  point(node: number): Point {
    return { x: nth(this.xs, node % this.#columns), y: nth(this.ys, Math.floor(node / this.#columns)) }
  }

  distance(a: number, b: number): number {
    const [p, q] = [this.point(a), this.point(b)]
    return Math.abs(p.x - q.x) + Math.abs(p.y - q.y)
  }

  /** The neighbour that way, or −1 where the grid ends or an obstacle stands between. */
  step(node: number, direction: number, by: -1 | 1): number {
    const column = node % this.#columns
    if (direction === 0 && (column + by < 0 || column + by >= this.#columns)) return -1
    const next = direction === 0 ? node + by : node + by * this.#columns
    if (next < 0 || next >= this.#columns * this.ys.length) return -1
    const key = 2 * Math.min(node, next) + direction
    const open = this.#open.get(key) ?? this.#isOpen(this.point(node), this.point(next))
    this.#open.set(key, open)
    return open ? next : -1
  }

  #isOpen(a: Point, b: Point): boolean {
    const c = this.clearance - 0.5
    const [left, right] = [Math.min(a.x, b.x), Math.max(a.x, b.x)]
    const [top, bottom] = [Math.min(a.y, b.y), Math.max(a.y, b.y)]
    return !this.obstacles.some(
      ({ x, y, width, height }) => right > x - c && left < x + width + c && bottom > y - c && top < y + height + c,
    )
  }
}

const lines = (values: readonly number[]): number[] => [...new Set(values)].sort((a, b) => a - b)

function traced(end: number, from: ReadonlyMap<number, number>): number[] {
  const states: number[] = []
  for (let state = end; state >= 0; state = from.get(state) ?? -1) states.push(state)
  return states.reverse()
}

/** Only the points where the way turns, with both its ends. A turn on the spot gives one point twice. */
function corners(points: readonly Point[]): Point[] {
  const distinct = points.filter((point, i) => point.x !== points[i - 1]?.x || point.y !== points[i - 1]?.y)
  return distinct.filter((point, i) => {
    const [before, after] = [distinct[i - 1], distinct[i + 1]]
    if (!before || !after) return true
    const straight = (before.x === point.x && point.x === after.x) || (before.y === point.y && point.y === after.y)
    return !straight
  })
}
