import { around, type Link, type Mark } from '../../../../scene'
import type { Placed } from './arrange'
import type { PlanNode } from './plan'

const BAR_UP = 12
const ROUND = 6

/** The lines of the tree, one a relation. No two lie on each other: the outermost reports of a row carry the bar, the others only their drop. O(nodes). */
export function treeLinks(plan: readonly PlanNode[], placed: readonly Placed[]): Link[] {
  const links: Link[] = []
  plan.forEach((node, index) => {
    const at = placed[index]
    if (!at) return
    const below = [...node.assistants, ...node.children]
    const onStem = below.filter((child) => placed[child]?.tie === 'stem')
    const stems = new Map<number, number[]>()
    for (const child of onStem) {
      const x = placed[child]?.stemX ?? 0
      stems.set(x, [...(stems.get(x) ?? []), child])
    }
    const middle = at.x + at.width / 2
    const bottom = at.y + at.height
    const onBus = node.children.filter((child) => placed[child]?.tie === 'bus')
    // A run of leaves hangs on the bar by its stem; a hanging column starts at its manager's own edge.
    const runs = [...stems].filter(([x, children]) => x !== middle && !isOwnStem(at, x) && children.length > 0)
    const drops = [
      ...onBus.map((child) => ({
        child,
        x: (placed[child]?.x ?? 0) + (placed[child]?.width ?? 0) / 2,
        y: placed[child]?.y ?? 0,
      })),
      ...runs.map(([x, children]) => ({ child: children[0] ?? 0, x, y: placed[children[0] ?? 0]?.y ?? 0 })),
    ].sort((a, b) => a.x - b.x)
    const barY = Math.min(...drops.map(({ y }) => y)) - BAR_UP
    const ways = new Map<number, string[]>()
    const add = (child: number, way: string) => ways.set(child, [...(ways.get(child) ?? []), way])
    drops.forEach(({ child, x, y }, place) => {
      const outermost = place === 0 || place === drops.length - 1
      if (place === 0) add(child, `M${middle} ${bottom}V${barY}`)
      add(child, outermost && x !== middle ? bend(middle, barY, x, y) : `M${x} ${barY}V${y}`)
    })
    for (const [x, children] of stems) {
      const own = x === middle || isOwnStem(at, x)
      let from = own ? bottom : (placed[children[0] ?? 0]?.y ?? 0)
      // The stem of assistants is the way down to the bar, where there is one.
      for (const child of [...children].sort((a, b) => armY(placed[a]) - armY(placed[b]))) {
        const card = placed[child]
        if (!card) continue
        const y = armY(card)
        const edge = card.x > x ? card.x : card.x + card.width
        const stem = x === middle && drops.length > 0 ? `M${x} ${y}` : `M${x} ${from}V${y}`
        add(child, `${stem}H${edge}`)
        from = y
      }
    }
    for (const [child, parts] of ways) links.push(link(plan, placed, index, child, parts.join('')))
  })
  return links
}

const isOwnStem = (manager: Placed, x: number): boolean => Math.abs(manager.x + 8 - x) < 0.01

const armY = (card: Placed | undefined): number => (card ? card.y + Math.min(card.height / 2, 22) : 0)

/** From the middle of the bar to the end of a drop, with a round corner. */
function bend(fromX: number, barY: number, x: number, y: number): string {
  const side = Math.sign(x - fromX)
  const r = Math.min(ROUND, Math.abs(x - fromX), y - barY)
  return `M${fromX} ${barY}H${x - side * r}Q${x} ${barY} ${x} ${barY + r}V${y}`
}

function link(plan: readonly PlanNode[], placed: readonly Placed[], parent: number, child: number, d: string): Link {
  const [a, b] = [plan[parent], plan[child]]
  const boxes = [placed[parent], placed[child]].flatMap((box) => box ?? [])
  const tie = b?.post.line ?? b?.post.assistsBy
  const mark: Mark = { tag: 'path', attrs: { d, fill: 'none', stroke: 'line', 'stroke-width': 1.25 } }
  if (!a || !b) throw new RangeError('a line needs two cards')
  return { id: tie?.id ?? b.id, source: b.id, target: a.id, bounds: around(boxes, 2), marks: [mark] }
}
