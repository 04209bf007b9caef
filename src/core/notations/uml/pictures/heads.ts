import { kit, type Mark, type Point, type Role } from '../../../scene'

const ARROW = { length: 9, half: 4.5 } as const

/** An open head at the end of a right-angled line that comes from `from`. */
export function openHead(at: Point, from: Point, stroke: Role = 'line', width = 1.2): Mark {
  const [dx, dy] = [Math.sign(at.x - from.x), Math.sign(at.y - from.y)]
  const [x, y] = [at.x - dx * ARROW.length, at.y - dy * ARROW.length]
  return kit.path(
    `M${x - dy * ARROW.half} ${y - dx * ARROW.half}L${at.x} ${at.y}L${x + dy * ARROW.half} ${y + dx * ARROW.half}`,
    { fill: 'none', stroke, 'stroke-width': width },
  )
}
