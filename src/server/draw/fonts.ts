import { createRequire } from 'node:module'
import bidiFactory from 'bidi-js'
import { openSync, type Font, type GlyphRun } from 'fontkit'
import { captionMark, cutOf, isSquare, isUnseen, layersOf, type Mark, type Scene } from '../../core/scene'

const require = createRequire(import.meta.url)
const file = (family: string, style: string): string => require.resolve(`@expo-google-fonts/${family}/${style}.ttf`)

type TextMark = Extract<Mark, { tag: 'text' }>

/** The shipped fonts as TTF, by hand: what is set in which, and what stands in where it lacks a letter. */
export const FONT_FILES = {
  text400: file('atkinson-hyperlegible-next', '400Regular/AtkinsonHyperlegibleNext_400Regular'),
  text700: file('atkinson-hyperlegible-next', '700Bold/AtkinsonHyperlegibleNext_700Bold'),
  text400i: file('atkinson-hyperlegible-next', '400Regular_Italic/AtkinsonHyperlegibleNext_400Regular_Italic'),
  text700i: file('atkinson-hyperlegible-next', '700Bold_Italic/AtkinsonHyperlegibleNext_700Bold_Italic'),
  mono400: file('atkinson-hyperlegible-mono', '400Regular/AtkinsonHyperlegibleMono_400Regular'),
  mono700: file('atkinson-hyperlegible-mono', '700Bold/AtkinsonHyperlegibleMono_700Bold'),
  other400: file('noto-sans', '400Regular/NotoSans_400Regular'),
  other700: file('noto-sans', '700Bold/NotoSans_700Bold'),
  other400i: file('noto-sans', '400Regular_Italic/NotoSans_400Regular_Italic'),
  other700i: file('noto-sans', '700Bold_Italic/NotoSans_700Bold_Italic'),
  hebrew400: file('noto-sans-hebrew', '400Regular/NotoSansHebrew_400Regular'),
  hebrew700: file('noto-sans-hebrew', '700Bold/NotoSansHebrew_700Bold'),
  arabic400: file('noto-sans-arabic', '400Regular/NotoSansArabic_400Regular'),
  arabic700: file('noto-sans-arabic', '700Bold/NotoSansArabic_700Bold'),
  thai400: file('noto-sans-thai', '400Regular/NotoSansThai_400Regular'),
  thai700: file('noto-sans-thai', '700Bold/NotoSansThai_700Bold'),
  shapes: file('noto-sans-symbols-2', '400Regular/NotoSansSymbols2_400Regular'),
  math: file('noto-sans-math', '400Regular/NotoSansMath_400Regular'),
  symbols400: file('noto-sans-symbols', '400Regular/NotoSansSymbols_400Regular'),
  symbols700: file('noto-sans-symbols', '700Bold/NotoSansSymbols_700Bold'),
  emoji400: file('noto-emoji', '400Regular/NotoEmoji_400Regular'),
  emoji700: file('noto-emoji', '700Bold/NotoEmoji_700Bold'),
  chinese400: file('noto-sans-sc', '400Regular/NotoSansSC_400Regular'),
  chinese700: file('noto-sans-sc', '700Bold/NotoSansSC_700Bold'),
  korean400: file('noto-sans-kr', '400Regular/NotoSansKR_400Regular'),
  korean700: file('noto-sans-kr', '700Bold/NotoSansKR_700Bold'),
} as const
export type FontName = keyof typeof FONT_FILES

const opened = new Map<FontName, Font>()

/** A shipped font, read when it is first needed and kept. */
export function fontOf(name: FontName): Font {
  const font = opened.get(name) ?? (openSync(FONT_FILES[name]) as Font)
  opened.set(name, font)
  return font
}

/** A letter that no shipped font has, and the first text that it stands in. */
export interface MissingLetter {
  readonly letter: string
  readonly text: string
}

/** Letters that no shipped font has, as painters come by them. */
export class MissingLetters {
  readonly #found = new Map<string, string>()

  add(letter: string, text: string): void {
    if (!this.#found.has(letter)) this.#found.set(letter, text)
  }

  get all(): readonly MissingLetter[] {
    return Array.from(this.#found, ([letter, text]) => ({ letter, text })).sort((a, b) =>
      a.letter < b.letter ? -1 : 1,
    )
  }
}

/** Letters of scenes with their captions that no shipped font has: they are not to be seen where nothing else draws them. O(letters) */
export function missingIn(
  drawn: readonly { readonly scene: Scene; readonly caption?: string | undefined }[],
): readonly MissingLetter[] {
  const missing = new MissingLetters()
  const look = (mark: Mark): void => {
    if (mark.tag === 'g') mark.children.forEach(look)
    else if (mark.tag === 'text') runsOf(mark, (letter) => missing.add(letter, mark.children[0]))
  }
  for (const { scene, caption } of drawn) {
    for (const { marks } of layersOf(scene)) marks.forEach(look)
    if (caption) look(captionMark(scene, caption))
  }
  return missing.all
}

/** Letters of a text in one font, as they are set from the left to the right. */
export interface FontRun {
  readonly font: FontName
  readonly words: string
}

type Weight = '400' | '700'
const FIRST_EMOJI = 0x1f000

/** The fonts that a text may be set in, the first that has a letter before the others. */
function fontsFor(
  mark: TextMark,
): readonly [own: FontName, fonts: (code: number, asEmoji: boolean) => readonly FontName[]] {
  const isStrong = cutOf(mark) === 'text700' || (mark.attrs['font-weight'] ?? 400) >= 600
  const weight: Weight = isStrong ? '700' : '400'
  const slant = mark.attrs['font-style'] === 'italic' ? 'i' : ''
  const own: FontName = mark.attrs['font-family'] === 'mono' ? `mono${weight}` : `text${weight}${slant}`
  const base: readonly FontName[] = [own, `other${weight}${slant}`]
  const signs: readonly FontName[] = ['shapes', 'math', `symbols${weight}`]
  const square: readonly FontName[] = [`chinese${weight}`, `korean${weight}`]
  const letters: readonly FontName[] = [...base, `hebrew${weight}`, `arabic${weight}`, `thai${weight}`]
  const [plain, emoji, wide] = [
    [...letters, ...signs, `emoji${weight}`, ...square],
    [`emoji${weight}`, ...signs, ...square],
    [...base, ...square, ...signs],
  ] as const
  return [
    own,
    (code, asEmoji) =>
      asEmoji
        ? [`emoji${weight}`, ...plain]
        : code >= FIRST_EMOJI && code < 0x20000
          ? emoji
          : isSquare(String.fromCodePoint(code))
            ? wide
            : plain,
  ]
}

/** What belongs to the letter before it: marks on letters, joiners, choices of a form, colours of a skin. */
const CLINGS = /[\p{M}\u200c\u200d\ufe00-\ufe0f\u{1f3fb}-\u{1f3ff}\u{e0020}-\u{e007f}]/u
const JOINER = '\u200d'
const AS_EMOJI = 0xfe0f
/** Scripts that are written from the right: what is set of them is turned by the reader of fonts. */
const FROM_RIGHT = /[\u0590-\u08ff\ufb1d-\ufdff\ufe70-\ufefc]/
const TURNS_ITSELF = /^(hebrew|arabic)/

const bidi = bidiFactory()

/**
 * A text taken apart by the fonts that have its letters and by its directions (Unicode Standard Annex 9), from the left to the right: Latin in the family of the
 * program, other scripts in those that stand in. `missing` hears of letters that no shipped font has. O(letters)
 */
export function runsOf(mark: TextMark, missing?: (letter: string) => void): readonly FontRun[] {
  const [own, fonts] = fontsFor(mark)
  const [text] = mark.children
  const levels = FROM_RIGHT.test(text) ? bidi.getEmbeddingLevels(text, 'ltr').levels : undefined
  const runs: { font: FontName; words: string; level: number }[] = []
  let [at, isJoined] = [0, false]
  for (const letter of text) {
    const code = letter.codePointAt(0) ?? 0
    const level = levels?.[at] ?? 0
    at += letter.length
    const last = runs.at(-1)
    const hasIt = (font: FontName) => fontOf(font).hasGlyphForCodePoint(code)
    const clings = last !== undefined && (CLINGS.test(letter) || isJoined)
    isJoined = letter === JOINER
    const asked = fonts(code, text.charCodeAt(at) === AS_EMOJI)
    const font = clings && hasIt(last.font) ? last.font : asked.find(hasIt)
    if (font === undefined && isUnseen(code)) continue
    if (font === undefined) missing?.(letter)
    const taken = font ?? own
    if (last?.font === taken && last.level === level) last.words += letter
    else runs.push({ font: taken, words: letter, level })
  }
  const set = runs.map((run) => (run.font.startsWith('thai') ? { ...run, words: toned(run.words) } : run))
  return levels ? inSight(set) : set
}

/** The sign above a Thai letter comes before its tone, although both are written the other way round. */
const toned = (words: string): string => words.replace(/([\u0e48-\u0e4b])\u0e33/g, '\u0e4d$1\u0e32')

/** Runs in the order in which they are seen (rule L2), each as it is set from the left. */
function inSight(runs: readonly { font: FontName; words: string; level: number }[]): readonly FontRun[] {
  const seen = [...runs]
  const most = Math.max(0, ...runs.map(({ level }) => level))
  for (let level = most; level >= 1; level--)
    for (let from = 0; from < seen.length; from++) {
      let to = from
      while ((seen[to]?.level ?? 0) >= level) to++
      if (to > from + 1) seen.splice(from, to - from, ...seen.slice(from, to).reverse())
      from = Math.max(from, to)
    }
  return seen.map(({ font, words, level }) => ({
    font,
    words: level % 2 === 0 || TURNS_ITSELF.test(font) ? words : mirrored(words),
  }))
}

const mirrored = (words: string): string =>
  [...words]
    .reverse()
    .map((letter) => bidi.getMirroredCharacter(letter) ?? letter)
    .join('')

/** Features that are set aside where the reader of fonts stumbles over them: it expects each mark to have a place on each letter. */
const WITHOUT_PLACES = { mark: false, mkmk: false }

const IS_BASE = /^(text|mono|other)/
/** The family of the program, and what stands in for it. */
export const BASE_FILES: readonly string[] = Object.entries(FONT_FILES).flatMap(([name, path]) =>
  IS_BASE.test(name) ? [path] : [],
)

/** With which features a run is set: all that its font has, where that can be read; of what is set word by word none are named. */
export function featuresFor({ font, words }: FontRun): Record<string, boolean> | undefined {
  if (IS_BASE.test(font)) return undefined
  try {
    fontOf(font).layout(words, {})
    return {}
  } catch (error) {
    if (!(error instanceof TypeError)) throw error
    return WITHOUT_PLACES
  }
}

export const layoutOf = (run: FontRun): GlyphRun => fontOf(run.font).layout(run.words, featuresFor(run))

/** Whether a text has letters that the family of the program lacks. O(letters) */
export const isForeign = (mark: TextMark): boolean =>
  FOREIGN.test(mark.children[0]) && runsOf(mark).some(({ font }) => !/^(text|mono)/.test(font))
const FOREIGN = /[^\0-\u017f\u2010-\u2026]/
