import { createRequire } from 'node:module'
import { openSync, type Font } from 'fontkit'
import { captionMark, cutOf, layersOf, type Mark, type Scene } from '../../core/scene'

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

/** Letters of a text in one font. */
export interface FontRun {
  readonly font: FontName
  readonly words: string
}

/** The font that a text is set in, and the one that stands in for it. */
function fontsFor(mark: TextMark): readonly [FontName, FontName] {
  const isStrong = cutOf(mark) === 'text700' || (mark.attrs['font-weight'] ?? 400) >= 600
  const weight = isStrong ? '700' : '400'
  const slant = mark.attrs['font-style'] === 'italic' ? 'i' : ''
  const own: FontName = mark.attrs['font-family'] === 'mono' ? `mono${weight}` : `text${weight}${slant}`
  return [own, `other${weight}${slant}`]
}

/**
 * A text taken apart by the fonts that have its letters: Latin in the family of the program, other scripts in the one that stands in. `missing` hears of letters
 * that no shipped font has. O(letters)
 */
export function runsOf(mark: TextMark, missing?: (letter: string) => void): readonly FontRun[] {
  const [own, other] = fontsFor(mark)
  const runs: { font: FontName; words: string }[] = []
  for (const letter of mark.children[0]) {
    const code = letter.codePointAt(0) ?? 0
    const inOwn = fontOf(own).hasGlyphForCodePoint(code)
    if (!inOwn && missing && !fontOf(other).hasGlyphForCodePoint(code)) missing(letter)
    const font = inOwn ? own : other
    const last = runs.at(-1)
    if (last?.font === font) last.words += letter
    else runs.push({ font, words: letter })
  }
  return runs
}
