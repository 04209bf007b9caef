import { join } from '../../../../model'
import type { Cable, Device } from '../../structure'
import type { Box } from './boxes'

const LEAST_SHARED = 2

/**
 * Of each box’s two hubs that hang together with the same devices the second one: no line of theirs crosses where what they share stands between
 * them. Hubs that lead out of their box come first, then those that share most. O(cables + hubs² × cables of a hub) for each box
 */
export function twinsIn(boxes: readonly Box[], cables: readonly Cable[]): ReadonlySet<Device> {
  const near = new Map<Device, Device[]>()
  for (const { a, b } of cables) {
    join(near, a.device, b.device)
    join(near, b.device, a.device)
  }
  const around = (device: Device): readonly Device[] => [...new Set(near.get(device))]
  return new Set(
    boxes.flatMap(({ devices }) => {
      const own = new Set(devices)
      const hubs = devices.flatMap((device) => {
        const inner = around(device).filter((other) => own.has(other) && around(other).length > 1)
        const leadsOut = around(device).some((other) => !own.has(other))
        return inner.length < LEAST_SHARED ? [] : [{ device, inner: new Set(inner), leadsOut }]
      })
      const pairs = hubs.flatMap((first, place) =>
        hubs.slice(place + 1).map((second) => ({
          second: second.device,
          out: Number(first.leadsOut) + Number(second.leadsOut),
          shared: [...first.inner].filter((other) => second.inner.has(other)).length,
        })),
      )
      const [best] = pairs
        .filter(({ shared }) => shared >= LEAST_SHARED)
        .sort((a, b) => b.out - a.out || b.shared - a.shared)
      return best ? [best.second] : []
    }),
  )
}
