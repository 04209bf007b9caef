import type { Mark } from './mark'
import type { Role } from './roles'
import { boxOf, cutOf, outlineOf } from './shape'
import { textWidth } from './text'
import { colourOf, dressed, FONTS, type Theme } from './theme'

/** What a canvas does, as far as marks need it. */
export interface Brush<Path, Picture> {
  fillStyle: unknown
  strokeStyle: unknown
  lineWidth: number
  lineCap: string
  lineJoin: string
  globalAlpha: number
  font: string
  textAlign: string
  save(): void
  restore(): void
  translate(x: number, y: number): void
  scale(x: number, y: number): void
  rotate(radians: number): void
  setLineDash(dash: number[]): void
  fill(path: Path): void
  stroke(path: Path): void
  fillRect(x: number, y: number, width: number, height: number): void
  fillText(text: string, x: number, y: number): void
  drawImage(picture: Picture, x: number, y: number, width: number, height: number): void
  /** Part of a picture, by its own px, into a box. */
  drawImage(
    picture: Picture,
    left: number,
    top: number,
    wide: number,
    high: number,
    x: number,
    y: number,
    width: number,
    height: number,
  ): void
}

/** How a canvas makes paths of path data, and which picture an asset is, as far as it is there. */
export interface Paths<Path, Picture> {
  readonly path: (d: string) => Path
  readonly picture: (asset: string) => Picture | undefined
  readonly sizeOf: (picture: Picture) => { readonly width: number; readonly height: number }
}

/** Letters smaller than this on the screen are a bar of their length. */
const LEGIBLE_PX = 4
/** Lines are no thinner than this on the screen. */
const THINNEST_PX = 0.75
const BAR = 0.35

/** Paints a mark from an origin, at a scale from the scene’s px to those of the screen. */
type Stroke<Path, Picture> = (brush: Brush<Path, Picture>, scale: number) => void

/** A mark made ready for a canvas, to be painted many times. O(path data) */
export function brushOf<Path, Picture>(mark: Mark, theme: Theme, make: Paths<Path, Picture>): Stroke<Path, Picture> {
  switch (mark.tag) {
    case 'text':
      return textStroke(mark, theme)
    case 'image': {
      const { x, y, width, height, href, seen: part } = mark.attrs
      return (brush) => {
        const picture = make.picture(href)
        if (picture === undefined) return
        if (!part) return brush.drawImage(picture, x, y, width, height)
        const { width: w, height: h } = make.sizeOf(picture)
        brush.drawImage(picture, part.x * w, part.y * h, part.width * w, part.height * h, x, y, width, height)
      }
    }
    case 'g': {
      const inner = mark.children.map((child) => brushOf(child, theme, make))
      const [sx = 1, sy = sx] = (mark.attrs.transform?.match(/-?\d+(?:\.\d+)?/g) ?? []).map(Number)
      const { opacity = 1 } = mark.attrs
      return (brush, scale) => {
        brush.save()
        brush.scale(sx, sy)
        brush.globalAlpha *= opacity
        for (const paint of inner) paint(brush, scale * Math.min(sx, sy))
        brush.restore()
      }
    }
    default:
      return dressedStroke(dressed(mark, theme), theme, make)
  }
}

function dressedStroke<Path, Picture>(mark: Mark, theme: Theme, make: Paths<Path, Picture>): Stroke<Path, Picture> {
  if (mark.tag === 'text' || mark.tag === 'image' || mark.tag === 'g')
    throw new RangeError(`a ${mark.tag} has no outline`)
  return shapeStroke(mark, theme, make.path(outlineOf(mark) ?? ''))
}

const seen = (theme: Theme, role: Role | undefined): string | undefined =>
  role === undefined || role === 'none' ? undefined : colourOf(theme, role)

function shapeStroke<Path, Picture>(
  { attrs }: Extract<Mark, { tag: 'rect' | 'circle' | 'path' }>,
  theme: Theme,
  path: Path,
): Stroke<Path, Picture> {
  const [fill, stroke] = [seen(theme, attrs.fill), seen(theme, attrs.stroke)]
  const dash = (attrs['stroke-dasharray'] ?? '').split(' ').filter(Boolean).map(Number)
  const { opacity = 1, 'fill-opacity': within = 1, 'stroke-width': width = 1 } = attrs
  return (brush, scale) => {
    const before = brush.globalAlpha
    if (fill !== undefined) {
      brush.globalAlpha = before * opacity * within
      brush.fillStyle = fill
      brush.fill(path)
    }
    if (stroke !== undefined) {
      brush.globalAlpha = before * opacity
      brush.strokeStyle = stroke
      brush.lineWidth = Math.max(width, THINNEST_PX / scale)
      brush.lineCap = attrs['stroke-linecap'] ?? 'butt'
      brush.lineJoin = attrs['stroke-linejoin'] ?? 'miter'
      brush.setLineDash(dash)
      brush.stroke(path)
    }
    brush.globalAlpha = before
  }
}

function textStroke<Path, Picture>(mark: Extract<Mark, { tag: 'text' }>, theme: Theme): Stroke<Path, Picture> {
  const { x, y, transform, 'font-size': size, 'text-anchor': anchor = 'start', ...attrs } = mark.attrs
  const [words] = mark.children
  const colour = colourOf(theme, attrs.fill)
  const font = `${attrs['font-style'] ?? 'normal'} ${attrs['font-weight'] ?? 400} ${size}px ${FONTS[attrs['font-family']]}`
  const [degrees = 0, cx = 0, cy = 0] = (transform?.match(/-?\d+(?:\.\d+)?/g) ?? []).map(Number)
  const { transform: _turn, ...level } = mark.attrs
  const box = boxOf({ ...mark, attrs: level })
  const { opacity = 1 } = attrs
  const struck = attrs['text-decoration'] === 'line-through'
  return (brush, scale) => {
    if (words === '') return
    if (degrees !== 0) {
      brush.save()
      brush.translate(cx, cy)
      brush.rotate((degrees * Math.PI) / 180)
      brush.translate(-cx, -cy)
    }
    const before = brush.globalAlpha
    brush.globalAlpha = before * opacity
    brush.fillStyle = colour
    if (size * scale < LEGIBLE_PX) {
      brush.globalAlpha *= BAR
      brush.fillRect(box.x, y - size * 0.5, box.width, size * 0.5)
    } else {
      brush.font = font
      brush.textAlign = anchor === 'middle' ? 'center' : anchor
      brush.fillText(words, x, y)
      if (struck) brush.fillRect(box.x, y - size * 0.28, textWidth(words, size, cutOf(mark)), Math.max(1, size / 14))
    }
    brush.globalAlpha = before
    if (degrees !== 0) brush.restore()
  }
}
