import type { Point } from '../../../../layout'
import type { Cable, Device } from '../../structure'
import type { Area, CableWay } from './boxes'

/** Around a device, in px: a line that comes as near runs through it. */
const NEAR = 3

/**
 * Cables straight from the port at one end to that at the other, where each port stands as it does with right angles, so that their names keep their places.
 * Cables that hang on a rail stay on it, and those that would run through a device go around it at right angles. O(cables × devices)
 */
export function straightWays(
  ways: ReadonlyMap<Cable, CableWay>,
  placed: ReadonlyMap<Device, Area>,
): ReadonlyMap<Cable, CableWay> {
  const found = new Map<Cable, CableWay>()
  for (const [cable, { shared, own }] of ways) {
    const [first, last] = [own[0], own.at(-1)]
    if (shared.length > 0 || !first || !last) continue
    const isThrough = [...placed].some(
      ([device, area]) => device !== cable.a.device && device !== cable.b.device && runsThrough(area, first, last),
    )
    if (!isThrough) found.set(cable, { shared: [], own: [first, last] })
  }
  return found
}

/** Whether a line comes into a box or close to it (after Liang & Barsky 1984). */
function runsThrough({ x, y, width, height }: Area, from: Point, to: Point): boolean {
  const [dx, dy] = [to.x - from.x, to.y - from.y]
  let [enters, leaves] = [0, 1]
  for (const [along, least, most] of [
    [dx, x - NEAR - from.x, x + width + NEAR - from.x],
    [dy, y - NEAR - from.y, y + height + NEAR - from.y],
  ] as const) {
    if (along === 0) {
      if (least > 0 || most < 0) return false
      continue
    }
    const [near, far] = along > 0 ? [least / along, most / along] : [most / along, least / along]
    enters = Math.max(enters, near)
    leaves = Math.min(leaves, far)
    if (enters > leaves) return false
  }
  return true
}
