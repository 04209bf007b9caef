import type { Point } from '../../../layout'
import type { Relation } from '../../../model'
import { kit, type Mark, type Paint } from '../../../scene'
import type { FlowNode } from '../structure'

/** A way of the flow, a message between pools, or what ties data to a step. */
export type LineSort = 'flow' | 'message' | 'tie'

const ARROW = { length: 9, half: 3.6 }
const ROUND = 4

/** Letters for lines that go on elsewhere: A to Z, then A2 and so on. */
export function letters(): () => string {
  let count = 0
  return () => {
    const [round, at] = [Math.floor(count / 26), count++ % 26]
    return `${String.fromCharCode(65 + at)}${round === 0 ? '' : round + 1}`
  }
}

/** A line in its pieces: where one ends and the next begins stand a tip and the same letter. */
export function piecesMarks(
  pieces: readonly (readonly Point[])[],
  sort: LineSort,
  relation: Relation,
  from: FlowNode | undefined,
  letter: () => string,
): Mark[] {
  const [only] = pieces
  if (pieces.length <= 1) return lineMarks(only ?? [], sort, relation, from)
  const reversed = sort === 'message' && from !== undefined && relation.source !== from.id
  const ordered = reversed ? pieces.toReversed().map((piece) => piece.toReversed()) : pieces
  const stroke: Paint = {
    fill: 'none',
    stroke: 'line',
    'stroke-width': 1.25,
    ...(sort === 'tie' ? { 'stroke-dasharray': '1 3' } : sort === 'message' ? { 'stroke-dasharray': '5 3' } : {}),
  }
  let before = ''
  return ordered.flatMap((piece, index): Mark[] => {
    const marks: Mark[] = []
    const [first, second] = [piece[0], piece[1] ?? piece[0]]
    if (before !== '' && first && second) marks.push(...tip(first, Math.sign(second.x - first.x), before, 'in'))
    if (index === ordered.length - 1) return [...marks, ...lineMarks(piece, sort, relation, undefined)]
    before = letter()
    const [last, previous] = [piece.at(-1), piece.at(-2)]
    marks.push(kit.path(kit.way(piece, ROUND), stroke))
    if (last && previous) marks.push(...tip(last, Math.sign(last.x - previous.x), before, 'out'))
    return marks
  })
}

/** A small tip in the direction of the line, and its letter beyond or before it. */
function tip({ x, y }: Point, towards: number, letter: string, way: 'in' | 'out'): Mark[] {
  const at = way === 'out' ? x : x - towards * 7
  const beyond = way === 'out' ? towards : -towards
  const end = way === 'out' ? at + towards * 7 : at
  return [
    kit.path(`M${at} ${y - 3.5}L${at + towards * 7} ${y}L${at} ${y + 3.5}Z`, {
      fill: 'sheet',
      stroke: 'line',
      'stroke-width': 1,
    }),
    kit.text(end + beyond * 3, y + 3, letter, {
      fill: 'ink',
      'font-size': 8.5,
      'font-weight': 700,
      'text-anchor': beyond > 0 ? 'start' : 'end',
    }),
  ]
}

/** A line with round corners and its ends: flows have a filled arrow, messages are dashed with a circle and an open arrow, ties are dotted. */
export function lineMarks(
  way: readonly { x: number; y: number }[],
  sort: LineSort,
  relation: Relation,
  from: FlowNode | undefined,
): Mark[] {
  const reversed = sort === 'message' && from !== undefined && relation.source !== from.id
  const points = reversed ? [...way].reverse() : way
  const [last, before] = [points.at(-1), points.at(-2)]
  if (!last || !before) return []
  const [dx, dy] = [Math.sign(last.x - before.x), Math.sign(last.y - before.y)]
  const end = { x: last.x - dx * 1, y: last.y - dy * 1 }
  const back = { x: end.x - dx * ARROW.length, y: end.y - dy * ARROW.length }
  const head = kit.head(end, before, ARROW.length, ARROW.half)
  const body = kit.way([...points.slice(0, -1), sort === 'tie' ? last : back], ROUND)
  const stroke: Paint = { fill: 'none', stroke: 'line', 'stroke-width': 1.25 }
  if (sort === 'tie') return [kit.path(body, { ...stroke, 'stroke-dasharray': '1 3', 'stroke-linecap': 'round' })]
  if (sort === 'message') {
    const first = points[0] ?? last
    return [
      kit.path(body, { ...stroke, 'stroke-dasharray': '5 3' }),
      kit.circle(first.x, first.y, 3, { fill: 'sheet', stroke: 'line', 'stroke-width': 1.25 }),
      kit.path(head, { fill: 'sheet', stroke: 'line', 'stroke-width': 1.25, 'stroke-linejoin': 'round' }),
    ]
  }
  const marks: Mark[] = [kit.path(body, stroke), kit.path(head, { fill: 'line', stroke: 'none' })]
  if (relation.fields['default'] === true) {
    const [first, second] = [points[0], points[1]]
    if (first && second) {
      const [sx, sy] = [Math.sign(second.x - first.x), Math.sign(second.y - first.y)]
      const mark = { x: first.x + sx * 8, y: first.y + sy * 8 }
      marks.push(kit.path(`M${mark.x - 3.5} ${mark.y + 3.5}L${mark.x + 3.5} ${mark.y - 3.5}`, stroke))
    }
  }
  return marks
}
