import { grouped } from '../../../../model'
import { kit, textWidth, type Mark, type Point } from '../../../../scene'
import { aggregationOf, endOf, type Classifier, type Tie } from '../../structure'
import { openHead } from '../heads'
import type { Area } from './frames'

/** The lines of a class picture and their heads, as UML 2.5.1 draws them: 9.2.4, 10.4.4, 11.5.4 and 7.7.4. */

const SIZE = 10
const HEAD = { length: 13, half: 7 } as const
const DIAMOND = { length: 16, half: 5 } as const
const STEP = 13
/** From a line to what is written beside it. */
const OFF = 8

/** What is written beside the two ends of a tie, one line under the other. */
export interface TieWords {
  readonly a: readonly string[]
  readonly b: readonly string[]
}

export function wordsOf({ sort, relation }: Tie): TieWords {
  if (sort === 'generalization' || sort === 'realization') return { a: [], b: [] }
  if (sort === 'dependency') {
    const keyword = relation.fields['keyword']
    return { a: typeof keyword === 'string' && keyword !== '' ? [`«${keyword}»`] : [], b: [] }
  }
  const label = relation.fields['label']
  const words = (end: 'source' | 'target') => {
    const { role, multiplicity, properties } = endOf(relation, end)
    return [role, multiplicity, properties.length > 0 ? `{${properties.join(', ')}}` : undefined]
      .filter((one) => one !== undefined)
      .join(' ')
  }
  return {
    a: [words('source'), typeof label === 'string' ? label : ''].filter(Boolean),
    b: [words('target')].filter(Boolean),
  }
}

/** How much room that takes beside the line. */
export const widthOf = (words: readonly string[]): number =>
  words.length === 0 ? 0 : OFF + Math.ceil(Math.max(...words.map((one) => textWidth(one, SIZE, 'text400'))))

/** On which side of its line the words of each end stand. */
export interface Sides {
  readonly a: Side
  readonly b: Side
}
type Side = 'left' | 'right'
export const RIGHT: Sides = { a: 'right', b: 'right' }

/** A tie along its way, from its first class to its second; where several are joined, only one draws the head. */
export function tieMarks(tie: Tie, way: readonly Point[], words: TieWords, hasHead: boolean, sides = RIGHT): Mark[] {
  const [first, second] = [way[0], way[1]]
  const [last, before] = [way.at(-1), way.at(-2)]
  if (!first || !second || !last || !before) return []
  const { sort, relation } = tie
  const isDashed = sort === 'realization' || sort === 'dependency'
  const marks: Mark[] = [
    kit.path(kit.way(way), {
      fill: 'none',
      stroke: 'line',
      'stroke-width': 1.2,
      ...(isDashed ? { 'stroke-dasharray': '5 3' } : {}),
    }),
  ]
  if (sort === 'generalization' || sort === 'realization') {
    if (hasHead) marks.push(hollow(kit.head(last, before, HEAD.length, HEAD.half)))
    return marks
  }
  if (sort === 'dependency') marks.push(openHead(last, before))
  else {
    const [near, far] = [endOf(relation, 'source'), endOf(relation, 'target')]
    const aggregation = aggregationOf(relation)
    let from = first
    if (aggregation) {
      const at = along(first, second, DIAMOND.length)
      const d = diamond(first, second)
      marks.push(
        aggregation === 'composite' ? kit.path(d, { fill: 'line', stroke: 'line', 'stroke-width': 1.2 }) : hollow(d),
      )
      from = at
    }
    if (near.navigable === 'yes') marks.push(openHead(from, second))
    if (near.navigable === 'no') marks.push(cross(from, second))
    if (far.navigable === 'yes') marks.push(openHead(last, before))
    if (far.navigable === 'no') marks.push(cross(last, before))
  }
  if (tie.a === tie.b) return [...marks, ...besideLoop(words, way)]
  return [...marks, ...written(words.a, first, second, sides.a), ...written(words.b, last, before, sides.b)]
}

const hollow = (d: string): Mark => kit.path(d, { fill: 'sheet', stroke: 'line', 'stroke-width': 1.2 })

/** A small cross just before an end: nobody gets there by this line. */
function cross(at: Point, from: Point): Mark {
  const { x, y } = along(at, from, 8)
  return kit.path(`M${x - 4} ${y - 4}L${x + 4} ${y + 4}M${x - 4} ${y + 4}L${x + 4} ${y - 4}`, {
    fill: 'none',
    stroke: 'line',
    'stroke-width': 1.2,
  })
}

function diamond(at: Point, next: Point): string {
  const [dx, dy] = [Math.sign(next.x - at.x), Math.sign(next.y - at.y)]
  const middle = { x: at.x + (dx * DIAMOND.length) / 2, y: at.y + (dy * DIAMOND.length) / 2 }
  const tip = along(at, next, DIAMOND.length)
  return `M${at.x} ${at.y}L${middle.x + dy * DIAMOND.half} ${middle.y + dx * DIAMOND.half}L${tip.x} ${tip.y}L${middle.x - dy * DIAMOND.half} ${middle.y - dx * DIAMOND.half}Z`
}

const along = (at: Point, next: Point, by: number): Point => ({
  x: at.x + Math.sign(next.x - at.x) * by,
  y: at.y + Math.sign(next.y - at.y) * by,
})

/** Words beside where a line leaves a class, downwards or upwards. */
function written(words: readonly string[], end: Point, next: Point, side: Side): Mark[] {
  const isDown = next.y > end.y
  return words.map((text, at) =>
    kit.text(end.x + (side === 'right' ? OFF : -OFF), isDown ? end.y + 12 + at * STEP : end.y - 5 - at * STEP, text, {
      fill: 'ink-quiet',
      'font-size': SIZE,
      ...(side === 'right' ? {} : { 'text-anchor': 'end' as const }),
    }),
  )
}

/** The room of such words. */
export function roomOf(words: readonly string[], end: Point, next: Point, side: Side): Area {
  const width = widthOf(words) - OFF
  const height = words.length * STEP
  const x = side === 'right' ? end.x + OFF : end.x - OFF - width
  return { x, y: next.y > end.y ? end.y + 2 : end.y - 2 - height, width, height }
}

/** A tie from a class to itself: a loop at its right side, with its words beside it. */
const LOOP = { out: 22, least: 22, gap: 8, top: 10, end: 6 } as const

/** The loops of one class, one beneath the other. */
export interface Loops {
  /** What they take beside the class, and how high it has to be for them, in px. */
  readonly width: number
  readonly height: number
  /** Where each begins and ends, from the top of the class. */
  readonly at: ReadonlyMap<Tie, { readonly top: number; readonly bottom: number }>
}

/** O(ties) */
export function loopsOf(ties: readonly Tie[], wordsOf: (tie: Tie) => TieWords): ReadonlyMap<Classifier, Loops> {
  const own = grouped(
    ties.filter(({ a, b }) => a === b),
    ({ a }) => a,
  )
  return new Map(
    [...own].map(([one, list]) => {
      const at = new Map<Tie, { top: number; bottom: number }>()
      let [top, widest] = [LOOP.top as number, 0]
      for (const tie of list) {
        const { a, b } = wordsOf(tie)
        const bottom = top + Math.max(LOOP.least, (a.length + b.length) * STEP + 4)
        at.set(tie, { top, bottom })
        widest = Math.max(widest, widthOf(a), widthOf(b))
        top = bottom + LOOP.gap
      }
      return [one, { width: LOOP.out + widest + OFF, height: top - LOOP.gap + LOOP.end, at }]
    }),
  )
}

/** The way of one of them. */
export function loopOf({ x, y, width }: { x: number; y: number; width: number }, { at }: Loops, tie: Tie): Point[] {
  const { top, bottom } = at.get(tie) ?? { top: LOOP.top, bottom: LOOP.top + LOOP.least }
  const right = x + width
  return [
    { x: right, y: y + top },
    { x: right + LOOP.out, y: y + top },
    { x: right + LOOP.out, y: y + bottom },
    { x: right, y: y + bottom },
  ]
}

/** What is written beside a loop: of its first end beneath its upper corner, of the other one above its lower corner. */
function besideLoop({ a, b }: TieWords, [, upper, lower]: readonly Point[]): Mark[] {
  if (!upper || !lower) return []
  const write = (text: string, y: number) =>
    kit.text(upper.x + OFF - 2, y, text, { fill: 'ink-quiet', 'font-size': SIZE })
  return [
    ...a.map((text, at) => write(text, upper.y + 9 + at * STEP)),
    ...b.map((text, at) => write(text, lower.y - (b.length - 1 - at) * STEP)),
  ]
}
