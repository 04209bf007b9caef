import { rightAngledWay, type Point } from '../../../../layout'
import { covers, type Day, type Id, type Model } from '../../../../model'
import { around, aroundPoints, kit, overlaps, type Box, type Link } from '../../../../scene'
import { isSolid } from '../../structure'

const CLEARANCE = 6

/** Dotted lines between drawn cards, right-angled, from the side of one card to the side of the other, and through none. O(dotted lines × tries × (cards + cards in the way²)). */
export function dottedLinks(model: Model, boxes: ReadonlyMap<Id, Box>, day: Day): Link[] {
  return model.relationsOfKind('reports-to').flatMap((tie): Link[] => {
    if (isSolid(tie) || !covers(tie, day) || tie.source === tie.target) return []
    const [a, b] = [boxes.get(tie.source), boxes.get(tie.target)]
    if (!a || !b) return []
    const way = wayBetween(a, b, boxes)
    const line = kit.path(kit.way(way), {
      fill: 'none',
      stroke: 'ink',
      'stroke-width': 1.25,
      'stroke-dasharray': '2 4',
      'stroke-linecap': 'round',
    })
    const bounds = around([a, b, aroundPoints(way, 0)], 4)
    return [{ id: tie.id, source: tie.source, target: tie.target, bounds, marks: [line] }]
  })
}

/** Ways that are tried, each around what the one before ran into. */
const MOST_TRIES = 60

/** Out of the upper part of one card’s side, into the lower part of the other’s. Only what lies in the way is looked at: first nothing but the two. */
function wayBetween(a: Box, b: Box, boxes: ReadonlyMap<Id, Box>): Point[] {
  const doors = (box: Box, y: number): Point[] => [
    { x: box.x - CLEARANCE, y },
    { x: box.x + box.width + CLEARANCE, y },
  ]
  const side = (box: Box, { x }: Point) => (x < box.x ? box.x : box.x + box.width)
  const obstacles = new Set<Box>([a, b])
  const all = [...boxes.values()]
  for (let attempt = 0; attempt < MOST_TRIES; attempt++) {
    const way = rightAngledWay(doors(a, a.y + 10), doors(b, b.y + b.height - 10), [...obstacles], CLEARANCE)
    const [first, last] = [way?.[0], way?.at(-1)]
    if (!way || !first || !last) break
    const reach = aroundPoints(way, CLEARANCE)
    const hit = all.filter((box) => !obstacles.has(box) && overlaps(box, reach) && runsInto(way, box))
    if (hit.length === 0) return [{ x: side(a, first), y: first.y }, ...way, { x: side(b, last), y: last.y }]
    for (const box of hit) obstacles.add(box)
  }
  return straightAcross(a, b)
}

/** Whether a right-angled way comes nearer to a box than the clearance. */
const runsInto = (way: readonly Point[], { x, y, width, height }: Box): boolean =>
  way.some((end, i) => {
    const start = way[i - 1]
    const c = CLEARANCE - 0.5
    return (
      start !== undefined &&
      Math.max(start.x, end.x) > x - c &&
      Math.min(start.x, end.x) < x + width + c &&
      Math.max(start.y, end.y) > y - c &&
      Math.min(start.y, end.y) < y + height + c
    )
  })

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
