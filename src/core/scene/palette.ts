import { wcagContrast } from 'culori/fn'
import type { ThemeSpec, Tone } from '../model'
import { categoriesOf, edgesOf } from './categories'
import { blended, cleared, hex, LEAST, type Colour } from './colour'
import { CATEGORIES } from './roles'

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

/** The colours of a theme in a tone. House colours are its first categories, as they are given where they stand out enough. */
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
  const edges = edgesOf(spec, tone, { sheet: colours['sheet'] ?? '', ladder, chroma })
  categoriesOf(spec).forEach((own, at) => {
    colours[`edge-${at + 1}`] = edges[at] ?? ''
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
