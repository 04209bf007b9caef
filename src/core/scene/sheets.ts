import { lines, path, rect, text } from './kit'
import { pageOf, type Box, type Mark, type Paper, type Scene } from './mark'
import { POINTS } from './paper'

/** How a scene is put on sheets of paper. Lengths in mm. */
export interface PrintWish {
  /** The paper of each sheet, in px of 1/96 inch; without one a sheet is as large as its picture. */
  readonly paper?: Paper
  /** Cut into sheets at this share of its size instead of being fitted on one. */
  readonly tiled?: { readonly scale: number; readonly overlap: number }
  /** What stays free at each edge. */
  readonly border?: number
}

/** One sheet of paper. */
export interface Sheet {
  /** `Whole company`, or with where it belongs `Whole company, row 1, column 2`. */
  readonly title: string
  /** In points. */
  readonly width: number
  readonly height: number
  readonly scene: Scene
  /** The part of the scene that is on it, in the scene’s px. */
  readonly box: Box
  /** Where that part lies on the sheet, in points, and how many points a px of the scene takes. */
  readonly at: Box
  readonly scale: number
  /** What is printed around it, in points: where its neighbours begin, and which sheet it is. */
  readonly marks: readonly Mark[]
}

/** What is wished for has no room, in words. */
export class NoRoomError extends RangeError {
  override readonly name = 'NoRoomError'
}

const MOST_SHEETS = 400
/** A page of PDF is no longer than this, in points (ISO 32000-1, annex C). */
const LONGEST = 14_400
const MM = 72 / 25.4
/** What stays free at the edges of a sheet among others, at least: room for its marks. */
const TILE_MARGIN = 10
/** A border leaves at least this share of each side to the picture. */
const LEAST_LEFT = 0.1
const TICK = 7
/** Beneath the ticks, so that none runs through a letter. */
const KEY = { top: 11, cell: 5, most: 14, size: 7 } as const

/**
 * The sheets that a scene is printed on: its pages, its own paper, or as many sheets of a paper as it takes, with a strip of each on its neighbours. `foot` is
 * what stands beneath the scene, such as a caption, in px. O(sheets)
 * @throws NoRoomError in words for more than 400 sheets, and for a border that leaves no room
 */
export function sheetsOf(scene: Scene, title: string, wish: PrintWish, foot = 0): readonly Sheet[] {
  if (scene.pages)
    return scene.pages.flatMap((page) => sheetsOf(pageOf(scene, page), `${title}, ${page.title}`, wish, foot))
  const { bounds } = scene
  const box = { ...bounds, height: bounds.height + foot }
  const border = (wish.border ?? 0) * MM
  if (wish.paper && wish.tiled && !scene.paper) return tiles(scene, box, title, wish)
  const own = scene.paper ?? wish.paper
  const life = POINTS * (scene.paper?.scale ?? 1)
  const size = own
    ? { width: own.width * POINTS, height: own.height * POINTS }
    : fitted({ width: box.width * life + 2 * border, height: box.height * life + 2 * border })
  withRoom(size, border, wish.border)
  // What lies on its paper already fills it; what does not is no larger than life there.
  const scale = Math.min(
    scene.paper ? Infinity : life,
    (size.width - 2 * border) / box.width,
    (size.height - 2 * border) / box.height,
  )
  const at = {
    x: (size.width - box.width * scale) / 2,
    y: (size.height - box.height * scale) / 2,
    width: box.width * scale,
    height: box.height * scale,
  }
  return [{ title, ...size, scene, box, at, scale, marks: [] }]
}

/** @throws NoRoomError in words where a border leaves no room within a size; `said` is how it was wished for, in mm or px. */
export function withRoom(
  { width, height }: { readonly width: number; readonly height: number },
  border: number,
  said = border,
): void {
  if (Math.min(width, height) - 2 * border < LEAST_LEFT * Math.min(width, height))
    throw new NoRoomError(`A border of ${said} leaves no room for the picture. Choose a smaller one.`)
}

/** A page that is too long for the format is made smaller as a whole. */
function fitted({ width, height }: { readonly width: number; readonly height: number }) {
  const shrink = Math.min(1, LONGEST / width, LONGEST / height)
  return { width: width * shrink, height: height * shrink }
}

/** How many sheets it takes each way, and how far each reaches, in px of the scene; the margin in points. @throws NoRoomError */
function gridOf(
  box: Pick<Box, 'width' | 'height'>,
  paper: Paper,
  { scale, overlap }: NonNullable<PrintWish['tiled']>,
  margin: number,
) {
  const k = POINTS * scale
  const [across, down] = [paper.width, paper.height].map((side) => (side * POINTS - 2 * margin) / k) as [number, number]
  const shared = (overlap * MM) / k
  const count = (whole: number, sheet: number) =>
    Math.max(1, Math.ceil((whole - shared - 0.01) / Math.max(1, sheet - shared)))
  const [columns, rows] = [count(box.width, across), count(box.height, down)]
  if (columns * rows > MOST_SHEETS)
    throw new NoRoomError(
      `At this size it takes ${(columns * rows).toLocaleString('en')} sheets of ${paper.title}; ${MOST_SHEETS} is the most. Choose a larger paper or a smaller scale.`,
    )
  return { columns, rows, across, down, shared }
}

function tiles(scene: Scene, box: Box, title: string, { paper, tiled, border = 0 }: PrintWish): readonly Sheet[] {
  if (!paper || !tiled) return []
  const free = Math.max(TILE_MARGIN, border)
  const margin = free * MM
  withRoom({ width: paper.width * POINTS, height: paper.height * POINTS }, margin, free)
  const { columns, rows, across, down, shared } = gridOf(box, paper, tiled, margin)
  const scale = POINTS * tiled.scale
  const [width, height] = [paper.width * POINTS, paper.height * POINTS]
  return Array.from({ length: columns * rows }, (_, index): Sheet => {
    const [row, column] = [Math.floor(index / columns), index % columns]
    const part = {
      x: box.x + column * (across - shared),
      y: box.y + row * (down - shared),
      width: across,
      height: down,
    }
    const at = { x: margin, y: margin, width: across * scale, height: down * scale }
    const place = { columns, rows, column, row }
    const isAlone = columns * rows === 1
    return {
      title: isAlone ? title : `${title}, row ${row + 1}, column ${column + 1}`,
      width,
      height,
      scene,
      box: part,
      at,
      scale,
      marks: isAlone ? [] : marksOf(at, shared * scale, place, title),
    }
  })
}

/** Ticks where sheets meet, the title with the place, and a small key of where one is. */
function marksOf(
  at: Box,
  shared: number,
  { columns, rows, column, row }: Readonly<Record<'columns' | 'rows' | 'column' | 'row', number>>,
  title: string,
): readonly Mark[] {
  const [right, bottom] = [at.x + at.width, at.y + at.height]
  // The middle of the strip that two sheets have in common.
  const ups = [...(column > 0 ? [at.x + shared / 2] : []), ...(column < columns - 1 ? [right - shared / 2] : [])]
  const downs = [...(row > 0 ? [at.y + shared / 2] : []), ...(row < rows - 1 ? [bottom - shared / 2] : [])]
  const ticks = [
    ...ups.flatMap((x) => [`M${x} ${at.y - 2}v${-TICK}`, `M${x} ${bottom + 2}v${TICK}`]),
    ...downs.flatMap((y) => [`M${at.x - 2} ${y}h${-TICK}`, `M${right + 2} ${y}h${TICK}`]),
  ].join('')
  const cell = Math.min(KEY.cell, KEY.most / Math.max(columns, rows))
  const [left, top] = [right - columns * cell, bottom + KEY.top]
  return [
    ...(ticks === '' ? [] : [path(ticks, { fill: 'none', stroke: 'ink-quiet', 'stroke-width': 0.5 })]),
    ...lines(
      at.x,
      bottom + KEY.top + KEY.size,
      KEY.size,
      [`${title.slice(0, 80)} · row ${row + 1} of ${rows}, column ${column + 1} of ${columns}`],
      { fill: 'ink-quiet', 'font-size': KEY.size },
    ),
    rect(
      { x: left, y: top, width: columns * cell, height: rows * cell },
      { fill: 'none', stroke: 'ink-quiet', 'stroke-width': 0.4 },
    ),
    rect({ x: left + column * cell, y: top + row * cell, width: cell, height: cell }, { fill: 'ink', stroke: 'none' }),
    text(left - 4, bottom + KEY.top + KEY.size, `${row * columns + column + 1} of ${rows * columns}`, {
      fill: 'ink-quiet',
      'font-size': KEY.size,
      'text-anchor': 'end',
    }),
  ]
}
