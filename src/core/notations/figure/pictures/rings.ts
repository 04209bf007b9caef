import { aroundPoints, kit, type Box, type Mark, type Point } from '../../../scene'
import { across, around, cutAcross, down, gapOf, inset, middleOf } from './frame'
import { aroundMiddle, centred, titleSays } from './middle'
import {
  leading,
  numbered,
  onEllipse,
  paintOf,
  polygon,
  saysOf,
  told,
  type Arrange,
  type Laid,
  type Piece,
  type Shown,
} from './shape'
import { heightOf, type Type } from './type'

/** Steps that come round again: plates on a ring, an arrow from each to the next. */
export const ring: Arrange = (shown, frame) => {
  const { parts } = shown
  const gap = gapOf(frame) * 1.8
  const centre = centred(shown, frame)
  const boxes = aroundMiddle(frame, parts.length, 2.6, centre.box, gap)
  const [box = frame] = boxes
  const middle = middleOf(frame)
  const [rx, ry] = [(frame.width - box.width) / 2, (frame.height - box.height) / 2]
  return {
    centre,
    pieces: parts.map((part, at) => told(shown, part, boxes[at] ?? frame)),
    backdrop:
      parts.length < 2
        ? []
        : boxes.flatMap((from, at) =>
            arcBetween(
              from,
              boxes[(at + 1) % boxes.length] ?? from,
              middle,
              rx,
              ry,
              at / parts.length,
              (at + 1) / parts.length,
              gap,
            ),
          ),
  }
}

const STEPS = 48

/** The part of an ellipse that lies between two boxes, with a head. */
function arcBetween(
  from: Box,
  to: Box,
  middle: Point,
  rx: number,
  ry: number,
  begin: number,
  end: number,
  gap: number,
): readonly Mark[] {
  const free = [inset(from, -gap * 0.32), inset(to, -gap * 0.32)]
  const points = Array.from({ length: STEPS + 1 }, (_, at) =>
    onEllipse(middle, rx, ry, begin + ((end - begin) * at) / STEPS),
  )
  const isFree = ({ x, y }: Point) =>
    free.every((box) => x < box.x || x > box.x + box.width || y < box.y || y > box.y + box.height)
  const seen = points.filter(isFree)
  return seen.length < 3 ? [] : leading(seen, Math.min(8, gap * 0.4), 'ink')
}

/** Labels in two columns beside a disc, in the order of the ring: the first half on the right, the rest on the left, from the bottom up. */
function beside(shown: Shown, frame: Box, type: Type): { readonly disc: Box; readonly boxes: readonly Box[] } {
  const { parts } = shown
  const gap = gapOf(frame)
  const isUpright = frame.height > frame.width
  const side = isUpright ? Math.min(frame.width, frame.height * 0.46) : Math.min(frame.height, frame.width * 0.42)
  const centre = middleOf(frame)
  const onRight = Math.ceil(parts.length / 2)
  const needs = (list: typeof parts, width: number) => list.map((part) => heightOf(saysOf(part), width - 40, type) + 8)
  if (isUpright) {
    const disc = around(centre.x, frame.y + side / 2, side, side)
    const rest = { ...frame, y: frame.y + side + gap, height: frame.height - side - gap }
    const [left = rest, right = rest] = across(rest, 2, gap)
    const first = down(right, onRight, gap * 0.6, needs(parts.slice(0, onRight), right.width))
    const second = down(
      left,
      Math.max(1, parts.length - onRight),
      gap * 0.6,
      needs(parts.slice(onRight).toReversed(), left.width),
    )
    return { disc, boxes: [...first, ...second.toReversed()].slice(0, parts.length) }
  }
  const disc = around(centre.x, centre.y, side, side)
  const width = (frame.width - side) / 2 - gap * 1.5
  const [left] = cutAcross(frame, width, 0)
  const right = { ...left, x: frame.x + frame.width - width }
  const first = down(right, onRight, gap, needs(parts.slice(0, onRight), width))
  const second = down(left, Math.max(1, parts.length - onRight), gap, needs(parts.slice(onRight).toReversed(), width))
  return { disc, boxes: [...first, ...second.toReversed()].slice(0, parts.length) }
}

/** A ring, or a disc, cut into a piece for each part, which is told beside it. */
const cut =
  (inner: number, isArrow: boolean): Arrange =>
  (shown, frame, type): Laid => {
    const { parts } = shown
    const { disc, boxes } = beside(shown, frame, type)
    const middle = middleOf(disc)
    const r = disc.width / 2
    const count = parts.length
    const gap = isArrow ? 0.012 : 0
    const core = around(middle.x, middle.y, r * inner * 1.42, r * inner * 1.2)
    return {
      ...(inner > 0.3
        ? {
            centre: {
              box: core,
              marks: [],
              slot: { box: inset(core, 3), says: [titleSays(shown)], align: 'middle' as const },
            },
          }
        : {}),
      pieces: parts.flatMap((part, at): readonly Piece[] => {
        const box = boxes[at] ?? frame
        const isRight = box.x + box.width / 2 > middle.x
        const paint = paintOf(shown, part)
        const [begin, end] = [at / count + gap, (at + 1) / count - gap]
        const within = r * 0.5 * (1 + inner)
        const small = Math.min(14, r * (1 - inner) * 0.28, (r * 2.2) / count, box.height / 2)
        const tag = { x: isRight ? box.x + small + 1 : box.x + box.width - small - 1, y: box.y + box.height / 2 }
        const room = 2 * small + 8
        const outline = isArrow ? arrowArc(middle, r * inner, r, begin, end) : sector(middle, r * inner, r, begin, end)
        const arc = kit.path(polygon(outline), { ...paint, 'stroke-width': Math.max(1.2, paint['stroke-width']) })
        return [
          {
            part,
            key: 'arc',
            box: aroundPoints(outline, 0),
            marks: [
              arc,
              ...numbered(onEllipse(middle, within, within, (begin + end) / 2), small, at + 1, paint.stroke),
            ],
            slots: [],
          },
          {
            part,
            box,
            marks: numbered(tag, small, at + 1, paint.stroke),
            slots: [
              {
                box: { ...box, x: isRight ? box.x + room : box.x, width: Math.max(1, box.width - room) },
                says: saysOf(part),
                align: isRight ? 'start' : 'end',
              },
            ],
          },
        ]
      }),
    }
  }
export const segments = cut(0.52, false)
export const arcs = cut(0.62, true)

const points = (middle: Point, r: number, begin: number, end: number) =>
  Array.from({ length: 15 }, (_, at) => onEllipse(middle, r, r, begin + ((end - begin) * at) / 14))
const sector = (middle: Point, inner: number, outer: number, begin: number, end: number): readonly Point[] => [
  ...points(middle, outer, begin, end),
  ...(inner > 0 ? points(middle, inner, begin, end).toReversed() : [middle]),
]

/** A piece of a ring that ends in a tip. */
function arrowArc(middle: Point, inner: number, outer: number, begin: number, end: number): readonly Point[] {
  const tip = Math.min(0.045, (end - begin) * 0.3)
  const between = (inner + outer) / 2
  const notch = begin + tip
  return [
    ...points(middle, outer, begin, end - tip),
    onEllipse(middle, between, between, end),
    ...points(middle, inner, begin, end - tip).toReversed(),
    onEllipse(middle, between, between, notch),
  ]
}

/** Where texts stand in the sectors of a disc, as shares of the frame: they depend on nothing but its shape. */
const sectorSlots = new Map<string, readonly Box[]>()
const MOST_KEPT = 400

function slotsIn(shape: number, count: number): readonly Box[] {
  const key = `${shape.toFixed(2)} ${count}`
  const known = sectorSlots.get(key)
  if (known) return known
  const frame = { x: 0, y: 0, width: shape, height: 1 }
  const centre = middleOf(frame)
  const isWithin = (x: number, y: number, at: number) => {
    const [u, v] = [(x - centre.x) / (shape / 2), (y - centre.y) / 0.5]
    const reach = Math.hypot(u, v)
    const turn = Math.atan2(u, -v) / (2 * Math.PI)
    const place = (turn < 0 ? turn + 1 : turn) * count - at
    return reach < 0.97 && reach > 0.1 && (count === 1 || (place > 0.02 && place < 0.98))
  }
  const slots = Array.from({ length: count }, (_, at) =>
    largestWithin(frame, (x, y) => isWithin(x, y, at), onEllipse(centre, (shape / 2) * 0.58, 0.29, (at + 0.5) / count)),
  )
  if (sectorSlots.size >= MOST_KEPT) sectorSlots.clear()
  sectorSlots.set(key, slots)
  return slots
}

/** A disc whose sectors hold what they say. */
export const wheel: Arrange = (shown, frame) => {
  const { parts } = shown
  const centre = middleOf(frame)
  const [rx, ry] = [frame.width / 2, frame.height / 2]
  const count = parts.length
  const slots = slotsIn(Math.round((frame.width / frame.height) * 50) / 50, count)
  return {
    pieces: parts.map((part, at): Piece => {
      const own = slots[at] ?? { x: 0, y: 0, width: 1, height: 1 }
      const stretch = frame.width / (Math.round((frame.width / frame.height) * 50) / 50)
      const slot = {
        x: frame.x + own.x * stretch,
        y: frame.y + own.y * frame.height,
        width: own.width * stretch,
        height: own.height * frame.height,
      }
      const shape = [
        ...Array.from({ length: 33 }, (_, i) => onEllipse(centre, rx, ry, (at + i / 32) / count)),
        ...(count === 1 ? [] : [centre]),
      ]
      return {
        part,
        box: slot,
        marks: [kit.path(polygon(shape), paintOf(shown, part))],
        slots: [{ box: slot, says: saysOf(part), align: 'middle' }],
      }
    }),
  }
}

/** The largest box around a place all of whose border lies within a shape. */
function largestWithin(frame: Box, isWithin: (x: number, y: number) => boolean, at: Point): Box {
  let best = around(at.x, at.y, 1e-6, 1e-6)
  for (const shape of [0.8, 1.3, 2, 3])
    for (const [dx, dy] of [
      [0, 0],
      [0.05, 0],
      [-0.05, 0],
      [0, 0.06],
      [0, -0.06],
    ] as const) {
      const [cx, cy] = [at.x + dx * frame.width, at.y + dy * frame.height]
      let [low, high] = [0, frame.width]
      for (let round = 0; round < 10; round++) {
        const width = (low + high) / 2
        const height = width / shape
        const fits = BORDER.every(([u, v]) => isWithin(cx + (u * width) / 2, cy + (v * height) / 2))
        if (fits) low = width
        else high = width
      }
      if ((low * low) / shape > best.width * best.height) best = around(cx, cy, low, low / shape)
    }
  return best
}
const BORDER = [
  [-1, -1],
  [0, -1],
  [1, -1],
  [1, 0],
  [1, 1],
  [0, 1],
  [-1, 1],
  [-1, 0],
  [-0.5, -1],
  [0.5, -1],
  [-0.5, 1],
  [0.5, 1],
] as const
