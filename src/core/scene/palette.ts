import {
  clampChroma,
  converter,
  formatHex,
  modeLrgb,
  modeOklab,
  modeOklch,
  modeRgb,
  useMode as withMode,
  wcagContrast,
  wcagLuminance,
} from 'culori/fn'
import type { ThemeSpec, Tone } from '../model'

/** A theme in a tone: colours by role, and how marks are drawn. */
export interface Theme {
  readonly id: string
  readonly title: string
  readonly tone: Tone
  readonly colours: Readonly<Record<string, string>>
  readonly corners: number
  readonly lines: number
  /** How far apart sizes of type that tell ranks are. */
  readonly type: number
}

// Only the colour spaces that are needed come along.
for (const mode of [modeRgb, modeLrgb, modeOklab, modeOklch]) withMode(mode)
const toOklch = converter('oklch')
const toRgb = converter('rgb')

/** Contrast of text (WCAG 2.2, 1.4.3) and of what is needed to understand a graphic (1.4.11). */
export const LEAST = { text: 4.5, graphic: 3 } as const
/** Lightness in OKLCH, chroma, and hue in degrees. */
type Colour = readonly [lightness: number, chroma: number, hue: number]

const CATEGORIES = 8
/** Categories climb a ladder of lightness, in an order that keeps neighbours far apart: they differ in grey print too. */
const CLIMB = [4, 7, 2, 6, 1, 5, 0, 3] as const
const WARM = 85
const [RED, AMBER, TEAL] = [27, 75, 205] as const

/** What a tone does with a theme: its grounds and inks, and between which lightnesses (L* of CIE 1976) its categories climb. */
interface Setting {
  readonly ground: (tint: (lightness: number, share: number) => Colour) => Readonly<Record<string, Colour>>
  readonly ladder: readonly [low: number, high: number]
  /** Of the fills of the first category and of the last one, and their share of the theme’s chroma. */
  readonly fills: readonly [first: number, last: number, chroma: number]
  readonly bars: readonly [bar: number, strong: number, done: number]
  /** Share of the chroma of everything, and how much heavier lines are. */
  readonly chroma: number
  readonly lines: number
}

const SETTINGS: Readonly<Record<Tone, Setting>> = {
  light: {
    ground: () => ({
      sheet: [1, 0, 0],
      plate: [0.985, 0.005, WARM],
      head: [0.949, 0.01, WARM],
      ink: [0.26, 0.024, 253],
      'ink-quiet': [0.5, 0.024, 254],
      line: [0.615, 0.018, 254],
      outline: [0.75, 0.021, 88],
      hairline: [0.872, 0.016, 88],
      warning: [0.505, 0.11, AMBER],
      error: [0.49, 0.155, RED],
      action: [0.41, 0.06, TEAL],
      wash: [0.944, 0.01, 175],
      'edge-0': [0.655, 0.015, 254],
      'fill-0': [0.957, 0.003, WARM],
    }),
    ladder: [20, 60],
    fills: [0.955, 0.955, 0.22],
    bars: [0.82, 0.6, 0.32],
    chroma: 1,
    lines: 1,
  },
  tinted: {
    ground: (tint) => ({
      sheet: tint(0.972, 0.13),
      plate: tint(0.952, 0.18),
      head: tint(0.925, 0.22),
      ink: tint(0.25, 0.3),
      'ink-quiet': tint(0.46, 0.3),
      line: tint(0.58, 0.25),
      outline: tint(0.71, 0.3),
      hairline: tint(0.85, 0.25),
      warning: [0.48, 0.1, AMBER],
      error: [0.46, 0.15, RED],
      action: [0.39, 0.06, TEAL],
      wash: tint(0.91, 0.35),
      'edge-0': tint(0.62, 0.15),
      'fill-0': tint(0.94, 0.1),
    }),
    ladder: [19, 58],
    fills: [0.93, 0.93, 0.35],
    bars: [0.8, 0.58, 0.3],
    chroma: 1,
    lines: 1,
  },
  dark: {
    ground: (tint) => ({
      sheet: tint(0.21, 0.16),
      plate: tint(0.245, 0.18),
      head: tint(0.285, 0.2),
      ink: tint(0.94, 0.08),
      'ink-quiet': tint(0.76, 0.14),
      line: tint(0.64, 0.14),
      outline: tint(0.5, 0.16),
      hairline: tint(0.37, 0.16),
      warning: [0.82, 0.11, AMBER],
      error: [0.74, 0.13, RED],
      action: [0.79, 0.08, TEAL],
      wash: tint(0.31, 0.3),
      'edge-0': tint(0.62, 0.1),
      'fill-0': tint(0.28, 0.08),
    }),
    ladder: [47, 90],
    fills: [0.3, 0.3, 0.45],
    bars: [0.45, 0.64, 0.88],
    chroma: 1,
    lines: 1,
  },
  strong: {
    ground: (tint) => ({
      sheet: [1, 0, 0],
      plate: [0.99, 0, 0],
      head: [0.93, 0, 0],
      ink: [0, 0, 0],
      'ink-quiet': [0.32, 0, 0],
      line: [0.3, 0, 0],
      outline: [0.4, 0, 0],
      hairline: [0.6, 0, 0],
      warning: [0.4, 0.09, AMBER],
      error: [0.42, 0.17, RED],
      action: [0.34, 0.06, TEAL],
      wash: tint(0.92, 0.25),
      'edge-0': [0.45, 0, 0],
      'fill-0': [0.96, 0, 0],
    }),
    ladder: [8, 47],
    fills: [0.965, 0.965, 0.2],
    bars: [0.8, 0.5, 0.18],
    chroma: 1.2,
    lines: 1.5,
  },
  grey: {
    ground: () => ({
      sheet: [1, 0, 0],
      plate: [0.985, 0, 0],
      head: [0.945, 0, 0],
      ink: [0.24, 0, 0],
      'ink-quiet': [0.48, 0, 0],
      line: [0.58, 0, 0],
      outline: [0.72, 0, 0],
      hairline: [0.86, 0, 0],
      warning: [0.45, 0, 0],
      error: [0.36, 0, 0],
      action: [0.32, 0, 0],
      wash: [0.93, 0, 0],
      'edge-0': [0.62, 0, 0],
      'fill-0': [0.97, 0, 0],
    }),
    ladder: [18, 60],
    // In grey the fills tell categories apart as well.
    fills: [0.975, 0.875, 0],
    bars: [0.82, 0.58, 0.3],
    chroma: 0,
    lines: 1,
  },
}

/** The colours of a theme in a tone. Of a theme of house colours the first categories come as near to them as contrast lets them. */
export function themeFrom(spec: ThemeSpec, tone: Tone): Theme {
  const { ground, ladder, fills, bars, chroma, lines } = SETTINGS[tone]
  const [first] = categoriesOf(spec)
  const tint = (lightness: number, share: number): Colour => [lightness, spec.chroma * share, first.hue]
  const colours: Record<string, string> = {}
  for (const [role, colour] of Object.entries(ground(tint))) colours[role] = hex(colour)
  for (const role of ['ink', 'ink-quiet', 'warning', 'error', 'action'])
    colours[role] = cleared(colours[role] ?? '', [colours['sheet'], colours['plate'], colours['head']], LEAST.text)
  const barsOf = [
    ['bar', 0.45],
    ['bar-strong', 0.8],
    ['bar-done', 0.6],
  ] as const
  barsOf.forEach(([role, share], at) => {
    colours[role] = hex([bars[at] ?? 0, first.chroma * share * chroma, first.hue])
  })
  const rungs = rungsOf(spec, ladder)
  categoriesOf(spec).forEach((own, at) => {
    const edge =
      spec.isAsGiven && own.given !== undefined && tone !== 'grey'
        ? own.given
        : ofLightness(rungs[at] ?? 0, own.chroma * chroma, own.hue)
    colours[`edge-${at + 1}`] = edge
    const lightness = fills[0] + ((fills[1] - fills[0]) * at) / (CATEGORIES - 1)
    colours[`fill-${at + 1}`] = hex([lightness, own.chroma * fills[2] * chroma, own.hue])
  })
  return {
    id: spec.id,
    title: spec.title,
    tone,
    colours,
    corners: spec.corners,
    lines: spec.lines * lines,
    type: spec.type,
  }
}

interface Category {
  readonly hue: number
  readonly chroma: number
  readonly lightness?: number
  /** The house colour itself. */
  readonly given?: string
}

/** How far the hues of categories that no house colour is stated for stand from those that are, in degrees. */
const APART = 34
const CHROMA = { least: 0.02, most: 0.15 } as const

/** The categories of a theme, before their lightness: by its hues, or by its house colours and hues beside them. */
function categoriesOf({ hues, chroma, colours }: ThemeSpec): readonly [Category, ...Category[]] {
  const given = colours.flatMap((text) => {
    const read = toOklch(text)
    return read ? [{ text, l: lightnessOf(text), c: read.c, h: read.h ?? 0 }] : []
  })
  const category = (at: number): Category => {
    const own = given[at % Math.max(1, given.length)]
    if (!own) return { hue: hues[at % hues.length] ?? 0, chroma }
    const round = Math.floor(at / given.length)
    const hue = own.h + APART * Math.ceil(round / 2) * (round % 2 === 1 ? 1 : -1)
    const strength = own.c < CHROMA.least ? own.c : Math.min(CHROMA.most, own.c)
    return round === 0
      ? { hue, chroma: strength, lightness: own.l, given: own.text }
      : { hue, chroma: strength * (round % 3 === 2 ? 0.6 : 0.85) }
  }
  const [first, ...others] = Array.from({ length: CATEGORIES }, (_, at) => category(at))
  return [first ?? { hue: 0, chroma }, ...others]
}

/** The lightness of each category: house colours take the rungs that are nearest to them, the others those that are left. */
function rungsOf(spec: ThemeSpec, [low, high]: Setting['ladder']): readonly number[] {
  const rung = (at: number) => low + ((high - low) * at) / (CATEGORIES - 1)
  const left: number[] = [...CLIMB]
  const wanted = categoriesOf(spec).map(({ lightness }) => {
    if (lightness === undefined) return undefined
    const best = left.reduce((near, next) =>
      Math.abs(rung(next) - lightness) < Math.abs(rung(near) - lightness) ? next : near,
    )
    left.splice(left.indexOf(best), 1)
    return best
  })
  return wanted.map((at) => rung(at ?? left.shift() ?? 0))
}

/** A colour, darker or lighter until it stands out from all of some grounds as much as asked; itself where it does. */
function cleared(colour: string, grounds: readonly (string | undefined)[], least: number): string {
  const { l, c, h = 0 } = toOklch(colour) ?? { l: 0, c: 0 }
  const behind = grounds.flatMap((one) => one ?? [])
  const isDark = behind.some((one) => (toOklch(one)?.l ?? 1) < 0.5)
  for (let step = 0; step <= 100; step++) {
    const next = hex([isDark ? Math.min(1, l + step / 100) : Math.max(0, l - step / 100), c, h])
    if (behind.every((one) => wcagContrast(next, one) >= least)) return step === 0 ? colour : next
  }
  return isDark ? '#ffffff' : '#000000'
}

/** A house colour that does not stand out from the sheet as it is, how much it does, and what is drawn instead. */
export interface Mended {
  readonly given: string
  readonly contrast: number
  readonly drawn: string
}

/** What is not drawn as it was given, because it would not stand out from the sheet. */
export function mendedIn(spec: ThemeSpec, tone: Tone): readonly Mended[] {
  const { colours } = themeFrom({ ...spec, isAsGiven: false }, tone)
  return categoriesOf(spec).flatMap(({ given }, at) => {
    const contrast = given === undefined ? Infinity : wcagContrast(given, colours['sheet'] ?? '')
    return given === undefined || contrast >= LEAST.graphic
      ? []
      : [{ given, contrast, drawn: colours[`edge-${at + 1}`] ?? '' }]
  })
}

/** One colour over another that lets so much of it through, as painters mix them. */
function blended(under: string, over: string, share: number): string {
  const [a, b] = [toRgb(under), toRgb(over)]
  const mix = (from = 0, to = 0) => from + (to - from) * share
  return formatHex({ mode: 'rgb', r: mix(a?.r, b?.r), g: mix(a?.g, b?.g), b: mix(a?.b, b?.b) })
}

/**
 * How strongly a picture may show behind a drawing, in whole %: as much as leaves its texts their contrast wherever the picture is black or
 * white. No tone has less than one per cent.
 */
export function mostBehind({ colours }: Theme): number {
  const { sheet = '#ffffff', ink = '#000000', 'ink-quiet': quiet = ink } = colours
  for (let percent = 100; percent > 1; percent--) {
    const grounds = ['#000000', '#ffffff'].map((one) => blended(sheet, one, percent / 100))
    if ([ink, quiet].every((words) => grounds.every((ground) => wcagContrast(words, ground) >= LEAST.text)))
      return percent
  }
  return 1
}

/** A colour as #rrggbb; undefined for what is none. */
export const readColour = (text: string): string | undefined => {
  const words = text.trim()
  return /^#(?:[0-9a-f]{3}|[0-9a-f]{6})$/i.test(words) ? formatHex(words) : undefined
}

/** Lightness of a colour printed in grey: L* of CIE 1976, 0 to 100, from its relative luminance. */
export function lightnessOf(colour: string): number {
  const y = wcagLuminance(colour)
  return y > 216 / 24389 ? 116 * Math.cbrt(y) - 16 : (y * 24389) / 27
}

/** The colour of a hue that is as light as asked when it is printed in grey. */
function ofLightness(wanted: number, chroma: number, hue: number): string {
  let [low, high] = [0, 1]
  for (let step = 0; step < 14; step++) {
    const middle = (low + high) / 2
    if (lightnessOf(hex([middle, chroma, hue])) < wanted) low = middle
    else high = middle
  }
  return hex([high, chroma, hue])
}

const hex = ([l, c, h]: Colour): string => formatHex(clampChroma({ mode: 'oklch', l, c, h }, 'oklch'))
