import { kit, textWidth, type Mark } from '../../../scene'
import { across, cells, columnsFor, cutAcross, cutDown, down, gapOf, inset, middleOf } from './frame'
import { runsDown } from './steps'
import {
  detailsOf,
  headOf,
  onEllipse,
  padOf,
  paintOf,
  polygon,
  round,
  saysOf,
  told,
  valueOf,
  type Arrange,
  type Piece,
} from './shape'
import type { Part } from '../structure'
import { heightOf } from './type'

/** What together comes to the last. */
export const sum: Arrange = (shown, frame) => {
  const { parts } = shown
  const isDown = runsDown(frame, parts.length)
  const between = Math.min(46, (isDown ? frame.height : frame.width) / Math.max(1, parts.length) / 2.6)
  const boxes = isDown ? down(frame, parts.length, between) : across(frame, parts.length, between)
  return {
    pieces: parts.map((part, at) => {
      const box = boxes[at] ?? frame
      const high = Math.max(box.height * 0.3, Math.min(box.height, box.width * 1.1))
      return told(shown, part, isDown ? box : { ...box, y: box.y + (box.height - high) / 2, height: high }, {
        align: 'middle',
      })
    }),
    backdrop: boxes.slice(1).map((box, before): Mark => {
      const middle = middleOf(box)
      const [x, y] = isDown ? [middle.x, box.y - between / 2] : [box.x - between / 2, middle.y]
      const r = between * 0.26
      const isLast = before === boxes.length - 2
      const d = isLast
        ? `M${x - r} ${y - r * 0.45}h${2 * r}M${x - r} ${y + r * 0.45}h${2 * r}`
        : `M${x - r} ${y}h${2 * r}M${x} ${y - r}v${2 * r}`
      return kit.path(d, { fill: 'none', stroke: 'ink', 'stroke-width': Math.max(1.5, r * 0.28) })
    }),
  }
}

/** How much lies on a side: what its lines come to, or how many they are. */
const weightOf = (part: Part): number => {
  const values = [part, ...part.parts].flatMap(({ entity }) =>
    typeof entity.fields['value'] === 'number' ? [entity.fields['value']] : [],
  )
  return values.length > 0 ? values.reduce((all, value) => all + value, 0) : part.parts.length
}

/** What speaks for and what against, on a beam that leans to where more lies. */
export const scale: Arrange = (shown, frame) => {
  const { parts } = shown
  const foot = Math.min(frame.height * 0.2, 90)
  const [top, base] = cutDown(frame, frame.height - foot, 0)
  const half = Math.ceil(parts.length / 2)
  const sum = (list: typeof parts) => list.reduce((all, part) => all + weightOf(part), 0)
  const [left, right] = [sum(parts.slice(0, half)), sum(parts.slice(half))]
  const lean = left === right ? 0 : ((right - left) / (Math.abs(right) + Math.abs(left) || 1)) * foot * 0.34
  const gap = gapOf(frame)
  const boxes = across({ ...top, height: top.height - foot * 0.34 }, parts.length, gap)
  const [x, y] = [base.x + base.width / 2, base.y]
  const beam = `M${base.x} ${round(y - lean)}L${base.x + base.width} ${round(y + lean)}`
  return {
    backdrop: [
      kit.path(beam, { fill: 'none', stroke: 'ink', 'stroke-width': 4, 'stroke-linecap': 'round' }),
      kit.path(`M${x} ${y + 3}L${x + foot * 0.5} ${y + foot}H${x - foot * 0.5}Z`, {
        fill: 'head',
        stroke: 'ink',
        'stroke-width': 1.5,
      }),
    ],
    pieces: parts.map((part, at) => {
      const box = boxes[at] ?? top
      const share = (box.x + box.width / 2 - frame.x) / frame.width
      return told(shown, part, { ...box, y: box.y + foot * 0.17 + lean * (2 * share - 1) }, { stands: 'top' })
    }),
  }
}

/** A number as large as it can be, what it counts beneath. */
export const bigNumber: Arrange = (shown, frame) => {
  const { parts } = shown
  const boxes = cells(frame, parts.length, columnsFor(frame, parts.length, 1.4), gapOf(frame))
  const texts = parts.map((part) => valueOf(part) ?? '—')
  const widest = Math.max(0.6, ...texts.map((text) => textWidth(text, 1, 'text700')))
  const [first = frame] = boxes
  // All numbers are of one size.
  const size = Math.min(first.height * 0.42, (first.width * 0.86) / widest)
  return {
    pieces: parts.map((part, at): Piece => {
      const box = boxes[at] ?? frame
      const pad = padOf(box)
      const [top, rest] = cutDown(box, box.height * 0.54, 0)
      const paint = paintOf(shown, part)
      return {
        part,
        box,
        marks: [
          kit.rect(box, { ...paint, rx: 3 }),
          kit.text(top.x + top.width / 2, top.y + top.height * 0.58 + size * 0.3, texts[at] ?? '', {
            fill: 'ink',
            'font-size': size,
            'font-weight': 700,
            'text-anchor': 'middle',
          }),
        ],
        slots: [
          { box: inset(rest, pad), says: [headOf(part), ...detailsOf(part, false)], align: 'middle', stands: 'top' },
        ],
      }
    }),
  }
}

/** What share of the whole each is: a bar as long as all, cut, with each told beneath. */
export const share: Arrange = (shown, frame, type) => {
  const { parts } = shown
  const gap = gapOf(frame)
  const values = parts.map(({ entity }) =>
    Math.max(0, typeof entity.fields['value'] === 'number' ? entity.fields['value'] : 0),
  )
  const whole = values.reduce((all, value) => all + value, 0)
  const side = Math.min(frame.height, frame.width * 0.46)
  const isUpright = frame.height > frame.width
  const [place, list] = isUpright
    ? cutDown(frame, Math.min(frame.width * 0.8, frame.height * 0.46), gap)
    : cutAcross(frame, side, gap * 2)
  const middle = middleOf(place)
  const r = Math.min(place.width, place.height) / 2
  const needs = parts.map((part) => heightOf(saysOf(part), list.width - 40, type) + 6)
  const boxes = down(list, parts.length, gap * 0.6, needs)
  let begin = 0
  return {
    backdrop:
      whole > 0
        ? []
        : [kit.circle(middle.x, middle.y, r * 0.8, { fill: 'none', stroke: 'hairline', 'stroke-width': r * 0.3 })],
    pieces: parts.map((part, at): Piece => {
      const box = boxes[at] ?? list
      const paint = paintOf(shown, part)
      const from = begin
      const own = whole > 0 ? (values[at] ?? 0) / whole : 0
      begin += own
      const steps = Math.max(2, Math.ceil(own * 72))
      const arc = (radius: number) =>
        Array.from({ length: steps + 1 }, (_, i) => onEllipse(middle, radius, radius, from + (own * i) / steps))
      const points = [...arc(r), ...arc(r * 0.56).toReversed()]
      return {
        part,
        box,
        marks: [
          kit.rect({ ...box, width: 16, height: Math.min(16, box.height) }, { ...paint, fill: paint.stroke }),
          ...(own > 0
            ? [
                kit.path(polygon(points), {
                  ...paint,
                  fill: paint.stroke,
                  stroke: 'sheet',
                  'stroke-width': 1.5,
                }),
              ]
            : []),
        ],
        slots: [
          {
            box: { ...box, x: box.x + 26, width: Math.max(1, box.width - 26) },
            says: [
              headOf(part),
              ...(own > 0 ? [{ part, text: sharesOf(part, own), rank: 'detail' as const }] : []),
              ...detailsOf(part, own === 0),
            ],
          },
        ],
      }
    }),
  }
}

const sharesOf = (part: Part, own: number): string => {
  const value = valueOf(part)
  const percent = `${(own * 100).toFixed(own < 0.1 ? 1 : 0)} %`
  return value === undefined || value.replace(/\s/g, '') === percent.replace(/\s/g, '')
    ? percent
    : `${value}, ${percent} of the whole`
}
