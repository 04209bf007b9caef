import { nth } from '../graph'
import type { Point } from './rightAngled'

/** A box of a drawing, with its upper left corner. */
export interface CompactBox {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

/** A right-angled line from the lower border of a box to the upper one of another. */
export interface CompactLine {
  readonly from: number
  readonly to: number
  readonly way: readonly Point[]
}

/** How near things may come, in px. */
export interface Clearance {
  /** Two lines side by side. */
  readonly lines: number
  /** A line beside a box. */
  readonly beside: number
  /** Above and beneath a box until its lines turn. */
  readonly stub: number
}

export interface Compacted {
  readonly boxes: readonly CompactBox[]
  readonly ways: readonly (readonly Point[])[]
}

/** How often each axis has its turn, and within it how often everything is packed and goes to what it is tied to: less where there are many lines. */
const FEW = { lines: 200, rounds: 3, packing: 4, sweeps: 4 } as const
const MANY = { rounds: 1, packing: 2, sweeps: 2 } as const
/** So many parts move together at most. */
const MOST_MOVED = 400
/** Places that differ by less are one. */
const SAME = 0.01

/**
 * A drawing whose parts are moved towards what they are tied to, so that lines grow shorter: what stands before something along one of its lines of
 * sight stays before it, with room between, so that nothing comes to lie on anything else and lines cross as they did (one-dimensional compaction
 * by visibility, Lengauer 1990, chapter 10; each part goes to the median of what it is tied to). Grows as parts and what they see.
 */
export function compacted(
  boxes: readonly CompactBox[],
  lines: readonly CompactLine[],
  clearance: Clearance,
  axes: readonly ('x' | 'y')[] = ['y', 'x'],
): Compacted {
  let drawing: Compacted = { boxes, ways: lines.map(({ way }) => way) }
  const { rounds } = lines.length > FEW.lines ? MANY : FEW
  for (let round = 0; round < rounds; round++) for (const axis of axes) drawing = along(axis, drawing, lines, clearance)
  return drawing
}

/** A part of the drawing along one axis: a box, or a piece of a line across it. */
interface Part {
  readonly group: number
  /** Along the axis. */
  readonly low: number
  readonly high: number
  /** Across it. */
  readonly from: number
  readonly to: number
  readonly isBox: boolean
  /** The line whose piece it is. */
  readonly line?: number
}

/** A piece along the axis between two groups, at these places. */
interface Spring {
  readonly a: number
  readonly b: number
  readonly at: number
  readonly bt: number
}

interface Edge {
  readonly group: number
  readonly other: number
  /** How much further the one may go towards the other. */
  readonly room: number
}

function along(
  axis: 'x' | 'y',
  { boxes, ways }: Compacted,
  lines: readonly CompactLine[],
  clearance: Clearance,
): Compacted {
  const other = axis === 'x' ? 'y' : 'x'
  const groups = new Groups(boxes.length)
  const parts: Part[] = []
  const springs: Spring[] = []
  const stub = clearance.stub - clearance.lines
  boxes.forEach(({ x, y, width, height }, at) =>
    parts.push(
      axis === 'x'
        ? { group: at, low: x, high: x + width, from: y - stub, to: y + height + stub, isBox: true }
        : {
            group: at,
            low: y,
            high: y + height,
            from: x - clearance.beside / 2,
            to: x + width + clearance.beside / 2,
            isBox: true,
          },
    ),
  )
  // Every point of a line moves with what it hangs on: its ends with their boxes, others with the piece across the axis that they stand in.
  const memberOf = ways.map((way, line) => {
    const { from, to } = nth(lines, line)
    return way.map((_, at) => (at === 0 ? from : at === way.length - 1 ? to : groups.add()))
  })
  ways.forEach((way, line) => {
    const members = nth(memberOf, line)
    // A piece across the axis has both its ends in one group.
    for (let at = 1; at < way.length; at++) {
      const [p, q] = [nth(way, at - 1), nth(way, at)]
      if (Math.abs(p[axis] - q[axis]) < SAME) {
        groups.join(nth(members, at - 1), nth(members, at))
        const [from, to] = [Math.min(p[other], q[other]), Math.max(p[other], q[other])]
        parts.push({ group: nth(members, at), low: p[axis], high: p[axis], from, to, isBox: false, line })
      } else springs.push({ a: nth(members, at - 1), b: nth(members, at), at: p[axis], bt: q[axis] })
    }
  })
  joinOverlapping(parts, groups)
  const count = groups.count
  const moves = new Float64Array(count)
  const { before, after } = edgesOf(parts, groups, axis, clearance)
  const tied: { readonly other: number; readonly gap: number }[][] = Array.from({ length: count }, () => [])
  for (const { a, b, at, bt } of springs) {
    const [one, two] = [groups.of(a), groups.of(b)]
    if (one === two) continue
    nth(tied, one).push({ other: two, gap: bt - at })
    nth(tied, two).push({ other: one, gap: at - bt })
  }
  const order = [
    ...new Set(parts.toSorted((p, q) => p.low + p.high - q.low - q.high).map(({ group }) => groups.of(group))),
  ]
  const slack = (group: number): [number, number] => {
    let [low, high] = [-Infinity, Infinity]
    for (const { other: near, room } of nth(before, group)) low = Math.max(low, nth(moves, near) - room)
    for (const { other: near, room } of nth(after, group)) high = Math.min(high, nth(moves, near) + room)
    return [low, high]
  }
  // Everything goes to one side first, so that no room is left between; then each part, with all that stands in its way, to what it is tied to.
  const { packing, sweeps } = lines.length > FEW.lines ? MANY : FEW
  for (let sweep = 0; sweep < packing; sweep++)
    for (const group of order) {
      const [low] = slack(group)
      if (low !== -Infinity) moves[group] = low
    }
  const inSet = new Int32Array(count)
  let mark = 0
  for (let sweep = 0; sweep < sweeps; sweep++) {
    let isBetter = false
    for (const group of sweep % 2 === 0 ? order : order.toReversed())
      for (const towards of [-1, 1] as const) while (shifted(group, towards)) isBetter = true
    if (!isBetter) break
  }

  /** Moves a group, and all that it would push, as far as that makes lines shorter. */
  function shifted(group: number, towards: -1 | 1): boolean {
    if (pull(group, towards) <= 0) return false
    mark++
    const set = [group]
    inSet[group] = mark
    let gain = 0
    let step = Infinity
    for (const one of set) {
      if (set.length > MOST_MOVED) return false
      for (const { other: near, room } of nth(towards > 0 ? after : before, one)) {
        const left = room - towards * (nth(moves, one) - nth(moves, near))
        if (left < SAME && inSet[near] !== mark) {
          inSet[near] = mark
          set.push(near)
        }
      }
    }
    for (const one of set) {
      for (const { other: near, room } of nth(towards > 0 ? after : before, one))
        if (inSet[near] !== mark) step = Math.min(step, room - towards * (nth(moves, one) - nth(moves, near)))
      for (const { other: near, gap } of nth(tied, one)) {
        if (inSet[near] === mark) continue
        const far = towards * (nth(moves, near) + gap - nth(moves, one))
        if (far > SAME) {
          gain++
          step = Math.min(step, far)
        } else gain--
      }
    }
    if (gain <= 0 || step === Infinity || step < SAME) return false
    for (const one of set) moves[one] = nth(moves, one) + towards * step
    return true
  }
  /** How many more of its lines grow shorter than longer. */
  function pull(group: number, towards: -1 | 1): number {
    return nth(tied, group).reduce(
      (sum, { other: near, gap }) => sum + (towards * (nth(moves, near) + gap - nth(moves, group)) > SAME ? 1 : -1),
      0,
    )
  }
  const moveOf = (group: number) => nth(moves, groups.of(group))
  return {
    boxes: boxes.map((box, at) => ({ ...box, [axis]: box[axis] + moveOf(at) })),
    ways: ways.map((way, line) =>
      way.map((point, at) => ({ ...point, [axis]: point[axis] + moveOf(nth(nth(memberOf, line), at)) })),
    ),
  }
}

/** Pieces that lie on one another are lines that run as one: they stay so. */
function joinOverlapping(parts: readonly Part[], groups: Groups): void {
  const pieces = parts.filter(({ isBox }) => !isBox).toSorted((p, q) => p.low - q.low || p.from - q.from)
  let last: Part | undefined
  let end = -Infinity
  for (const piece of pieces) {
    const isOn = last !== undefined && Math.abs(piece.low - last.low) < SAME && piece.from <= end + SAME
    if (isOn && last) groups.join(piece.group, last.group)
    end = isOn ? Math.max(end, piece.to) : piece.to
    last = piece
  }
}

/** What each group sees before and after it, and how much room there is between. */
function edgesOf(parts: readonly Part[], groups: Groups, axis: 'x' | 'y', { lines, beside, stub }: Clearance) {
  const before: Edge[][] = Array.from({ length: groups.count }, () => [])
  const after: Edge[][] = Array.from({ length: groups.count }, () => [])
  const toBox = axis === 'x' ? beside : stub
  const gapOf = (p: Part, q: Part): number => {
    if (p.isBox && q.isBox) return 2 * toBox
    if (p.isBox || q.isBox) return toBox
    // Two pieces of one line may come to lie straight.
    return p.line === q.line ? 0 : lines
  }
  let seen: { from: number; to: number; part: Part }[] = []
  for (const part of parts.toSorted((p, q) => p.low - q.low || p.high - q.high)) {
    // Lines side by side keep their distance where one ends, too.
    const reach = part.isBox ? 0 : lines / 2
    const [from, to] = [part.from - reach, part.to + reach]
    const met = new Set<Part>()
    const rest: typeof seen = []
    // Where another one reaches further, as a box does beside its own lines, that one is still what is seen.
    const hidden: { from: number; to: number }[] = []
    for (const piece of seen) {
      if (piece.to <= from || piece.from >= to) {
        rest.push(piece)
        continue
      }
      met.add(piece.part)
      if (piece.part.high > part.high) {
        rest.push(piece)
        hidden.push(piece)
        continue
      }
      if (piece.from < from) rest.push({ ...piece, to: from })
      if (piece.to > to) rest.push({ ...piece, from: to })
    }
    let at = from
    for (const piece of hidden.sort((p, q) => p.from - q.from)) {
      if (piece.from > at) rest.push({ from: at, to: piece.from, part })
      at = Math.max(at, piece.to)
    }
    if (at < to) rest.push({ from: at, to, part })
    seen = rest
    for (const one of met) {
      const [p, q] = [groups.of(one.group), groups.of(part.group)]
      if (p === q) continue
      const room = Math.max(0, part.low - one.high - gapOf(one, part))
      nth(before, q).push({ group: q, other: p, room })
      nth(after, p).push({ group: p, other: q, room })
    }
  }
  return { before, after }
}

/** Parts that move as one. */
class Groups {
  readonly #above: number[] = []

  constructor(count: number) {
    for (let at = 0; at < count; at++) this.#above.push(at)
  }

  get count(): number {
    return this.#above.length
  }

  add(): number {
    this.#above.push(this.#above.length)
    return this.#above.length - 1
  }

  of(group: number): number {
    let at = group
    while (nth(this.#above, at) !== at) at = nth(this.#above, at)
    return at
  }

  join(one: number, other: number): void {
    this.#above[this.of(one)] = this.of(other)
  }
}
