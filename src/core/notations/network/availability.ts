import { numberOf } from '../../notation'
import { nth, reliability, type Reliability } from '../../graph'
import type { Entity, Relation } from '../../model'
import { type Device } from './structure'
import { passesAt, type Topology } from './topology'

/** How much of the time something works: its mean time between failures to that and the mean time to repair; undefined where it states not both. */
export function uptimeOf(fact: Entity | Relation): number | undefined {
  const [mtbf, mttr] = [numberOf(fact, 'mtbf'), numberOf(fact, 'mttr')]
  return mtbf === undefined || mttr === undefined || mtbf + mttr === 0 ? undefined : mtbf / (mtbf + mttr)
}

/** How much of the time two devices reach each other; what states no times counts as always up. Undefined where nothing states any. */
export function availabilityBetween(topology: Topology, from: Device, to: Device): Reliability | undefined {
  const { net, cables, incidence, index } = topology
  const [a, b] = [index.get(from.id), index.get(to.id)]
  if (a === undefined || b === undefined || !isStated(topology)) return undefined
  return reliability(
    {
      incidence,
      node: (node) => uptimeOf(nth(net.devices, node).entity) ?? 1,
      edge: (edge) => uptimeOf(nth(cables, edge).relation) ?? 1,
      passes: passesAt(topology),
    },
    a,
    b,
  )
}

const stated = new WeakMap<Topology, boolean>()
function isStated(topology: Topology): boolean {
  const found =
    stated.get(topology) ??
    (topology.net.devices.some(({ entity }) => uptimeOf(entity) !== undefined) ||
      topology.cables.some(({ relation }) => uptimeOf(relation) !== undefined))
  stated.set(topology, found)
  return found
}

/** `99.982 %`, with as many nines as there are. */
export function percentWords(share: number): string {
  if (share >= 1) return '100 %'
  const nines = Math.min(7, Math.max(1, Math.ceil(-Math.log10(1 - share)) + 1))
  return `${(Math.floor(share * 10 ** (nines + 2)) / 10 ** nines).toFixed(nines)} %`
}
