/**
 * Writes what the program knows of its fonts without opening them: src/core/scene/advances.json, the advance widths in thousandths of the type size, so that the
 * core can measure text without a DOM; src/core/scene/scripts.json, which file has the letters of which script; and src/app/scripts.css, the same for the page.
 * Run once when a font package changes: npx tsx scripts/fonts.ts
 */
import { readFileSync, writeFileSync } from 'node:fs'
import { openSync, type Font } from 'fontkit'

const open = (path: string): Font => openSync(`node_modules/${path}`) as Font
const ttf = (name: string, style: string) => open(`@expo-google-fonts/${name}/${style}.ttf`)

const faces = {
  text400: ttf('atkinson-hyperlegible-next', '400Regular/AtkinsonHyperlegibleNext_400Regular'),
  text700: ttf('atkinson-hyperlegible-next', '700Bold/AtkinsonHyperlegibleNext_700Bold'),
  mono400: ttf('atkinson-hyperlegible-mono', '400Regular/AtkinsonHyperlegibleMono_400Regular'),
}
const fallbacks = {
  text400: ttf('noto-sans', '400Regular/NotoSans_400Regular'),
  text700: ttf('noto-sans', '700Bold/NotoSans_700Bold'),
  mono400: ttf('noto-sans', '400Regular/NotoSans_400Regular'),
}
type Range = readonly [first: number, last: number]
// Latin with its extensions, combining marks, Greek, Cyrillic, punctuation, currency, arrows, common signs.
const ranges: readonly Range[] = [
  [0x20, 0x7e],
  [0xa0, 0x24f],
  [0x300, 0x36f],
  [0x370, 0x52f],
  [0x1ea0, 0x1ef9],
  [0x2010, 0x2044],
  [0x20a0, 0x20bf],
  [0x2212, 0x2212],
  [0x2264, 0x2265],
]
/** Other scripts stand in one width, whatever they are set in: that of the broader weight. */
const others: readonly Range[] = [
  [0x590, 0x5f4],
  [0x600, 0x6ff],
  [0x900, 0x97f],
  [0xe01, 0xe5b],
  [0x2070, 0x209c],
  [0x2100, 0x23ff],
  [0x2460, 0x24ff],
  [0x25a0, 0x27bf],
  [0x2b00, 0x2bff],
]
const math = ttf('noto-sans-math', '400Regular/NotoSansMath_400Regular')
/** The first of them that has a letter draws it, in its broader weight. */
const scripts = [
  ttf('noto-sans', '700Bold/NotoSans_700Bold'),
  ttf('noto-sans-hebrew', '700Bold/NotoSansHebrew_700Bold'),
  ttf('noto-sans-arabic', '700Bold/NotoSansArabic_700Bold'),
  ttf('noto-sans-thai', '700Bold/NotoSansThai_700Bold'),
  ttf('noto-sans-symbols-2', '400Regular/NotoSansSymbols2_400Regular'),
  math,
  ttf('noto-sans-symbols', '700Bold/NotoSansSymbols_700Bold'),
  ttf('noto-emoji', '700Bold/NotoEmoji_700Bold'),
]

const inThousandths = (font: Font, units: number) => Math.round((units * 1000) / font.unitsPerEm)
const thousandths = (font: Font, code: number) =>
  font.hasGlyphForCodePoint(code) ? inThousandths(font, font.glyphForCodePoint(code).advanceWidth) : undefined

/** The reader of fonts stumbles over some marks; where they stand is no matter of width. */
const widthOf = (font: Font, text: string) => font.layout(text, { mark: false, mkmk: false }).advanceWidth

const BEH = '\u0628'
/** A letter that joins its neighbours is as broad as its broadest form. */
function broadest(font: Font, code: number): number | undefined {
  if (!font.hasGlyphForCodePoint(code)) return undefined
  const letter = String.fromCodePoint(code)
  if (!/[\u0620-\u063f\u0641-\u064a\u0671-\u06d3]/.test(letter)) return thousandths(font, code)
  const [pair, three] = [widthOf(font, BEH + BEH), widthOf(font, BEH + BEH + BEH)]
  const forms = [
    widthOf(font, letter),
    // Between two others, and at the end.
    widthOf(font, BEH + letter + BEH) - pair,
    widthOf(font, BEH + BEH + letter) - pair + (three - pair) / 2,
  ]
  return inThousandths(font, Math.max(...forms))
}

const widths = (list: readonly Range[], widthOf: (code: number) => number): Record<string, number[]> =>
  Object.fromEntries(
    list.map(([first, last]) => [first, Array.from({ length: last - first + 1 }, (_, i) => widthOf(first + i))]),
  )

const table: Record<string, Record<string, number[]>> = {}
for (const face of ['text400', 'text700', 'mono400'] as const)
  table[face] = widths(
    ranges,
    (code) => thousandths(faces[face], code) ?? thousandths(fallbacks[face], code) ?? thousandths(math, code) ?? 600,
  )
table['others'] = widths(others, (code) => {
  const isArabic = code >= 0x600 && code <= 0x6ff
  const own = thousandths(faces.text700, code)
  const found = scripts.map((font) => (isArabic ? broadest(font, code) : thousandths(font, code)))
  return own ?? found.find((width) => width !== undefined) ?? 640
})
writeFileSync('src/core/scene/advances.json', JSON.stringify(table) + '\n')

/** The faces of other scripts that the page has, and that travel within pictures; of two that have a letter the first one draws it. */
const WEB = [
  ...['devanagari', 'vietnamese', 'greek-ext', 'cyrillic-ext'].map((part) => [
    '-variable/noto-sans',
    `noto-sans-${part}-wght`,
  ]),
  ['-variable/noto-sans-hebrew', 'noto-sans-hebrew-hebrew-wght'],
  ['-variable/noto-sans-arabic', 'noto-sans-arabic-arabic-wght'],
  ['-variable/noto-sans-thai', 'noto-sans-thai-thai-wght'],
  ['/noto-sans-symbols-2', 'noto-sans-symbols-2-symbols-400'],
  ['/noto-sans-math', 'noto-sans-math-latin-400'],
  ['-variable/noto-sans-symbols', 'noto-sans-symbols-symbols-wght'],
] as const
const EMOJI = '-variable/noto-emoji'

const hex = (code: number) => code.toString(16).toUpperCase().padStart(4, '0')
/** Letters as CSS says them. */
function spans(codes: readonly number[]): string {
  const list: [number, number][] = []
  for (const code of [...codes].sort((a, b) => a - b)) {
    const last = list.at(-1)
    if (last && code === last[1] + 1) last[1] = code
    else list.push([code, code])
  }
  return list.map(([from, to]) => (from === to ? `U+${hex(from)}` : `U+${hex(from)}-${hex(to)}`)).join(',')
}

/** What the fonts before have: Latin, Greek, Cyrillic, punctuation, marks that stand on letters. */
const isTaken = (code: number) =>
  code < 0x460 ||
  (code >= 0x2000 && code <= 0x206f) ||
  [0x20ac, 0x2122, 0x2212, 0xfeff, 0xffff].includes(code) ||
  (code >= 0xfe00 && code <= 0xfe0f)

const known = new Set<number>()
const kept = WEB.map(([name, file]) => {
  const letters = open(`@fontsource${name}/files/${file}-normal.woff2`).characterSet.filter(
    (code) => code < 0x1f000 && !isTaken(code) && !known.has(code),
  )
  for (const code of letters) known.add(code)
  return { name, file: `${file}-normal`, ranges: spans(letters) }
})
// Emoji are made of several, and lie in one file with what they are made of: they keep the ranges of their package.
const parts = JSON.parse(readFileSync(`node_modules/@fontsource${EMOJI}/unicode.json`, 'utf8')) as Record<
  string,
  string
>
const emoji = Object.entries(parts).map(([part, all]) => ({
  name: EMOJI,
  file: `noto-emoji-${part.replace(/\D/g, '')}-wght-normal`,
  ranges: spans(
    all.split(',').flatMap((range) => {
      const [from = 0, to = from] = range
        .slice(2)
        .split('-')
        .map((code) => parseInt(code, 16))
      return Array.from({ length: to - from + 1 }, (_, i) => from + i).filter(
        (code) => code === 0x200d || (code > 0x2122 && !known.has(code)),
      )
    }),
  ),
}))
const all = [...kept, ...emoji]
writeFileSync(
  'src/core/scene/scripts.json',
  JSON.stringify(all.map(({ file, ranges: of }) => ({ file, ranges: of }))) + '\n',
)
const rule = ({ name, file, ranges: of }: (typeof all)[number]) => `@font-face {
  font-family: 'Noto Sans Variable';
  font-display: swap;
  font-weight: 100 900;
  src: url('@fontsource${name}/files/${file}.woff2') format('woff2');
  unicode-range: ${of.replaceAll(',', ', ')};
}
`
writeFileSync('src/app/scripts.css', `/* Written by scripts/fonts.ts. */\n${all.map(rule).join('')}`)
