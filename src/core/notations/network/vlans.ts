import type { Entity } from '../../model'
import { listOf, numberOf } from '../../notation'

/** Numbers of VLANs: 1 to 4094, as 0 and 4095 mean something else (IEEE 802.1Q, §9.6). */
const FIRST_VLAN = 1
const LAST_VLAN = 4094

/** `20` or `20-29` as its first and last number; undefined for what is none. */
function readVlans(text: string): readonly [number, number] | undefined {
  const [, low, high = low] = /^\s*(\d{1,5})\s*(?:[-–]\s*(\d{1,5}))?\s*$/.exec(text) ?? []
  const [from, to] = [Number(low), Number(high)]
  return low !== undefined && from >= FIRST_VLAN && from <= to && to <= LAST_VLAN ? [from, to] : undefined
}

/** Why a list of VLANs cannot be read; undefined where all of it can. */
export function unreadVlans(text: string): string | undefined {
  const wrong = text
    .split(/[,;]/)
    .map((part) => part.trim())
    .find((part) => part !== '' && !readVlans(part))
  return wrong === undefined
    ? undefined
    : `“${wrong.slice(0, 40)}” is no VLAN: write a number from ${FIRST_VLAN} to ${LAST_VLAN}, or a range such as 20-29.`
}

/** What a port carries: the VLAN of frames without a tag, and those that have one, each once. */
export interface Vlans {
  readonly own: number | undefined
  readonly tagged: ReadonlySet<number>
}

export function vlansOf(entity: Entity): Vlans {
  const tagged = new Set<number>()
  for (const text of listOf(entity, 'tagged')) {
    const [from, to] = readVlans(text) ?? [1, 0]
    for (let vlan = from; vlan <= to; vlan++) tagged.add(vlan)
  }
  return { own: numberOf(entity, 'vlan'), tagged }
}

/** `20, 30-39`. */
export function vlanText(vlans: ReadonlySet<number>): string[] {
  const parts: [number, number][] = []
  for (const vlan of [...vlans].sort((a, b) => a - b)) {
    const last = parts.at(-1)
    if (last && vlan === last[1] + 1) last[1] = vlan
    else parts.push([vlan, vlan])
  }
  return parts.flatMap(([from, to]) =>
    to === from + 1 ? [`${from}`, `${to}`] : from === to ? `${from}` : `${from}-${to}`,
  )
}
