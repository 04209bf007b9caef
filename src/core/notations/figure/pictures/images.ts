import type { Entity } from '../../../model'
import { kit, type Box, type Mark, type Point } from '../../../scene'
import type { Part } from '../structure'
import { across, cells, columnsFor, cutAcross, cutDown, down, gapOf, inset } from './frame'
import { padOf, paintOf, saysOf, type Arrange, type Piece, type Shown } from './shape'

/** The point of a picture that matters, in shares of its width and height: the middle, unless it is stated. */
export const pointIn = ({ pointAcross, pointDown }: Entity['fields']): Point => ({
  x: Number(pointAcross ?? 50) / 100,
  y: Number(pointDown ?? 50) / 100,
})

/** The picture of a part, cropped to a box around the point that matters; without one its place, with the first letter of its text. */
export function picture(shown: Shown, part: Part, box: Box): readonly Mark[] {
  const { image } = part.entity.fields
  const paint = paintOf(shown, part)
  const size = Math.max(4, Math.min(box.height * 0.5, box.width * 0.5))
  const place: Mark[] = [
    kit.rect(box, { fill: paint.fill, stroke: paint.stroke, 'stroke-width': 1, rx: 3 }),
    kit.text(box.x + box.width / 2, box.y + box.height / 2 + size * 0.34, [...part.entity.name][0] ?? '', {
      fill: paint.stroke,
      'font-size': size,
      'text-anchor': 'middle',
      opacity: 0.5,
    }),
  ]
  if (typeof image !== 'string') return place
  return [...place, kit.cropped(box, image, pointIn(part.entity.fields))]
}

const captioned = (shown: Shown, part: Part, box: Box, share: number): Piece => {
  const [top, rest] = cutDown(box, box.height * share, 0)
  return {
    part,
    box,
    picture: top,
    marks: picture(shown, part, top),
    slots: [{ box: inset(rest, 1, Math.min(4, rest.height * 0.1)), says: saysOf(part), stands: 'top' }],
  }
}

/** The first as large as the rest together. */
export const largeSmall: Arrange = (shown, frame) => {
  const [first, ...others] = shown.parts
  if (!first) return { pieces: [] }
  const gap = gapOf(frame)
  if (others.length === 0) return { pieces: [captioned(shown, first, frame, 0.78)] }
  const isUpright = frame.height > frame.width
  const [large, rest] = isUpright ? cutDown(frame, frame.height * 0.52, gap) : cutAcross(frame, frame.width * 0.55, gap)
  const boxes = cells(rest, others.length, columnsFor(rest, others.length, 1.1), gap)
  return {
    pieces: [
      captioned(shown, first, large, 0.78),
      ...others.map((part, at) => captioned(shown, part, boxes[at] ?? rest, 0.6)),
    ],
  }
}

/** Pictures of one height in a row, what is said beneath. */
export const strip: Arrange = (shown, frame) => {
  const boxes =
    frame.height > frame.width * 1.1
      ? down(frame, shown.parts.length, gapOf(frame))
      : across(frame, shown.parts.length, gapOf(frame) * 0.5)
  return {
    pieces: shown.parts.map((part, at) => {
      const box = boxes[at] ?? frame
      if (frame.height <= frame.width * 1.1) return captioned(shown, part, box, 0.6)
      const [left, rest] = cutAcross(box, box.width * 0.42, gapOf(frame))
      return { part, box, picture: left, marks: picture(shown, part, left), slots: [{ box: rest, says: saysOf(part) }] }
    }),
  }
}

/** Framed pictures with captions, as on a wall. */
export const frames: Arrange = (shown, frame) => {
  const boxes = cells(frame, shown.parts.length, columnsFor(frame, shown.parts.length, 1.15), gapOf(frame))
  return {
    pieces: shown.parts.map((part, at): Piece => {
      const box = boxes[at] ?? frame
      const pad = padOf(box)
      const [top, rest] = cutDown(inset(box, pad), (box.height - 2 * pad) * 0.66, pad / 2)
      return {
        part,
        box,
        picture: top,
        marks: [
          kit.rect(box, { fill: 'sheet', stroke: 'outline', 'stroke-width': 1, rx: 2 }),
          ...picture(shown, part, top),
        ],
        slots: [{ box: rest, says: saysOf(part), align: 'middle', stands: 'top' }],
      }
    }),
  }
}
