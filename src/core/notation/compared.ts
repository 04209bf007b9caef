import type { Day, Id, Model, View } from '../model'
import { around, kit, onPaper, textWidth, wrap, type Box, type Item, type Mark, type Scene } from '../scene'
import { withBadges } from './badge'
import { uncoloured, withEmphasis } from './emphasis'
import { inFrame } from './frame'
import { withLinks } from './link'
import type { Picture } from './notation'
import { pictureOf, type Registry } from './registry'
import { TURNS, type Against, type Turn } from './turn'
import { turnsOf } from './turns'

/** The picture of a view on a day; with other facts or another day, that of the later with what differs from the earlier. */
export function drawn(registry: Registry, model: Model, view: View, day: Day, against?: Against): Scene | undefined {
  const picture = pictureOf(registry, view)
  if (!picture) return undefined
  if (against) return onPaper(comparedBy(registry, picture, model, view, day, against), view.look)
  const { scene, legend } = withEmphasis(
    registry,
    picture.draw(model, uncoloured(picture, view), day),
    model,
    view,
    day,
  )
  return inFrame(withLinks(withBadges(scene, model), model), model, view, day, { legend, maps: registry.maps })
}

function comparedBy(registry: Registry, picture: Picture, model: Model, view: View, day: Day, against: Against): Scene {
  const { before, after } = inOrder({ model, day }, against)
  const now = picture.draw(after.model, view, after.day, before)
  const then = picture.draw(before.model, view, before.day, after)
  const stated = turnsOf(registry, before, after)
  const turns = picture.turns?.(before, after, stated) ?? stated
  return overlaid(
    now,
    then,
    (id) => turns.get(id),
    (id) => after.model.relations.has(id) || before.model.relations.has(id),
  )
}

/** The earlier of two days comes first; of two states of the facts the one compared with does. */
const inOrder = (shown: Against, against: Against): { before: Against; after: Against } =>
  against.model === shown.model && against.day > shown.day
    ? { before: shown, after: against }
    : { before: against, after: shown }

/** An item that differs, with how. */
interface Differing {
  readonly item: Item
  readonly turns: readonly Turn[]
}

const PALE = 0.4
const MARGIN = 24
const CARD = { width: 150, height: 44, gap: 12 }
const LINE = 15
const MOST_LINES = 60

/**
 * A scene with what differs from an earlier one: a dark tag of signs on all that is new or altered, others pale; beneath the picture
 * in words what each was before, and as struck cards those that are gone. Signs, dashes and words carry it, so that it reads in grey.
 * O(items of both).
 */
function overlaid(
  now: Scene,
  then: Scene,
  turnsOn: (fact: Id) => readonly Turn[] | undefined,
  isTie: (fact: Id) => boolean,
): Scene {
  const earlier = new Map(then.items.map((item) => [item.id, item]))
  const [known, shown] = [countsOf(then), countsOf(now)]
  // What its facts do not tell its label does, as of a sum; that of a tie names its ends, and a tie is told by its source.
  const turnsIn = (item: Item): readonly Turn[] => {
    const was = earlier.get(item.id)
    const own = ownOf(item)
    const stated = turnsOn(own) ?? []
    if (isTie(own)) return stated
    if (!known.has(own)) return [TURNS.new, ...stated]
    if (stated.length > 0 || !was) return stated
    return unnumbered(was.label) === unnumbered(item.label) ? [] : [{ ...TURNS.changed, words: `was ${was.label}` }]
  }
  const differing: Differing[] = []
  const items = now.items.map((item): Item => {
    const found = turnsIn(item)
    if (found.length === 0) return item.ground || item.stays ? item : { ...item, marks: pale(item.marks) }
    differing.push({ item, turns: found })
    const words = wordsOf(found)
    const label = `${item.label}: ${words || found.map(({ counted: word }) => word).join(', ')}`
    // A head at the side is not marked as well as what it is the head of.
    if (item.stays && (shown.get(ownOf(item)) ?? 0) > 1) return { ...item, label }
    return {
      ...item,
      label,
      marks: [...item.marks, ...tag(found, item.box)],
    }
  })
  const gone = then.items.filter((item) => !shown.has(ownOf(item)) && !isTie(ownOf(item)))
  const were = new Set(then.links.map(({ id }) => id))
  const links = now.links.map((link) => (were.has(link.id) ? { ...link, marks: pale(link.marks) } : link))
  // A fact that is drawn twice is told once.
  const told = once(differing, ({ item }) => item)
  const left = once(gone, (item) => item)
  const beneath = listed(
    told.filter(({ turns: found }) => wordsOf(found) !== ''),
    left,
    now.bounds,
  )
  const { pages: _, ...rest } = now
  return {
    ...rest,
    items: [...items, ...beneath.items],
    links,
    backdrop: [...now.backdrop, ...beneath.marks],
    bounds: beneath.bounds,
    headline: counted([...told.map(({ turns: found }) => found), ...left.map(() => [TURNS.gone])]),
  }
}

const ownOf = ({ id, facts }: Item): Id => facts[0] ?? id

/** How many items stand for each fact. */
function countsOf({ items }: Scene): ReadonlyMap<Id, number> {
  const counts = new Map<Id, number>()
  for (const item of items) counts.set(ownOf(item), (counts.get(ownOf(item)) ?? 0) + 1)
  return counts
}

const once = <T>(list: readonly T[], itemOf: (entry: T) => Item): T[] => {
  const known = new Set<Id>()
  return list.filter((entry) => {
    const own = ownOf(itemOf(entry))
    return !known.has(own) && known.add(own)
  })
}

/** A label without the number that it begins with: what only counts up is no difference. */
const unnumbered = (label: string): string => label.replace(/^\d+(\.\d+)*\s+/, '')

const pale = (marks: readonly Mark[]): Mark[] => [kit.group(marks, { opacity: PALE })]

const wordsOf = (turns: readonly Turn[]): string => turns.flatMap(({ words }) => words || []).join(', ')
const signsOf = (turns: readonly Turn[]): string => [...new Set(turns.map(({ sign }) => sign))].join(' ')

/** “+ 2 new, − 1 gone, → 8 moved”: each fact counted once for each way in which it differs. */
function counted(list: readonly (readonly Turn[])[]): string {
  const counts = new Map<string, number>()
  for (const turns of list)
    for (const word of new Set(turns.map((turn) => turn.counted))) counts.set(word, (counts.get(word) ?? 0) + 1)
  const signs = new Map(list.flat().map((turn) => [turn.counted, turn.sign]))
  const usual = Object.values(TURNS).map((turn) => turn.counted as string)
  const rank = (word: string) => usual.indexOf(word) + 1 || usual.length + 1
  const parts = [...counts].sort(([a], [b]) => rank(a) - rank(b))
  return parts.map(([word, count]) => `${signs.get(word)} ${count} ${word}`).join(', ') || 'no difference'
}

/** A dark tag with the signs on the upper edge, at the corner where no finding is marked. */
function tag(turns: readonly Turn[], { width, height }: Box): Mark[] {
  const signs = signsOf(turns)
  const tagWidth = textWidth(signs, 11, 'text700') + 12
  // Above what is hardly wider than the tag itself: beside it stands its name.
  const isSmall = width < tagWidth + 16
  const [x, y] = isSmall ? [(width - tagWidth) / 2, -18] : [4, -9]
  return [
    kit.rect(
      { x: -1.5, y: -1.5, width: width + 3, height: height + 3 },
      { rx: 4, fill: 'none', stroke: 'ink', 'stroke-width': 1.5 },
    ),
    kit.rect({ x, y, width: tagWidth, height: 16 }, { rx: 2, fill: 'ink', stroke: 'none' }),
    kit.text(x + tagWidth / 2, y + 12, signs, {
      fill: 'sheet',
      'font-size': 11,
      'font-weight': 700,
      'text-anchor': 'middle',
    }),
  ]
}

/** Beneath a picture: what was told of its items before, a line each, and cards of those that are gone. */
function listed(
  told: readonly Differing[],
  gone: readonly Item[],
  bounds: Box,
): { readonly marks: readonly Mark[]; readonly items: readonly Item[]; readonly bounds: Box } {
  if (told.length + gone.length === 0) return { marks: [], items: [], bounds }
  const left = bounds.x + MARGIN
  const width = Math.max(bounds.width - 2 * MARGIN, 2 * CARD.width)
  let y = bounds.y + bounds.height
  const marks: Mark[] = []
  const heading = (words: string) => {
    y += MARGIN
    marks.push(kit.text(left, y - 8, words, { fill: 'ink-quiet', 'font-size': 11 }))
  }
  if (told.length > 0) {
    heading('What was otherwise')
    for (const { item, turns } of told.slice(0, MOST_LINES)) {
      const line = `${signsOf(turns)} ${item.label}: ${wordsOf(turns)}`
      for (const part of wrap(line, width, 12, 'text400', 2)) {
        y += LINE
        marks.push(kit.text(left, y - 3, part, { fill: 'ink', 'font-size': 12 }))
      }
    }
    if (told.length > MOST_LINES) {
      y += LINE
      marks.push(
        kit.text(left, y - 3, `… and ${told.length - MOST_LINES} more`, { fill: 'ink-quiet', 'font-size': 12 }),
      )
    }
  }
  const items: Item[] = []
  if (gone.length > 0) {
    heading(`${TURNS.gone.sign} No longer there`)
    const perRow = Math.max(1, Math.floor((width + CARD.gap) / (CARD.width + CARD.gap)))
    gone.forEach((item, index) => {
      const at = {
        x: left + (index % perRow) * (CARD.width + CARD.gap),
        y: y + Math.floor(index / perRow) * (CARD.height + CARD.gap),
      }
      items.push(struck(item, { ...at, width: CARD.width, height: CARD.height }))
    })
    y += Math.ceil(gone.length / perRow) * (CARD.height + CARD.gap)
  }
  const all = around([bounds, ...items.map(({ box }) => box)], 0)
  return {
    marks,
    items,
    bounds: { ...all, width: Math.max(all.width, width + 2 * MARGIN), height: y + MARGIN / 2 - all.y },
  }
}

/** The card of an item that is gone. */
function struck({ id, facts, label }: Item, box: Box): Item {
  const line = (words: string, most: number) => wrap(words, box.width - 20, 11.5, 'text400', most)
  const [name = '', ...more] = label.split(' — ')
  const words = more.length === 0 ? line(name, 2) : [...line(name, 1), ...line(more.join(' — '), 1)]
  const paint = { fill: 'ink', 'font-size': 11.5, 'text-decoration': 'line-through' } as const
  return {
    id,
    facts,
    label: `${label}: gone`,
    box,
    marks: [
      kit.rect(
        { x: 0.5, y: 0.5, width: box.width - 1, height: box.height - 1 },
        { rx: 3, fill: 'sheet', stroke: 'outline', 'stroke-dasharray': '2 3' },
      ),
      ...kit.lines(12, words.length === 1 ? 26 : 18, 16, words, paint),
    ],
    texts: [],
  }
}
