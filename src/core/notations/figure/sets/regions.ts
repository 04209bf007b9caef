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
  /** Lines that name what several sets share. */
  readonly shared: readonly Part[]
  /** Whether no sets can be as the numbers say. */
  readonly isImpossible: boolean
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
    shared,
    isImpossible:
      !isGathered &&
      ([...sets, ...shared].some(isNegative) || exactly(sets, shared).some((amount) => amount < -ROUNDING)),
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
  if (sets.length === 0 || !sets.every((one) => amountOf(one) !== undefined)) return undefined
  return apart(withinOf(sets, shared)).map((amount) => Math.max(0, amount))
}

const amountOf = ({ entity }: Part): number | undefined => {
  const { value } = entity.fields
  return typeof value === 'number' ? value : undefined
}

/** How much is said to be in each region, with what is in narrower ones. */
function withinOf(sets: readonly Part[], shared: readonly Part[]): Float64Array {
  const within = new Float64Array(1 << sets.length)
  sets.forEach((one, at) => (within[1 << at] = Math.max(0, amountOf(one) ?? 0)))
  for (const one of shared) {
    const mask = regionIn(one.entity.name, sets)
    if (mask > 0) within[mask] = Math.max(0, amountOf(one) ?? 0)
  }
  return within
}

const bitsOf = (mask: number): number => [...mask.toString(2)].filter((bit) => bit === '1').length
const holds = (inner: number, mask: number): boolean => inner !== mask && (inner & mask) === mask
/** Regions with the innermost first. */
const inwards = (count: number): readonly number[] =>
  Array.from({ length: count }, (_, mask) => mask).sort((a, b) => bitsOf(b) - bitsOf(a))

/** What is in a region and in no narrower one; below nothing where that cannot be. */
function apart(within: Float64Array): Float64Array {
  const found = new Float64Array(within)
  const order = inwards(within.length)
  for (const mask of order)
    for (const inner of order) if (holds(inner, mask)) found[mask] = (found[mask] ?? 0) - Math.max(0, found[inner] ?? 0)
  return found
}

/** The same as far as it is said: what is not said of a region is at least what is said of those within it. */
function exactly(sets: readonly Part[], shared: readonly Part[]): Float64Array {
  const said = new Set([...sets, ...shared].flatMap((one) => (amountOf(one) === undefined ? [] : [maskOf(one, sets)])))
  const within = withinOf(sets, shared)
  for (const mask of inwards(within.length))
    if (!said.has(mask))
      within.forEach((amount, inner) => {
        if (holds(inner, mask)) within[mask] = Math.max(within[mask] ?? 0, amount)
      })
  const exact = apart(within)
  // What lies in none of them is nobody’s.
  exact[0] = 0
  return exact
}

const maskOf = (one: Part, sets: readonly Part[]): number =>
  sets.includes(one) ? 1 << sets.indexOf(one) : regionIn(one.entity.name, sets)
const isNegative = (one: Part): boolean => (amountOf(one) ?? 0) < 0

/** What numbers say that no sets can be, with the lines that say it. O(regions²) */
export function impossibleIn(parts: readonly Part[], model: Model, day: Day): readonly Impossible[] {
  const { sets, shared } = setsOf(parts, model, day)
  const lines = new Map([...shared, ...sets].map((one): [number, Part] => [maskOf(one, sets), one]))
  lines.delete(0)
  const found: Impossible[] = []
  for (const one of lines.values()) {
    const amount = amountOf(one)
    if (amount !== undefined && amount < 0)
      found.push({ lines: [one], words: `${called(one)} says ${amount}: no set has fewer than none.` })
  }
  const exact = exactly(sets, shared)
  for (const [mask, one] of lines) {
    const amount = amountOf(one)
    if (amount === undefined || amount < 0) continue
    const larger = [...lines].filter(([inner, each]) => holds(inner, mask) && (amountOf(each) ?? 0) > amount)
    for (const [, each] of larger)
      found.push({
        lines: [each, one],
        words: `${called(each)} says ${amountOf(each) ?? 0}, more than ${called(one)}, which says ${amount}: what is in several is in each of them.`,
      })
    if (larger.length === 0 && (exact[mask] ?? 0) < -ROUNDING)
      found.push({
        lines: [one],
        words: `What ${called(one)} shares with others adds up to ${tidy(amount - (exact[mask] ?? 0))}, and it says ${amount}.`,
      })
  }
  return found
}

export interface Impossible {
  readonly lines: readonly Part[]
  readonly words: string
}

const ROUNDING = 1e-9
const tidy = (amount: number): number => Math.round(amount * 1e6) / 1e6
const called = ({ entity }: Part): string => `“${clip(entity.name)}”`

const MOST_NAMED = 12

/** Who lies in a region, in words. */
export function membersIn({ members }: Region): string | undefined {
  if (members.length === 0) return undefined
  const names = members.slice(0, MOST_NAMED).map(({ name }) => clip(name))
  const more = members.length - names.length
  return more > 0 ? `${names.join(', ')} and ${more.toLocaleString('en')} more` : names.join(', ')
}
