import { grouped } from '../../../../model'
import type { Point } from '../../../../layout'
import type { Trust } from '../../kinds'
import type { Cable, Device, Net } from '../../structure'

/** What devices stand together in: a zone, a site, or nothing that anybody stated. */
export interface Box {
  readonly key: string
  readonly devices: readonly Device[]
  /** Its place among the tiers: boxes of one tier stand above one another. */
  readonly tier: number
}

/** What is not trusted, what is little, and all that is more: these stand in one tier, above one another. */
const TIERS: Readonly<Record<Trust | 'unstated', number>> = { none: 0, low: 1, medium: 2, high: 2, unstated: 2 }

/** So many boxes stand above one another at most: the next ones stand beside them. */
const MOST_STACKED = 3

/** The boxes of a network, those of the least trust first; of one trust those that hang together stay near each other. O(devices + cables + boxes²) */
export function boxesOf(net: Net, devices: readonly Device[], by: 'zone' | 'site'): readonly Box[] {
  const keyOf = ({ zone, site }: Device): string => (by === 'zone' ? zone?.id : site?.id) ?? ''
  const members = grouped(devices, keyOf)
  const keys =
    by === 'zone' ? [...net.zones.map(({ id }) => id as string), ...(members.has('') ? [''] : [])] : [...members.keys()]
  const rankOf = (key: string): number => {
    const trust = net.zones.find(({ id }) => id === key)?.trust
    return by === 'site' ? 0 : TIERS[trust ?? 'unstated']
  }
  const ranks = grouped(keys, rankOf)
  const boxes: Box[] = []
  let tier = 0
  for (const [, list] of [...ranks].sort(([a], [b]) => a - b)) {
    const near = list.length > MOST_STACKED ? inNearness(list, net.cables, keyOf) : list
    const columns = Math.ceil(near.length / MOST_STACKED)
    const stacked = Math.ceil(near.length / columns)
    near.forEach((key, at) =>
      boxes.push({ key, devices: members.get(key) ?? [], tier: tier + Math.floor(at / stacked) }),
    )
    tier += columns
  }
  return boxes
}

/** Boxes so that those with many cables between them follow each other: from one with many, always the one with the most to those before. */
function inNearness(keys: readonly string[], cables: readonly Cable[], keyOf: (device: Device) => string): string[] {
  const own = new Set(keys)
  const between = new Map<string, number>()
  const join = (a: string, b: string) => {
    for (const key of [`${a} ${b}`, `${b} ${a}`]) between.set(key, (between.get(key) ?? 0) + 1)
  }
  for (const { a, b } of cables) {
    const [one, other] = [keyOf(a.device), keyOf(b.device)]
    if (one !== other && own.has(one) && own.has(other)) join(one, other)
  }
  const left = [...keys]
  const taken: string[] = []
  while (left.length > 0) {
    const score = (key: string) =>
      taken.length === 0
        ? Math.max(0, ...keys.map((other) => between.get(`${key} ${other}`) ?? 0))
        : taken.reduce((sum, other) => sum + (between.get(`${key} ${other}`) ?? 0), 0)
    let best = 0
    left.forEach((key, at) => {
      if (score(key) > score(left[best] ?? '')) best = at
    })
    taken.push(...left.splice(best, 1))
  }
  return taken
}

export interface Area {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

/** The way of a cable: of one that hangs on a rail the part that it shares with others comes first. */
export interface CableWay {
  readonly shared: readonly Point[]
  readonly own: readonly Point[]
}
