/**
 * Writes src/core/scene/advances.json: the advance widths of the shipped fonts, in thousandths of the type size,
 * so that the core can measure text without a DOM. Run once when a font package changes: npx tsx scripts/advances.ts
 */
import { writeFileSync } from 'node:fs'
import { openSync, type Font } from 'fontkit'

const pkg = (name: string, style: string) => `node_modules/@expo-google-fonts/${name}/${style}.ttf`
const faces = {
  text400: pkg('atkinson-hyperlegible-next', '400Regular/AtkinsonHyperlegibleNext_400Regular'),
  text700: pkg('atkinson-hyperlegible-next', '700Bold/AtkinsonHyperlegibleNext_700Bold'),
  mono400: pkg('atkinson-hyperlegible-mono', '400Regular/AtkinsonHyperlegibleMono_400Regular'),
}
const fallbacks = {
  text400: pkg('noto-sans', '400Regular/NotoSans_400Regular'),
  text700: pkg('noto-sans', '700Bold/NotoSans_700Bold'),
  mono400: pkg('noto-sans', '400Regular/NotoSans_400Regular'),
}
// Latin with its extensions, combining marks, Greek, Cyrillic, punctuation, currency, arrows, common signs.
const ranges = [
  [0x20, 0x7e],
  [0xa0, 0x24f],
  [0x300, 0x36f],
  [0x370, 0x52f],
  [0x2010, 0x2044],
  [0x20a0, 0x20bf],
  [0x2190, 0x2193],
  [0x2212, 0x2212],
  [0x2264, 0x2265],
] as const

const thousandths = (font: Font, code: number) =>
  font.hasGlyphForCodePoint(code)
    ? Math.round((font.glyphForCodePoint(code).advanceWidth * 1000) / font.unitsPerEm)
    : undefined

const table: Record<string, Record<string, number[]>> = {}
for (const face of ['text400', 'text700', 'mono400'] as const) {
  const font = openSync(faces[face]) as Font
  const fallback = openSync(fallbacks[face]) as Font
  const runs: Record<string, number[]> = {}
  for (const [first, last] of ranges) {
    runs[first] = Array.from(
      { length: last - first + 1 },
      (_, i) => thousandths(font, first + i) ?? thousandths(fallback, first + i) ?? 600,
    )
  }
  table[face] = runs
}
writeFileSync('src/core/scene/advances.json', JSON.stringify(table) + '\n')
