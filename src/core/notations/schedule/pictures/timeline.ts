import { readWhen, whenInWords, type Instant } from '../../../calendar'
import type { Entity, Id, Model, View } from '../../../model'
import type { Field, Outcome, Picture, Pull, Wish } from '../../../notation'
import { around, CATEGORIES, textWidth, wrap, type Item, type Mark, type Scene } from '../../../scene'
import { named as namedWork, setEntity, setField } from '../edits'
import { planOf, textOf } from '../plan'
import { axisOf, cellsOf, unitFor, UNITS, type Axis } from './axis'
import { placeCallouts, type CalloutPlace } from './callouts'

type Option = Field & { readonly initial?: string | number | boolean }
const options: readonly Option[] = [
  { id: 'unit', label: 'Axis', type: 'choice', choices: ['auto', ...UNITS], initial: 'auto' },
  { id: 'spacing', label: 'Spacing', type: 'choice', choices: ['true', 'even'], initial: 'true' },
  { id: 'width', label: 'Text width', type: 'choice', choices: ['narrow', 'medium', 'wide'], initial: 'medium' },
  { id: 'bands', label: 'A line each band', type: 'flag', initial: false },
]

/** Points and spans in time, told by callouts above and below the line. */
export const timeline: Picture = {
  id: 'timeline',
  title: 'Timeline',
  draws: ['event', 'era', 'plan'],
  options,
  draw: drawTimeline,
  pull: pullEvent,
  write: writeEvent,
}

const STRIP = 24
const MARGIN = 24
const BASE = 18
const ERA = 20
const PICTURE = 72
const TEXT = { narrow: 104, medium: 148, wide: 216 } as const
const AUTO_WIDTH = 2000
const LINES = 8
/** How long the line is, where nobody chose an axis. */
const LINE = 1080

interface Point {
  readonly entity: Entity
  readonly at: Instant
  readonly words: string
}
interface Span {
  readonly entity: Entity
  readonly from: Instant
  readonly to: Instant
}

const isMain = (entity: Entity): boolean => entity.fields['weight'] === 'main'

/** Events and eras of the view's plan, or all where it names none. */
function factsOf(model: Model, view: View): { points: Point[]; spans: Span[] } {
  const plan = typeof view.scope['plan'] === 'string' ? planOf(model, view) : undefined
  const mine = (kind: string) =>
    view.scope['plan'] === ''
      ? []
      : model.ofKind(kind).filter((entity) => plan === undefined || textOf(entity, 'plan') === plan)
  const points = mine('event').flatMap((entity): Point[] => {
    const when = readWhen(textOf(entity, 'when') ?? '')
    return when ? [{ entity, at: (when.from + when.to) / 2, words: whenInWords(textOf(entity, 'when') ?? '') }] : []
  })
  const spans = mine('era').flatMap((entity): Span[] => {
    const [when, until] = [readWhen(textOf(entity, 'when') ?? ''), readWhen(textOf(entity, 'until') ?? '')]
    return when ? [{ entity, from: when.from, to: Math.max(when.from, (until ?? when).to + 1440) }] : []
  })
  points.sort((a, b) => a.at - b.at)
  spans.sort((a, b) => a.from - b.from)
  return { points, spans }
}

/** Where time stands: true to scale, or every date as far from the next. */
function scaleOf(
  view: View,
  points: readonly Point[],
  spans: readonly Span[],
): { x: (at: Instant) => number; axis: Axis | undefined; width: number; at: (x: number) => Instant } {
  const instants = [...points.map(({ at }) => at), ...spans.flatMap(({ from, to }) => [from, to])]
  const [first, last] = instants.length === 0 ? [0, 525_600] : [Math.min(...instants), Math.max(...instants)]
  if (view.options['spacing'] === 'even') {
    const stops = [...new Set(instants)].sort((a, b) => a - b)
    const step = Math.max(70, Math.min(180, AUTO_WIDTH / Math.max(1, stops.length)))
    const x = (at: Instant): number => {
      const next = stops.findIndex((stop) => stop >= at)
      if (next <= 0) return MARGIN + (next < 0 ? (stops.length - 1) * step : 0) + 20
      const [a, b] = [stops[next - 1] ?? 0, stops[next] ?? 0]
      return MARGIN + 20 + (next - 1 + (at - a) / (b - a || 1)) * step
    }
    const at = (px: number): Instant => {
      const place = Math.max(0, Math.min(stops.length - 1, (px - MARGIN - 20) / step))
      const [a, b] = [stops[Math.floor(place)] ?? 0, stops[Math.ceil(place)] ?? 0]
      return a + (place - Math.floor(place)) * (b - a)
    }
    return { x, at, axis: undefined, width: MARGIN + 40 + Math.max(0, stops.length - 1) * step }
  }
  const span = Math.max(last - first, 1440)
  const stated = view.options['unit']
  const chosen = UNITS.find((one) => one === stated)
  const unit = chosen ?? unitFor(span, AUTO_WIDTH)
  const axis = axisOf(unit, first, last, MARGIN, LINE, chosen ? 'stretch' : 'fit')
  return { x: axis.x, at: axis.at, axis, width: MARGIN + axis.width }
}

function drawTimeline(model: Model, view: View): Scene {
  const { points, spans } = factsOf(model, view)
  const scale = scaleOf(view, points, spans)
  const bands = [...new Set([...points, ...spans].map(({ entity }) => textOf(entity, 'band') ?? ''))]
  const colours = new Map(bands.map((band, i) => [band, band === '' ? 'ink' : `edge-${(i % CATEGORIES) + 1}`]))
  const rows =
    view.options['bands'] === true && bands.length > 1
      ? bands.map((band) => ({
          band,
          points: points.filter(({ entity }) => (textOf(entity, 'band') ?? '') === band),
          spans: spans.filter(({ entity }) => (textOf(entity, 'band') ?? '') === band),
        }))
      : [{ band: '', points, spans }]
  const items: Item[] = []
  const backdrop: Mark[] = []
  let top = MARGIN
  for (const row of rows) {
    const drawn = drawRow(view, row, scale, colours, top)
    items.push(...drawn.items)
    backdrop.push(...drawn.backdrop)
    top = drawn.bottom + 28
  }
  const shown = bands.filter((band) => band !== '')
  if (rows.length === 1 && shown.length > 1) backdrop.push(...legend(shown, colours, top - 8))
  const boxes = [
    ...items.map(({ box }) => box),
    { x: 0, y: 0, width: scale.width + MARGIN, height: top + (shown.length > 1 ? 16 : 0) },
  ]
  const reach = around(boxes, 0)
  const bounds = { x: 0, y: 0, width: reach.x + reach.width + MARGIN, height: reach.y + reach.height + MARGIN / 2 }
  return {
    bounds,
    backdrop,
    items,
    links: [],
    headline: `${points.length} ${points.length === 1 ? 'event' : 'events'}${spans.length > 0 ? `, ${spans.length} eras` : ''}`,
    summary: `A timeline: ${points
      .map(({ words, entity }) => `${words}, ${entity.name}`)
      .slice(0, 60)
      .join('; ')}.`,
  }
}

interface Row {
  readonly band: string
  readonly points: readonly Point[]
  readonly spans: readonly Span[]
}

function drawRow(
  view: View,
  { band, points, spans }: Row,
  { x, axis, width }: ReturnType<typeof scaleOf>,
  colours: ReadonlyMap<string, string>,
  top: number,
): { items: Item[]; backdrop: Mark[]; bottom: number } {
  const room = TEXT[view.options['width'] as keyof typeof TEXT] ?? TEXT.medium
  const texts = points.map(({ entity, words }) => textOfPoint(entity, words, room))
  const places = placeCallouts(
    points.map(({ entity, at }, i) => {
      const pin = view.pins[entity.id]?.[1]
      return {
        x: x(at),
        width: texts[i]?.width ?? room,
        height: texts[i]?.height ?? 0,
        ...(pin === undefined ? {} : { side: pin < 0 ? ('above' as const) : ('below' as const), least: Math.abs(pin) }),
      }
    }),
    BASE,
  )
  const reach = (side: 'above' | 'below') =>
    places.reduce(
      (most, place, i) => (place.side === side ? Math.max(most, place.out + (texts[i]?.height ?? 0)) : most),
      0,
    )
  const line = top + reach('above') + (band ? 18 : 0)
  const eras = packed(spans, x)
  const eraRows = Math.max(0, ...eras.map(({ row }) => row + 1))
  const under = line + STRIP + (eraRows > 0 ? eraRows * (ERA + 4) + 10 : 0)
  const backdrop: Mark[] = [...strip(axis, width, line)]
  if (band) backdrop.push(label(4, top + 10, band, { 'font-weight': 700, fill: 'ink', 'font-size': 12 }))
  const items: Item[] = []
  points.forEach((point, i) => {
    const place = places[i]
    const text = texts[i]
    if (place && text) items.push(pointItem(point, x(point.at), text, place, { line, under }, colours))
  })
  // Eras lie over the stems that pass them.
  for (const { span, row } of eras) items.push(eraItem(span, x, line + STRIP + 10 + row * (ERA + 4), colours))
  return { items, backdrop, bottom: under + reach('below') }
}

interface PointText {
  readonly date: string
  readonly lines: readonly string[]
  readonly size: number
  readonly picture: string | undefined
  readonly width: number
  readonly height: number
}

function textOfPoint(entity: Entity, date: string, room: number): PointText {
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

const label = (x: number, y: number, words: string, attrs: Mark['attrs']): Mark => ({
  tag: 'text',
  attrs: { x, y, 'font-family': 'text', 'font-size': 11, fill: 'ink-quiet', ...attrs },
  children: [words],
})

/** A callout: a marker on the line, a stem, and beside its far end the date and the words. */
function pointItem(
  { entity }: Point,
  x: number,
  { date, lines, size, picture, width, height }: PointText,
  { side, out }: CalloutPlace,
  { line, under }: { line: number; under: number },
  colours: ReadonlyMap<string, string>,
): Item {
  const main = isMain(entity)
  const colour = colours.get(textOf(entity, 'band') ?? '') ?? 'ink'
  const above = side === 'above'
  const top = above ? line - out - height : under + out
  const edge = above ? line - top : line + STRIP - top
  const marks: Mark[] = [
    {
      tag: 'path',
      attrs: {
        d: above ? `M0 0V${edge}` : `M0 ${height}V${edge}`,
        stroke: colour,
        'stroke-width': main ? 1.6 : 1,
        fill: 'none',
      },
    },
    {
      tag: 'circle',
      attrs: {
        cx: 0,
        cy: edge,
        r: main ? 6.5 : 4,
        fill: main ? colour : 'sheet',
        stroke: colour,
        'stroke-width': main ? 1 : 2,
      },
    },
  ]
  let y = 0
  if (picture) {
    marks.push({ tag: 'image', attrs: { href: picture, x: 5, y: 0, width: PICTURE, height: PICTURE } })
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
      { id: 'place', box: { x: -7, y: edge - 7, width: 14, height: 14 }, pulls: 'freely' },
      { id: 'place', box: { x: 0, y: 0, width, height }, pulls: 'freely' },
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
function packed(spans: readonly Span[], x: (at: Instant) => number): { span: Span; row: number }[] {
  const ends: number[] = []
  return spans.map((span) => {
    let row = ends.findIndex((end) => end <= x(span.from) + 0.5)
    if (row < 0) row = ends.length
    const room = textWidth(span.entity.name, 11, 'text400') + 12
    ends[row] = Math.max(x(span.to), isNarrow(span, x) ? x(span.to) + room : 0)
    return { span, row }
  })
}

const isNarrow = ({ entity, from, to }: Span, x: (at: Instant) => number): boolean =>
  textWidth(entity.name, 11, 'text700') + 14 > x(to) - x(from)

function eraItem(span: Span, x: (at: Instant) => number, top: number, colours: ReadonlyMap<string, string>): Item {
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
      {
        tag: 'rect',
        attrs: {
          x: 0,
          y: main ? 0 : 4,
          width,
          height: main ? ERA : ERA - 8,
          rx: 3,
          fill: colour.startsWith('edge') ? colour.replace('edge', 'fill') : 'head',
          stroke: colour,
          'stroke-width': main ? 1.4 : 0.8,
        },
      },
      ...(narrow
        ? [
            {
              tag: 'rect' as const,
              attrs: {
                x: width + 2,
                y: 2,
                width: textWidth(entity.name, 11, main ? 'text700' : 'text400') + 6,
                height: 16,
                fill: 'sheet',
                stroke: 'none',
              },
            },
          ]
        : []),
      label(narrow ? width + 5 : 7, 14, entity.name, { fill: 'ink', 'font-weight': main ? 700 : 400 }),
    ],
    handles: [
      {
        id: 'until',
        box: { x: width - Math.min(6, width / 3), y: 0, width: Math.min(6, width / 3), height: ERA },
        pulls: 'along',
      },
      { id: 'when', box: { x: 0, y: 0, width: Math.min(6, width / 3), height: ERA }, pulls: 'along' },
      { id: 'both', box: { x: 0, y: 0, width, height: ERA }, pulls: 'along' },
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
function strip(axis: Axis | undefined, width: number, y: number): Mark[] {
  const marks: Mark[] = [
    {
      tag: 'rect',
      attrs: {
        x: MARGIN,
        y,
        width: width - MARGIN,
        height: STRIP,
        rx: 3,
        fill: 'head',
        stroke: 'outline',
        'stroke-width': 1,
      },
    },
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
  marks.push({
    tag: 'path',
    attrs: { d: ticks.join('') || 'M0 0', stroke: 'outline', 'stroke-width': 1, fill: 'none' },
  })
  for (const { from, label: words } of cells) {
    const at = Math.max(MARGIN, axis.x(from)) + 4
    if (at + textWidth(words, 10.5, 'mono400') < MARGIN + axis.width)
      marks.push(label(at, y + 17, words, { 'font-family': 'mono', 'font-size': 10.5 }))
  }
  return marks
}

function legend(bands: readonly string[], colours: ReadonlyMap<string, string>, y: number): Mark[] {
  let x = MARGIN
  return bands.flatMap((band): Mark[] => {
    const at = x
    x += textWidth(band, 11, 'text400') + 36
    return [
      { tag: 'circle', attrs: { cx: at + 5, cy: y - 4, r: 5, fill: colours.get(band) ?? 'ink', stroke: 'none' } },
      label(at + 15, y, band, {}),
    ]
  })
}

const NOTHING: Outcome = { change: { label: '', steps: [] } }
const LEVEL = 22

/** Along the line a date changes, as exactly as it is known; across it a callout changes its side and how far out it stands. */
function pullEvent(wish: Wish, { handle, by, box }: Pull): Outcome {
  const { model, view } = wish
  const [id] = wish.selection
  const entity = id === undefined ? undefined : model.entities.get(id)
  if (!entity) return { refused: 'It is no longer there.' }
  const { points, spans } = factsOf(model, view)
  const scale = scaleOf(view, points, spans)
  const moved = (field: string): string | undefined => {
    const stated = textOf(entity, field)
    const when = readWhen(stated ?? '')
    return when && writeAs(scale.at(scale.x(when.from) + by.x), when.precision)
  }
  if (entity.kind === 'era') {
    const fields = handle === 'both' ? ['when', 'until'] : [handle]
    const steps = fields.flatMap((field) => {
      const next = moved(field)
      return next === undefined || next === textOf(entity, field) ? [] : [setField(entity.id, field, next)]
    })
    if (steps.length === 0) return NOTHING
    const [from, to] = ['when', 'until'].map((field) => (fields.includes(field) ? moved(field) : textOf(entity, field)))
    const label = `“${entity.name}” from ${whenInWords(from ?? '')} to ${whenInWords(to ?? '')}`
    const ghost = {
      ...box,
      x: box.x + (handle === 'until' ? 0 : by.x),
      width: Math.max(3, box.width + (handle === 'until' ? by.x : handle === 'when' ? -by.x : 0)),
    }
    return { change: { label, steps }, ghosts: [ghost] }
  }
  if (Math.abs(by.y) > LEVEL && Math.abs(by.y) > Math.abs(by.x)) {
    const shown = drawTimeline(model, view).items.find((item) => item.id === entity.id)
    const marker = shown?.handles?.[0]?.box.y ?? 0
    const line = box.y + marker + 7
    const above = box.y + by.y + box.height / 2 < line
    const out = Math.max(
      BASE,
      Math.round((above ? line - (box.y + by.y + box.height) : box.y + by.y - line) / LEVEL) * LEVEL,
    )
    return {
      change: {
        label: `Put “${entity.name}” ${above ? 'above' : 'below'} the line`,
        steps: [{ do: 'set-view', id: view.id, path: `pins.${entity.id}`, value: [0, above ? -out : out] }],
      },
      ghosts: [{ ...box, y: box.y + by.y }],
    }
  }
  const next = moved('when')
  if (next === undefined || next === textOf(entity, 'when')) return NOTHING
  return {
    change: { label: `“${entity.name}” in ${whenInWords(next)}`, steps: [setField(entity.id, 'when', next)] },
    ghosts: [{ ...box, x: box.x + by.x }],
  }
}

/** An instant as a date of this precision. */
export function writeAs(at: Instant, precision: 'year' | 'month' | 'day' | 'minute'): string {
  const date = new Date(Math.round(at) * 60_000)
  const year = date.getUTCFullYear()
  const written = `${year < 0 ? '-' : ''}${String(Math.abs(year)).padStart(4, '0')}`
  const two = (value: number) => String(value).padStart(2, '0')
  const month = `${written}-${two(date.getUTCMonth() + 1)}`
  const day = `${month}-${two(date.getUTCDate())}`
  if (precision === 'year') return written
  if (precision === 'month') return month
  return precision === 'day' ? day : `${day}T${two(date.getUTCHours())}:${two(date.getUTCMinutes())}`
}

function writeEvent(wish: Wish, part: string, text: string): Outcome {
  const [id] = wish.selection
  const entity = id === undefined ? undefined : wish.model.entities.get(id)
  if (!entity) return { refused: 'It is no longer there.' }
  const name = text.trim()
  if (part === 'when') {
    if (!readWhen(name))
      return { refused: `“${name.slice(0, 40)}” is not a date. Write it as 1887, 1887-05 or 1887-05-14.` }
    return { change: { label: `Date of “${entity.name}”`, steps: [setField(entity.id as Id, 'when', name)] } }
  }
  if (name === '') return { refused: 'It needs a name.' }
  if (name.length > 400) return { refused: `A name has 400 characters at most, this one ${name.length}.` }
  return { change: { label: `Rename ${namedWork({ entity })}`, steps: [setEntity(entity.id, 'name', name)] } }
}
