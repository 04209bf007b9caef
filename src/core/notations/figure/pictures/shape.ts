import { kit, type Box, type Mark, type Point, type Role } from '../../../scene'
import type { Day, Model } from '../../../model'
import { withBranch, type Part } from '../structure'
import { inset } from './frame'
import type { Saying, Slot, Type } from './type'

/** What a figure is drawn of: the lines, and what they hang on. */
export interface Shown {
  readonly title: string
  /** The only line on top, where others stand under it: the figure is about it. */
  readonly root: Part | undefined
  readonly parts: readonly Part[]
  /** For what is gathered of the facts. */
  readonly model: Model
  readonly day: Day
  readonly axes: { readonly across: string | undefined; readonly up: string | undefined }
  /** From 1 to 8; 0 for what is quiet. */
  readonly colourOf: (part: Part) => number
}

/** A part as it stands in the frame: its marks and texts in the frame’s px. */
export interface Piece {
  readonly part: Part
  /** Set where a part is drawn more than once. */
  readonly key?: string
  readonly box: Box
  readonly marks: readonly Mark[]
  readonly slots: readonly Slot[]
  /** Where its picture is: the point that matters can be pulled about in it. */
  readonly picture?: Box
  /** Lies beneath others and may share its place with them. */
  readonly isGround?: true
}

export interface Laid {
  readonly backdrop?: readonly Mark[]
  readonly pieces: readonly Piece[]
  /** Texts that stand in no part’s own place, over all parts. */
  readonly free?: readonly Slot[]
  /** What is to be said of it besides. */
  readonly note?: string | undefined
  /** The title, where it stands within the figure. */
  readonly centre?: { readonly box: Box; readonly marks: readonly Mark[]; readonly slot: Slot }
}

/** Where parts stand in a frame, their texts in a type: a larger one may not hold them all. */
export type Arrange = (shown: Shown, frame: Box, type: Type) => Laid

export const headOf = (part: Part): Saying => ({ part, text: part.entity.name, rank: 'head' })

/** What is said of a number: `40 %`. */
export function valueOf({ entity: { fields } }: Part): string | undefined {
  const { value, unit } = fields
  if (typeof value !== 'number') return undefined
  return unit === undefined ? value.toLocaleString('en') : `${value.toLocaleString('en')} ${String(unit)}`
}

/** So many lines under a part are drawn. */
const MOST_DETAILS = 60

/** The lines under a part as texts, with a sign before each where there are several; of very many the first, and how many there are besides. */
export function detailsOf(part: Part, isValued = true): readonly Saying[] {
  const value = isValued ? valueOf(part) : undefined
  const own: readonly Saying[] = value === undefined ? [] : [{ part, text: value, rank: 'detail' }]
  const lines = withBranch(part, MOST_DETAILS + 2).slice(1)
  const told = lines.slice(0, MOST_DETAILS).map((one): Saying => {
    const level = one.depth - part.depth - 1
    const sign = level > 0 || part.parts.length > 1 ? { sign: '•' } : {}
    return { part: one, text: toldOf(one), rank: 'detail', inset: Math.min(level, MOST_INSET), ...sign }
  })
  const more: readonly Saying[] =
    lines.length > MOST_DETAILS ? [{ part, text: `… the first ${MOST_DETAILS} lines of more`, rank: 'detail' }] : []
  return [...own, ...told, ...more]
}

/** How deep lines are set in at most: deeper ones would have no room left. */
const MOST_INSET = 6

/** A line and its number. */
export function toldOf(part: Part): string {
  const value = valueOf(part)
  return value === undefined ? part.entity.name : `${part.entity.name}: ${value}`
}

export const saysOf = (part: Part): readonly Saying[] => [headOf(part), ...detailsOf(part)]

/** What stays free between a border and what is said within. */
export const padOf = (box: Box): number => Math.max(2, Math.min(12, Math.min(box.width, box.height) * 0.12))

const BAR = 4

export const paintOf = (shown: Shown, part: Part) => {
  const n = shown.colourOf(part)
  return {
    fill: `fill-${n}` as Role,
    stroke: `edge-${n}` as Role,
    'stroke-width': 1,
  }
}

/** A plate with an edge in the colour of its part. */
export function plate(shown: Shown, part: Part, box: Box): readonly Mark[] {
  const paint = paintOf(shown, part)
  return [
    kit.rect(box, { ...paint, rx: 3 }),
    kit.rect({ ...box, width: Math.min(BAR, box.width / 6) }, { fill: paint.stroke, stroke: 'none' }),
  ]
}

/** A plate with all that its part says. */
export const told = (shown: Shown, part: Part, box: Box, slot: Partial<Slot> = {}): Piece => {
  const pad = padOf(box)
  const inner = inset(box, pad)
  return {
    part,
    box,
    marks: plate(shown, part, box),
    slots: [{ box: { ...inner, x: inner.x + 3, width: Math.max(1, inner.width - 3) }, says: saysOf(part), ...slot }],
  }
}

export const polygon = (points: readonly Point[]): string =>
  `${points.map(({ x, y }, at) => `${at === 0 ? 'M' : 'L'}${round(x)} ${round(y)}`).join('')}Z`
export const round = (value: number): number => Math.round(value * 100) / 100

/** A point on an ellipse, at an angle from the top, clockwise, in turns. */
export const onEllipse = (centre: Point, rx: number, ry: number, turn: number): Point => ({
  x: centre.x + rx * Math.sin(turn * 2 * Math.PI),
  y: centre.y - ry * Math.cos(turn * 2 * Math.PI),
})

/** The ellipse that fills a box, as path data. */
export const oval = ({ x, y, width, height }: Box): string =>
  polygon(
    Array.from({ length: 60 }, (_, at) =>
      onEllipse({ x: x + width / 2, y: y + height / 2 }, width / 2, height / 2, at / 60),
    ),
  )

/** A line with a head at its end, straight or bent. */
export function leading(points: readonly Point[], size: number, stroke: Role = 'line'): readonly Mark[] {
  const [end, before] = [points.at(-1), points.at(-2)]
  if (!end || !before) return []
  const length = Math.hypot(end.x - before.x, end.y - before.y) || 1
  const [dx, dy] = [(end.x - before.x) / length, (end.y - before.y) / length]
  const neck = { x: end.x - dx * size, y: end.y - dy * size }
  const line = points.slice(0, -1).concat(neck)
  return [
    kit.path(line.map(({ x, y }, at) => `${at === 0 ? 'M' : 'L'}${round(x)} ${round(y)}`).join(''), {
      fill: 'none',
      stroke,
      'stroke-width': 1.5,
    }),
    kit.path(
      polygon([
        end,
        { x: neck.x - dy * size * 0.5, y: neck.y + dx * size * 0.5 },
        { x: neck.x + dy * size * 0.5, y: neck.y - dx * size * 0.5 },
      ]),
      { fill: stroke, stroke: 'none' },
    ),
  ]
}

/** Where a straight line from the middle of a box leaves it. */
export function leaves({ x, y, width, height }: Box, to: Point, beyond = 0): Point {
  const [cx, cy] = [x + width / 2, y + height / 2]
  const [dx, dy] = [to.x - cx, to.y - cy]
  const reach = Math.min(
    dx === 0 ? Infinity : width / 2 / Math.abs(dx),
    dy === 0 ? Infinity : height / 2 / Math.abs(dy),
  )
  const length = Math.hypot(dx, dy) || 1
  const share = Number.isFinite(reach) ? reach + beyond / length : 0
  return { x: cx + dx * share, y: cy + dy * share }
}

/** A number in a disc. */
export function numbered(at: Point, r: number, number: number, fill: Role): readonly Mark[] {
  const size = Math.max(2, r * 1.05)
  return [
    kit.circle(at.x, at.y, r, { fill: 'sheet', stroke: fill, 'stroke-width': 2 }),
    kit.text(at.x, at.y + size * 0.35, String(number), {
      fill: 'ink',
      'font-size': size,
      'font-weight': 700,
      'text-anchor': 'middle',
    }),
  ]
}
