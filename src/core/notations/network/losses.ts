import { nth } from '../../graph'
import type { Id } from '../../model'
import { isNeeded, lostBy } from './carried'
import type { Net } from './structure'
import { topologyOf } from './topology'

/** What is lost when one or two devices or cables fail. */
export interface Worst {
  readonly ids: readonly Id[]
  readonly names: readonly string[]
  readonly cutOff: number
  readonly cutOffCritical: number
  readonly flowsLost: number
  readonly neededLost: number
}

/** Up to so many devices and cables every pair is tried; beyond, pairs of so many of the worst by themselves and of those that most flows go through. */
export const MOST_IN_PAIRS = 120
const TRIED_BEYOND = 40

interface Part {
  readonly id: Id
  readonly name: string
}

export interface Losses {
  readonly singles: readonly Worst[]
  readonly pairs: readonly Worst[]
  /** Whether every pair has been tried. */
  readonly isExact: boolean
}

const known = new WeakMap<Net, Losses>()

/** Every loss of one and of two, the worst first: by needed flows, then flows, critical devices, devices. O(parts²) times what one loss costs, up to the bound. */
export function lossesOf(net: Net): Losses {
  const found = known.get(net)
  if (found) return found
  const parts: Part[] = [
    ...net.devices.map(({ id, name }) => ({ id, name })),
    ...topologyOf(net).cables.map(({ id, a, b }) => ({
      id,
      name: `${a.device.name} ${a.name} – ${b.device.name} ${b.name}`,
    })),
  ]
  const singles = sorted(parts.map((part) => worstOf(net, [part])))
  const isExact = parts.length <= MOST_IN_PAIRS
  const tried = isExact ? parts : likely(net, parts, singles)
  const alone = new Map(singles.map((one) => [one.ids[0], one]))
  const pairs: Worst[] = []
  for (let i = 0; i < tried.length; i++)
    for (let j = i + 1; j < tried.length; j++) {
      const [one, other] = [nth(tried, i), nth(tried, j)]
      const both = worstOf(net, [one, other])
      // A pair counts by what the two lose together that neither does alone.
      const [a, b] = [alone.get(one.id), alone.get(other.id)]
      if (rank(both) > rank(a) + rank(b)) pairs.push(both)
    }
  const losses = { singles, pairs: sorted(pairs), isExact }
  known.set(net, losses)
  return losses
}

/** Parts that are worth being tried in pairs where there are too many. */
function likely(net: Net, parts: readonly Part[], singles: readonly Worst[]): Part[] {
  const uses = new Map<Id, number>()
  for (const way of lostBy(net, new Set()).ways.values())
    for (const { id } of [...(way?.devices.slice(1, -1) ?? []), ...(way?.cables ?? [])])
      uses.set(id, (uses.get(id) ?? 0) + 1)
  const busy = [...uses].sort((a, b) => b[1] - a[1]).map(([id]) => id)
  const wanted = new Set([...busy.slice(0, TRIED_BEYOND), ...singles.slice(0, TRIED_BEYOND).flatMap(({ ids }) => ids)])
  return parts.filter(({ id }) => wanted.has(id))
}

function worstOf(net: Net, parts: readonly Part[]): Worst {
  const { cutOff, lost } = lostBy(net, new Set(parts.map(({ id }) => id)))
  return {
    ids: parts.map(({ id }) => id),
    names: parts.map(({ name }) => name),
    cutOff: cutOff.length,
    cutOffCritical: cutOff.filter(({ critical }) => critical).length,
    flowsLost: lost.length,
    neededLost: lost.filter(isNeeded).length,
  }
}

const rank = (one: Worst | undefined): number =>
  one === undefined ? 0 : one.neededLost * 1e9 + one.flowsLost * 1e6 + one.cutOffCritical * 1e3 + one.cutOff
const sorted = (list: readonly Worst[]): Worst[] => [...list].sort((a, b) => rank(b) - rank(a))
