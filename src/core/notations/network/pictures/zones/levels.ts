import { Incidence, nth } from '../../../../graph'
import type { DeviceType } from '../../kinds'
import type { Device } from '../../structure'
import type { Box } from './boxes'

/** Puts the second of two hubs at the far end of its box, so that all else lies between it and the first; answers those that stand before it. */
export function putAround(
  boxes: readonly Box[],
  seconds: ReadonlySet<Device>,
  level: Float64Array,
  at: (device: Device) => number,
): ReadonlySet<Device> {
  const before = new Set<Device>()
  for (const { devices } of boxes) {
    const second = devices.find((device) => seconds.has(device))
    if (!second) continue
    const levels = devices.map((device) => nth(level, at(device)))
    const [own, least, most] = [nth(level, at(second)), Math.min(...levels), Math.max(...levels)]
    if (own - least > most - own) before.add(second)
    level[at(second)] = before.has(second) ? least - 0.5 : most + 0.5
  }
  return before
}

/** From each level of a tier to the first of the next one: more than a tier has. */
const TIER = 1e6

/** How far each device stands along where what is stated first comes first: tier by tier. O(devices) */
export const levelsAsStated = (tierOf: readonly number[]): Float64Array =>
  Float64Array.from(tierOf, (tier, at) => tier * TIER + at)

/** How much of a hub a device is by its sort, where nothing else tells where a network begins. */
const HUBS: readonly (DeviceType | undefined)[] = ['cloud service', 'router', 'firewall', 'switch']

/**
 * How far each device stands along: tier by tier, and within a tier by how many cables it is from those that the tier before leads to. The
 * first tier counts towards the next one. O(devices + cables)
 */
export function levelsOf(
  devices: readonly Device[],
  joined: readonly (readonly [number, number])[],
  tierOf: readonly number[],
): Float64Array {
  const incidence = new Incidence({ nodes: devices.length, edges: joined })
  const level = new Float64Array(devices.length).fill(-1)
  const tiers = [...new Set(tierOf)].sort((a, b) => a - b)
  const neighbours = (node: number): number[] => {
    const list: number[] = []
    for (let place = incidence.first(node); place < incidence.first(node + 1); place++)
      list.push(incidence.other(incidence.edge(place), node))
    return list
  }
  for (const [number, tier] of tiers.entries()) {
    const own = [...devices.keys()].filter((node) => nth(tierOf, node) === tier)
    const leads = (test: (other: number) => boolean) =>
      own.filter((node) => neighbours(node).some((next) => test(nth(tierOf, next))))
    const before = leads((other) => other < tier)
    const onward = before.length === 0 ? leads((other) => other > tier) : []
    const depth = new Map<number, number>()
    const spread = (starts: readonly number[]) => {
      const queue = starts.filter((node) => !depth.has(node))
      for (const node of queue) depth.set(node, 0)
      for (const node of queue)
        for (const next of neighbours(node))
          if (nth(tierOf, next) === tier && !depth.has(next)) {
            depth.set(next, (depth.get(node) ?? 0) + 1)
            queue.push(next)
          }
    }
    spread(before.length > 0 ? before : onward)
    const hub = (node: number) => {
      const rank = HUBS.indexOf(nth(devices, node).type)
      const leads = neighbours(node).filter((next) => incidence.degree(next) > 1)
      return (rank < 0 ? HUBS.length : rank) * 1e6 - leads.length * 1000 - incidence.degree(node)
    }
    for (const node of [...own].sort((a, b) => hub(a) - hub(b) || a - b)) if (!depth.has(node)) spread([node])
    const most = Math.max(0, ...depth.values())
    for (const [node, far] of depth) level[node] = number * TIER + (onward.length > 0 ? most - far : far)
  }
  return level
}

/** Boxes of one tier share out the lanes from the top down; a device in several lanes stands in the one nearest to those it is cabled to. */
export function lanesOf(
  boxes: readonly Box[],
  joined: readonly (readonly [number, number])[],
  tierOf: readonly number[],
) {
  const tiers = new Map<number, number[]>()
  boxes.forEach(({ tier }, number) => tiers.set(tier, [...(tiers.get(tier) ?? []), number]))
  const lanes = Math.max(1, ...[...tiers.values()].map((list) => list.length))
  const laneOf: { first: number; last: number }[] = []
  for (const list of tiers.values())
    list.forEach((number, place) => {
      const first = Math.floor((place * lanes) / list.length)
      laneOf[number] = { first, last: Math.floor(((place + 1) * lanes) / list.length) - 1 }
    })
  const own = boxes.flatMap((box, number) => box.devices.map(() => nth(laneOf, number)))
  const lane = Float64Array.from(own, ({ first, last }) => (first + last) / 2)
  const near = own.map((): number[] => [])
  for (const [a, b] of joined) {
    near[a]?.push(b)
    near[b]?.push(a)
  }
  const fixed = own.map(({ first, last }) => first === last)
  for (let round = 0; round < 3; round++)
    for (const [node, { first, last }] of own.entries()) {
      const others = nth(near, node).filter(
        (other) => fixed[other] === true || nth(tierOf, other) === nth(tierOf, node),
      )
      if (fixed[node] === true || others.length === 0) continue
      const mean = others.reduce((sum, other) => sum + nth(lane, other), 0) / others.length
      lane[node] = Math.min(last, Math.max(first, mean))
    }
  return { lane: Int32Array.from(lane, Math.round), lanes, laneOf }
}
