import { readTheme, toneOf, type Settings, type ThemeSpec, type Tone, type View } from '../model'
import type { Face, Mark } from './mark'
import { themeFrom, type Theme } from './palette'
import type { Role } from './roles'

export type { Theme } from './palette'

/** The families a drawing names, in the order in which they are tried. Latin first, then the shipped fallback. */
export const FONTS: Readonly<Record<Face, string>> = {
  text: "'Atkinson Hyperlegible Next', 'Atkinson Hyperlegible Next Variable', 'Noto Sans', 'Noto Sans Variable', sans-serif",
  mono: "'Atkinson Hyperlegible Mono', 'Atkinson Hyperlegible Mono Variable', 'Noto Sans', 'Noto Sans Variable', monospace",
}

const spec = (
  id: string,
  title: string,
  hues: readonly number[],
  chroma: number,
  { corners = 1, lines = 1, type = 1 } = {},
): ThemeSpec => ({ id, title, hues, chroma, colours: [], corners, lines, type })

const [USUAL, ...OTHERS] = [
  spec('shoreline', 'Shoreline', [205, 75, 285, 125, 25, 240, 50, 165], 0.085),
  spec('heather', 'Heather', [320, 145, 265, 95, 10, 200, 60, 290], 0.075, { corners: 1.6 }),
  spec('rust', 'Rust and slate', [40, 230, 20, 80, 255, 350, 60, 210], 0.09, { corners: 0.5, type: 1.6 }),
  spec('moss', 'Moss', [140, 90, 180, 60, 115, 220, 40, 160], 0.08, { corners: 2.2, lines: 0.8, type: 0.5 }),
  spec('regatta', 'Regatta', [260, 30, 160, 85, 310, 220, 110, 0], 0.13, { corners: 0.7, lines: 1.3, type: 1.6 }),
  spec('graphite', 'Graphite', [250, 250, 250, 250, 250, 250, 250, 250], 0.006, {
    corners: 0.5,
    lines: 0.8,
    type: 0.5,
  }),
] as const

/** The themes of the program. */
export const themes: readonly ThemeSpec[] = [USUAL, ...OTHERS]

const made = new Map<string, Theme>()
/** Own themes are many where somebody tries colours: so many are remembered. */
const MOST_MADE = 200

/** A theme in a tone, computed once. */
export function themeIn(spec: ThemeSpec, tone: Tone): Theme {
  const key = JSON.stringify([tone, spec])
  const known = made.get(key) ?? themeFrom(spec, tone)
  if (made.size >= MOST_MADE) made.clear()
  made.set(key, known)
  return known
}

/** A theme of the program by its id: the usual one for any other. */
export const themeOf = (id: unknown, tone?: unknown): Theme =>
  themeIn(themes.find((theme) => theme.id === id) ?? USUAL, toneOf(tone))

type Looks = Pick<Settings, 'look' | 'themes'>

/** Whether a picture may be shown on white without its ground. */
export const isOnWhite = ({ colours }: Theme): boolean => colours['sheet'] === '#ffffff'

/** The themes of the program and those of a workspace. */
export const themesOf = ({ themes: own = {} }: Looks): readonly ThemeSpec[] => [
  ...themes,
  ...Object.entries(own).flatMap(([id, words]) => readTheme(id, words) ?? []),
]

/** What a view is drawn in: what its look says, else what the workspace says. */
export function themeFor(settings: Looks, look: View['look']): Theme {
  const wanted = look['theme'] ?? settings.look?.['theme']
  const found = themesOf(settings).find(({ id }) => id === wanted) ?? USUAL
  return themeIn(found, toneOf(look['tone'] ?? settings.look?.['tone']))
}

/** Roundness up to this share of a box’s smaller side is a corner; what is rounder is a shape that means something, and stays. */
const ROUND = 0.34

/** A mark with the corners and lines of a theme. What has no corner keeps none, so that shapes that mean something stay apart. */
export function dressed(mark: Mark, { corners, lines }: Theme): Mark {
  if (mark.tag === 'text' || mark.tag === 'image' || mark.tag === 'g' || (corners === 1 && lines === 1)) return mark
  const { stroke = 'none', 'stroke-width': width = 1 } = mark.attrs
  const line = stroke === 'none' ? {} : { 'stroke-width': width * lines }
  if (mark.tag !== 'rect') return { ...mark, attrs: { ...mark.attrs, ...line } } as Mark
  const { rx = 0, width: wide, height } = mark.attrs
  const most = Math.min(wide, height) * ROUND
  const corner = rx > 0 && rx < most ? { rx: Math.min(most, rx * corners) } : {}
  return { ...mark, attrs: { ...mark.attrs, ...line, ...corner } }
}

/** @throws RangeError for a role that the theme does not know: a drawing must not invent colours. */
export function colourOf(theme: Theme, role: Role): string {
  if (role === 'none') return role
  const colour = theme.colours[role]
  if (colour === undefined) throw new RangeError(`theme “${theme.id}” has no colour for “${role}”`)
  return colour
}
