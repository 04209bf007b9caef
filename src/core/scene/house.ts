import { differenceCiede2000, modeLab65, useMode as withMode, wcagContrast } from 'culori/fn'
import type { ThemeSpec, Tone } from '../model'
import { drawnAs, leastOf } from './categories'
import { hex, lightnessOf, toOklch } from './colour'
import { seenBy, type Sight } from './sight'
import { themeIn } from './theme'

withMode(modeLab65)
const differenceOf = differenceCiede2000()

const sheetOf = (spec: ThemeSpec, tone: Tone): string => themeIn(spec, tone).colours['sheet'] ?? ''

/** A house colour that does not stand out from the sheet as it is, how much it does and should, and what is drawn instead. */
export interface Mended {
  readonly given: string
  readonly contrast: number
  readonly least: number
  readonly drawn: string
}

/** What is not drawn as it was given, because it would not stand out from the sheet; nothing of a sheet without colours. */
export function mendedIn(spec: ThemeSpec, tone: Tone): readonly Mended[] {
  if (tone === 'grey') return []
  const sheet = sheetOf(spec, tone)
  const least = leastOf(tone)
  return spec.colours.flatMap((given) => {
    const contrast = wcagContrast(given, sheet)
    if (contrast >= least) return []
    return [{ given, contrast, least, drawn: drawnAs(given, { ...spec, isAsGiven: false }, tone, sheet) }]
  })
}

/** How far apart two colours have to be: in grey by lightness (of 100), to eyes that lack a colour by the formula of CIEDE2000. */
export interface Apart {
  readonly grey: number
  readonly sight: number
}

/** What is usual: half a rung of the ladder, and what is seen at a glance. */
export const TOLD_APART: Apart = { grey: 3.5, sight: 12 }

const EYES = ['protanopia', 'deuteranopia', 'tritanopia'] as const satisfies readonly Sight[]

/** Two house colours that are hardly told apart, how far apart they are, and by whom. */
export interface Twins {
  readonly one: string
  readonly other: string
  readonly apart: number
  readonly sight: Sight
}

function twinsAmong(one: string, other: string, { grey, sight: least }: Apart): readonly Twins[] {
  const lightness = Math.abs(lightnessOf(one) - lightnessOf(other))
  return [
    ...(lightness < grey ? [{ one, other, apart: lightness, sight: 'grey' as const }] : []),
    ...EYES.flatMap((sight) => {
      const apart = differenceOf(seenBy(one, sight), seenBy(other, sight))
      return apart < least ? [{ one, other, apart, sight }] : []
    }),
  ]
}

/** House colours as they are drawn in a tone; none where nothing is coloured. */
const drawnIn = (spec: ThemeSpec, tone: Tone): readonly string[] =>
  tone === 'grey' ? [] : spec.colours.map((given) => drawnAs(given, spec, tone, sheetOf(spec, tone)))

/** Which house colours are one in grey print, or to eyes that lack a colour. */
export function twinsIn(spec: ThemeSpec, tone: Tone, apart: Apart): readonly Twins[] {
  const drawn = drawnIn(spec, tone)
  return drawn.flatMap((one, at) => drawn.slice(at + 1).flatMap((other) => twinsAmong(one, other, apart)))
}

const FINEST = 0.01

/**
 * House colours that everybody tells apart, moved in their lightness as little as that takes: one after another in every order, of which the one is taken that moves
 * them least together. Undefined where there is no room for them. O(orders × colours² × steps), of at most three colours
 */
export function toldApart(spec: ThemeSpec, tone: Tone, apart: Apart): readonly string[] | undefined {
  const key = JSON.stringify([spec, tone, apart])
  const known = parted.get(key)
  if (known) return known.told
  if (parted.size >= MOST_PARTED) parted.clear()
  const told = leastMoved(spec, tone, apart)
  parted.set(key, { told })
  return told
}

/** Rules ask again with every change of the facts: so many themes are remembered. */
const parted = new Map<string, { readonly told: readonly string[] | undefined }>()
const MOST_PARTED = 60

function leastMoved(spec: ThemeSpec, tone: Tone, apart: Apart): readonly string[] | undefined {
  const drawn = drawnIn(spec, tone)
  const sheet = sheetOf(spec, tone)
  const movedBy = (told: readonly string[]): number =>
    told.reduce((sum, one, at) => sum + differenceOf(one, drawn[at] ?? one), 0)
  const found = ordersOf(drawn.map((_, at) => at)).flatMap((order): (readonly string[])[] => {
    const told: (string | undefined)[] = drawn.map(() => undefined)
    for (const at of order) {
      const others = told.flatMap((one) => one ?? [])
      const next = shadesOf(drawn[at] ?? '').find(
        (colour) =>
          wcagContrast(colour, sheet) >= leastOf(tone) &&
          others.every((other) => twinsAmong(colour, other, apart).length === 0),
      )
      if (next === undefined) return []
      told[at] = next
    }
    return [told.flatMap((one) => one ?? [])]
  })
  return found.length === 0 ? undefined : found.reduce((best, one) => (movedBy(one) < movedBy(best) ? one : best))
}

const ordersOf = (places: readonly number[]): readonly (readonly number[])[] =>
  places.length < 2
    ? [places]
    : places.flatMap((first) => ordersOf(places.filter((one) => one !== first)).map((rest) => [first, ...rest]))

/** A colour, then others of its hue, the nearest in lightness first. */
function shadesOf(colour: string): readonly string[] {
  const { l, c, h = 0 } = toOklch(colour) ?? { l: 0, c: 0 }
  const lightnesses = Array.from({ length: 1 / FINEST }, (_, step) => [
    l - (step + 1) * FINEST,
    l + (step + 1) * FINEST,
  ])
  return [
    colour,
    ...lightnesses
      .flat()
      .filter((lightness) => lightness >= 0 && lightness <= 1)
      .map((lightness) => hex([lightness, c, h])),
  ]
}
