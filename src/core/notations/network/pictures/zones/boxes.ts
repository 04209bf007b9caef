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

/** How boxes of one rank stand: in few columns, in more of them, by how far they are from those before, or each in a column of its own. */
export type Tiers = 'few' | 'more' | 'by distance' | 'a row'
/** So many boxes stand above one another at most: the next ones stand beside them. */
const MOST_STACKED: Readonly<Record<Tiers, number>> = { few: 3, more: 2, 'by distance': 3, 'a row': 1 }

/** The boxes of a network, those of the least trust first; of one trust those that hang together stay near each other. O(devices + cables + boxes²) */
export function boxesOf(
  net: Net,
  devices: readonly Device[],
  by: 'zone' | 'site',
  tiers: Tiers = 'few',
): readonly Box[] {
  const keyOf = ({ zone, site }: Device): string => (by === 'zone' ? zone?.id : site?.id) ?? ''
  const members = grouped(devices, keyOf)
  const keys =
    by === 'zone' ? [...net.zones.map(({ id }) => id as string), ...(members.has('') ? [''] : [])] : [...members.keys()]
  const rankOf = (key: string): number => {
    const trust = net.zones.find(({ id }) => id === key)?.trust
    return by === 'site' ? 0 : TIERS[trust ?? 'unstated']
  }
  const ranks = grouped(keys, rankOf)
  const cells: Cell[] = []
  const pairs = between(net.cables, keyOf)
  let tier = 0
  for (const [rank, list] of [...ranks].sort(([a], [b]) => a - b)) {
    const most = MOST_STACKED[tiers]
    const near = list.length > most ? inNearness(list, net.cables, keyOf) : list
    const columns =
      tiers === 'by distance' ? byDistance(near, new Set(cells.map(({ key }) => key)), pairs, most) : inFew(near, most)
    for (const column of columns) {
      column.forEach((key, at) => cells.push({ key, rank, tier, lane: at + 0.5, of: column.length }))
      tier++
    }
  }
  const untangled = swapped(cells, pairs)
  return untangled
    .sort((a, b) => a.tier - b.tier || a.lane - b.lane)
    .map(({ key, tier: own }) => ({ key, devices: members.get(key) ?? [], tier: own }))
}

/** In as few columns as their height allows. */
function inFew(keys: readonly string[], most: number): string[][] {
  const columns = Math.ceil(keys.length / most)
  const stacked = Math.ceil(keys.length / columns)
  return Array.from({ length: columns }, (_, at) => keys.slice(at * stacked, (at + 1) * stacked))
}

/** In columns by how many boxes lie between them and those before; what is joined to none of those comes with the first. */
function byDistance(
  keys: readonly string[],
  before: ReadonlySet<string>,
  pairs: readonly (readonly [string, string, number])[],
  most: number,
): string[][] {
  const next = (key: string) => pairs.flatMap(([a, b]) => (a === key ? [b] : b === key ? [a] : []))
  const own = new Set(keys)
  const depth = new Map<string, number>()
  const starts = keys.filter((key) => next(key).some((other) => before.has(other)))
  const queue = starts.length > 0 ? starts : keys.slice(0, 1)
  for (const key of queue) depth.set(key, 0)
  for (const key of queue)
    for (const other of next(key))
      if (own.has(other) && !depth.has(other)) {
        depth.set(other, (depth.get(key) ?? 0) + 1)
        queue.push(other)
      }
  const columns = grouped(keys, (key) => depth.get(key) ?? 0)
  return [...columns].sort(([a], [b]) => a - b).flatMap(([, list]) => inFew(list, most))
}

/** A place for a box: its tier, and how far down it of so many. Boxes of one rank may change places. */
interface Cell {
  readonly key: string
  readonly rank: number
  readonly tier: number
  readonly lane: number
  readonly of: number
}

/** How many cables there are between each two boxes. */
function between(cables: readonly Cable[], keyOf: (device: Device) => string): (readonly [string, string, number])[] {
  const counts = new Map<string, [string, string, number]>()
  for (const { a, b } of cables) {
    const [one = '', other = ''] = [keyOf(a.device), keyOf(b.device)].sort()
    if (one === other) continue
    const known = counts.get(`${one} ${other}`) ?? [one, other, 0]
    known[2]++
    counts.set(`${one} ${other}`, known)
  }
  return [...counts.values()]
}

/** What lies across, what is passed by and how far cables go weighs on an arrangement. */
const WEIGHT = { across: 4, beyond: 1.5, far: 0.4 } as const
const MOST_BOXES = 24

/** Lets boxes of one rank change places as long as that makes lines between them cross less or shorter. O(boxes² × pairs²) for each round, few rounds. */
function swapped(cells: readonly Cell[], pairs: readonly (readonly [string, string, number])[]): Cell[] {
  let now = [...cells]
  if (now.length > MOST_BOXES) return now
  let least = tangle(now, pairs)
  for (let round = 0; round < 6; round++) {
    const before = least
    for (let i = 0; i < now.length; i++)
      for (let j = i + 1; j < now.length; j++) {
        const [a, b] = [now[i], now[j]]
        if (!a || !b || a.rank !== b.rank) continue
        const next = now.with(i, { ...b, key: a.key }).with(j, { ...a, key: b.key })
        const cost = tangle(next, pairs)
        if (cost < least - 1e-9) {
          least = cost
          now = next
        }
      }
    if (least === before) break
  }
  return now
}

function tangle(cells: readonly Cell[], pairs: readonly (readonly [string, string, number])[]): number {
  const at = new Map(cells.map((cell) => [cell.key, { x: cell.tier, y: cell.lane / cell.of }]))
  const lines = pairs.flatMap(([a, b, count]) => {
    const [from, to] = [at.get(a), at.get(b)]
    return from && to ? [from.x <= to.x ? { from, to, count } : { from: to, to: from, count }] : []
  })
  let sum = 0
  lines.forEach((one, i) => {
    const [dx, dy] = [one.to.x - one.from.x, Math.abs(one.to.y - one.from.y)]
    sum += one.count * (WEIGHT.beyond * Math.max(0, dx - 1) + WEIGHT.far * (dy + (dx === 0 ? 0.5 : 0)))
    for (const other of lines.slice(i + 1)) {
      // Between the tiers that both go through, the one is above the other at one end and beneath it at the other.
      const [left, right] = [Math.max(one.from.x, other.from.x), Math.min(one.to.x, other.to.x)]
      if (left >= right) continue
      const height = ({ from, to }: typeof one, x: number) =>
        from.y + ((to.y - from.y) * (x - from.x)) / (to.x - from.x || 1)
      const [a, b] = [height(one, left) - height(other, left), height(one, right) - height(other, right)]
      if (a * b < -1e-9) sum += WEIGHT.across * Math.min(one.count, other.count)
    }
  })
  return sum
}

/** Boxes so that those with many cables between them follow each other: from one with many, always the one with the most to those before. */
function inNearness(keys: readonly string[], cables: readonly Cable[], keyOf: (device: Device) => string): string[] {
  const own = new Set(keys)
  const counts = new Map(
    between(cables, keyOf).flatMap(([a, b, count]) =>
      own.has(a) && own.has(b) ? [[`${a} ${b}`, count] as const, [`${b} ${a}`, count] as const] : [],
    ),
  )
  const left = [...keys]
  const taken: string[] = []
  while (left.length > 0) {
    const score = (key: string) =>
      taken.length === 0
        ? Math.max(0, ...keys.map((other) => counts.get(`${key} ${other}`) ?? 0))
        : taken.reduce((sum, other) => sum + (counts.get(`${key} ${other}`) ?? 0), 0)
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
