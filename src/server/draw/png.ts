import { Resvg } from '@resvg/resvg-js'
import { BASE_FILES } from './fonts'
import { PNG_WIDTH, PngSizeError } from './formats'

/** Draws an SVG as PNG, exactly `width` px wide. @throws PngSizeError beyond 12 000 px or 120 megapixels. */
export function toPng(svg: string, width: number, height: number): Uint8Array {
  if (!Number.isInteger(width) || width < PNG_WIDTH.least || width > PNG_WIDTH.most)
    throw new PngSizeError(`A picture is ${PNG_WIDTH.least} to ${PNG_WIDTH.most} px wide.`)
  if (width * height > PNG_WIDTH.pixels)
    throw new PngSizeError(
      `At ${width} px this picture would be ${height} px high, more than can be drawn. Choose a smaller width.`,
    )
  const resvg = new Resvg(svg, {
    font: {
      // Letters of other scripts come as paths.
      fontFiles: [...BASE_FILES],
      loadSystemFonts: false,
      defaultFontFamily: 'Atkinson Hyperlegible Next',
    },
    fitTo: { mode: 'width', value: width },
  })
  return resvg.render().asPng()
}
