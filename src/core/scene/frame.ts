import { shapeOfAsset, type Id } from '../model'
import { cropped, group, image, lines, moved, path, rect, text } from './kit'
import type { Box, Item, Mark, OnPaper, Page, Scene } from './mark'
import { legendRows, type LegendPart } from './emphasised'
import type { Role } from './roles'
import { boxOf } from './shape'
import { textWidth, wrap } from './text'

/** What stands around a picture. */
export interface Frame {
  readonly heading?: string
  /** How far apart a theme has sizes of type that tell ranks. */
  readonly type?: number
  /** The role of the ground, for what covers it. */
  readonly ground?: Role
  readonly legend: readonly LegendPart[]
  /** Where the facts are from, as of when, and what the ground owes. */
  readonly foot: readonly string[]
  /** The picture of one’s own house. */
  readonly mark?: string
  readonly notes: readonly ReaderNote[]
}

/** A note for readers: about a fact, a place of the picture in px from its corner, or nothing in particular. */
export interface ReaderNote {
  readonly number: number
  readonly words: string
  readonly fact?: Id
  readonly at?: { readonly x: number; readonly y: number }
}

const EDGE = 16
const HEADING = { size: 19, height: 38, page: 14 } as const
/** What a page leaves free around what stands at its foot. */
const PAGE_FOOT = 20
/** Eight points where the picture is as large as life. */
const FOOT = { size: 10.7, line: 15 } as const
const MARK = { height: 26, most: 120 } as const
const NOTES = { width: 210, size: 12, line: 16, gap: 8, numbers: 22, most: 40 } as const
const NUMBER = { size: 12, half: 9 } as const

/** A frame that says nothing leaves a picture as it is. */
const isEmpty = ({ heading, legend, foot, mark, notes }: Frame): boolean =>
  heading === undefined && mark === undefined && legend.length + foot.length + notes.length === 0

/**
 * A picture with what stands around it: its heading above, its notes at the right with their numbers on what they are about, its legend and
 * its foot beneath. One that is on its paper is drawn smaller there; of one that is cut into pages each has its own (`pagesFramed`). O(items + notes)
 */
export function framed(scene: Scene, frame: Frame): Scene {
  if (isEmpty(frame)) return scene
  const numbered = withNumbers(scene, frame.notes)
  if (scene.pages) return pagesFramed(numbered, scene.pages, frame)
  const around = surrounded(numbered, frame, 1)
  if (!scene.paper) return around
  // What is drawn smaller so that it has room on its paper is written larger by as much, so that it is read there as it would be elsewhere.
  let fitted = refitted(around, scene.paper)
  for (let pass = 0; pass < PASSES; pass++)
    fitted = refitted(surrounded(numbered, frame, Math.min(LARGEST, 1 / (fitted.paper?.scale ?? 1))), scene.paper)
  return fitted
}

const PASSES = 4
const LARGEST = 2

/** A scene with what stands around it, that written so many times as large as usual. */
function surrounded(scene: Scene, frame: Frame, times: number): Scene {
  const { bounds } = scene
  const notes = enlarged(notesOf(frame.notes, NOTES.width), times)
  const heading = frame.heading === undefined ? 0 : HEADING.height
  const beside = notes.marks.length > 0 ? NOTES.width * times + 2 * EDGE : 0
  const width = Math.max(bounds.width, frame.legend.length + frame.foot.length > 0 ? LEAST_WIDTH : 0) + beside
  const foot = enlarged(footOf(frame, (width - 2 * EDGE) / times), times)
  const inner = Math.max(bounds.height, notes.height + EDGE)
  const [left, top] = [bounds.x + EDGE, bounds.y + inner]
  const around: Scene = {
    ...scene,
    bounds: {
      x: bounds.x,
      y: bounds.y - heading,
      width,
      height: heading + inner + (foot.height > 0 ? foot.height + EDGE : 0),
    },
    backdrop: [
      ...scene.backdrop,
      ...notes.at(bounds.x + bounds.width + EDGE, bounds.y + EDGE),
      ...foot.at(left, top + 4),
    ],
  }
  return frame.heading === undefined ? around : withHeading(around, frame.heading, frame)
}

/** Marks so many times as large, and how they stand at a place. */
function enlarged({ marks, height }: { readonly marks: readonly Mark[]; readonly height: number }, times: number) {
  const at = (x: number, y: number): readonly Mark[] => {
    const there = marks.map((mark) => moved(mark, x / times, y / times))
    return times === 1 || there.length === 0 ? there : [group(there, { transform: `scale(${times} ${times})` })]
  }
  return { marks, height: height * times, at }
}

/** Pages, each made longer by what stands beneath it: the notes about what is on it, the legend, and the foot. O(pages × (items + marks)) */
function pagesFramed(scene: Scene, pages: readonly Page[], frame: Frame): Scene {
  const inOrder = pages.toSorted((a, b) => a.box.y - b.box.y)
  const homes = frame.notes.map(({ fact, at }) => {
    const item = fact === undefined ? undefined : scene.items.find(({ facts, stays }) => !stays && facts.includes(fact))
    const y = item ? item.box.y : at ? scene.bounds.y + at.y : scene.bounds.y
    return Math.max(
      0,
      inOrder.findLastIndex(({ box }) => box.y <= y),
    )
  })
  const feet = inOrder.map(({ box }, at) => {
    const width = box.width - 2 * EDGE
    const notes = notesOf(
      frame.notes.filter((_, note) => homes[note] === at),
      width,
    )
    const foot = footOf(frame, width)
    const marks = [...notes.marks, ...foot.marks.map((mark) => moved(mark, 0, notes.height))]
    const height = notes.height + foot.height
    return { marks, height, more: height > 0 ? height + PAGE_FOOT : 0 }
  })
  /** How far what begins at a height is moved down by the pages above it. */
  const down = (y: number): number =>
    inOrder.reduce((sum, { box }, at) => (y >= box.y + box.height ? sum + (feet[at]?.more ?? 0) : sum), 0)
  const longer = inOrder.map((page, at): Page => {
    const { y, height } = page.box
    return { ...page, box: { ...page.box, y: y + down(y), height: height + (feet[at]?.more ?? 0) } }
  })
  const backdrop = scene.backdrop.map((mark) => {
    const { y, height } = boxOf(mark)
    const frames = mark.tag === 'rect' ? inOrder.findIndex(({ box }) => box.y === y && box.height === height) : -1
    const lower = moved(mark, 0, down(y))
    return frames < 0 || lower.tag !== 'rect'
      ? lower
      : { ...lower, attrs: { ...lower.attrs, height: height + (feet[frames]?.more ?? 0) } }
  })
  const around = longer.flatMap(({ box }, at) => {
    const { marks = [], height = 0 } = feet[at] ?? {}
    const foot = marks.map((mark) => moved(mark, box.x + EDGE, box.y + box.height - height - PAGE_FOOT / 2))
    return frame.heading === undefined ? foot : [...foot, pageHeading(frame.heading, box, frame)]
  })
  const total = feet.reduce((sum, { more }) => sum + more, 0)
  return {
    ...scene,
    bounds: { ...scene.bounds, height: scene.bounds.height + total },
    pages: longer,
    backdrop: [...backdrop, ...around],
    items: scene.items.map((item) => ({ ...item, box: { ...item.box, y: item.box.y + down(item.box.y) } })),
    links: scene.links.map((link) => {
      const dy = down(link.bounds.y)
      return {
        ...link,
        bounds: { ...link.bounds, y: link.bounds.y + dy },
        marks: link.marks.map((mark) => moved(mark, 0, dy)),
      }
    }),
  }
}

/** The heading of a page stands at the right of its head, which says which page it is. */
const pageHeading = (words: string, { x, y, width }: Box, frame: Frame): Mark =>
  text(x + width - EDGE, y + 25, wrap(words, width / 2, sizeIn(HEADING.page, frame), 'text700', 1)[0] ?? '', {
    fill: 'ink',
    'font-size': sizeIn(HEADING.page, frame),
    'font-weight': 700,
    'text-anchor': 'end',
  })

/** A heading in the steps of a theme: a fifth larger by each. */
const sizeIn = (size: number, { type = 1 }: Frame): number => Math.round(size * 1.2 ** (type - 1) * 10) / 10

/** A legend is no narrower than this, however narrow its picture. */
const LEAST_WIDTH = 300

/** What stands beneath a picture, from its upper left corner. */
function footOf(
  { legend, foot, mark }: Frame,
  width: number,
): { readonly marks: readonly Mark[]; readonly height: number } {
  const rows = legendRows(legend, width)
  const marks = [...rows.marks]
  let y = rows.height
  const house = mark === undefined ? undefined : houseOf(mark)
  const words = foot.flatMap((one) => wrap(one, width - (house ? house.width + EDGE : 0), FOOT.size, 'text400', 2))
  marks.push(...lines(0, y + FOOT.line, FOOT.line, words, { fill: 'ink-quiet', 'font-size': FOOT.size }))
  y += words.length * FOOT.line
  if (mark === undefined || !house) return { marks, height: y }
  const height = Math.max(y, house.height)
  return { marks: [...marks, image({ x: width - house.width, y: height - house.height, ...house }, mark)], height }
}

function houseOf(asset: string): { readonly width: number; readonly height: number } {
  const width = Math.min(MARK.most, MARK.height * shapeOfAsset(asset))
  return { width, height: width / shapeOfAsset(asset) }
}

/** A heading above; over heads that stay in view it stays with them. */
function withHeading(scene: Scene, words: string, frame: Frame): Scene {
  const { ground = 'sheet' } = frame
  const size = sizeIn(HEADING.size, frame)
  const { bounds, frozen, backdrop } = scene
  const [line = ''] = wrap(words, bounds.width - 2 * EDGE, size, 'text700', 1)
  const mark = text(bounds.x + EDGE, bounds.y + size + 7, line, {
    fill: 'ink',
    'font-size': size,
    'font-weight': 700,
  })
  if (!frozen) return { ...scene, backdrop: [...backdrop, mark] }
  const strip = rect(
    { x: bounds.x, y: bounds.y, width: bounds.width, height: HEADING.height },
    { fill: ground, stroke: 'none' },
  )
  return {
    ...scene,
    frozen: {
      ...frozen,
      top: [...(frozen.top ?? []), strip],
      corner: [...(frozen.corner ?? []), { ...strip, attrs: { ...strip.attrs, width: frozen.width } } as Mark, mark],
      height: frozen.height + HEADING.height,
    },
  }
}

/** The notes beneath one another, from their upper left corner. */
function notesOf(
  notes: readonly ReaderNote[],
  width: number,
): { readonly marks: readonly Mark[]; readonly height: number } {
  const marks: Mark[] = []
  let y = 0
  for (const { number, words } of notes.slice(0, NOTES.most)) {
    const said = wrap(words, width - NOTES.numbers, NOTES.size, 'text400', 14)
    marks.push(
      ...numberMarks(number, NUMBER.half, y + NUMBER.half),
      ...lines(NOTES.numbers, y + NOTES.size, NOTES.line, said, { fill: 'ink', 'font-size': NOTES.size }),
    )
    y += Math.max(2 * NUMBER.half, said.length * NOTES.line) + NOTES.gap
  }
  const more = notes.length - NOTES.most
  if (more > 0) marks.push(text(0, y + NOTES.size, `and ${more} more`, { fill: 'ink-quiet', 'font-size': NOTES.size }))
  return { marks, height: y + (more > 0 ? NOTES.line : 0) }
}

function numberMarks(number: number, x: number, y: number): Mark[] {
  const words = String(number)
  const wide = Math.max(2 * NUMBER.half, textWidth(words, NUMBER.size, 'text700') + 7)
  return [
    rect(
      { x: x - wide / 2, y: y - NUMBER.half, width: wide, height: 2 * NUMBER.half },
      { rx: NUMBER.half, fill: 'ink', stroke: 'sheet' },
    ),
    text(x, y + NUMBER.size * 0.36, words, {
      fill: 'sheet',
      'font-size': NUMBER.size,
      'font-weight': 700,
      'text-anchor': 'middle',
    }),
  ]
}

/** The numbers of notes on what they are about, at the lower right corner; of several there, side by side. */
function withNumbers(scene: Scene, notes: readonly ReaderNote[]): Scene {
  const byFact = new Map<string, number[]>()
  for (const { fact, number } of notes) if (fact !== undefined) byFact.set(fact, [...(byFact.get(fact) ?? []), number])
  if (notes.length === 0) return scene
  const told = new Set<string>()
  // A fact that is drawn twice is numbered where it is drawn itself, not at its head.
  const order = [...scene.items].sort((a, b) => Number(a.stays !== undefined) - Number(b.stays !== undefined))
  const numbered = new Map<Item, readonly Mark[]>()
  for (const item of order) {
    const here = item.facts.flatMap((fact) => (told.has(fact) ? [] : (byFact.get(fact) ?? [])))
    if (here.length === 0) continue
    for (const fact of item.facts) told.add(fact)
    const { width, height } = item.box
    numbered.set(
      item,
      here.flatMap((number, at) => numberMarks(number, width - at * 2.2 * NUMBER.half, height)),
    )
  }
  return {
    ...scene,
    items: scene.items.map((item) => {
      const marks = numbered.get(item)
      return marks ? { ...item, marks: [...item.marks, ...marks] } : item
    }),
    backdrop: [
      ...scene.backdrop,
      ...notes.flatMap(({ at, number }) =>
        at ? numberMarks(number, scene.bounds.x + at.x, scene.bounds.y + at.y) : [],
      ),
    ],
  }
}

/** A scene whose bounds have grown beyond its paper, on that paper again: as large as it lets it. */
function refitted(scene: Scene, paper: OnPaper): Scene {
  const { bounds } = scene
  const scale = Math.min(paper.width / bounds.width, paper.height / bounds.height)
  const [width, height] = [paper.width / scale, paper.height / scale]
  const box = { x: bounds.x - (width - bounds.width) / 2, y: bounds.y, width, height }
  return { ...scene, bounds: box, paper: { ...paper, box, scale } }
}

/** What lies behind a picture. `land` is path data for a box of the picture’s size. */
export type Ground =
  | { readonly sort: 'tint' | 'ruled' | 'dotted' }
  | { readonly sort: 'picture'; readonly asset: string; readonly strength: number }
  | { readonly sort: 'map'; readonly land: (box: Box) => string; readonly strength: number }

const STEP = 24
const MIDDLE = { x: 0.5, y: 0.5 } as const
/** Lines and dots are no more than this, however large the picture: then they stand further apart. */
const MOST = { lines: 240, dots: 6000 } as const

/** A scene with a ground behind all of it, to the edge of its paper. O(lines and dots) */
export function grounded(scene: Scene, ground: Ground | undefined): Scene {
  return ground ? { ...scene, backdrop: [...groundMarks(ground, scene.bounds), ...scene.backdrop] } : scene
}

function groundMarks(ground: Ground, box: Box): readonly Mark[] {
  switch (ground.sort) {
    case 'tint':
      return [rect(box, { fill: 'plate', stroke: 'none' })]
    case 'ruled': {
      const step = Math.max(STEP, box.height / MOST.lines)
      let d = ''
      for (let y = box.y + step; y < box.y + box.height; y += step) d += `M${box.x} ${rounded(y)}h${rounded(box.width)}`
      return [path(d, { fill: 'none', stroke: 'hairline', 'stroke-width': 0.75, opacity: 0.7 })]
    }
    case 'dotted': {
      const step = Math.max(STEP, Math.sqrt((box.width * box.height) / MOST.dots))
      let d = ''
      for (let y = box.y + step / 2; y < box.y + box.height; y += step)
        for (let x = box.x + step / 2; x < box.x + box.width; x += step) d += `M${rounded(x)} ${rounded(y)}h.01`
      return [
        path(d, { fill: 'none', stroke: 'outline', 'stroke-width': 1.8, 'stroke-linecap': 'round', opacity: 0.8 }),
      ]
    }
    case 'picture':
      return [group([cropped(box, ground.asset, MIDDLE)], { opacity: ground.strength })]
    case 'map':
      return [
        group(
          [moved(path(ground.land(box), { fill: 'head', stroke: 'hairline', 'stroke-width': 0.75 }), box.x, box.y)],
          {
            opacity: ground.strength,
          },
        ),
      ]
  }
}

const rounded = (value: number): number => Math.round(value * 10) / 10
