import { kit, type Mark } from '../../../scene'
import type { Part } from '../structure'
import { across, cutAcross, cutDown, down, gapOf, inset } from './frame'
import { titleSays } from './middle'
import { detailsOf, headOf, padOf, paintOf, plate, round, type Arrange, type Piece } from './shape'
import { heightOf, type Saying } from './type'

const line = (d: string): Mark => kit.path(d, { fill: 'none', stroke: 'line', 'stroke-width': 1.5 })

/** From the top down: what each part hangs on above it, what hangs on it beneath. */
export const treeDown: Arrange = (shown, frame, type) => {
  const { parts } = shown
  const gap = gapOf(frame)
  const [top, rest] = cutDown(frame, Math.min(frame.height * 0.2, 90), gap * 2.2)
  const core = { ...top, x: top.x + top.width * 0.25, width: top.width * 0.5 }
  const boxes = across(rest, parts.length, gap)
  const bus = (top.y + top.height + rest.y) / 2
  const width = boxes[0]?.width ?? rest.width
  const hasDetails = parts.some((part) => part.parts.length > 0)
  const pad = padOf({ ...rest, width, height: rest.height / 3 })
  const heads = Math.max(...parts.map((part) => heightOf([headOf(part)], width - 2 * pad, type))) + 2 * pad
  const headHeight = hasDetails
    ? Math.min(rest.height * 0.5, Math.max(heads, rest.height * 0.2))
    : Math.min(rest.height, Math.max(heads, rest.height * 0.5))
  return {
    centre: {
      box: core,
      marks: [kit.rect(core, { fill: 'head', stroke: 'ink', 'stroke-width': 1.5, rx: 3 })],
      slot: { box: inset(core, 8, 4), says: [titleSays(shown)], align: 'middle' },
    },
    backdrop: boxes.map((box) =>
      line(
        `M${round(core.x + core.width / 2)} ${core.y + core.height}V${round(bus)}H${round(box.x + box.width / 2)}V${box.y}`,
      ),
    ),
    pieces: parts.map((part, at): Piece => {
      const whole = boxes[at] ?? rest
      const [head, beneath] = cutDown(whole, headHeight, gap * 0.6)
      const below = detailsOf(part)
      const own = below.filter((one) => one.part === part)
      return {
        part,
        box: hasDetails ? whole : head,
        marks: [
          ...plate(shown, part, head),
          ...(below.length > own.length
            ? [
                kit.path(`M${head.x + 6} ${head.y + head.height}V${whole.y + whole.height}`, {
                  fill: 'none',
                  stroke: 'hairline',
                  'stroke-width': 1.5,
                }),
              ]
            : []),
        ],
        slots: [
          { box: inset(head, pad), says: [headOf(part), ...own], align: 'middle' },
          ...(hasDetails
            ? [
                {
                  box: { ...beneath, x: beneath.x + 12, width: Math.max(1, beneath.width - 12) },
                  says: below.slice(own.length),
                  stands: 'top' as const,
                },
              ]
            : []),
        ],
      }
    }),
  }
}

/** From the left to the right: what belongs to each beside it. */
export const treeAcross: Arrange = (shown, frame, type) => {
  const { parts } = shown
  const gap = gapOf(frame)
  const [left, rest] = cutAcross(frame, frame.width * 0.22, gap * 2.4)
  const hasDetails = parts.some((part) => detailsOf(part).length > 0)
  const headWidth = hasDetails ? rest.width * 0.4 : rest.width
  const needs = parts.map((part) =>
    Math.max(
      heightOf([headOf(part)], headWidth - 24, type) + 12,
      heightOf(detailsOf(part), rest.width - headWidth - gap * 2.4, type),
    ),
  )
  const boxes = down(rest, parts.length, gap, needs)
  const core = { ...left, y: left.y + left.height * 0.34, height: left.height * 0.32 }
  const stem = (left.x + left.width + rest.x) / 2
  return {
    centre: {
      box: core,
      marks: [kit.rect(core, { fill: 'head', stroke: 'ink', 'stroke-width': 1.5, rx: 3 })],
      slot: { box: inset(core, 8), says: [titleSays(shown)], align: 'middle' },
    },
    backdrop: boxes.map(({ x, y, height }) =>
      line(`M${core.x + core.width} ${round(core.y + core.height / 2)}H${round(stem)}V${round(y + height / 2)}H${x}`),
    ),
    pieces: parts.map((part, at): Piece => {
      const box = boxes[at] ?? rest
      const [head, beside] = cutAcross(box, headWidth, gap * 2.4)
      const bracket = `M${head.x + head.width} ${round(box.y + box.height / 2)}h${gap * 0.8}M${head.x + head.width + gap * 1.6} ${box.y}h${-gap * 0.8}V${box.y + box.height}h${gap * 0.8}`
      return {
        part,
        box,
        marks: [...plate(shown, part, head), ...(detailsOf(part).length > 0 ? [line(bracket)] : [])],
        slots: [
          { box: inset(head, Math.min(12, padOf(head) + 3), Math.min(8, padOf(head))), says: [headOf(part)] },
          ...(hasDetails ? [{ box: beside, says: detailsOf(part) }] : []),
        ],
      }
    }),
  }
}

/** All lines beneath one another, each set in as deep as it stands, in as many columns as hold them best. */
export const indented: Arrange = (shown, frame, type) => {
  const { parts } = shown
  const gap = gapOf(frame)
  const saysAll = (part: Part): readonly Saying[] => [
    headOf(part),
    ...detailsOf(part).map(({ sign: _, ...one }): Saying => ({ ...one, inset: (one.inset ?? 0) + 1 })),
  ]
  const count = frame.width > frame.height * 1.1 ? Math.min(3, Math.ceil(parts.length / 3)) : parts.length > 8 ? 2 : 1
  const columns = across(frame, count, gap * 2)
  const perColumn = Math.ceil(parts.length / count)
  const width = (columns[0]?.width ?? frame.width) - 14
  const needs = parts.map((part) => heightOf(saysAll(part), width, type) + gap * 0.6)
  return {
    pieces: columns.flatMap((column, at) => {
      const own = parts.slice(at * perColumn, (at + 1) * perColumn)
      const boxes = down(column, own.length, 0, needs.slice(at * perColumn, at * perColumn + own.length))
      return own.map((part, index): Piece => {
        const box = boxes[index] ?? column
        const paint = paintOf(shown, part)
        return {
          part,
          box,
          marks: [
            kit.rect(
              { ...box, width: 4, height: Math.max(1, box.height - gap * 0.4) },
              { fill: paint.stroke, stroke: 'none' },
            ),
            kit.rect(
              { ...box, x: box.x + 4, width: box.width - 4, height: Math.max(1, box.height - gap * 0.4) },
              { fill: paint.fill, stroke: 'none' },
            ),
          ],
          slots: [
            { box: { ...box, x: box.x + 12, width, height: Math.max(1, box.height - gap * 0.5) }, says: saysAll(part) },
          ],
        }
      })
    }),
  }
}
