import type { Day, Id, Model, View } from '../../../model'
import { clip, textOf, type Picture } from '../../../notation'
import {
  around,
  kit,
  paperOf,
  plainOf,
  seenOf,
  wholeOf,
  POINTS,
  smallestText,
  themeFor,
  type Box,
  type Handle,
  type Item,
  type Mark,
  type Scene,
} from '../../../scene'
import { linesOn, type Lines, type Part } from '../structure'
import { inset } from './frame'
import { pointIn } from './images'
import { titleSays } from './middle'
import type { Arrange, Laid, Piece, Shown } from './shape'
import { largestType, lineBox, markOf, setInto, type SetText, type Slot, type Type } from './type'

/** The frame of a figure that is on no paper, in px. */
const PLAIN = { width: 960, height: 600 } as const
/** So many parts are drawn. */
export const MOST_DRAWN = 60
/** The margin of a paper, as a share of its smaller side. */
const MARGIN = 0.06
const CATEGORIES = 8

/** What a figure is about, and the parts it is drawn of: those under the only line on top, or the lines on top. */
export function shownOf({ figure, tops }: Lines, view: View, model: Model, day: Day): Shown {
  const [only] = tops
  const root = tops.length === 1 && only && only.parts.length > 1 ? only : undefined
  const parts = (root?.parts ?? tops).slice(0, MOST_DRAWN)
  const number = new Map(parts.map((part, at) => [part, (at % CATEGORIES) + 1]))
  return {
    title: root?.entity.name ?? figure?.name ?? view.title,
    root,
    parts,
    model,
    day,
    axes: { across: textOf(figure, 'across'), up: textOf(figure, 'up') },
    colourOf: (part) => number.get(part) ?? 0,
  }
}

/** A picture that arranges the lines of a figure on its paper: its type is the largest that holds them all. O(letters × log sizes) */
export const drawnBy =
  (arrange: Arrange): Picture['draw'] =>
  (model, view, day) =>
    sceneOf(arrange, model, view, day)

/** The part of the paper that is drawn on. */
export function frameOf(view: Pick<View, 'look'>): { readonly paper: Box; readonly frame: Box } {
  const { width, height } = paperOf(view.look) ?? PLAIN
  const paper = { x: 0, y: 0, width, height }
  return { paper, frame: inset(paper, Math.min(width, height) * MARGIN) }
}

function sceneOf(arrange: Arrange, model: Model, view: View, day: Day): Scene {
  const lines = linesOn(model, view, day)
  const shown = shownOf(lines, view, model, day)
  const { paper, frame } = frameOf(view)
  const count = shown.parts.length
  const all = shown.root?.parts.length ?? lines.tops.length
  const base = { bounds: paper, backdrop: [], items: [], links: [] }
  if (count === 0)
    return { ...base, ...paperIn(view, paper), headline: 'No parts yet', summary: 'A figure without parts.' }
  // A title that does not stand within the figure stands over it.
  const { centre } = arrange(shown, frame, { title: 1, head: 1, detail: 1 })
  const isWanted = view.options['title'] !== false
  const isTitled = isWanted && centre === undefined
  // What stands in the middle by itself is left out with the title; what parts hang on is not.
  const isCentred = centre !== undefined && (isWanted || centre.marks.length > 0)
  const layout = (type: Type) => {
    const band = isTitled
      ? Math.min(frame.height * 0.2, setInto({ box: frame, says: [titleSays(shown)] }, type).height + type.title * 0.5)
      : 0
    const below = { ...frame, y: frame.y + band, height: frame.height - band }
    const laid = arrange(shown, below, type)
    const title: Slot | undefined = isTitled
      ? { box: { ...frame, height: band }, says: [titleSays(shown)], stands: 'top' }
      : isCentred
        ? laid.centre?.slot
        : undefined
    return { laid, title }
  }
  const type = largestType(frame, themeFor(model.settings, view.look).type, (tried) => {
    const { laid, title } = layout(tried)
    return [...(title ? [title] : []), ...laid.pieces.flatMap(({ slots }) => slots), ...(laid.free ?? [])].every(
      (slot) => setInto(slot, tried).isWhole,
    )
  })
  const { laid, title } = layout(type)
  const items: Item[] = []
  let cut = 0
  if (title) {
    const set = setInto(title, type)
    if (!set.isWhole) cut++
    items.push(titleItem(shown, lines, view, laid, title, set, type))
  }
  for (const piece of laid.pieces) cut += itemsOf(piece, type, items)
  for (const slot of laid.free ?? []) cut += freeItems(slot, type, items)
  if (laid.free) tellInOrder(items, lines)
  const smallest = smallestText({ ...base, items, headline: '', summary: '' })
  const words = [
    all > count ? `the first ${count} of ${all.toLocaleString('en')} parts` : `${count} part${count === 1 ? '' : 's'}`,
    ...(laid.note === undefined ? [] : [laid.note]),
    ...(cut > 0 ? [`${cut} text${cut === 1 ? ' is' : 's are'} too long for this paper and cut`] : []),
  ]
  return {
    ...base,
    ...paperIn(view, paper),
    backdrop: laid.backdrop ?? [],
    items,
    headline: words.join(', '),
    summary: `${plainOf(shown.title)}: ${shown.parts.map(({ entity }) => clip(plainOf(entity.name))).join(', ')}. Smallest text ${(smallest * POINTS).toFixed(1)} pt.`,
  }
}

function paperIn({ look }: View, box: Box): Pick<Scene, 'paper'> | undefined {
  const paper = paperOf(look)
  return paper && { paper: { ...paper, box, scale: 1 } }
}

/** The title: a line of its own where it is one, else the figure itself. */
function titleItem(
  shown: Shown,
  { figure }: Lines,
  view: View,
  laid: Laid,
  slot: Slot,
  set: SetText,
  type: Type,
): Item {
  const box = laid.centre?.box ?? slot.box
  const id = shown.root?.id ?? figure?.id ?? view.id
  return {
    id,
    facts: [id],
    label: plainOf(shown.title),
    box,
    marks: [...moved(laid.centre?.marks ?? [], box), ...set.lines.map((line) => markOf(line, type, 'ink', box))],
    texts: [
      {
        part: 'name',
        value: shown.title,
        label: 'Title',
        isStyled: true,
        box: { x: 0, y: 0, width: box.width, height: box.height },
      },
    ],
  }
}

/** The item of a part, and one for each line under it, so that each can be selected and typed into. Answers how many texts are cut. */
function itemsOf({ part, key, box, marks, slots, isGround, picture }: Piece, type: Type, items: Item[]): number {
  const sets = slots.map((slot) => setInto(slot, type))
  const heads: Mark[] = []
  const byPart = new Map<Part, { marks: Mark[]; boxes: Box[] }>()
  slots.forEach((slot, at) => {
    const seen = new Set<unknown>()
    for (const line of sets[at]?.lines ?? []) {
      const { saying } = line
      const fill = slot.fill ?? (saying.rank === 'detail' ? 'ink-quiet' : 'ink')
      const sign = saying.sign !== undefined && !seen.has(saying)
      seen.add(saying)
      if (saying.part === part || saying.part === undefined) {
        heads.push(markOf(line, type, fill, box))
        continue
      }
      const own = byPart.get(saying.part) ?? { marks: [], boxes: [] }
      byPart.set(saying.part, own)
      own.boxes.push(lineBox(line, type))
      own.marks.push(markOf(line, type, fill, ZERO))
      if (sign)
        own.marks.push(
          kit.circle(line.x - type.detail * 0.5, line.y - type.detail * 0.3, type.detail * 0.11, {
            fill,
            stroke: 'none',
          }),
        )
    }
  })
  const id = key === undefined ? part.id : (`${part.id}~${key}` as Id)
  const [first] = slots
  items.push({
    id,
    ...(isGround ? { ground: true } : {}),
    ...(picture && part.entity.fields['image'] !== undefined ? { handles: [pointOf(part, picture, box)] } : {}),
    facts: [part.id],
    label: plainOf(part.entity.name),
    box,
    marks: [...moved(marks, box), ...heads],
    texts: first
      ? [{ part: 'name', value: part.entity.name, label: 'Text', isStyled: true, box: relative(first.box, box) }]
      : [],
  })
  for (const [one, own] of byPart) {
    const place = around(own.boxes, 1)
    items.push({
      id: one.id,
      facts: [one.id],
      label: plainOf(one.entity.name),
      box: place,
      marks: moved(own.marks, place),
      texts: [
        {
          part: 'name',
          value: one.entity.name,
          label: 'Text',
          isStyled: true,
          box: { x: 0, y: 0, width: place.width, height: place.height },
        },
      ],
      parent: id,
    })
  }
  return sets.filter(({ isWhole }) => !isWhole).length
}

const HANDLE = 14

/** The point of a picture that matters, to be pulled about. Its name says how large all of the picture is, in px. */
function pointOf({ entity: { fields } }: Part, picture: Box, at: Box): Handle {
  const point = pointIn(fields)
  const all = wholeOf(picture, seenOf(String(fields['image']), picture, point))
  const [x, y] = [all.x - at.x + all.width * point.x, all.y - at.y + all.height * point.y]
  return {
    id: `point ${Math.round(all.width)} ${Math.round(all.height)}`,
    box: { x: x - HANDLE / 2, y: y - HANDLE / 2, width: HANDLE, height: HANDLE },
    pulls: 'freely',
    isDotted: true,
  }
}

/** Texts of a slot that is no part’s own: an item for each line that is a part, and for each list of facts. */
function freeItems(slot: Slot, type: Type, items: Item[]): number {
  const set = setInto(slot, type)
  for (const saying of new Set(set.lines.map((line) => line.saying))) {
    const own = set.lines.filter((line) => line.saying === saying)
    const place = around(
      own.map((line) => lineBox(line, type)),
      1,
    )
    const { part, names = [] } = saying
    const [id] = part ? [part.id] : names
    if (id === undefined) continue
    const box = { x: 0, y: 0, width: place.width, height: place.height }
    items.push({
      id: part ? part.id : (`${id}~said` as Id),
      facts: part ? [part.id] : names,
      label: plainOf(saying.text),
      box: place,
      marks: own.map((line) => markOf(line, type, 'ink', place)),
      texts: part ? [{ part: 'name', value: part.entity.name, label: 'Text', isStyled: true, box }] : [],
    })
  }
  return set.isWhole ? 0 : 1
}

/** Items in the order in which their lines are read; grounds stay first, and what is of no line comes last. */
function tellInOrder(items: Item[], { all }: Lines): void {
  const order = new Map<Id, number>(all.map(({ id }, at) => [id, at]))
  const title = items[0]
  const placeOf = (item: Item): number =>
    item === title || item.ground ? -1 : (item.facts.flatMap((id) => order.get(id) ?? [])[0] ?? Infinity)
  const places = new Map(items.map((item) => [item, placeOf(item)]))
  items.sort((a, b) => (places.get(a) === places.get(b) ? 0 : (places.get(a) ?? 0) - (places.get(b) ?? 0)))
}

const ZERO: Box = { x: 0, y: 0, width: 0, height: 0 }
const relative = (inner: Box, outer: Box): Box => ({ ...inner, x: inner.x - outer.x, y: inner.y - outer.y })

/** Marks of the frame as seen from the corner of a box. */
export const moved = (marks: readonly Mark[], { x, y }: { readonly x: number; readonly y: number }): readonly Mark[] =>
  marks.map((mark) => kit.moved(mark, -x, -y))
