import { group, moved, path, rect, text } from './kit'
import type { Box, Mark, Paint } from './mark'
import type { Role } from './roles'
import { boxOf, middleOf } from './shape'
import { textWidth, wrap } from './text'

/** How something stands out, or stands back. Category 0 is none of the eight: “others”. */
export interface Emphasis {
  readonly weight?: 'strong' | 'quiet'
  readonly category?: number
  readonly isCrossed?: boolean
  /** A sign that says the category without its colour. */
  readonly letter?: string
}

/** What a way of standing out says. */
export interface LegendEntry {
  readonly emphasis: Emphasis
  readonly words: string
}

/** What one rule, or everything that was chosen by hand, says. */
export interface LegendPart {
  readonly heading?: string
  readonly entries: readonly LegendEntry[]
}

/** Roles that a surface may have which is light enough to be written on. */
const LIGHT = /^(?:sheet|plate|head|wash|bar|fill-\d)$/
const DEEP = /^(?:edge-\d|bar-strong|bar-done|action)$/
const LINES = /^(?:outline|line|ink|edge-\d|action|bar-strong|bar-done)$/
const STRONG = { least: 2.25, times: 2.25 } as const
const BAR = 3
const SIGN = { size: 12, high: 16 } as const
const FADED = 0.35

/** Marks of one item, standing out as asked. What says something of its own, as the colour of a warning does, keeps it. O(marks) */
export function emphasised(marks: readonly Mark[], box: Extent, emphasis: Emphasis): readonly Mark[] {
  const { weight, category, isCrossed = false, letter } = emphasis
  let shown = marks
  if (weight === 'quiet') shown = shown.map(quietened)
  else if (category !== undefined) shown = inCategory(shown, box, category)
  if (weight === 'strong') shown = strengthened(shown, box)
  if (isCrossed) shown = crossed(shown, box)
  return letter === undefined || weight === 'quiet' ? shown : [...shown, ...signOf(letter, box, category ?? 0)]
}

type Shape = Extract<Mark, { tag: 'rect' | 'circle' | 'path' }>
const isShape = (mark: Mark): mark is Shape => mark.tag === 'rect' || mark.tag === 'circle' || mark.tag === 'path'

/** The same mark with its paints changed; of a group, what is in it. */
function repainted(mark: Mark, shape: (paint: Paint) => Paint, words: (role: Role) => Role): Mark {
  if (mark.tag === 'g') return { ...mark, children: mark.children.map((child) => repainted(child, shape, words)) }
  if (mark.tag === 'text') return { ...mark, attrs: { ...mark.attrs, fill: words(mark.attrs.fill) } }
  return isShape(mark) ? ({ ...mark, attrs: { ...mark.attrs, ...shape(mark.attrs) } } as Mark) : mark
}

function inCategory(marks: readonly Mark[], box: Extent, category: number): readonly Mark[] {
  const [edge, fill]: readonly [Role, Role] = [`edge-${category}`, `fill-${category}`]
  let isSeen = false
  const shape = ({ fill: own, stroke, ...rest }: Paint): Paint => {
    // What shows through lies on words: it stays pale.
    const isSheer = (rest.opacity ?? 1) < 1 || (rest['fill-opacity'] ?? 1) < 1
    const surface = LIGHT.test(own) || (isSheer && DEEP.test(own)) ? fill : DEEP.test(own) ? edge : own
    // A bar is known by its length: so pale it needs an edge.
    const line = (stroke !== undefined && LINES.test(stroke)) || own === 'bar' ? edge : stroke
    isSeen ||= surface !== own || line !== stroke
    return { ...rest, fill: surface, ...(line === undefined ? {} : { stroke: line }) }
  }
  // What was written in a category’s colour is written in ink: on the other’s ground it might not stand out.
  const shown = marks.map((mark) => repainted(mark, shape, (role) => (role.startsWith('edge-') ? 'ink' : role)))
  return isSeen ? shown : [rect(whole(box), { fill, stroke: 'none' }), bar(box, edge), ...shown]
}

type Extent = Pick<Box, 'width' | 'height'>
const whole = ({ width, height }: Extent): Box => ({ x: 0, y: 0, width, height })

/** A bar at the left of what has no shape of its own, as the head of a row. */
const bar = ({ height }: Extent, fill: Role): Mark => rect({ x: 0, y: 0, width: BAR, height }, { fill, stroke: 'none' })

/** Lines and surfaces nearly those of the sheet; words as pale as can still be read. */
function quietened(mark: Mark): Mark {
  if (mark.tag === 'image') return group([mark], { opacity: FADED })
  if (mark.tag === 'g') return { ...mark, children: mark.children.map(quietened) }
  const pale = (role: Role): Role => (role === 'none' ? role : LIGHT.test(role) ? 'sheet' : 'plate')
  return repainted(
    mark,
    ({ fill, stroke, ...rest }) => ({
      ...rest,
      fill: pale(fill),
      ...(stroke === undefined || stroke === 'none' ? {} : { stroke: 'hairline' }),
      ...(stroke === undefined && pale(fill) === 'plate' ? { stroke: 'hairline' } : {}),
    }),
    () => 'ink-quiet',
  )
}

/** The largest shape of an item drawn around heavily, in ink; what has none is ringed. */
function strengthened(marks: readonly Mark[], box: Extent): readonly Mark[] {
  const shapes = marks.flatMap((mark, at) =>
    isShape(mark) && mark.attrs.fill !== 'none' ? [{ mark, at, area: areaOf(mark) }] : [],
  )
  const [first, ...others] = shapes
  // A head of a text has no shape of its own, and a line of a hair is none.
  if (!first) return [...marks, bar(box, 'ink')]
  const { mark, at } = others.reduce((most, one) => (one.area > most.area ? one : most), first)
  const width = Math.max(STRONG.least, (mark.attrs['stroke-width'] ?? 1) * STRONG.times)
  return marks.with(at, { ...mark, attrs: { ...mark.attrs, stroke: 'ink', 'stroke-width': width } } as Mark)
}

/** Items of one picture are drawn with the same few paths: what has been measured is remembered. */
const areas = new Map<string, number>()
const MOST_AREAS = 2000

function areaOf(mark: Shape): number {
  if (mark.tag !== 'path') {
    const { width, height } = boxOf(mark)
    return width * height
  }
  const known = areas.get(mark.attrs.d)
  if (known !== undefined) return known
  const { width, height } = boxOf(mark)
  if (areas.size >= MOST_AREAS) areas.clear()
  areas.set(mark.attrs.d, width * height)
  return width * height
}

/** Words struck through; what has none is crossed from corner to corner. */
function crossed(marks: readonly Mark[], { width, height }: Extent): readonly Mark[] {
  let isStruck = false
  const strike = (mark: Mark): Mark => {
    if (mark.tag === 'g') return { ...mark, children: mark.children.map(strike) }
    if (mark.tag !== 'text') return mark
    isStruck = true
    return { ...mark, attrs: { ...mark.attrs, 'text-decoration': 'line-through' } }
  }
  const struck = marks.map(strike)
  return isStruck ? struck : [...struck, cross(0, 0, width, height)]
}

const cross = (x: number, y: number, width: number, height: number): Mark =>
  path(`M${x} ${y}l${width} ${height}M${x + width} ${y}l${-width} ${height}`, {
    fill: 'none',
    stroke: 'ink',
    'stroke-width': 1.5,
  })

/** A letter at the lower left corner, where neither findings nor differences are marked. */
function signOf(letter: string, { height }: Extent, category: number): Mark[] {
  const wide = Math.max(SIGN.high, textWidth(letter, SIGN.size, 'text700') + 6)
  const x = -wide / 2
  return [
    rect(
      { x, y: height - SIGN.high / 2, width: wide, height: SIGN.high },
      { rx: 2, fill: 'sheet', stroke: `edge-${category}` },
    ),
    text(x + wide / 2, height + SIGN.size * 0.36, letter, {
      fill: 'ink',
      'font-size': SIGN.size,
      'font-weight': 700,
      'text-anchor': 'middle',
    }),
  ]
}

/** Marks of a line between items, standing out as asked. O(marks) */
export function emphasisedLine(marks: readonly Mark[], { weight, category, isCrossed }: Emphasis): readonly Mark[] {
  if (weight === 'quiet') return marks.map(quietened)
  const edge: Role | undefined = category === undefined ? undefined : `edge-${category}`
  const shown = marks.map((mark) =>
    repainted(
      mark,
      ({ fill, stroke, 'stroke-width': width = 1, ...rest }) => ({
        ...rest,
        fill: edge !== undefined && fill !== 'none' && fill !== 'sheet' ? edge : fill,
        ...(stroke === undefined || stroke === 'none' ? { ...(stroke ? { stroke } : {}) } : { stroke: edge ?? stroke }),
        'stroke-width': weight === 'strong' ? Math.max(STRONG.least, width * STRONG.times) : width,
      }),
      (role) => role,
    ),
  )
  const way = shown.find((mark) => mark.tag === 'path' && mark.attrs.fill === 'none')
  const at = isCrossed === true && way ? middleOf(way) : undefined
  return at ? [...shown, cross(at.x - 5, at.y - 5, 10, 10)] : shown
}

const SWATCH = { width: 22, height: 14 } as const
const SIZE = 11
const ROW = 18
const GAP = 16
const LONGEST = 46

/** A sample of how something stands out, its left at `x`, its middle at `y`. */
function sample({ emphasis }: LegendEntry, x: number, y: number): Mark[] {
  const box = { x: 0, y: 0, ...SWATCH }
  const { letter, isCrossed, ...rest } = emphasis
  const own = emphasised([rect(box, { rx: 2, fill: 'sheet', stroke: 'outline' })], box, rest)
  const signs = [
    ...(letter === undefined
      ? []
      : [
          text(SWATCH.width / 2, SWATCH.height / 2 + SIGN.size * 0.36, letter, {
            fill: 'ink',
            'font-size': SIGN.size,
            'font-weight': 700,
            'text-anchor': 'middle',
          }),
        ]),
    ...(isCrossed === true
      ? [path(`M3 ${SWATCH.height / 2}h${SWATCH.width - 6}`, { fill: 'none', stroke: 'ink', 'stroke-width': 1.5 })]
      : []),
  ]
  return [...own, ...signs].map((mark) => moved(mark, x, y - SWATCH.height / 2))
}

/** Where the entries of a legend stand in a room so wide, from its upper left corner. */
export function legendRows(
  parts: readonly LegendPart[],
  width: number,
): { readonly marks: readonly Mark[]; readonly height: number } {
  const marks: Mark[] = []
  if (parts.every(({ entries }) => entries.length === 0)) return { marks, height: 0 }
  let [x, y] = [0, ROW / 2]
  const place = (wide: number) => {
    if (x > 0 && x + wide > width) [x, y] = [0, y + ROW]
    const at = x
    x += wide + GAP
    return at
  }
  const short = (words: string, bold: boolean) =>
    wrap(words, Math.min(width - SWATCH.width - 6, LONGEST * SIZE * 0.6), SIZE, bold ? 'text700' : 'text400', 1)[0] ??
    ''
  for (const { heading, entries } of parts) {
    if (x > 0) [x, y] = [0, y + ROW]
    if (heading !== undefined) {
      const words = short(heading, true)
      const at = place(textWidth(words, SIZE, 'text700'))
      marks.push(text(at, y + SIZE * 0.36, words, { fill: 'ink-quiet', 'font-size': SIZE, 'font-weight': 700 }))
    }
    for (const entry of entries) {
      const words = short(entry.words, false)
      const at = place(SWATCH.width + 6 + textWidth(words, SIZE, 'text400'))
      marks.push(
        ...sample(entry, at, y),
        text(at + SWATCH.width + 6, y + SIZE * 0.36, words, { fill: 'ink', 'font-size': SIZE }),
      )
    }
  }
  return { marks, height: y + ROW / 2 }
}
