import { longestPiece, middleOfWay } from '../../../../layout'
import { kit, type Mark, type Paint, type Point, type Role } from '../../../../scene'
import type { CableWay } from './boxes'

export interface CableLook {
  /** In Mbit/s. */
  readonly capacity: number | undefined
  readonly state: 'up' | 'down' | 'cut off'
  readonly isOver: boolean
  /** Whether something flows to its second end, or to its first. */
  readonly onward: boolean
  readonly back: boolean
  /** Names of its ports, at its first and its second end. */
  readonly ports: readonly [string, string] | undefined
  /** The way beside whose ends those stand, where it is another one. */
  readonly named?: CableWay
  /** Whether it is on a way that the view asks for. */
  readonly way: 'shortest' | 'other' | undefined
  /** Whether it belongs to the least cut between two devices. */
  readonly isCut: boolean
}

/** Line weights by speed: from so many Mbit/s on. */
export const WEIGHTS: readonly (readonly [from: number, width: number, words: string])[] = [
  [10_000, 3, '10G and more'],
  [1000, 2, '1G and more'],
  [100, 1.4, '100M and more'],
  [0, 1, 'slower, or not stated'],
]
export const weightOf = (capacity: number | undefined): number =>
  WEIGHTS.find(([from]) => (capacity ?? 0) >= from)?.[1] ?? 1

const HEAD = { length: 9, half: 4.5 } as const
const NAME = 9.5

/** A cable with the ends that flows give it and the names of its ports. What it shares with others is drawn while it is up. */
export function cableMarks({ shared, own }: CableWay, look: CableLook): Mark[] {
  const isDown = look.state === 'down'
  const way = isDown ? own : [...shared, ...own.slice(shared.length > 0 ? 1 : 0)]
  const [first, second] = [way[0], way[1]]
  const [last, before] = [way.at(-1), way.at(-2)]
  if (!first || !second || !last || !before) return []
  const width = weightOf(look.capacity)
  const stroke: Role = isDown || look.isOver ? 'error' : look.way === undefined ? 'line' : 'action'
  const line = (paint: Omit<Paint, 'fill'>): Mark => kit.path(kit.way(way), { fill: 'none', ...paint })
  const marks: Mark[] = []
  if (look.way !== undefined)
    marks.push(line({ stroke: 'wash', 'stroke-width': width + 9, 'stroke-linejoin': 'round' }))
  marks.push(
    line({
      stroke,
      'stroke-width': look.way === 'shortest' ? Math.max(2.6, width) : width,
      ...(isDown ? { 'stroke-dasharray': '2 4' } : look.way === 'other' ? { 'stroke-dasharray': '9 4' } : {}),
    }),
  )
  // What is over its capacity has a light core, so that it reads in grey.
  if (look.isOver && !isDown) marks.push(line({ stroke: 'sheet', 'stroke-width': Math.max(0.8, width - 1.4) }))
  if (look.isCut) marks.push(...crossed(own))
  if (!isDown) {
    if (look.onward) marks.push(tip(last, before, 'ink'))
    if (look.back) marks.push(tip(first, second, 'ink'))
  }
  if (look.ports) {
    const { own: beside, shared: rail } = look.named ?? { own, shared }
    const [begin, next] = [beside[0], beside[1]]
    const [end, previous] = [beside.at(-1), beside.at(-2)]
    // On a rail the port of the hub is named where the cable leaves what it shares.
    if (begin && next) marks.push(nameMark(look.ports[0], begin, next, rail.length === 0 && look.back && !isDown))
    if (end && previous) marks.push(nameMark(look.ports[1], end, previous, look.onward && !isDown))
  }
  return look.state === 'cut off' ? [kit.group(marks, { opacity: 0.42 })] : marks
}

/** A head at the end of a line, whatever its direction. */
export function tip(at: Point, from: Point, fill: Role): Mark {
  const length = Math.hypot(at.x - from.x, at.y - from.y) || 1
  const [dx, dy] = [(at.x - from.x) / length, (at.y - from.y) / length]
  const [x, y] = [at.x - dx * HEAD.length, at.y - dy * HEAD.length]
  const point = (px: number, py: number) => `${round(px)} ${round(py)}`
  return kit.path(
    `M${point(at.x, at.y)}L${point(x - dy * HEAD.half, y + dx * HEAD.half)}L${point(x + dy * HEAD.half, y - dx * HEAD.half)}Z`,
    { fill, stroke: 'none' },
  )
}

const round = (value: number): number => Math.round(value * 100) / 100

/** The name of a port, just above its end of the line, or to the right of one that comes from above or below. */
function nameMark(name: string, end: Point, next: Point, isTipped: boolean): Mark {
  const [dx, dy] = [next.x - end.x, next.y - end.y]
  const words = name.length > 8 ? `${name.slice(0, 7)}…` : name
  const paint = { fill: 'ink-quiet', 'font-family': 'mono', 'font-size': NAME } as const
  const off = isTipped ? HEAD.length + 1 : 3
  if (Math.abs(dx) >= Math.abs(dy))
    return kit.text(end.x + Math.sign(dx) * off, end.y - 3, words, {
      ...paint,
      'text-anchor': dx > 0 ? 'start' : 'end',
    })
  return kit.text(end.x + 5, end.y + (dy > 0 ? 9 : -3), words, paint)
}

/** Two strokes across the middle of a line: it belongs to what separates two devices. */
function crossed(way: readonly Point[]): Mark[] {
  const best = longestPiece(way)
  const middle = middleOfWay(way)
  if (!best || !middle) return []
  const [a, b] = best
  const length = Math.hypot(b.x - a.x, b.y - a.y) || 1
  const [dx, dy] = [(b.x - a.x) / length, (b.y - a.y) / length]
  const { x, y } = middle
  const stroke = (along: number) =>
    `M${round(x + dx * along - dy * 8)} ${round(y + dy * along + dx * 8)}L${round(x + dx * along + dy * 8)} ${round(y + dy * along - dx * 8)}`
  return [kit.path(`${stroke(-3)}${stroke(3)}`, { fill: 'none', stroke: 'ink', 'stroke-width': 2 })]
}
