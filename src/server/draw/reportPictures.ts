import { svgSize, toSvg } from '../../core/scene'
import { foreignOutlined } from './outlines'
import { toPng } from './png'
import type { Picture } from './report'

const INCH_MM = 25.4
/** Of pictures in documents, dots per inch: sharp on paper, and no larger than a document wants to be. */
const DPI = 220
/** A picture is no higher than a page leaves room for, in mm. */
const HIGHEST = 230

/** A picture of a document as pixels, and its size there in px of 1/96 inch; so many mm wide unless it would be higher than a page. */
export async function pixelsOfPicture(
  { view, scene, theme, alt }: Picture,
  wide: number,
  images: ReadonlyMap<string, string>,
): Promise<{ readonly png: Uint8Array; readonly width: number; readonly height: number }> {
  const { bounds } = scene
  const width = Math.min(wide, (HIGHEST * bounds.width) / bounds.height)
  const size = svgSize(scene, { width: Math.max(64, Math.round((width / INCH_MM) * DPI)) })
  const svg = toSvg(foreignOutlined(scene, undefined), { theme, title: view.title, alt, images, width: size.width })
  return {
    png: toPng(svg, size.width, size.height),
    width: Math.round((width / INCH_MM) * 96),
    height: Math.round(((width * bounds.height) / bounds.width / INCH_MM) * 96),
  }
}
