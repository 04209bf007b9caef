import { kit, type Box, type Mark, type Point } from '../../../scene'
import { across, around, cells, columnsFor, cutAcross, cutDown, down, gapOf, inset } from './frame'
import {
  detailsOf,
  headOf,
  leading,
  numbered,
  padOf,
  paintOf,
  plate,
  saysOf,
  told,
  toldOf,
  type Arrange,
  type Piece,
  type Shown,
} from './shape'
import type { Part } from '../structure'
import { heightOf, type Saying, type Type } from './type'

/** The frame with room for its axes, and these. */
function axed(shown: Shown, frame: Box, type: Type): { readonly inner: Box; readonly marks: readonly Mark[] } {
  const band = Math.min(frame.height * 0.1, type.detail * 1.9)
  const inner = { x: frame.x + band, y: frame.y, width: frame.width - band, height: frame.height - band }
  const { across: right, up } = shown.axes
  const size = type.detail
  const [x, y] = [inner.x - band * 0.3, inner.y + inner.height + band * 0.3]
  const said = (
    text: string | undefined,
    at: { x: number; y: number },
    turn?: `rotate(${number} ${number} ${number})`,
  ): Mark[] =>
    text === undefined
      ? []
      : [
          kit.text(at.x, at.y, text, {
            fill: 'ink-quiet',
            'font-size': size,
            'text-anchor': 'middle',
            ...(turn ? { transform: turn } : {}),
          }),
        ]
  const [mx, my] = [inner.x + inner.width / 2, inner.y + inner.height / 2]
  return {
    inner,
    marks: [
      ...leading(
        [
          { x, y },
          { x: inner.x + inner.width, y },
        ],
        Math.min(9, band * 0.4),
        'ink-quiet',
      ),
      ...leading(
        [
          { x, y },
          { x, y: inner.y },
        ],
        Math.min(9, band * 0.4),
        'ink-quiet',
      ),
      ...said(right, { x: mx, y: y + band * 0.62 }),
      ...said(up, { x: frame.x + size * 0.8, y: my }, `rotate(-90 ${frame.x + size * 0.8} ${my})`),
    ],
  }
}

/** Two by two: what is more to the right is more of the one, what is higher more of the other. */
export const quadrants: Arrange = (shown, frame, type) => {
  const { parts } = shown
  const { inner, marks } = axed(shown, frame, type)
  const columns = parts.length <= 4 ? 2 : columnsFor(inner, parts.length, 1.5)
  const boxes = cells(inner, Math.max(4, parts.length), columns, gapOf(inner) * 0.5)
  return {
    backdrop: [
      ...marks,
      ...boxes
        .slice(parts.length)
        .map((box) =>
          kit.rect(box, { fill: 'none', stroke: 'hairline', 'stroke-width': 1, 'stroke-dasharray': '4 3' }),
        ),
    ],
    pieces: parts.map((part, at) => told(shown, part, boxes[at] ?? inner)),
  }
}

/** So many cells stand in a row. */
const MOST_CELLS = 16

/** A table: a row for each part, a cell for each line under it. */
export const grid: Arrange = (shown, frame, type) => {
  const { parts } = shown
  const gap = Math.min(4, gapOf(frame) * 0.4)
  const cellsOf = (part: Part) => part.parts.slice(0, MOST_CELLS)
  const count = Math.max(1, ...parts.map((part) => cellsOf(part).length))
  const left = Math.max(0, ...parts.map((part) => part.parts.length - MOST_CELLS))
  const first = frame.width / (count + 1.2)
  const width = (frame.width - first - gap * count) / count
  const pad = Math.min(8, padOf({ ...frame, width, height: frame.height / parts.length }))
  const cellSays = (one: Part): readonly Saying[] => [
    { part: one, text: toldOf(one), rank: 'detail' },
    ...detailsOf(one, false).map(({ sign: _, ...told }): Saying => ({ ...told, inset: 1 })),
  ]
  const needs = parts.map(
    (part) =>
      Math.max(
        heightOf([headOf(part), ...detailsOf(part).filter((one) => one.part === part)], first - 2 * pad, type),
        ...cellsOf(part).map((one) => heightOf(cellSays(one), width - 2 * pad, type)),
      ) +
      2 * pad,
  )
  const boxes = down(frame, parts.length, gap, needs)
  return {
    note: left > 0 ? `the first ${MOST_CELLS} cells of a row` : undefined,
    pieces: parts.map((part, at): Piece => {
      const box = boxes[at] ?? frame
      const [head, rest] = cutAcross(box, first, gap)
      const places = across(rest, count, gap)
      return {
        part,
        box,
        marks: [
          ...plate(shown, part, head),
          ...places.map((one) => kit.rect(one, { fill: 'plate', stroke: 'hairline', 'stroke-width': 1 })),
        ],
        slots: [
          {
            box: inset(head, pad + 2, Math.min(pad, head.height / 8)),
            says: [headOf(part), ...detailsOf(part).filter((one) => one.part === part)],
          },
          ...cellsOf(part).map((one, index) => ({
            box: inset(places[index] ?? rest, pad, Math.min(pad, box.height / 8)),
            says: cellSays(one),
          })),
        ],
      }
    }),
  }
}

/** Points placed by two numbers, told beside the field; what has no numbers is told too. */
export const placed: Arrange = (shown, frame, type) => {
  const { parts } = shown
  const gap = gapOf(frame)
  const isUpright = frame.height > frame.width
  const [field, list] = isUpright
    ? cutDown(frame, Math.min(frame.width, frame.height * 0.55), gap)
    : cutAcross(frame, Math.min(frame.width * 0.6, frame.height * 1.25), gap * 1.4)
  const { inner, marks } = axed(shown, field, type)
  const r = Math.min(13, inner.height / 22, inner.width / 22)
  const area = inset(inner, r + 3)
  const columns = isUpright && parts.length > 4 ? 2 : 1
  const perColumn = Math.ceil(parts.length / columns)
  const side = across(list, columns, gap)
  const boxes = side.flatMap((column, at) => {
    const own = parts.slice(at * perColumn, (at + 1) * perColumn)
    return down(
      column,
      own.length,
      gap * 0.4,
      own.map((part) => heightOf(saysOf(part), column.width - 3 * r - 8, type) + 4),
    )
  })
  const { x, y, width, height } = inner
  const spots = spotsOf(shown, area, r)
  const half = { fill: 'none', stroke: 'hairline', 'stroke-width': 1 } as const
  return {
    backdrop: [
      kit.rect(inner, { fill: 'plate', stroke: 'hairline', 'stroke-width': 1 }),
      kit.path(`M${x + width / 2} ${y}v${height}M${x} ${y + height / 2}h${width}`, half),
      ...marks,
    ],
    pieces: parts.flatMap((part, at): readonly Piece[] => {
      const box = boxes[at] ?? list
      const paint = paintOf(shown, part)
      const spot = spots[at]
      const own = Math.min(r, box.height * 0.45)
      return [
        ...(spot
          ? [
              {
                part,
                key: 'spot',
                box: around(spot.x, spot.y, 2 * r, 2 * r),
                marks: numbered(spot, r, at + 1, paint.stroke),
                slots: [],
              },
            ]
          : []),
        {
          part,
          box,
          marks: numbered(
            { x: box.x + own + 2, y: box.y + box.height / 2 },
            own,
            at + 1,
            spot ? paint.stroke : 'hairline',
          ),
          slots: [{ box: { ...box, x: box.x + 3 * r, width: Math.max(1, box.width - 3 * r) }, says: saysOf(part) }],
        },
      ]
    }),
  }
}

/** Where points stand; those that would cover one another stand as near as there is room. O(n²) times places tried */
function spotsOf({ parts }: Shown, area: Box, r: number): readonly (Point | undefined)[] {
  const taken: Point[] = []
  const isFree = ({ x, y }: Point) => taken.every((other) => Math.hypot(other.x - x, other.y - y) >= 2 * r + 1)
  return parts.map((part) => {
    const { across: right, up } = part.entity.fields
    if (typeof right !== 'number' || typeof up !== 'number') return undefined
    const wanted = { x: area.x + (area.width * right) / 10, y: area.y + area.height * (1 - up / 10) }
    const tried = [0, ...Array.from({ length: 160 }, (_, step) => step + 1)].map((step): Point => {
      const [turn, far] = [step * 0.6, step === 0 ? 0 : 2 * r + 1 + step * r * 0.12]
      return {
        x: Math.max(area.x, Math.min(area.x + area.width, wanted.x + far * Math.cos(turn))),
        y: Math.max(area.y, Math.min(area.y + area.height, wanted.y + far * Math.sin(turn))),
      }
    })
    const spot = tried.find(isFree) ?? wanted
    taken.push(spot)
    return spot
  })
}
