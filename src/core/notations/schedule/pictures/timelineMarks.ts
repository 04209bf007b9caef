import type { Instant } from '../../../calendar'
import type { Entity } from '../../../model'
import { kit, textWidth, wrap, type Item, type Mark, type Role } from '../../../scene'
import { textOf } from '../plan'
import { cellsOf, type Axis } from './axis'
import type { CalloutPlace } from '../../../layout'
import { isMain, MARGIN, type Point, type Span, type TimeScale } from './timeScale'

export const STRIP = 24
export const ERA = 20
const PICTURE = 72
const LINES = 8

interface PointText {
  readonly date: string
  readonly lines: readonly string[]
  readonly size: number
  readonly picture: string | undefined
  readonly width: number
  readonly height: number
}

export function textOfPoint(entity: Entity, date: string, room: number): PointText {
  const main = isMain(entity)
  const size = main ? 13 : 12
  const face = main ? 'text700' : 'text400'
  const lines = wrap(entity.name, room, size, face, LINES)
  const picture = textOf(entity, 'photo')
  const widest = Math.max(textWidth(date, 10.5, 'mono400'), ...lines.map((words) => textWidth(words, size, face)))
  return {
    date,
    lines,
    size,
    picture,
    width: Math.max(widest, picture ? PICTURE : 0) + 8,
    height: (picture ? PICTURE + 4 : 0) + 14 + lines.length * (size + 3),
  }
}

export const label = kit.texts({ 'font-size': 11, fill: 'ink-quiet' })

/** What a stem passes behind: an era with its name, in the sheet's own px. */
export interface Passed {
  readonly from: number
  readonly to: number
  readonly top: number
  readonly bottom: number
}

/** The rest of a stem, from a callout's top up to its marker, left out where something stands before it. */
function stemPast(passed: readonly Passed[], x: number, top: number, edge: number): string {
  const gaps = passed.filter(({ from, to }) => x > from - 2 && x < to + 2).sort((a, b) => b.bottom - a.bottom)
  return `${gaps.map((gap) => `V${gap.bottom + 1 - top}M0 ${gap.top - 1 - top}`).join('')}V${edge}`
}

/** Where an era and its name stand, in their row. */
export function eraPlace(span: Span, x: (at: Instant) => number, top: number): Passed {
  const [from, to] = [x(span.from), x(span.to)]
  const end = Math.max(to, from + 3)
  return { from, to: isNarrow(span, x) ? end + nameRoom(span) : end, top, bottom: top + ERA }
}

const faceOf = ({ entity }: Span) => (isMain(entity) ? 'text700' : 'text400')
const nameRoom = (span: Span): number => textWidth(span.entity.name, 11, faceOf(span)) + 12

/** A callout: a marker on the line, a stem, and beside its far end the date and the words. */
export function pointItem(
  { entity }: Point,
  x: number,
  { date, lines, size, picture, width, height }: PointText,
  { side, out }: CalloutPlace,
  {
    line,
    under,
    words: again,
    passed = [],
  }: { line: number; under: number; words: string; passed?: readonly Passed[] },
  colours: ReadonlyMap<string, Role>,
): Item {
  const main = isMain(entity)
  const colour = colours.get(textOf(entity, 'band') ?? '') ?? 'ink'
  const above = side === 'above'
  const top = above ? line - out - height : under + out
  const edge = above ? line - top : line + STRIP - top
  const marks: Mark[] = [
    kit.path(above ? `M0 0V${edge}` : `M0 ${height}V0${stemPast(passed, x, top, edge)}`, {
      stroke: colour,
      'stroke-width': main ? 1.6 : 1,
      fill: 'none',
    }),
    kit.circle(0, edge, main ? 6.5 : 4, {
      fill: main ? colour : 'sheet',
      stroke: colour,
      'stroke-width': main ? 1 : 2,
    }),
  ]
  let y = 0
  if (picture) {
    marks.push(kit.image({ x: 5, y: 0, width: PICTURE, height: PICTURE }, picture))
    y += PICTURE + 4
  }
  marks.push(label(6, y + 10, date, { 'font-family': 'mono', 'font-size': 10.5 }))
  lines.forEach((words, i) =>
    marks.push(
      label(6, y + 14 + (i + 1) * (size + 3) - 3, words, {
        'font-size': size,
        fill: 'ink',
        'font-weight': main ? 700 : 400,
      }),
    ),
  )
  return {
    id: entity.id,
    facts: [entity.id],
    label: `${date}: ${entity.name}`,
    box: { x, y: top, width, height },
    marks,
    handles: [
      { id: `place ${edge} ${again}`, box: { x: -7, y: edge - 7, width: 14, height: 14 }, pulls: 'freely' },
      { id: `place ${edge} ${again}`, box: { x: 0, y: 0, width, height }, pulls: 'freely' },
    ],
    texts: [
      {
        part: 'name',
        value: entity.name,
        label: 'Event',
        box: { x: 3, y: y + 13, width: Math.max(160, width), height: 22 },
      },
      { part: 'when', value: textOf(entity, 'when') ?? '', label: 'When', box: { x: 3, y, width: 120, height: 13 } },
    ],
  }
}

/** Rows of spans that do not meet. */
export function packed(spans: readonly Span[], x: (at: Instant) => number): { span: Span; row: number }[] {
  const ends: number[] = []
  return spans.map((span) => {
    let row = ends.findIndex((end) => end <= x(span.from) + 0.5)
    if (row < 0) row = ends.length
    ends[row] = Math.max(x(span.to), isNarrow(span, x) ? Math.max(x(span.to), x(span.from) + 3) + nameRoom(span) : 0)
    return { span, row }
  })
}

const isNarrow = (span: Span, x: (at: Instant) => number): boolean =>
  textWidth(span.entity.name, 11, 'text700') + 14 > x(span.to) - x(span.from)

export function eraItem(span: Span, { x, words }: TimeScale, top: number, colours: ReadonlyMap<string, Role>): Item {
  const { entity, from, to } = span
  const [x1, x2] = [x(from), x(to)]
  const width = Math.max(3, x2 - x1)
  const colour = colours.get(textOf(entity, 'band') ?? '') ?? 'ink'
  const main = isMain(entity)
  const narrow = isNarrow(span, x)
  return {
    id: entity.id,
    facts: [entity.id],
    label: `era ${entity.name}`,
    box: { x: x1, y: top, width, height: ERA },
    marks: [
      kit.rect(
        { x: 0, y: main ? 0 : 4, width, height: main ? ERA : ERA - 8 },
        {
          rx: 3,
          fill: colour.startsWith('edge') ? (colour.replace('edge', 'fill') as Role) : 'head',
          stroke: colour,
          'stroke-width': main ? 1.4 : 0.8,
        },
      ),
      ...(narrow
        ? [
            kit.rect(
              { x: width + 2, y: 2, width: textWidth(entity.name, 11, main ? 'text700' : 'text400') + 6, height: 16 },
              { fill: 'sheet', stroke: 'none' },
            ),
          ]
        : []),
      label(narrow ? width + 5 : 7, 14, entity.name, { fill: 'ink', 'font-weight': main ? 700 : 400 }),
    ],
    handles: [
      {
        id: `until ${words}`,
        box: { x: width - Math.min(6, width / 3), y: 0, width: Math.min(6, width / 3), height: ERA },
        pulls: 'along',
      },
      { id: `when ${words}`, box: { x: 0, y: 0, width: Math.min(6, width / 3), height: ERA }, pulls: 'along' },
      { id: `both ${words}`, box: { x: 0, y: 0, width, height: ERA }, pulls: 'along' },
    ],
    texts: [
      {
        part: 'name',
        value: entity.name,
        label: 'Era',
        box: { x: 3, y: 0, width: Math.max(120, width - 6), height: ERA },
      },
    ],
  }
}

/** The line itself: a strip with the axis' cells, or a plain one where dates are evenly spaced. */
export function strip(axis: Axis | undefined, width: number, y: number): Mark[] {
  const marks: Mark[] = [
    kit.rect(
      { x: MARGIN, y, width: width - MARGIN, height: STRIP },
      { rx: 3, fill: 'head', stroke: 'outline', 'stroke-width': 1 },
    ),
  ]
  if (!axis) return marks
  const { lower, upper } = cellsOf(axis)
  const wide = (cells: typeof lower) => {
    const [a, b] = cells
    return a && b ? axis.x(b.from) - axis.x(a.from) : axis.width
  }
  const widest = Math.max(...lower.map(({ label: words }) => textWidth(words, 10.5, 'mono400')))
  const every = Math.max(1, Math.ceil((widest + 10) / wide(lower)))
  const cells = every > 8 ? upper : lower.filter((_, i) => i % every === 0)
  const big = new Set(upper.map(({ from }) => from))
  const ticks = cells
    .filter(({ from }) => from > axis.from)
    .map(({ from }) => `M${axis.x(from)} ${y}v${big.has(from) ? STRIP : 7}`)
  marks.push(kit.path(ticks.join('') || 'M0 0', { stroke: 'outline', 'stroke-width': 1, fill: 'none' }))
  for (const { from, label: words } of cells) {
    const at = Math.max(MARGIN, axis.x(from)) + 4
    if (at + textWidth(words, 10.5, 'mono400') < MARGIN + axis.width)
      marks.push(label(at, y + 17, words, { 'font-family': 'mono', 'font-size': 10.5 }))
  }
  return marks
}

export function legend(bands: readonly string[], colours: ReadonlyMap<string, Role>, y: number): Mark[] {
  let x = MARGIN
  return bands.flatMap((band): Mark[] => {
    const at = x
    x += textWidth(band, 11, 'text400') + 36
    return [
      kit.circle(at + 5, y - 4, 5, { fill: colours.get(band) ?? 'ink', stroke: 'none' }),
      label(at + 15, y, band, {}),
    ]
  })
}

export const legendWidth = (bands: readonly string[]): number =>
  bands.reduce((sum, band) => sum + textWidth(band, 11, 'text400') + 36, MARGIN)
