import { seenOf } from './pictures'
import svgpath from 'svgpath'
import type { Box, Face, Mark, Paint, Point, TextPaint } from './mark'
import type { Role } from './roles'

/** Marks, made: what every picture is drawn with. Lengths in px at 100 %. */

type Words = Omit<TextPaint, 'font-family'> & { readonly 'font-family'?: Face }

/** A line of text, its baseline at `y`. */
export const text = (x: number, y: number, words: string, paint: Words): Mark => ({
  tag: 'text',
  attrs: { x, y, 'font-family': 'text', ...paint },
  children: [words],
})

/** Texts in one hand: what is said beside the words goes over what is said here. */
export const texts =
  (usual: Words) =>
  (x: number, y: number, words: string, paint: Partial<Words> = {}): Mark =>
    text(x, y, words, { ...usual, ...paint })

/** Lines of text beneath one another, the first one's baseline at `y`, `step` px apart. */
export const lines = (x: number, y: number, step: number, words: readonly string[], paint: Words): Mark[] =>
  words.map((line, index) => text(x, y + index * step, line, paint))

export const rect = ({ x, y, width, height }: Box, paint: Paint & { readonly rx?: number }): Mark => ({
  tag: 'rect',
  attrs: { x, y, width, height, ...paint },
})

export const circle = (cx: number, cy: number, r: number, paint: Paint): Mark => ({
  tag: 'circle',
  attrs: { cx, cy, r, ...paint },
})

/** SVG path data, in absolute or relative commands. */
export const path = (d: string, paint: Paint): Mark => ({ tag: 'path', attrs: { d, ...paint } })

/** The picture of an asset; nothing where it cannot be shown, so that what stands beneath it shows. */
export const image = ({ x, y, width, height }: Box, asset: string): Mark => ({
  tag: 'image',
  attrs: { x, y, width, height, href: asset },
})

/** The picture of an asset that fills a box, cropped so that the point that matters is seen: its shares of the picture’s width and height. */
export const cropped = ({ x, y, width, height }: Box, asset: string, point: Point): Mark => ({
  tag: 'image',
  attrs: { x, y, width, height, href: asset, seen: seenOf(asset, { width, height }, point) },
})

export const group = (children: readonly Mark[], attrs: Extract<Mark, { tag: 'g' }>['attrs']): Mark => ({
  tag: 'g',
  attrs,
  children,
})

/** A mark somewhere else. Paths in absolute or relative commands; of a group what is in it. O(path data) */
export function moved(mark: Mark, dx: number, dy: number): Mark {
  switch (mark.tag) {
    case 'circle':
      return { ...mark, attrs: { ...mark.attrs, cx: mark.attrs.cx + dx, cy: mark.attrs.cy + dy } }
    case 'path':
      return { ...mark, attrs: { ...mark.attrs, d: svgpath(mark.attrs.d).translate(dx, dy).round(2).toString() } }
    case 'g':
      return { ...mark, children: mark.children.map((child) => moved(child, dx, dy)) }
    case 'text': {
      const [degrees, cx = 0, cy = 0] = (mark.attrs.transform?.match(/-?\d+(?:\.\d+)?/g) ?? []).map(Number)
      const turned = degrees === undefined ? {} : { transform: `rotate(${degrees} ${cx + dx} ${cy + dy})` as const }
      return { ...mark, attrs: { ...mark.attrs, x: mark.attrs.x + dx, y: mark.attrs.y + dy, ...turned } }
    }
    case 'rect':
      return { ...mark, attrs: { ...mark.attrs, x: mark.attrs.x + dx, y: mark.attrs.y + dy } }
    case 'image':
      return { ...mark, attrs: { ...mark.attrs, x: mark.attrs.x + dx, y: mark.attrs.y + dy } }
  }
}

/** The path data of a way from point to point; with `round`, its right-angled bends are rounded by so many px. */
export const way = (points: readonly Point[], round = 0): string =>
  points
    .map((point, i) => {
      const [before, next] = [points[i - 1], points[i + 1]]
      if (!before) return `M${point.x} ${point.y}`
      if (!next || round === 0) return `L${point.x} ${point.y}`
      const r = Math.min(round, steps(before, point) / 2, steps(point, next) / 2)
      const [inn, out] = [towards(point, before, r), towards(point, next, r)]
      return `L${inn.x} ${inn.y}Q${point.x} ${point.y} ${out.x} ${out.y}`
    })
    .join('')

const steps = (a: Point, b: Point): number => Math.abs(a.x - b.x) + Math.abs(a.y - b.y)
const towards = ({ x, y }: Point, to: Point, r: number): Point => ({
  x: x + Math.sign(to.x - x) * r,
  y: y + Math.sign(to.y - y) * r,
})

/** The path data of a head at the end of a right-angled line that comes from `from`, `length` px long and twice `half` px broad. */
export function head(at: Point, from: Point, length: number, half: number): string {
  const [dx, dy] = [Math.sign(at.x - from.x), Math.sign(at.y - from.y)]
  const [x, y] = [at.x - dx * length, at.y - dy * length]
  return `M${at.x} ${at.y}L${x - dy * half} ${y - dx * half}L${x + dy * half} ${y + dx * half}Z`
}

/** A line with a filled head at its end: what leads on to something. */
export function arrow(
  points: readonly Point[],
  stroke: Role,
  { width, length, half }: { readonly width: number; readonly length: number; readonly half: number },
): Mark[] {
  const [end, before] = [points.at(-1), points.at(-2)]
  if (!end || !before) return []
  return [
    path(way(points), { fill: 'none', stroke, 'stroke-width': width }),
    path(head(end, before, length, half), { fill: stroke, stroke: 'none' }),
  ]
}
