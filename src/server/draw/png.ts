import { createRequire } from 'node:module'
import { Resvg } from '@resvg/resvg-js'

const require = createRequire(import.meta.url)
const font = (family: string, style: string): string => require.resolve(`@expo-google-fonts/${family}/${style}.ttf`)

/** The shipped fonts as TTF: resvg reads no woff2, and drops text without a word when a font is missing. */
const FONT_FILES = [
  font('atkinson-hyperlegible-next', '400Regular/AtkinsonHyperlegibleNext_400Regular'),
  font('atkinson-hyperlegible-next', '700Bold/AtkinsonHyperlegibleNext_700Bold'),
  font('atkinson-hyperlegible-next', '400Regular_Italic/AtkinsonHyperlegibleNext_400Regular_Italic'),
  font('atkinson-hyperlegible-next', '700Bold_Italic/AtkinsonHyperlegibleNext_700Bold_Italic'),
  font('atkinson-hyperlegible-mono', '400Regular/AtkinsonHyperlegibleMono_400Regular'),
  font('atkinson-hyperlegible-mono', '700Bold/AtkinsonHyperlegibleMono_700Bold'),
  font('noto-sans', '400Regular/NotoSans_400Regular'),
  font('noto-sans', '700Bold/NotoSans_700Bold'),
  font('noto-sans', '400Regular_Italic/NotoSans_400Regular_Italic'),
  font('noto-sans', '700Bold_Italic/NotoSans_700Bold_Italic'),
]

export const PNG_WIDTH = { least: 16, most: 12_000, pixels: 120_000_000 } as const

/** A picture too large to be drawn. */
export class PngSizeError extends Error {
  override readonly name = 'PngSizeError'
}

/** Draws an SVG as PNG, exactly `width` px wide. @throws PngSizeError beyond 12 000 px or 120 megapixels. */
export function toPng(svg: string, width: number, height: number): Uint8Array {
  if (!Number.isInteger(width) || width < PNG_WIDTH.least || width > PNG_WIDTH.most)
    throw new PngSizeError(`A picture is ${PNG_WIDTH.least} to ${PNG_WIDTH.most} px wide.`)
  if (width * height > PNG_WIDTH.pixels)
    throw new PngSizeError(
      `At ${width} px this picture would be ${height} px high, more than can be drawn. Choose a smaller width.`,
    )
  const resvg = new Resvg(svg, {
    font: { fontFiles: FONT_FILES, loadSystemFonts: false, defaultFontFamily: 'Atkinson Hyperlegible Next' },
    fitTo: { mode: 'width', value: width },
  })
  return resvg.render().asPng()
}
