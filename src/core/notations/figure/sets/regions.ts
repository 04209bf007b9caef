import type { Day, Entity, Model } from '../../../model'
import { clip } from '../../../notation'
import { withBranch, type Part } from '../structure'
import { gathered } from './gather'

/** What lies in a region of overlapping sets. */
export interface Region {
  /** Lines that say so, and what was gathered. */
  readonly parts: readonly Part[]
  readonly members: readonly Entity[]
}

export interface Sets {
  readonly sets: readonly Part[]
  /** By which sets hold it, a bit each. */
  readonly regions: ReadonlyMap<number, Region>
  /** How much should lie in each region; undefined where nobody says how much. */
  readonly wanted: Float64Array | undefined
  /** Sets beyond those that are drawn. */
  readonly left: number
}

export const MOST_SETS = 5

/** The names of sets in a line such as `Crew & Shore`, as bits; 0 where it is no region. */
export function regionIn(text: string, sets: readonly Part[]): number {
  const names = text.split(/\s+&\s+/)
  if (names.length < 2) return 0
  let mask = 0
  for (const name of names) {
    const at = sets.findIndex(({ entity }) => entity.name.toLowerCase() === name.trim().toLowerCase())
    if (at < 0) return 0
    mask |= 1 << at
  }
  return mask
}

/** Lines as sets: those on top, but for lines that name a region of two or more; what stands under a line lies in it alone. O(parts × sets + what is gathered) */
export function setsOf(parts: readonly Part[], model: Model, day: Day): Sets {
  const isRegion = (one: Part) =>
    regionIn(
      one.entity.name,
      parts.filter((other) => other !== one),
    ) > 0
  const all = parts.filter((one) => !isRegion(one))
  const sets = all.slice(0, MOST_SETS)
  const regions = new Map<number, { parts: Part[]; members: Entity[] }>()
  const regionAt = (mask: number) => {
    const known = regions.get(mask) ?? { parts: [], members: [] }
    regions.set(mask, known)
    return known
  }
  sets.forEach((one, at) => regionAt(1 << at).parts.push(...inRegion(one)))
  const shared = parts.filter(isRegion)
  for (const one of shared) {
    const mask = regionIn(one.entity.name, sets)
    if (mask > 0) regionAt(mask).parts.push(...inRegion(one))
  }
  const masks = new Map<Entity, number>()
  let isGathered = false
  sets.forEach((one, at) => {
    const words = one.entity.fields['gathers']
    const found = typeof words === 'string' ? gathered(model, words, day) : undefined
    if (!found) return
    isGathered = true
    for (const member of found) masks.set(member, (masks.get(member) ?? 0) | (1 << at))
  })
  for (const [member, mask] of masks) regionAt(mask).members.push(member)
  return {
    sets,
    regions,
    left: all.length - sets.length,
    wanted: isGathered ? counted(sets.length, masks) : stated(sets, shared),
  }
}

/** So many lines are told in a region. */
const MOST_TOLD = 30

/** What stands under a set or a region, on all levels. */
const inRegion = (one: Part): readonly Part[] => withBranch(one, MOST_TOLD + 1).slice(1)

function counted(count: number, masks: ReadonlyMap<Entity, number>): Float64Array {
  const wanted = new Float64Array(1 << count)
  for (const mask of masks.values()) wanted[mask] = (wanted[mask] ?? 0) + 1
  return wanted
}

/** By numbers that sets and regions say: how much is in a set, and how much in all sets of a region. */
function stated(sets: readonly Part[], shared: readonly Part[]): Float64Array | undefined {
  const valueOf = ({ entity }: Part) => entity.fields['value']
  if (sets.length === 0 || !sets.every((one) => typeof valueOf(one) === 'number')) return undefined
  const within = new Float64Array(1 << sets.length)
  sets.forEach((one, at) => (within[1 << at] = Math.max(0, Number(valueOf(one)))))
  for (const one of shared) {
    const mask = regionIn(one.entity.name, sets)
    if (mask > 0) within[mask] = Math.max(0, Number(valueOf(one) ?? 0))
  }
  // What is in a region and in no smaller one: from the innermost outwards.
  const wanted = new Float64Array(within)
  const bits = (mask: number) => [...mask.toString(2)].filter((bit) => bit === '1').length
  const order = Array.from({ length: within.length }, (_, mask) => mask).sort((a, b) => bits(b) - bits(a))
  for (const mask of order)
    for (const inner of order)
      if (inner !== mask && (inner & mask) === mask)
        wanted[mask] = Math.max(0, (wanted[mask] ?? 0) - (wanted[inner] ?? 0))
  return wanted
}

const MOST_NAMED = 12

/** Who lies in a region, in words. */
export function membersIn({ members }: Region): string | undefined {
  if (members.length === 0) return undefined
  const names = members.slice(0, MOST_NAMED).map(({ name }) => clip(name))
  const more = members.length - names.length
  return more > 0 ? `${names.join(', ')} and ${more.toLocaleString('en')} more` : names.join(', ')
}
