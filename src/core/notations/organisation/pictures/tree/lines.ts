import { nth } from '../../../../graph'
import { join } from '../../../../model'
import { kit, around, type Box, type Link, type Mark } from '../../../../scene'
import { GAP, TIE, type Places } from './arrange'
import type { PlanNode } from './plan'

const BAR_UP = 12
const ROUND = 6
/** How far down a card its arm meets it, at most: the middle of a card of two lines. */
const ARM_DOWN = 22

/** The lines of the tree, one a relation. No two lie on each other: the outermost reports of a row carry the bar, the others only their drop. O(nodes). */
export function treeLinks(plan: readonly PlanNode[], places: Places, boxes: readonly Box[]): Link[] {
  const links: Link[] = []
  plan.forEach((node, index) => {
    if (node.children.length + node.assistants.length > 0) links.push(...familyLinks(plan, places, boxes, index))
  })
  return links
}

function familyLinks(plan: readonly PlanNode[], places: Places, boxes: readonly Box[], manager: number): Link[] {
  const node = plan[manager]
  const box = boxes[manager]
  if (!node || !box) return []
  const middle = box.x + box.width / 2
  const bottom = box.y + box.height
  const ownStem = box.x + GAP.stem
  const ways = new Map<number, string>()
  const add = (child: number, way: string) => ways.set(child, (ways.get(child) ?? '') + way)
  const boxOf = (child: number): Box => boxes[child] ?? box

  // A run of leaves hangs on the bar by its stem; a hanging column starts at its manager's own edge.
  const sides = [...node.assistants, ...node.children].filter((child) => places.tie[child] === TIE.side)
  for (const [child, way] of sideWays(box, sides, boxOf)) add(child, way)
  const stems = new Map<number, number[]>()
  const drops: { child: number; x: number; y: number }[] = []
  for (const child of [...node.assistants, ...node.children]) {
    const { x, y, width } = boxOf(child)
    if (places.tie[child] === TIE.bar) drops.push({ child, x: x + width / 2, y })
    if (places.tie[child] !== TIE.stem) continue
    const stem = nth(places.stemX, child)
    const isFirst = !stems.has(stem)
    join(stems, stem, child)
    if (isFirst && stem !== middle && stem !== ownStem) drops.push({ child, x: stem, y })
  }

  drops.sort((a, b) => a.x - b.x)
  const barY = drops.reduce((least, { y }) => Math.min(least, y), Infinity) - BAR_UP
  drops.forEach(({ child, x, y }, place) => {
    const outermost = place === 0 || place === drops.length - 1
    if (place === 0) add(child, `M${middle} ${bottom}V${barY}`)
    add(child, outermost && x !== middle ? bend(middle, barY, x, y) : `M${x} ${barY}V${y}`)
  })
  for (const [x, children] of stems) {
    const own = x === middle || x === ownStem
    let from = own ? bottom : boxOf(children[0] ?? manager).y
    // The stem of assistants is the way down to the bar, where there is one.
    const onTheWay = x === middle && drops.length > 0
    for (const child of children) {
      const card = boxOf(child)
      const y = card.y + Math.min(card.height / 2, ARM_DOWN)
      const edge = card.x > x ? card.x : card.x + card.width
      add(child, `${onTheWay ? `M${x} ${y}` : `M${x} ${from}V${y}`}H${edge}`)
      from = Math.max(from, y)
    }
  }
  return [...ways].flatMap(([child, d]) => {
    const below = plan[child]
    const tie = below?.post.line ?? below?.post.assistsBy
    if (!below || !tie) return []
    const mark: Mark = kit.path(d, { fill: 'none', stroke: 'line', 'stroke-width': 1.25 })
    return { id: tie.id, source: below.id, target: node.id, bounds: around([box, boxOf(child)], 2), marks: [mark] }
  })
}

const TRUNK = 18

/** From a card's right side to each card there: the outermost carry the trunk, the others only their own piece. */
function sideWays(box: Box, children: readonly number[], boxOf: (child: number) => Box): [number, string][] {
  const [startX, startY] = [box.x + box.width, box.y + box.height / 2]
  const trunk = startX + TRUNK
  const ends = children.map((child) => {
    const { x, y, height } = boxOf(child)
    return { child, x, y: y + height / 2 }
  })
  ends.sort((a, b) => a.y - b.y)
  return ends.map(({ child, x, y }, place) => {
    const first = place === 0 ? `M${startX} ${startY}H${trunk}` : ''
    const outermost = place === 0 || place === ends.length - 1
    if (!outermost || y === startY) return [child, `${first}M${trunk} ${y}H${x}`]
    const r = Math.min(ROUND, Math.abs(y - startY))
    const side = Math.sign(y - startY)
    return [child, `${first}M${trunk} ${startY}V${y - side * r}Q${trunk} ${y} ${trunk + r} ${y}H${x}`]
  })
}

/** From the middle of the bar to the end of a drop, with a round corner. */
function bend(fromX: number, barY: number, x: number, y: number): string {
  const side = Math.sign(x - fromX)
  const r = Math.min(ROUND, Math.abs(x - fromX), y - barY)
  return `M${fromX} ${barY}H${x - side * r}Q${x} ${barY} ${x} ${barY + r}V${y}`
}
