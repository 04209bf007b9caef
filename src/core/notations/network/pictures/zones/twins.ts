import { join } from '../../../../model'
import type { Cable, Device } from '../../structure'
import type { Box } from './boxes'

const LEAST_SHARED = 2

/** Of more hubs around one device those stated first are looked at. */
const MOST_HUBS = 24

interface Hub {
  readonly device: Device
  readonly leadsOut: boolean
}

interface Pair {
  readonly second: Device
  /** How many of the two lead out of their box. */
  readonly out: number
  readonly shared: number
  readonly place: number
}

/** The one of two hubs that is stated later is the second. */
function inOrder(a: Hub, b: Hub, devices: readonly Device[]): Omit<Pair, 'shared'> {
  const [one, other] = [devices.indexOf(a.device), devices.indexOf(b.device)]
  const second = one < other ? b.device : a.device
  return { second, out: Number(a.leadsOut) + Number(b.leadsOut), place: Math.min(one, other) }
}

/**
 * Of each box’s two hubs that hang together with the same devices the second one: no line of theirs crosses where what they share stands between
 * them. Hubs that lead out of their box come first, then those that share most. O(cables + devices × hubs at each²)
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
        if ((near.get(device)?.length ?? 0) < LEAST_SHARED) return []
        const inner = around(device).filter((other) => own.has(other) && (near.get(other)?.length ?? 0) > 1)
        const leadsOut = around(device).some((other) => !own.has(other))
        return inner.length < LEAST_SHARED ? [] : [{ device, leadsOut }]
      })
      const hubAt = new Map(hubs.map((hub) => [hub.device, hub]))
      // Only hubs of one device can share any.
      const pairs = new Map<string, Pair>()
      for (const device of devices) {
        const next = around(device).flatMap((other) => hubAt.get(other) ?? [])
        next.slice(0, MOST_HUBS).forEach((first, place) => {
          for (const second of next.slice(place + 1, MOST_HUBS)) {
            const key = [first.device.id, second.device.id].sort().join(' ')
            const known = pairs.get(key) ?? { ...inOrder(first, second, devices), shared: 0 }
            pairs.set(key, { ...known, shared: known.shared + 1 })
          }
        })
      }
      const [best] = [...pairs.values()]
        .filter(({ shared }) => shared >= LEAST_SHARED)
        .sort((a, b) => b.out - a.out || b.shared - a.shared || a.place - b.place)
      return best ? [best.second] : []
    }),
  )
}
