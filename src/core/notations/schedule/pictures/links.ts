import type { LinkType } from '../terms'

/** Where a bar begins and ends, and the height of its middle. */
export interface BarSpot {
  readonly from: number
  readonly to: number
  readonly middle: number
}

const OUT = 8
const HALF_ROW = 16
export const ARROW = 5

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
