import { layersOf } from './layers'
import type { Mark, Paper, Scene } from './mark'

const MM = 96 / 25.4
/** A point is a seventy-second of an inch. */
export const POINTS = 72 / 96

/** Upright, in mm: ISO 216 A5 to A2, ANSI/ASME Y14.1 A (Letter), and the shapes of screens, 254 mm broad or high. */
const SIZES: Readonly<Record<string, readonly [number, number]>> = {
  A5: [148, 210],
  A4: [210, 297],
  A3: [297, 420],
  A2: [420, 594],
  Letter: [215.9, 279.4],
  '16:9': [142.875, 254],
  '4:3': [190.5, 254],
  Square: [200, 200],
}
export const PAPERS: readonly string[] = Object.keys(SIZES)

/** A free size: `210 × 297 mm`, `1200 x 800 px`. */
const FREE = /^(\d{1,5}(?:\.\d{1,2})?)\s*[×x]\s*(\d{1,5}(?:\.\d{1,2})?)\s*(mm|px)$/i
/** In px of either side. */
const BOUNDS = { least: 96, most: 12_000 } as const

/** The paper that a view’s look names; undefined for none, and for a size that nobody could use. */
export function paperOf(look: Readonly<Record<string, unknown>>): Paper | undefined {
  const named = look['paper']
  if (typeof named !== 'string') return undefined
  const size = Object.hasOwn(SIZES, named) ? SIZES[named] : undefined
  const isAcross = look['across'] === true
  if (size) {
    const [width, height] = size.map((mm) => mm * MM) as [number, number]
    const turned = named === 'Square' ? named : `${named} ${isAcross ? 'across' : 'upright'}`
    return { title: turned, width: isAcross ? height : width, height: isAcross ? width : height }
  }
  const free = freeSize(named)
  return free && { title: named.trim(), ...free }
}

/** A typed size in px; undefined for what is none, or beyond what is drawn. */
export function freeSize(text: string): { readonly width: number; readonly height: number } | undefined {
  const [, wide, high, unit] = FREE.exec(text.trim()) ?? []
  const per = unit?.toLowerCase() === 'mm' ? MM : 1
  const [width, height] = [Number(wide) * per, Number(high) * per]
  const isUsed = (side: number) => side >= BOUNDS.least && side <= BOUNDS.most
  return isUsed(width) && isUsed(height) ? { width, height } : undefined
}

/** Text of so many points is read by everybody: common practice. */
export const READ_WELL = 8

/** What stays free around a picture on a paper, as a share of the paper’s smaller side. */
const MARGIN = 0.05

/**
 * A scene on the paper that its look names: as large as the paper lets it, no larger than life or than its smallest text is read well at, in its
 * middle; what has heads that stay in view begins at the paper’s corner. A scene that is on its paper already, or is cut into pages, stays as it is. O(marks)
 */
export function onPaper(scene: Scene, look: Readonly<Record<string, unknown>>): Scene {
  const paper = paperOf(look)
  if (!paper || scene.paper || scene.pages) return scene
  const { bounds } = scene
  const margin = Math.min(paper.width, paper.height) * MARGIN
  const most = Math.max(1, READ_WELL / (smallestOf(scene) * POINTS))
  const scale = Math.min(most, (paper.width - 2 * margin) / bounds.width, (paper.height - 2 * margin) / bounds.height)
  const [width, height] = [paper.width / scale, paper.height / scale]
  const box = {
    x: scene.frozen ? bounds.x : bounds.x - (width - bounds.width) / 2,
    y: scene.frozen ? bounds.y : bounds.y - (height - bounds.height) / 2,
    width,
    height,
  }
  return { ...scene, bounds: box, paper: { ...paper, box, scale } }
}

const measured = new WeakMap<Scene, number>()

/** The size of the smallest text of all that is drawn, what stands around it as well, in px at 100 %; Infinity where nothing is written. O(marks), once a scene */
function smallestOf(scene: Scene): number {
  const known = measured.get(scene)
  if (known !== undefined) return known
  let smallest = Infinity
  const look = (mark: Mark, scale: number): void => {
    if (mark.tag === 'text') smallest = Math.min(smallest, mark.attrs['font-size'] * scale)
    else if (mark.tag === 'g') for (const child of mark.children) look(child, scale * scaleOf(mark))
  }
  for (const { marks } of layersOf(scene)) for (const mark of marks) look(mark, 1)
  measured.set(scene, smallest)
  return smallest
}

/** How much a group enlarges what is in it. */
const scaleOf = ({ attrs }: Extract<Mark, { tag: 'g' }>): number =>
  Number(/scale\((-?[\d.]+)/.exec(attrs.transform ?? '')?.[1] ?? 1)

/** The size of the smallest text of a scene on its paper, in points; undefined without a paper or a text. O(marks), once a scene */
export function leastPoints(scene: Scene): number | undefined {
  const smallest = scene.paper ? smallestOf(scene) : Infinity
  return scene.paper && smallest < Infinity ? smallest * scene.paper.scale * POINTS : undefined
}
