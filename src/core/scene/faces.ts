import { layersOf } from './layers'
import type { Mark, Scene } from './mark'
import { isUnseen } from './letters'
import scripts from './scripts.json' with { type: 'json' }

/** A part of a shipped font that travels within a picture: the letters it has, as CSS says them. */
export interface WebFace {
  /** The name of its file in the package of its family. */
  readonly file: string
  readonly family: string
  readonly style: 'normal' | 'italic'
  readonly ranges: string
}

const LATIN =
  'U+0000-00FF,U+0131,U+0152-0153,U+02BB-02BC,U+02C6,U+02DA,U+02DC,U+2000-206F,U+20AC,U+2122,U+2191,U+2193,U+2212'
const LATIN_EXT = 'U+0100-0130,U+0132-0151,U+0154-02BA,U+02BD-02C5,U+1E00-1E9F,U+1EF2-1EFF'
const GREEK = 'U+0370-0377,U+037A-037F,U+0384-038A,U+038C,U+038E-03A1,U+03A3-03FF'
const CYRILLIC = 'U+0301,U+0400-045F,U+0490-0491,U+04B0-04B1,U+2116'

const NEXT = 'Atkinson Hyperlegible Next'
const MONO = 'Atkinson Hyperlegible Mono'
const NOTO = 'Noto Sans'

const of = (family: string, name: string, script: string, ranges: string, styles: readonly WebFace['style'][]) =>
  styles.map((style): WebFace => ({ file: `${name}-${script}-wght-${style}`, family, style, ranges }))

const noto = (file: string, ranges: string): WebFace => ({ file, family: NOTO, style: 'normal', ranges })

/** The faces that letters are taken from, in the order in which a browser tries them. */
export const WEB_FACES: readonly WebFace[] = [
  ...of(NEXT, 'atkinson-hyperlegible-next', 'latin', LATIN, ['normal', 'italic']),
  ...of(NEXT, 'atkinson-hyperlegible-next', 'latin-ext', LATIN_EXT, ['normal']),
  ...of(MONO, 'atkinson-hyperlegible-mono', 'latin', LATIN, ['normal']),
  ...of(NOTO, 'noto-sans', 'greek', GREEK, ['normal']),
  ...of(NOTO, 'noto-sans', 'cyrillic', CYRILLIC, ['normal']),
  // All other scripts are of one family: which file has a letter is told by its range.
  ...scripts.map(({ file, ranges }) => noto(file, ranges)),
]

/** The faces of a family of theirs, from the ranges that its package tells by part (`{ "[4]": "U+1F1E9-1F1F5,…" }`). */
export const squareFaces = (name: string, parts: Readonly<Record<string, string>>): readonly WebFace[] =>
  Object.entries(parts).flatMap(([part, ranges]) =>
    part.startsWith('[') ? [noto(`${name}-${part.slice(1, -1)}-wght-normal`, ranges.toUpperCase())] : [],
  )

type Span = readonly [number, number]
const spans = new Map<WebFace, readonly Span[]>()

function spansOf(face: WebFace): readonly Span[] {
  const known = spans.get(face)
  if (known) return known
  const read = face.ranges.split(',').map((range): Span => {
    const [from = '', to = from] = range.trim().slice(2).split('-')
    return [parseInt(from, 16), parseInt(to, 16)]
  })
  spans.set(face, read)
  return read
}

/** All letters of a scene’s texts. O(letters) */
export function lettersIn(scene: Scene): string {
  const texts: string[] = []
  eachText(scene, ({ children: [words] }) => texts.push(words))
  return texts.join(' ')
}

function eachText(scene: Scene, read: (mark: Extract<Mark, { tag: 'text' }>) => void): void {
  const look = (mark: Mark): void => {
    if (mark.tag === 'g') mark.children.forEach(look)
    else if (mark.tag === 'text') read(mark)
  }
  for (const { marks } of layersOf(scene)) marks.forEach(look)
}

export interface Faces {
  readonly faces: readonly WebFace[]
  /** Letters that none of them has, in their order. */
  readonly missing: readonly string[]
}

/**
 * The faces that the texts of scenes are set in, so that no other needs to travel with them; `square` are those of Chinese, Japanese and Korean, where there are
 * any. O(letters)
 */
export function facesIn(scene: Scene, more = '', square: readonly WebFace[] = []): Faces {
  const all = [...WEB_FACES, ...square]
  const wanted = new Set<WebFace>()
  const seen = new Set<string>()
  const missing = new Set<string>()
  const read = (text: string, family: string, style: WebFace['style']) => {
    for (const letter of text) {
      const key = `${family} ${style} ${letter}`
      if (seen.has(key)) continue
      seen.add(key)
      const code = letter.codePointAt(0) ?? 0
      const has = (face: WebFace) => spansOf(face).some(([from, to]) => from <= code && code <= to)
      const own = all.find((face) => face.family === family && face.style === style && has(face))
      const found = own ?? all.find((face) => (face.family === family || face.family === NOTO) && has(face))
      if (found) wanted.add(found)
      else if (!isUnseen(code)) missing.add(letter)
    }
  }
  eachText(scene, ({ attrs: { 'font-family': family, 'font-style': style = 'normal' }, children: [words] }) =>
    read(words, family === 'mono' ? MONO : NEXT, style === 'italic' ? 'italic' : 'normal'),
  )
  read(more, NEXT, 'normal')
  return { faces: all.filter((face) => wanted.has(face)), missing: [...missing].sort() }
}

/** The rule that brings a face along, its bytes in an address that holds them. */
export const faceRule = ({ family, style, ranges }: WebFace, address: string): string =>
  `@font-face{font-family:'${family}';font-weight:200 800;font-style:${style};unicode-range:${ranges};src:url(${address}) format('woff2')}`
