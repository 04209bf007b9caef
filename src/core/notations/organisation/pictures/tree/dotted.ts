import { rightAngledWay, type Point } from '../../../../layout'
import { covers, type Day, type Id, type Model } from '../../../../model'
import { around, overlaps, type Box, type Link } from '../../../../scene'
import { isSolid } from '../../structure'

const CLEARANCE = 6
/** How far beyond the two cards a way may lead around others, in px. */
const DETOUR = 240

/** Dotted lines between drawn cards, right-angled, from the side of one card to the side of the other, and through none. O(dotted lines × cards nearby²). */
export function dottedLinks(model: Model, boxes: ReadonlyMap<Id, Box>, day: Day): Link[] {
  return model.relationsOfKind('reports-to').flatMap((line): Link[] => {
    if (isSolid(line) || !covers(line, day) || line.source === line.target) return []
    const [a, b] = [boxes.get(line.source), boxes.get(line.target)]
    if (!a || !b) return []
    const way = wayBetween(a, b, boxes)
    const d = way.map(({ x, y }, i) => `${i === 0 ? 'M' : 'L'}${x} ${y}`).join('')
    const attrs = {
      d,
      fill: 'none',
      stroke: 'ink',
      'stroke-width': 1.25,
      'stroke-dasharray': '2 4',
      'stroke-linecap': 'round',
    }
    const bounds = around([a, b, ...way.map(({ x, y }) => ({ x, y, width: 0, height: 0 }))], 4)
    return [{ id: line.id, source: line.source, target: line.target, bounds, marks: [{ tag: 'path', attrs }] }]
  })
}

/** Out of the upper part of one card’s side, into the lower part of the other’s. */
function wayBetween(a: Box, b: Box, boxes: ReadonlyMap<Id, Box>): Point[] {
  const region = around([a, b], DETOUR)
  const near = [...boxes.values()].filter((box) => overlaps(box, region))
  const doors = (box: Box, y: number): Point[] => [
    { x: box.x - CLEARANCE, y },
    { x: box.x + box.width + CLEARANCE, y },
  ]
  const way = rightAngledWay(doors(a, a.y + 10), doors(b, b.y + b.height - 10), near, CLEARANCE)
  const [first, last] = [way?.[0], way?.at(-1)]
  if (!way || !first || !last) return straightAcross(a, b)
  const side = (box: Box, { x }: Point) => (x < box.x ? box.x : box.x + box.width)
  return [{ x: side(a, first), y: first.y }, ...way, { x: side(b, last), y: last.y }]
}

/** Where no way was found: along the side of the one card and over to the other. */
function straightAcross(a: Box, b: Box): Point[] {
  const rightwards = b.x >= a.x
  const [start, end] = rightwards ? [a.x + a.width, b.x] : [a.x, b.x + b.width]
  const turn = rightwards ? start + CLEARANCE : start - CLEARANCE
  const [from, to] = [a.y + 10, b.y + b.height - 10]
  return [
    { x: start, y: from },
    { x: turn, y: from },
    { x: turn, y: to },
    { x: end, y: to },
  ]
}
