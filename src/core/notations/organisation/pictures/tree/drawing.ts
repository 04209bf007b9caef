import { nth } from '../../../../graph'
import type { Day, Id, Model, View } from '../../../../model'
import { spacingOf } from '../../../../notation'
import { around, paperOf, type Box, type Item, type Link } from '../../../../scene'
import { foldedIn } from '../../folds'
import { lineOf } from '../../words'
import { arrangeSideways, arrangeTree, type Places } from './arrange'
import { cardMarks, cardTexts, factsOf, makeCards, wordsOf, type Card, type CardLines } from './card'
import { dottedLinks } from './dotted'
import { treeLinks } from './lines'
import { columnsOf, type Leaves, type PlanChoices, type PlanNode } from './plan'

export const MARGIN = 24

function levelsOf({ options }: View): number {
  const { levels } = options
  return typeof levels === 'string' && /^\d+$/.test(levels) ? Number(levels) : Infinity
}

const rootOf = ({ scope }: View): Id | undefined =>
  typeof scope['root'] === 'string' ? (scope['root'] as Id) : undefined

/** What a view says about which positions are drawn. */
export function choicesOf(view: View): PlanChoices {
  const root = rootOf(view)
  return { levels: levelsOf(view), folded: foldedIn(view), ...(root === undefined ? {} : { root }) }
}

/** Width to height of the sheets that an automatic arrangement aims at, margins included: A4 either way (ISO 216), and 16 to 9. */
const PAGE_SHAPES: Readonly<Record<string, number>> = { landscape: 1.5, portrait: 0.68, screen: 1.8 }
const HANG_FROM = [Infinity, 4, 3, 2, 1, 0]
/** Of very many cards no arrangement meets a page: then fewer are tried. */
const MANY = 3000
const HANG_FROM_OF_MANY = [Infinity, 3]

/** The places of a plan; with 'auto' those of the arrangement whose shape comes nearest to the page's. O(positions). */
function arranged(plan: readonly PlanNode[], cards: readonly Card[], view: View): Places {
  if (view.options['grows'] === 'right') return arrangeSideways(plan, cards, spacingOf(view))
  const leaves = leavesOf(view)
  const paper = paperOf(view.look)
  const shape = paper ? paper.width / paper.height : (PAGE_SHAPES[String(view.options['page'])] ?? 1.5)
  const arrange = (hangFrom: number) =>
    arrangeTree(plan, cards, columnsOf(plan, leaves, hangFrom), leaves, spacingOf(view))
  if (leaves !== 'auto') return arrange(Infinity)
  let best: Places | undefined
  let least = Infinity
  for (const hangFrom of plan.length > MANY ? HANG_FROM_OF_MANY : HANG_FROM) {
    const places = arrange(hangFrom)
    const misfit = Math.abs(Math.log(shapeOf(places, cards) / shape))
    if (best === undefined || misfit < least - 0.05) {
      best = places
      least = misfit
    }
  }
  return best ?? arrange(Infinity)
}

/** Width over height of everything placed. */
function shapeOf({ x, y }: Places, cards: readonly Card[]): number {
  let [left, right, bottom] = [Infinity, 1, 1]
  cards.forEach(({ width, height }, i) => {
    left = Math.min(left, nth(x, i))
    right = Math.max(right, nth(x, i) + width)
    bottom = Math.max(bottom, nth(y, i) + height)
  })
  return (right - left) / bottom
}

const leavesOf = (view: View): Leaves => {
  const leaves = view.options['leaves']
  return leaves === 'row' || leaves === 'column' || leaves === 'two columns' ? leaves : 'auto'
}

function linesOf({ options }: View): CardLines {
  const on = (id: keyof CardLines) => options[id] === true
  return {
    title: options['title'] !== false,
    unit: on('unit'),
    location: on('location'),
    fte: on('fte'),
    dates: on('dates'),
    photo: on('photo'),
  }
}

/** A plan drawn at a place of the sheet. */
export interface Drawing {
  readonly items: readonly Item[]
  readonly links: readonly Link[]
  /** Around the cards, without a margin. */
  readonly box: Box
}

export interface Look {
  readonly model: Model
  readonly view: View
  readonly day: Day
  readonly numbers: ReadonlyMap<string, number>
  readonly categories: ReadonlyMap<Id, string | undefined>
}

/** The cards and lines of a plan, its upper left corner at a point. Cards of `elsewhere` are drawn a second time and get an identity of their own. */
export function drawPlan(
  look: Look,
  plan: readonly PlanNode[],
  left: number,
  top: number,
  elsewhere?: ReadonlySet<Id>,
): Drawing {
  const { model, view, day, numbers, categories } = look
  const lines = linesOf(view)
  const words = plan.map((node) => wordsOf(model, node, day, lines))
  const cards = makeCards(words, plan, lines)
  const places = arranged(plan, cards, view)
  let [leftmost, topmost] = [Infinity, Infinity]
  cards.forEach((_, i) => {
    leftmost = Math.min(leftmost, nth(places.x, i))
    topmost = Math.min(topmost, nth(places.y, i))
  })
  const boxes = cards.map(({ width, height }, i): Box => ({
    x: nth(places.x, i) - leftmost + left,
    y: nth(places.y, i) - topmost + top,
    width,
    height,
  }))
  const moved: Places = {
    x: places.x,
    y: places.y,
    tie: places.tie,
    stemX: places.stemX.map((x) => x - leftmost + left),
  }
  const keyOf = (id: Id) => (elsewhere?.has(id) ? (`on-top ${id}` as Id) : id)
  const items = cards.flatMap((card, index): Item[] => {
    const node = plan[index]
    const box = boxes[index]
    if (!node || !box) return []
    const parent = plan[node.parent]?.id
    return [
      {
        id: keyOf(node.id),
        facts: factsOf(node),
        label: lineOf(node.post) || 'Untitled position, vacant',
        box,
        marks: cardMarks(card, numbers.get(categories.get(node.id) ?? '') ?? 0, node.hidden),
        texts: cardTexts(card),
        ...(parent === undefined ? {} : { parent: keyOf(parent) }),
      },
    ]
  })
  const boxById = new Map(plan.flatMap(({ id }, i) => (boxes[i] ? [[id, boxes[i]] as const] : [])))
  return {
    items,
    links: [...treeLinks(plan, moved, boxes), ...dottedLinks(model, boxById, day)],
    box: around(boxes, 0),
  }
}
