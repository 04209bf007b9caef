import { aroundPoints, kit, overlaps, type Box, type Mark, type Point } from '../../../scene'
import { across, around, cutAcross, down, gapOf, inset, middleOf } from './frame'
import {
  leading,
  leaves,
  numbered,
  onEllipse,
  paintOf,
  round,
  saysOf,
  told,
  type Arrange,
  type Laid,
  type Piece,
  type Shown,
} from './shape'
import { heightOf, type Saying, type Type } from './type'

/** The title of a figure as a text. */
export const titleSays = ({ title, root }: Shown): Saying => ({ part: root, text: title, rank: 'title' })

/** As large as boxes of one size can be that stand around a middle without meeting one another or what is there. O(n²) times sizes tried */
export function aroundMiddle(
  frame: Box,
  count: number,
  shape: number,
  free: Box | undefined,
  gap: number,
): readonly Box[] {
  const centre = middleOf(frame)
  const at = (share: number) => {
    const width = Math.min(frame.width * share, frame.height * share * shape)
    const height = width / shape
    const [rx, ry] = [(frame.width - width) / 2, (frame.height - height) / 2]
    return Array.from({ length: count }, (_, index) => {
      const { x, y } = onEllipse(centre, rx, ry, index / count)
      return around(x, y, width, height)
    })
  }
  const isFree = (boxes: readonly Box[]) => {
    const wide = boxes.map((box) => inset(box, -gap / 2))
    return !wide.some(
      (box, index) => (free && overlaps(box, free)) || wide.slice(index + 1).some((other) => overlaps(box, other)),
    )
  }
  let [low, high] = [0.001, 0.44]
  if (isFree(at(high))) return at(high)
  for (let round = 0; round < 9; round++) {
    const middle = (low + high) / 2
    if (isFree(at(middle))) low = middle
    else high = middle
  }
  return at(low)
}

const CENTRE = { width: 0.26, height: 0.2 } as const

/** Where the title stands in the middle. */
export function centred(
  shown: Shown,
  frame: Box,
  width = frame.width * CENTRE.width,
  height = frame.height * CENTRE.height,
) {
  const { x, y } = middleOf(frame)
  const box = around(x, y, width, height)
  return {
    box,
    marks: [] as readonly Mark[],
    slot: { box: inset(box, 4), says: [titleSays(shown)], align: 'middle' as const },
  }
}

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
        const arc = kit.path(pathOf(outline), { ...paint, 'stroke-width': Math.max(1.2, paint['stroke-width']) })
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
const pathOf = (list: readonly Point[]) =>
  `${list.map(({ x, y }, at) => `${at === 0 ? 'M' : 'L'}${round(x)} ${round(y)}`).join('')}Z`

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
        marks: [kit.path(pathOf(shape), paintOf(shown, part))],
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

/** What hangs on one thing: plates around it, each tied to it. */
export const spokes: Arrange = (shown, frame) => {
  const { parts } = shown
  const gap = gapOf(frame)
  const centre = centred(shown, frame, frame.width * 0.24, frame.height * 0.2)
  const boxes = aroundMiddle(frame, parts.length, 2.2, centre.box, gap * 1.6)
  const middle = middleOf(frame)
  return {
    centre: {
      ...centre,
      marks: [kit.rect(centre.box, { fill: 'head', stroke: 'ink', 'stroke-width': 1.5, rx: 3 })],
      slot: { ...centre.slot, box: inset(centre.box, 8) },
    },
    backdrop: boxes.map((box) => {
      const [a, b] = [leaves(centre.box, middleOf(box)), leaves(box, middle)]
      return kit.path(`M${round(a.x)} ${round(a.y)}L${round(b.x)} ${round(b.y)}`, {
        fill: 'none',
        stroke: 'line',
        'stroke-width': 1.5,
      })
    }),
    pieces: parts.map((part, at) => told(shown, part, boxes[at] ?? frame)),
  }
}

/** The same as discs on a ring. */
export const orbit: Arrange = (shown, frame) => {
  const { parts } = shown
  const gap = gapOf(frame)
  const centre = centred(
    shown,
    frame,
    Math.min(frame.width, frame.height) * 0.3,
    Math.min(frame.width, frame.height) * 0.3,
  )
  const boxes = aroundMiddle(
    frame,
    parts.length,
    Math.max(0.8, Math.min(1.5, frame.width / frame.height)),
    centre.box,
    gap,
  )
  const [first = frame] = boxes
  const middle = middleOf(frame)
  const path = Array.from({ length: 65 }, (_, at) =>
    onEllipse(middle, (frame.width - first.width) / 2, (frame.height - first.height) / 2, at / 64),
  )
  const disc = (box: Box) =>
    pathOf(Array.from({ length: 48 }, (_, at) => onEllipse(middleOf(box), box.width / 2, box.height / 2, at / 48)))
  return {
    centre: {
      ...centre,
      marks: [kit.path(disc(centre.box), { fill: 'head', stroke: 'ink', 'stroke-width': 1.5 })],
      slot: { ...centre.slot, box: inset(centre.box, centre.box.width * 0.16, centre.box.height * 0.16) },
    },
    backdrop: [kit.path(pathOf(path), { fill: 'none', stroke: 'hairline', 'stroke-width': 1.5 })],
    pieces: parts.map((part, at): Piece => {
      const box = boxes[at] ?? frame
      return {
        part,
        box,
        marks: [kit.path(disc(box), paintOf(shown, part))],
        slots: [{ box: inset(box, box.width * 0.16, box.height * 0.16), says: saysOf(part), align: 'middle' }],
      }
    }),
  }
}

/** Several lead to one, or one to several. */
const sided =
  (isInwards: boolean): Arrange =>
  (shown, frame) => {
    const { parts } = shown
    const gap = gapOf(frame)
    const isUpright = frame.height > frame.width * 1.2
    const run = Math.max(18, (isUpright ? frame.height : frame.width) * 0.1)
    const own = isUpright ? frame.height * 0.2 : frame.width * 0.26
    const core = isUpright
      ? {
          ...frame,
          y: isInwards ? frame.y + frame.height - own : frame.y,
          height: own,
          x: frame.x + frame.width * 0.2,
          width: frame.width * 0.6,
        }
      : {
          ...frame,
          x: isInwards ? frame.x + frame.width - own : frame.x,
          width: own,
          y: frame.y + frame.height * 0.3,
          height: frame.height * 0.4,
        }
    const rest = isUpright
      ? { ...frame, y: isInwards ? frame.y : frame.y + own + run, height: frame.height - own - run }
      : { ...frame, x: isInwards ? frame.x : frame.x + own + run, width: frame.width - own - run }
    const boxes = isUpright ? across(rest, parts.length, gap) : down(rest, parts.length, gap)
    return {
      centre: {
        box: core,
        marks: [kit.rect(core, { fill: 'head', stroke: 'ink', 'stroke-width': 1.5, rx: 3 })],
        slot: { box: inset(core, 8), says: [titleSays(shown)], align: 'middle' },
      },
      backdrop: boxes.flatMap((box, at) => {
        const share = (at + 0.5) / boxes.length
        const near = isUpright
          ? { x: box.x + box.width / 2, y: isInwards ? box.y + box.height : box.y }
          : { x: isInwards ? box.x + box.width : box.x, y: box.y + box.height / 2 }
        const far = isUpright
          ? { x: core.x + core.width * share, y: isInwards ? core.y : core.y + core.height }
          : { x: isInwards ? core.x : core.x + core.width, y: core.y + core.height * share }
        return leading(isInwards ? [near, far] : [far, near], Math.min(9, run / 4), 'ink')
      }),
      pieces: parts.map((part, at) => told(shown, part, boxes[at] ?? frame)),
    }
  }
export const converging = sided(true)
export const diverging = sided(false)
