import { wcagContrast } from 'culori/fn'
import type { ThemeSpec, Tone } from '../model'
import { hex, LEAST, lightnessOf, ofLightness, toOklch } from './colour'
import { CATEGORIES } from './roles'

/** Categories climb a ladder of lightness, in an order that keeps neighbours far apart: they differ in grey print too. */
const CLIMB = [4, 7, 2, 6, 1, 5, 0, 3] as const

interface Category {
  readonly hue: number
  readonly chroma: number
  /** The house colour itself. */
  readonly given?: string
}

/** How far the hues of categories that no house colour is stated for stand from those that are, in degrees. */
const APART = 34
const CHROMA = { least: 0.02, most: 0.15 } as const

/** The categories of a theme, before their lightness: by its hues, or by its house colours and hues beside them. */
export function categoriesOf({ hues, chroma, colours }: ThemeSpec): readonly [Category, ...Category[]] {
  const given = colours.flatMap((text) => {
    const read = toOklch(text)
    return read ? [{ text, c: read.c, h: read.h ?? 0 }] : []
  })
  const category = (at: number): Category => {
    const own = given[at % Math.max(1, given.length)]
    if (!own) return { hue: hues[at % hues.length] ?? 0, chroma }
    const round = Math.floor(at / given.length)
    const hue = own.h + APART * Math.ceil(round / 2) * (round % 2 === 1 ? 1 : -1)
    const strength = own.c < CHROMA.least ? own.c : Math.min(CHROMA.most, own.c)
    return round === 0
      ? { hue, chroma: strength, given: own.text }
      : { hue, chroma: strength * (round % 3 === 2 ? 0.6 : 0.85) }
  }
  const [first, ...others] = Array.from({ length: CATEGORIES }, (_, at) => category(at))
  return [first ?? { hue: 0, chroma }, ...others]
}

/** How much a category stands out from the sheet at least. */
export const leastOf = (tone: Tone): number => (tone === 'strong' ? LEAST.text : LEAST.graphic)

/** What categories are drawn on, between which lightnesses (L* of CIE 1976) they climb, and their share of the theme’s chroma. */
interface Ladder {
  readonly sheet: string
  readonly ladder: readonly [low: number, high: number]
  readonly chroma: number
}

/** The colour of each category: house colours as `drawnAs` says, the others on a ladder of lightness, as far from those and from each other as it has room. */
export function edgesOf(spec: ThemeSpec, tone: Tone, { sheet, ladder, chroma }: Ladder): readonly string[] {
  const categories = categoriesOf(spec)
  // Without colours a house colour is nothing but a rung.
  const house = categories.map(({ given }) =>
    given === undefined || tone === 'grey' ? undefined : drawnAs(given, spec, tone, sheet),
  )
  const fixed = house.flatMap((one) => (one === undefined ? [] : lightnessOf(one)))
  const free = spread(fixed, CATEGORIES - fixed.length, ladder)
  const rungs = [...fixed, ...free].sort((a, b) => a - b)
  const left = CLIMB.map((at) => rungs[at] ?? 0).filter((rung) => free.includes(rung))
  return categories.map(({ hue, chroma: own }, at) => house[at] ?? ofLightness(left.shift() ?? 0, own * chroma, hue))
}

/** So many lightnesses from the lowest to the highest, as far as may be from each other and from some that stand. */
function spread(fixed: readonly number[], count: number, [low, high]: Ladder['ladder']): readonly number[] {
  const standing = [...fixed].sort((a, b) => a - b)
  const placed = (apart: number): readonly number[] => {
    const found: number[] = []
    for (let at = low; found.length < count && at <= high; at += apart) {
      for (const one of standing) if (Math.abs(one - at) < apart) at = one + apart
      if (at <= high) found.push(at)
    }
    return found
  }
  let [enough, much] = [0, high - low]
  for (let step = 0; step < 40; step++) {
    const middle = (enough + much) / 2
    if (placed(middle).length === count) enough = middle
    else much = middle
  }
  return placed(enough)
}

/** A house colour as it is drawn on a sheet: itself where it stands out or is wanted as given; else the nearest that does, of its hue. */
export function drawnAs(given: string, { isAsGiven }: ThemeSpec, tone: Tone, sheet: string): string {
  const standsOut = (colour: string) => wcagContrast(colour, sheet) >= leastOf(tone)
  if (isAsGiven || standsOut(given)) return given
  const { l, c, h = 0 } = toOklch(given) ?? { l: 0, c: 0 }
  let [near, far] = [l, lightnessOf(sheet) > 50 ? 0 : 1]
  for (let step = 0; step < 12; step++) {
    const middle = (near + far) / 2
    if (standsOut(hex([middle, c, h]))) far = middle
    else near = middle
  }
  return hex([far, c, h])
}
