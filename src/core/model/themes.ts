/** For whom a theme is drawn: paper, tinted paper, a dark screen, eyes that need more contrast, a printer without colours. */
export const TONES = ['light', 'tinted', 'dark', 'strong', 'grey'] as const
export type Tone = (typeof TONES)[number]

/** What a theme is computed from. */
export interface ThemeSpec {
  readonly id: string
  readonly title: string
  /** Hues of its categories in degrees of OKLCH, and their chroma: of a theme without house colours. */
  readonly hues: readonly number[]
  readonly chroma: number
  /** One to three house colours, as #rrggbb. */
  readonly colours: readonly string[]
  /** How round corners are, and how heavy lines: 1 is usual. */
  readonly corners: number
  readonly lines: number
  /** How far sizes of type that tell ranks are apart: 1 is usual, more is steeper. */
  readonly type: number
  /** House colours are drawn as they are, even where they stand out too little. */
  readonly isAsGiven?: boolean
}

export const toneOf = (value: unknown): Tone => TONES.find((tone) => tone === value) ?? 'light'

const HOUSE = /^#[0-9a-f]{6}$/
const CORNERS: Readonly<Record<string, number>> = { 'small corners': 0.5, 'large corners': 2 }
const TYPE: Readonly<Record<string, number>> = { 'even type': 0.5, 'steep type': 1.6 }
const LINES: Readonly<Record<string, number>> = { 'thin lines': 0.7, 'heavy lines': 1.6 }
export const AS_GIVEN = 'colours as given'
/** What a theme of one’s own may say besides its title and its colours. */
export const THEME_WORDS: readonly (readonly string[])[] = [
  Object.keys(CORNERS),
  Object.keys(LINES),
  Object.keys(TYPE),
  [AS_GIVEN],
]
/** House colours of one theme, and themes of one’s own of a workspace. */
const MOST_COLOURS = 3
export const MOST_THEMES = 60
const MOST_TITLE = 60

/** A theme of one’s own from the words that a workspace keeps: its title, one to three colours, and what is not usual of it; undefined for what is none. */
export function readTheme(id: string, words: unknown): ThemeSpec | undefined {
  if (!Array.isArray(words) || words.some((word) => typeof word !== 'string')) return undefined
  const [title = '', ...rest] = words as readonly string[]
  const colours = rest.filter((word) => HOUSE.test(word))
  const others = rest.filter((word) => !HOUSE.test(word))
  const known = others.every((word) => THEME_WORDS.some((list) => list.includes(word)))
  if (
    title.trim() === '' ||
    title.length > MOST_TITLE ||
    !known ||
    colours.length === 0 ||
    colours.length > MOST_COLOURS
  )
    return undefined
  const of = (list: Readonly<Record<string, number>>) =>
    others.map((word) => list[word]).find((one) => one !== undefined) ?? 1
  return {
    id,
    title,
    hues: [],
    chroma: 0.08,
    colours,
    corners: of(CORNERS),
    lines: of(LINES),
    type: of(TYPE),
    isAsGiven: others.includes(AS_GIVEN),
  }
}

/** What a workspace keeps of a theme of one’s own: what `readTheme` reads. */
export const wordsOfTheme = ({
  title,
  colours,
  corners,
  lines,
  type,
  isAsGiven,
}: Omit<ThemeSpec, 'id'>): readonly string[] => [
  title,
  ...colours,
  ...Object.keys(CORNERS).filter((word) => CORNERS[word] === corners),
  ...Object.keys(LINES).filter((word) => LINES[word] === lines),
  ...Object.keys(TYPE).filter((word) => TYPE[word] === type),
  ...(isAsGiven ? [AS_GIVEN] : []),
]
