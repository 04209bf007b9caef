import { kit, type Mark } from '../../../scene'
import { across, cells, columnsFor, cutAcross, cutDown, down, gapOf, inset } from './frame'
import { picture } from './images'
import { detailsOf, headOf, padOf, paintOf, plate, saysOf, told, type Arrange, type Piece } from './shape'
import { heightOf, type Saying } from './type'

/** Parts beneath one another, what is said of each beside it. */
export const rows: Arrange = (shown, frame, type) => {
  const gap = gapOf(frame)
  const hasDetails = shown.parts.some((part) => detailsOf(part).length > 0)
  const headWidth = hasDetails ? frame.width * 0.34 : frame.width
  const pad = Math.min(12, gap)
  const needs = shown.parts.map(
    (part) =>
      2 * pad +
      Math.max(
        heightOf([headOf(part)], headWidth - 2 * pad, type),
        heightOf(detailsOf(part), frame.width - headWidth - 2 * pad, type),
      ),
  )
  const boxes = down(frame, shown.parts.length, gap, needs)
  return {
    pieces: shown.parts.map((part, at): Piece => {
      const box = boxes[at] ?? frame
      const [left, right] = cutAcross(box, headWidth, 0)
      return {
        part,
        box,
        marks: plate(shown, part, box),
        slots: [
          { box: inset(left, pad, Math.min(pad, box.height / 8)), says: [headOf(part)] },
          ...(hasDetails ? [{ box: inset(right, pad, Math.min(pad, box.height / 8)), says: detailsOf(part) }] : []),
        ],
      }
    }),
  }
}

/** Parts side by side, each with a head over what is said of it. */
export const columns: Arrange = (shown, frame, type) => {
  const gap = gapOf(frame)
  const boxes = across(frame, shown.parts.length, gap)
  const width = boxes[0]?.width ?? frame.width
  const pad = padOf({ ...frame, width })
  const hasDetails = shown.parts.some((part) => detailsOf(part).length > 0)
  const heads = shown.parts.map((part) => heightOf([headOf(part)], width - 2 * pad, type))
  const headHeight = hasDetails ? Math.min(frame.height * 0.6, Math.max(...heads) + 2 * pad) : frame.height
  return {
    pieces: shown.parts.map((part, at): Piece => {
      const box = boxes[at] ?? frame
      const [head, rest] = cutDown(box, headHeight, 0)
      const paint = paintOf(shown, part)
      return {
        part,
        box,
        marks: [
          kit.rect(box, { ...paint, fill: 'sheet', rx: 3 }),
          kit.rect(head, { ...paint, rx: 3 }),
          kit.rect({ ...head, height: 4 }, { fill: paint.stroke, stroke: 'none' }),
        ],
        slots: [
          { box: inset(head, pad), says: [headOf(part)] },
          ...(hasDetails ? [{ box: inset(rest, pad), says: detailsOf(part), stands: 'top' as const }] : []),
        ],
      }
    }),
  }
}

/** Parts as cards, as many in a row as suits the frame. */
export const cards: Arrange = (shown, frame) => {
  const boxes = cells(frame, shown.parts.length, columnsFor(frame, shown.parts.length, 1.7), gapOf(frame))
  return { pieces: shown.parts.map((part, at) => told(shown, part, boxes[at] ?? frame)) }
}

/** Cards with a picture over what is said. */
export const pictureCards: Arrange = (shown, frame) => {
  const boxes = cells(frame, shown.parts.length, columnsFor(frame, shown.parts.length, 0.95), gapOf(frame))
  return {
    pieces: shown.parts.map((part, at): Piece => {
      const box = boxes[at] ?? frame
      const [top, rest] = cutDown(box, box.height * 0.52, 0)
      const paint = paintOf(shown, part)
      return {
        part,
        box,
        picture: top,
        marks: [kit.rect(box, { ...paint, rx: 3 }), ...picture(shown, part, top)],
        slots: [{ box: inset(rest, padOf(rest)), says: saysOf(part), stands: 'top' }],
      }
    }),
  }
}

/** What is said of each in rows that stand level, to be compared. */
export const compare: Arrange = (shown, frame, type) => {
  const gap = gapOf(frame)
  const boxes = across(frame, shown.parts.length, gap)
  const width = boxes[0]?.width ?? frame.width
  const pad = padOf({ ...frame, width, height: frame.height / 4 })
  const details = shown.parts.map((part) => detailsOf(part).map(({ sign: _, ...one }) => one))
  const count = Math.max(0, ...details.map((list) => list.length))
  const needOf = (says: readonly Saying[]) => heightOf(says, width - 2 * pad, type) + 2 * pad
  const needs = [
    Math.max(...shown.parts.map((part) => needOf([headOf(part)]))),
    ...Array.from({ length: count }, (_, row) =>
      Math.max(...details.map((list) => (list[row] ? needOf([list[row]]) : 0))),
    ),
  ]
  return {
    pieces: shown.parts.map((part, at): Piece => {
      const box = boxes[at] ?? frame
      const bands = down(box, needs.length, 0, needs)
      const paint = paintOf(shown, part)
      const [head = box] = bands
      const borders = bands
        .slice(2)
        .map(({ x, y }): Mark =>
          kit.path(`M${x} ${y}h${box.width}`, { fill: 'none', stroke: 'hairline', 'stroke-width': 1 }),
        )
      return {
        part,
        box,
        marks: [kit.rect(box, { ...paint, fill: 'sheet', rx: 3 }), kit.rect(head, { ...paint, rx: 3 }), ...borders],
        slots: [
          { box: inset(head, pad, Math.min(pad, head.height / 6)), says: [headOf(part)], align: 'middle' },
          ...(details[at] ?? []).map((one, row) => {
            const band = bands[row + 1] ?? box
            return { box: inset(band, pad, Math.min(pad, band.height / 6)), says: [one], align: 'middle' as const }
          }),
        ],
      }
    }),
  }
}

/** What is done and what is open. */
export const checklist: Arrange = (shown, frame, type) => {
  const gap = gapOf(frame) * 0.6
  const side = Math.min(type.head * 1.25, frame.width / 8)
  const pad = Math.min(10, gap)
  const needs = shown.parts.map((part) => heightOf(saysOf(part), frame.width - side - 3 * pad, type) + pad)
  const boxes = down(frame, shown.parts.length, gap, needs)
  return {
    pieces: shown.parts.map((part, at): Piece => {
      const box = boxes[at] ?? frame
      const square = Math.min(side, box.height * 0.8)
      const [x, y] = [box.x + pad, box.y + (box.height - square) / 2]
      const paint = paintOf(shown, part)
      return {
        part,
        box,
        marks: [
          kit.path(`M${box.x} ${box.y + box.height}h${box.width}`, { fill: 'none', stroke: 'hairline' }),
          kit.rect({ x, y, width: square, height: square }, { ...paint, rx: 2 }),
          ...(part.entity.fields['done'] === true ? tick(x, y, square) : []),
        ],
        slots: [
          {
            box: { ...box, x: x + square + pad, width: Math.max(1, box.x + box.width - (x + square + pad)) },
            says: saysOf(part),
          },
        ],
      }
    }),
  }
}

const tick = (x: number, y: number, side: number): readonly Mark[] => [
  kit.path(
    `M${x + side * 0.2} ${y + side * 0.52}L${x + side * 0.43} ${y + side * 0.76}L${x + side * 0.82} ${y + side * 0.24}`,
    { fill: 'none', stroke: 'ink', 'stroke-width': Math.max(1, side * 0.12), 'stroke-linecap': 'round' },
  ),
]
