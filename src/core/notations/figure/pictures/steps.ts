import { kit, type Box, type Mark } from '../../../scene'
import { across, cells, columnsFor, cutAcross, cutDown, down, gapOf, inset, middleOf } from './frame'
import {
  detailsOf,
  headOf,
  leading,
  numbered,
  padOf,
  paintOf,
  polygon,
  saysOf,
  told,
  type Arrange,
  type Piece,
} from './shape'
import { heightOf } from './type'

/** Steps go down the page where side by side they would be narrower than this share of its height. */
const NARROW = 0.18
export const runsDown = (frame: Box, count: number): boolean => frame.width / count < frame.height * NARROW

/** One arrow after the other, what is said of each beneath it. */
export const arrows: Arrange = (shown, frame, type) => {
  const { parts } = shown
  const gap = gapOf(frame)
  const hasDetails = parts.some((part) => detailsOf(part).length > 0)
  if (runsDown(frame, parts.length)) {
    return {
      pieces: down(frame, parts.length, gap * 0.5).flatMap((box, at) => {
        const part = parts[at]
        if (!part) return []
        const tip = Math.min(box.height * 0.22, 18)
        const [left, right] = cutAcross(box, hasDetails ? frame.width * 0.4 : frame.width, gap)
        const { x, y, width, height } = left
        const points = [
          { x, y },
          { x: x + width / 2, y: y + tip * 0.6 },
          { x: x + width, y },
          { x: x + width, y: y + height - tip },
          { x: x + width / 2, y: y + height },
          { x, y: y + height - tip },
        ]
        const inner = { x, y: y + tip * 0.6, width, height: Math.max(1, height - tip * 1.6) }
        return [
          {
            part,
            box,
            marks: [kit.path(polygon(points), paintOf(shown, part))],
            slots: [
              { box: inset(inner, padOf(inner), 1), says: [headOf(part)], align: 'middle' as const },
              ...(hasDetails ? [{ box: inset(right, 2), says: detailsOf(part) }] : []),
            ],
          },
        ]
      }),
    }
  }
  const boxes = across(frame, parts.length, gap * 0.4)
  const width = boxes[0]?.width ?? frame.width
  const heads = parts.map((part) => heightOf([headOf(part)], width * 0.66, type))
  const high = hasDetails
    ? Math.min(frame.height * 0.5, Math.max(frame.height * 0.26, Math.max(...heads) + type.head))
    : Math.min(frame.height, width * 0.9, Math.max(frame.height * 0.36, Math.max(...heads) + type.head))
  const top = hasDetails ? frame.y + Math.max(0, (frame.height - high) * 0.16) : frame.y + (frame.height - high) / 2
  return {
    pieces: parts.map((part, at): Piece => {
      const { x } = boxes[at] ?? frame
      const box = hasDetails
        ? { x, y: top, width, height: frame.y + frame.height - top }
        : { x, y: top, width, height: high }
      const tip = Math.min(width * 0.16, high * 0.3)
      const points = [
        { x, y: top },
        { x: x + width - tip, y: top },
        { x: x + width, y: top + high / 2 },
        { x: x + width - tip, y: top + high },
        { x, y: top + high },
        ...(at === 0 ? [] : [{ x: x + tip, y: top + high / 2 }]),
      ]
      const inner = { x: x + (at === 0 ? 0 : tip), y: top, width: width - tip * (at === 0 ? 1 : 2), height: high }
      const beneath = { x, y: top + high + gap, width: width - tip / 2, height: box.height - high - gap }
      return {
        part,
        box,
        marks: [kit.path(polygon(points), paintOf(shown, part))],
        slots: [
          { box: inset(inner, Math.min(6, padOf(inner)), 2), says: [headOf(part)], align: 'middle' },
          ...(hasDetails ? [{ box: inset(beneath, 2, 0), says: detailsOf(part), stands: 'top' as const }] : []),
        ],
      }
    }),
  }
}

/** Each step higher, or lower, than the one before. */
const stairs =
  (isUp: boolean): Arrange =>
  (shown, frame) => {
    const { parts } = shown
    const gap = gapOf(frame) * 0.6
    const wide = parts.length === 1 ? frame.width : Math.max(frame.width * 0.4, frame.width / parts.length)
    const lanes = down(frame, parts.length, gap)
    const shift = parts.length === 1 ? 0 : (frame.width - wide) / (parts.length - 1)
    return {
      pieces: parts.map((part, at) => {
        const lane = lanes[isUp ? parts.length - 1 - at : at] ?? frame
        return told(shown, part, { ...lane, x: frame.x + shift * at, width: wide })
      }),
      backdrop: parts.slice(1).flatMap((_, before): readonly Mark[] => {
        const lane = lanes[isUp ? parts.length - 1 - before : before]
        const next = lanes[isUp ? parts.length - 2 - before : before + 1]
        if (!lane || !next || shift < 8) return []
        const x = frame.x + shift * before + shift / 2
        const [from, to] = isUp ? [lane.y, next.y + next.height / 2] : [lane.y + lane.height, next.y + next.height / 2]
        return leading(
          [
            { x, y: from },
            { x, y: to },
            { x: frame.x + shift * (before + 1), y: to },
          ],
          Math.min(7, shift / 3),
        )
      }),
    }
  }
export const stairsUp = stairs(true)
export const stairsDown = stairs(false)

/** Numbers on a chain, what each is and what is said of it beneath. */
export const chain: Arrange = (shown, frame) => {
  const { parts } = shown
  const gap = gapOf(frame)
  const isDown = runsDown(frame, parts.length)
  const boxes = isDown ? down(frame, parts.length, gap) : across(frame, parts.length, gap)
  const r = Math.min(
    26,
    frame.height / 9,
    frame.width / 9,
    ...boxes.map(({ width, height }) => (isDown ? height : width) * 0.4),
  )
  const discs = boxes.map((box) =>
    isDown ? { x: frame.x + r + 2, y: box.y + box.height / 2 } : { x: box.x + box.width / 2, y: frame.y + r + 2 + gap },
  )
  const [first, last] = [discs[0], discs.at(-1)]
  return {
    backdrop:
      first && last
        ? [kit.path(`M${first.x} ${first.y}L${last.x} ${last.y}`, { fill: 'none', stroke: 'line', 'stroke-width': 2 })]
        : [],
    pieces: parts.map((part, at): Piece => {
      const box = boxes[at] ?? frame
      const disc = discs[at] ?? middleOf(box)
      const [, rest] = isDown ? cutAcross(box, 2 * r + 4, gap) : cutDown(box, 2 * r + gap + 4, gap)
      return {
        part,
        box,
        marks: numbered(disc, r, at + 1, paintOf(shown, part).stroke),
        slots: [
          { box: rest, says: saysOf(part), align: isDown ? 'start' : 'middle', stands: isDown ? 'middle' : 'top' },
        ],
      }
    }),
  }
}

/** A row that turns back at its end, as often as it has to. */
export const bending: Arrange = (shown, frame) => {
  const { parts } = shown
  const columns = columnsFor(frame, parts.length, 1.6)
  const gap = gapOf(frame) * 1.7
  const boxes = cells(frame, parts.length, columns, gap).map((box, at, all) => {
    const row = Math.floor(at / columns)
    if (row % 2 === 0) return box
    // Every other row runs back.
    return { ...box, x: all[columns - 1 - (at % columns)]?.x ?? box.x }
  })
  return {
    pieces: parts.map((part, at) => told(shown, part, boxes[at] ?? frame)),
    backdrop: boxes.slice(1).flatMap((box, before) => {
      const from = boxes[before]
      if (!from) return []
      const [a, b] = [middleOf(from), middleOf(box)]
      if (Math.abs(a.y - b.y) < 1) {
        const isRight = b.x > a.x
        return leading(
          [
            { x: isRight ? from.x + from.width : from.x, y: a.y },
            { x: isRight ? box.x : box.x + box.width, y: b.y },
          ],
          gap * 0.4,
        )
      }
      return leading(
        [
          { x: a.x, y: from.y + from.height },
          { x: a.x, y: box.y },
        ],
        gap * 0.4,
      )
    }),
  }
}

/** Many become few: each band narrower than the one above. */
export const funnel: Arrange = (shown, frame) => {
  const { parts } = shown
  const gap = gapOf(frame)
  const hasDetails = parts.some((part) => detailsOf(part).length > 0)
  const [left, right] = hasDetails ? cutAcross(frame, frame.width * 0.56, gap) : [frame, frame]
  const bands = down(left, parts.length, Math.min(4, gap / 2))
  const widthAt = (y: number) => left.width * (1 - 0.62 * ((y - left.y) / left.height))
  const middle = left.x + left.width / 2
  return {
    pieces: parts.map((part, at): Piece => {
      const band = bands[at] ?? left
      const [upper, lower] = [widthAt(band.y), widthAt(band.y + band.height)]
      const shape = polygon([
        { x: middle - upper / 2, y: band.y },
        { x: middle + upper / 2, y: band.y },
        { x: middle + lower / 2, y: band.y + band.height },
        { x: middle - lower / 2, y: band.y + band.height },
      ])
      const inner = { ...band, x: middle - lower / 2, width: lower }
      const beside = { ...right, y: band.y, height: band.height }
      const line = `M${middle + (upper + lower) / 4} ${band.y + band.height / 2}H${right.x - 4}`
      return {
        part,
        box: { ...band, width: hasDetails ? frame.width : left.width },
        marks: [
          kit.path(shape, paintOf(shown, part)),
          ...(hasDetails && detailsOf(part).length > 0
            ? [kit.path(line, { fill: 'none', stroke: 'hairline', 'stroke-width': 1 })]
            : []),
        ],
        slots: [
          { box: inset(inner, padOf(inner), 1), says: [headOf(part)], align: 'middle' },
          ...(hasDetails ? [{ box: beside, says: detailsOf(part) }] : []),
        ],
      }
    }),
  }
}

/** Stages, each left through a gate. */
export const gates: Arrange = (shown, frame) => {
  const { parts } = shown
  const isDown = runsDown(frame, parts.length)
  const between = Math.min(44, (isDown ? frame.height : frame.width) / parts.length / 3)
  const boxes = isDown ? down(frame, parts.length, between) : across(frame, parts.length, between)
  return {
    pieces: parts.map((part, at) => told(shown, part, boxes[at] ?? frame)),
    backdrop: boxes.slice(1).flatMap((box): readonly Mark[] => {
      const middle = middleOf(box)
      const [x, y] = isDown ? [middle.x, box.y - between / 2] : [box.x - between / 2, middle.y]
      const r = between * 0.38
      const run = isDown ? `M${x} ${y - between / 2}V${y + between / 2}` : `M${x - between / 2} ${y}H${x + between / 2}`
      return [
        kit.path(run, { fill: 'none', stroke: 'line', 'stroke-width': 1.5 }),
        kit.path(
          polygon([
            { x, y: y - r },
            { x: x + r, y },
            { x, y: y + r },
            { x: x - r, y },
          ]),
          { fill: 'sheet', stroke: 'ink', 'stroke-width': 1.5 },
        ),
      ]
    }),
  }
}
