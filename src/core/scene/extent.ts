import type { Paper, Scene } from './mark'
import { withRoom } from './sheets'
import { captionRoom, svgSize } from './svg'

/** How large a picture of pixels is handed out: so many px wide, about so many megapixels, or a paper at so many dots per inch. */
export interface Extent {
  readonly width?: number
  readonly megapixels?: number
  readonly paper?: Paper
  readonly dpi?: number
  /** What stays free at each edge: in mm on a paper, else in px. */
  readonly border?: number
}

/** In px, with the dots per inch where a paper says them. */
export interface PixelSize {
  readonly width: number
  readonly height: number
  readonly border: number
  readonly dpi?: number
}

/** Bounds of what may be wished for, with how it is called in words. */
export const LIMITS = {
  width: [16, 12_000, 'pixels'],
  megapixels: [0.01, 120, 'megapixels'],
  dpi: [30, 1200, 'dots per inch'],
  border: [0, 500, 'mm or pixels'],
  quality: [1, 100, 'per cent'],
  scale: [1, 400, 'per cent'],
  overlap: [0, 60, 'mm'],
  wide: [20, 400, 'mm'],
} as const
/** Those of which only whole numbers make sense. */
const WHOLE: ReadonlySet<string> = new Set(['width', 'quality', 'dpi'])

/** A number that is wished for, as it is typed; undefined for what is none, or beyond its bounds. */
export function limited(name: keyof typeof LIMITS, text: string): number | undefined {
  const [least, most] = LIMITS[name]
  const read = /^\s*\d{1,9}(?:\.\d{1,4})?\s*$/.test(text) ? Number(text) : NaN
  return read >= least && read <= most && (!WHOLE.has(name) || Number.isInteger(read)) ? read : undefined
}

/** How a refusal of such a number says what is taken: `16 to 12,000 pixels`. */
export function limitsOf(name: keyof typeof LIMITS): string {
  const [least, most, unit] = LIMITS[name]
  return `${least} to ${most.toLocaleString('en')} ${unit}`
}

const INCH_PX = 96
const INCH_MM = 25.4
/** The width of a picture of which nothing is said. */
export const USUAL_WIDTH = 1600

/** The size in px of a scene that is handed out. A paper is exact: A4 at 300 dots per inch is 2480 × 3508 px (ISO 216). O(1) @throws NoRoomError in words for a border that leaves no room */
export function pixelsOf(scene: Scene, extent: Extent, caption?: string): PixelSize {
  const size = sizeOf(scene, extent, caption)
  withRoom(size, size.border, extent.border)
  return size
}

function sizeOf(scene: Scene, extent: Extent, caption: string | undefined): PixelSize {
  const { paper, dpi = 300, megapixels, width = USUAL_WIDTH, border = 0 } = extent
  if (paper)
    return {
      width: Math.round((paper.width / INCH_PX) * dpi),
      height: Math.round((paper.height / INCH_PX) * dpi),
      border: Math.round((border / INCH_MM) * dpi),
      dpi,
    }
  if (megapixels === undefined) return { ...svgSize(scene, captioned({ width, border }, caption)), border }
  const high = scene.bounds.height + captionRoom(scene, caption)
  const wanted = megapixels * 1e6
  // What stays free counts, and grows with nothing: each guess brings the size of all nearer.
  let wide = Math.sqrt((wanted * scene.bounds.width) / high)
  for (let round = 0; border > 0 && round < GUESSES; round++) {
    const { width: across, height } = svgSize(
      scene,
      captioned({ width: Math.max(1, Math.round(wide)), border }, caption),
    )
    wide *= Math.sqrt(wanted / (across * height))
  }
  return { ...svgSize(scene, captioned({ width: Math.max(1, Math.round(wide)), border }, caption)), border }
}

/** So many guesses bring a size within a pixel of what is wished for. */
const GUESSES = 8

const captioned = <T extends object>(size: T, caption: string | undefined) =>
  caption === undefined ? size : { ...size, caption }
