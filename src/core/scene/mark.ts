import type { Id } from '../model'
import type { Role } from './roles'

/** How a shape is filled and drawn around. Lengths in px at 100 %. */
export interface Paint {
  readonly fill: Role
  readonly stroke?: Role
  readonly 'stroke-width'?: number
  readonly 'stroke-dasharray'?: string
  readonly 'stroke-linecap'?: 'round'
  readonly 'stroke-linejoin'?: 'round'
  readonly opacity?: number
  readonly 'fill-opacity'?: number
}

/** The family of a text, which a theme turns into fonts. */
export type Face = 'text' | 'mono'

export interface TextPaint {
  readonly fill: Role
  readonly 'font-family': Face
  readonly 'font-size': number
  readonly 'font-weight'?: number
  readonly 'font-style'?: 'italic'
  readonly 'text-anchor'?: 'start' | 'middle' | 'end'
  readonly 'text-decoration'?: 'line-through'
  readonly opacity?: number
  readonly transform?: `rotate(${number} ${number} ${number})`
}

export interface Point {
  readonly x: number
  readonly y: number
}

/**
 * A plain SVG element, its colours as roles and its fonts as families. An image's `href` names an asset of the workspace; of one that is cropped `seen` says
 * which shares of its width and height are seen in its box.
 */
export type Mark =
  | { readonly tag: 'rect'; readonly attrs: Box & Paint & { readonly rx?: number } }
  | { readonly tag: 'circle'; readonly attrs: Paint & { readonly cx: number; readonly cy: number; readonly r: number } }
  | { readonly tag: 'path'; readonly attrs: Paint & { readonly d: string } }
  | { readonly tag: 'text'; readonly attrs: Point & TextPaint; readonly children: readonly [string] }
  | { readonly tag: 'image'; readonly attrs: Box & { readonly href: string; readonly seen?: Box } }
  | {
      readonly tag: 'g'
      readonly attrs: { readonly opacity?: number; readonly transform?: `scale(${number} ${number})` }
      readonly children: readonly Mark[]
    }

export interface Box {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

/** A text within an item that is edited in place. `fact` and `field` say whose it is; the box is relative to the item. */
export interface EditableText {
  readonly part: string
  readonly value: string
  readonly label: string
  readonly box: Box
  /** Its signs of strong and slanted words and of lines are read. */
  readonly isStyled?: true
}

/** A part of an item that is pulled with the pointer: an end of a bar, the edge of a lane. Its box is relative to the item; `line` draws a line from it. */
export interface Handle {
  readonly id: string
  readonly box: Box
  readonly pulls: 'along' | 'across' | 'freely' | 'line'
  /** Marked by a dot while the item is selected, where nothing drawn tells that it is there. */
  readonly isDotted?: true
}

/** One drawn fact. `id` is its own within the scene, and that of the fact unless the fact is drawn twice. Its marks are relative to the box's corner, so a move changes nothing but the box. */
export interface Item {
  readonly id: Id
  /** Facts that this item stands for, its own first: selecting or finding one of them marks the item. */
  readonly facts: readonly Id[]
  readonly label: string
  readonly box: Box
  readonly marks: readonly Mark[]
  readonly texts: readonly EditableText[]
  /** The first one under the pointer is taken. */
  readonly handles?: readonly Handle[]
  /** Where its findings are marked, relative to its box: at the upper right corner, where nothing is said. */
  readonly signs?: { readonly x: number; readonly y: number }
  /** Stays in view at this side, as heads do. */
  readonly stays?: 'left' | 'top'
  /** Lies beneath others, as a lane does: dragging on it moves the sheet. */
  readonly ground?: boolean
  /** Where it leads: an address, or `#view=ID`. */
  readonly link?: string
  /** The item that the Up key leads to: the walk along the picture. */
  readonly parent?: Id
}

export interface Link {
  readonly id: Id
  readonly source: Id
  readonly target: Id
  readonly bounds: Box
  readonly marks: readonly Mark[]
}

export interface Page {
  readonly title: string
  readonly box: Box
}

/** Heads that stay in view at two sides and in the corner between them, and how far they reach into the scene, in px at 100 %. */
export interface Frozen {
  readonly top?: readonly Mark[]
  readonly left?: readonly Mark[]
  readonly corner?: readonly Mark[]
  readonly width: number
  readonly height: number
}

/** Paper that a picture is on, in px of 1/96 inch. */
export interface Paper {
  /** “A4 across”. */
  readonly title: string
  readonly width: number
  readonly height: number
}

/** A scene on a paper: how many px of the paper a px of the scene takes. */
export interface OnPaper extends Paper {
  readonly box: Box
  readonly scale: number
}

/** A computed picture. `backdrop` is drawn first, then links, then items; `frozen` heads stay in view while the rest is moved. */
export interface Scene {
  readonly bounds: Box
  readonly backdrop: readonly Mark[]
  readonly items: readonly Item[]
  readonly links: readonly Link[]
  readonly frozen?: Frozen
  /** Pages that the picture is cut into, each a part of its bounds. */
  readonly pages?: readonly Page[]
  /** The paper that it is on: its edge is shown, and its bounds are no larger. */
  readonly paper?: OnPaper
  /** The picture itself, within what stands around it. */
  readonly picture?: Box
  /** What is shown, in a line: “71 positions, 68.5 fte, 4 vacant”. */
  readonly headline: string
  /** The picture in a sentence, for those who cannot see it. */
  readonly summary: string
}

export const overlaps = (a: Box, b: Box): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height

/** The smallest box around all boxes, `margin` px wider on each side. */
export function around(boxes: Iterable<Box>, margin: number): Box {
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity]
  for (const box of boxes) {
    left = Math.min(left, box.x)
    top = Math.min(top, box.y)
    right = Math.max(right, box.x + box.width)
    bottom = Math.max(bottom, box.y + box.height)
  }
  if (left === Infinity) return { x: 0, y: 0, width: 2 * margin, height: 2 * margin }
  return { x: left - margin, y: top - margin, width: right - left + 2 * margin, height: bottom - top + 2 * margin }
}

/** The smallest box around points, `margin` px wider on each side. */
export const aroundPoints = (points: Iterable<Point>, margin: number): Box =>
  around(
    Array.from(points, ({ x, y }) => ({ x, y, width: 0, height: 0 })),
    margin,
  )

/** The fact that an item stands for. */
export const factOf = (item: Item): Id => item.facts[0] ?? item.id

/** One page of a scene as a scene of its own. O(scene). */
export function pageOf(scene: Scene, page: Page): Scene {
  const { pages: _pages, ...rest } = scene
  return {
    ...rest,
    bounds: page.box,
    items: scene.items.filter(({ box }) => overlaps(box, page.box)),
    links: scene.links.filter(({ bounds }) => overlaps(bounds, page.box)),
    headline: page.title,
    summary: `${scene.summary} ${page.title}.`,
  }
}
