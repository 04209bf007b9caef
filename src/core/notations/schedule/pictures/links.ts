import type { Box, Mark } from '../../../scene'
import type { LinkType } from '../criticalPath'

/** Where a bar begins and ends, and the height of its middle. */
export interface BarSpot {
  readonly from: number
  readonly to: number
  readonly middle: number
}

const OUT = 8
const HALF_ROW = 16
const ARROW = 5

/** The corners of a line between two bars, by right angles: out of one end, between the rows where it has to go back, into the other end. */
export function linkWay(a: BarSpot, b: BarSpot, type: LinkType): { x: number; y: number }[] {
  const [outward, inward] = [type[0] === 'F' ? 1 : -1, type[1] === 'S' ? 1 : -1]
  const x1 = outward > 0 ? a.to : a.from
  const x2 = inward > 0 ? b.from : b.to
  const leave = x1 + outward * OUT
  const enter = x2 - inward * OUT
  // One bend is enough where both stubs can share a line.
  const shared =
    outward === inward
      ? (inward > 0 ? leave <= enter + OUT - ARROW - 1 : leave >= enter - OUT + ARROW + 1)
        ? leave
        : undefined
      : outward > 0
        ? Math.max(leave, enter)
        : Math.min(leave, enter)
  if (shared !== undefined)
    return [
      { x: x1, y: a.middle },
      { x: shared, y: a.middle },
      { x: shared, y: b.middle },
      { x: x2, y: b.middle },
    ]
  const between = b.middle > a.middle ? b.middle - HALF_ROW : b.middle + HALF_ROW
  return [
    { x: x1, y: a.middle },
    { x: leave, y: a.middle },
    { x: leave, y: between },
    { x: enter, y: between },
    { x: enter, y: b.middle },
    { x: x2, y: b.middle },
  ]
}

export function linkMarks(way: readonly { x: number; y: number }[], strong: boolean): Mark[] {
  const end = way.at(-1)
  const before = way.at(-2)
  if (!end || !before) return []
  const back = Math.sign(before.x - end.x) * ARROW
  const stroke = strong ? 'ink' : 'line'
  const d = way.map(({ x, y }, i) => `${i === 0 ? 'M' : 'L'}${x} ${y}`).join('')
  return [
    { tag: 'path', attrs: { d, fill: 'none', stroke, 'stroke-width': strong ? 1.4 : 1 } },
    {
      tag: 'path',
      attrs: { d: `M${end.x} ${end.y}l${back} -3.2v6.4z`, fill: stroke, stroke: 'none' },
    },
  ]
}

export const boundsOfWay = (way: readonly { x: number; y: number }[]): Box => {
  const [xs, ys] = [way.map(({ x }) => x), way.map(({ y }) => y)]
  const [left, top] = [Math.min(...xs) - 6, Math.min(...ys) - 6]
  return { x: left, y: top, width: Math.max(...xs) - left + 6, height: Math.max(...ys) - top + 6 }
}
