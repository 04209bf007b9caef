import { aroundPoints, kit, type Box, type Point } from '../../../scene'
import { allMeeting, edgeOf, edgesOf, ellipseOf, fitted, roomIn, spotsIn, type Ellipse } from '../sets/fields'
import { misfit, trueCircles } from '../sets/circles'
import { setsOf, type Sets } from '../sets/regions'
import { calloutsIn, cutForCallouts, saidIn, withoutRoom } from './besideSets'
import { across, cutDown, down, gapOf, inset, middleOf } from './frame'
import {
  detailsOf,
  headOf,
  oval,
  padOf,
  paintOf,
  polygon,
  round,
  saysOf,
  type Arrange,
  type Laid,
  type Piece,
  type Shown,
} from './shape'
import type { Part } from '../structure'
import { heightOf, lineBox, setInto, type Saying, type Slot, type Type } from './type'

/** Sets drawn where they meet, before they are put into a frame. */
interface Field {
  readonly sets: Sets
  readonly ellipses: readonly Ellipse[]
  readonly room: ReadonlyMap<number, Box>
  /** Where each region is to be pointed at. */
  readonly spots: ReadonlyMap<number, Point>
  /** How much lies where it should not, as a share; undefined where nobody says how much there is. */
  readonly off: number | undefined
}

/** Sets of the same amounts are drawn the same: what has been laid out is remembered. */
const laidOut = new Map<string, Omit<Field, 'sets'>>()
const MOST_KEPT = 60
const fields = new WeakMap<Shown, Field>()

function fieldOf(shown: Shown): Field {
  const known = fields.get(shown)
  if (known) return known
  const sets = setsOf(shown.parts, shown.model, shown.day)
  const made = { ...layOut(sets.sets.length, sets.wanted), sets }
  fields.set(shown, made)
  return made
}

function layOut(count: number, stated: Float64Array | undefined): Omit<Field, 'sets'> {
  const key = count > 3 ? String(count) : `${count} ${stated?.join(' ') ?? ''}`
  const known = laidOut.get(key)
  if (known) return known
  const alike = Float64Array.from({ length: 1 << Math.min(3, count) }, (_, mask) => (mask === 0 ? 0 : 1))
  const wanted = stated?.some((amount) => amount > 0) ? stated : alike
  const circles = count > 3 ? [] : trueCircles(count, wanted)
  const ellipses = count === 4 || count === 5 ? allMeeting(count) : circles.map(ellipseOf)
  const made = {
    ellipses,
    room: roomIn(ellipses),
    spots: spotsIn(ellipses),
    off: stated && count <= 3 ? misfit(circles, wanted) : undefined,
  }
  if (laidOut.size >= MOST_KEPT) laidOut.clear()
  laidOut.set(key, made)
  return made
}

/** Below this names of a region may give way to their number. In px. */
const LEAST_NAMED = 9.5

/** Sets that meet: what lies in which, and in several at once. */
export const overlap: Arrange = (shown, whole, type): Laid => {
  const field = fieldOf(shown)
  const { sets } = field.sets
  const isUpright = whole.height > whole.width
  const placed = (frame: Box) => {
    const side = isUpright ? frame.height * 0.13 : frame.width * 0.2
    const area = isUpright ? inset(frame, 0, side) : inset(frame, side, 0)
    const ellipses = fitted(field.ellipses, area)
    const { at, within } = placing(field, ellipses)
    return { frame, side, area, ellipses, room: mapped(field.room, within), spots: mapped(field.spots, at) }
  }
  const alone = placed(whole)
  const small = withoutRoom(field.sets, alone.room)
  const { strip, rest } = cutForCallouts(field.sets, small, whole, type)
  const { frame, side, area, ellipses, room, spots } = small.length === 0 ? alone : placed(rest)
  // In what is left there is less room.
  const beside = small.length === 0 ? small : withoutRoom(field.sets, room)
  const middle = middleOf(area)
  const labels = labelsFor(field, frame, ellipses, side, isUpright, type)
  const detail = (mask: number): Slot[] => {
    const box = room.get(mask)
    if (!box || beside.includes(mask)) return []
    const { whole: all, short } = saidIn(field.sets, mask)
    const slot = (says: readonly Saying[]): Slot => ({ box: inset(box, 1), says, align: 'middle' })
    if (all.length === 0) return []
    return [type.detail >= LEAST_NAMED || setInto(slot(all), type).isWhole ? slot(all) : slot(short)]
  }
  const within = Array.from({ length: 1 << sets.length }, (_, mask) => mask)
    .slice(1)
    .flatMap(detail)
  const texts =
    small.length === 0 ? [] : within.flatMap((slot) => setInto(slot, type).lines.map((line) => lineBox(line, type)))
  const callouts = calloutsIn(strip, field.sets, beside, spots, type, texts)
  return {
    pieces: [
      ...sets.flatMap((part, at): Piece[] => {
        const one = ellipses[at]
        const box = labels[at]
        if (!one || !box) return []
        const paint = paintOf(shown, part)
        const outline = edgesOf(one)
        const near = outline.reduce((best, point) => (distance(point, box) < distance(best, box) ? point : best))
        const from = nearestOn(box, near)
        return [
          {
            part,
            key: 'set',
            box: aroundPoints(outline, 0),
            marks: [
              kit.path(polygon(outline), {
                fill: paint.stroke,
                stroke: paint.stroke,
                'stroke-width': Math.max(2, paint['stroke-width']),
                'fill-opacity': 0.12,
              }),
            ],
            slots: [],
            isGround: true,
          },
          {
            part,
            box,
            marks: [
              kit.path(`M${round(from.x)} ${round(from.y)}L${round(near.x)} ${round(near.y)}`, {
                fill: 'none',
                stroke: paint.stroke,
                'stroke-width': 1.5,
              }),
            ],
            slots: [
              {
                box,
                says: labelSays(part, field, at),
                align: isUpright ? 'middle' : box.x < middle.x ? 'end' : 'start',
              },
            ],
          },
        ]
      }),
    ],
    free: [...within, ...callouts.map(({ slot }) => slot)],
    backdrop: callouts.flatMap(({ leader }) => leader),
    note: noteOf(field),
  }
}

const labelSays = (part: Part, { sets }: Field, at: number): readonly Saying[] => {
  let count = 0
  for (const [mask, { members }] of sets.regions) if ((mask >> at) & 1) count += members.length
  const value = detailsOf({ ...part, parts: [] }).map((one): Saying => ({ ...one, part }))
  const gathers = part.entity.fields['gathers']
  return [
    headOf(part),
    ...value,
    ...(gathers === undefined
      ? []
      : [
          {
            part,
            text: `${count.toLocaleString('en')} ${String(gathers).split(' ')[0] ?? ''}`,
            rank: 'detail' as const,
          },
        ]),
  ]
}

function noteOf({ off, sets }: Field): string | undefined {
  const words = [
    ...(sets.left > 0 ? [`the first ${sets.sets.length} of ${sets.sets.length + sets.left} sets`] : []),
    ...(sets.isImpossible ? ['no areas can be true: the numbers contradict each other'] : []),
    ...(off === undefined || sets.isImpossible
      ? []
      : [off < 0.005 ? 'areas are true' : `areas are off by ${(off * 100).toFixed(off < 0.1 ? 1 : 0)} %`]),
    ...(off === undefined && sets.wanted !== undefined
      ? ['areas say nothing: with four sets and more they cannot']
      : []),
  ]
  return words.length > 0 ? words.join(', ') : undefined
}

/** How what was found around ellipses lies around them where they are drawn. */
function placing({ ellipses: before }: Field, after: readonly Ellipse[]) {
  const [one, other] = [before[0], after[0]]
  const scale = one && other ? other.a / one.a : 1
  const at = ({ x, y }: Point): Point => ({
    x: (other?.x ?? 0) + (x - (one?.x ?? 0)) * scale,
    y: (other?.y ?? 0) + (y - (one?.y ?? 0)) * scale,
  })
  return { at, within: (box: Box): Box => ({ ...at(box), width: box.width * scale, height: box.height * scale }) }
}

const mapped = <T, U>(found: ReadonlyMap<number, T>, change: (one: T) => U): ReadonlyMap<number, U> =>
  new Map([...found].map(([mask, one]) => [mask, change(one)]))

/** What the sets are called stands beside them, on the side to which each reaches. */
function labelsFor(
  field: Field,
  frame: Box,
  ellipses: readonly Ellipse[],
  side: number,
  isUpright: boolean,
  type: Type,
): readonly Box[] {
  const middle = middleOf(frame)
  // Where a set reaches furthest from the middle, it is itself.
  const reach = ellipses.map((one): Point => {
    const [a, b] = [edgeOf(one, 0), edgeOf(one, 0.5)]
    const outer = far(a, middle) > far(b, middle) ? a : b
    return { x: one.x * 0.4 + outer.x * 0.6, y: one.y * 0.4 + outer.y * 0.6 }
  })
  const order = reach
    .map((_, at) => at)
    .sort((a, b) => (isUpright ? (reach[a]?.y ?? 0) - (reach[b]?.y ?? 0) : (reach[a]?.x ?? 0) - (reach[b]?.x ?? 0)))
  const half = Math.ceil(order.length / 2)
  const gap = gapOf(frame)
  const boxes: Box[] = []
  ;[order.slice(0, half), order.slice(half)].forEach((list, which) => {
    const band: Box = isUpright
      ? { ...frame, y: which === 0 ? frame.y : frame.y + frame.height - side + gap / 2, height: side - gap / 2 }
      : { ...frame, x: which === 0 ? frame.x : frame.x + frame.width - side + gap / 2, width: side - gap / 2 }
    const sorted = [...list].sort((a, b) =>
      isUpright ? (reach[a]?.x ?? 0) - (reach[b]?.x ?? 0) : (reach[a]?.y ?? 0) - (reach[b]?.y ?? 0),
    )
    if (isUpright) across(band, Math.max(1, sorted.length), gap).forEach((box, at) => (boxes[sorted[at] ?? -1] = box))
    else {
      const needs = sorted.map((at) => {
        const part = field.sets.sets[at]
        return part ? heightOf(labelSays(part, field, at), band.width, type) : 0
      })
      down(band, Math.max(1, sorted.length), gap, needs).forEach((box, at) => (boxes[sorted[at] ?? -1] = box))
    }
  })
  return boxes
}

const far = (a: Point, b: Point): number => Math.hypot(a.x - b.x, a.y - b.y)
const nearestOn = ({ x, y, width, height }: Box, to: Point): Point => ({
  x: Math.max(x, Math.min(x + width, to.x)),
  y:
    y + height / 2 > to.y
      ? Math.max(y + height / 2 - 1, Math.min(y + height, to.y))
      : Math.min(y + height / 2 + 1, Math.max(y, to.y)),
})
const distance = (point: Point, box: Box): number => far(point, nearestOn(box, point))
/** Each set within the one before. */
export const nested: Arrange = (shown, frame, type) => {
  const { parts } = shown
  const gap = Math.max(4, gapOf(frame) * 0.7)
  let rest = frame
  return {
    pieces: parts.map((part, at): Piece => {
      const box = rest
      const isLast = at === parts.length - 1
      const left = parts.length - at
      const pad = padOf({ ...box, height: box.height / left })
      const need = heightOf(saysOf(part), Math.max(1, box.width - 2 * pad - 8), type) + pad
      const high = isLast ? box.height : Math.max(box.height / (left + 0.4), Math.min(need, box.height * 0.6))
      const [top, inner] = cutDown(box, high, 0)
      rest = {
        x: inner.x + gap,
        y: inner.y,
        width: Math.max(1, inner.width - 2 * gap),
        height: Math.max(1, inner.height - gap),
      }
      const paint = paintOf(shown, part)
      return {
        part,
        box: isLast ? box : top,
        marks: [kit.rect(box, { ...paint, rx: Math.min(18, box.height / 4) })],
        slots: [{ box: inset(top, pad + 4, Math.min(pad, top.height * 0.12)), says: saysOf(part), align: 'middle' }],
      }
    }),
  }
}

/** Sets in a row, each sharing something with the next. */
export const setsRow: Arrange = (shown, frame) => {
  const { parts } = shown
  const isUpright = frame.height > frame.width
  const [long, broad] = isUpright ? [frame.height, frame.width] : [frame.width, frame.height]
  const shared = 0.2
  const size = long / (parts.length - shared * (parts.length - 1))
  const wide = Math.min(broad, size * 1.5)
  return {
    pieces: parts.map((part, at): Piece => {
      const begin = at * size * (1 - shared)
      const box: Box = isUpright
        ? { x: frame.x + (frame.width - wide) / 2, y: frame.y + begin, width: wide, height: size }
        : { x: frame.x + begin, y: frame.y + (frame.height - wide) / 2, width: size, height: wide }
      const own = isUpright
        ? inset(box, box.width * 0.2, box.height * (shared + 0.02))
        : inset(box, box.width * (shared + 0.02), box.height * 0.2)
      const paint = paintOf(shown, part)
      return {
        part,
        box: own,
        marks: [
          kit.path(oval(box), {
            fill: paint.stroke,
            stroke: paint.stroke,
            'stroke-width': 2,
            'fill-opacity': 0.12,
          }),
        ],
        slots: [{ box: own, says: saysOf(part), align: 'middle' }],
      }
    }),
  }
}
