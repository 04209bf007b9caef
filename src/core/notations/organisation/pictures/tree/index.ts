import type { Day, Id, Model, View } from '../../../../model'
import type { Outcome, Picture, Wish } from '../../../../notation'
import { around, type Box, type Item, type Scene } from '../../../../scene'
import { handOver } from '../../actions'
import { changed, writeLineSteps } from '../../edits'
import { fteOf, structureOn } from '../../structure'
import { countOf, lineOf, readLine } from '../../words'
import { arrangeTree, type Places } from './arrange'
import { cardMarks, cardTexts, factsOf, makeCards, wordsOf, type Card } from './card'
import { compareItems, type Compared } from './compared'
import { dottedLinks } from './dotted'
import { categoryOf, COLOURINGS, legend, numberCategories } from './legend'
import { treeLinks } from './lines'
import { columnsOf, planTree, type Leaves, type PlanNode } from './plan'

const MARGIN = 24

export const tree: Picture = {
  id: 'tree',
  title: 'Tree',
  draws: ['position'],
  options: [
    { id: 'levels', label: 'Levels', type: 'choice', choices: ['all', '1', '2', '3', '4', '5', '6'], initial: 'all' },
    { id: 'colour', label: 'Colour by', type: 'choice', choices: COLOURINGS, initial: 'unit' },
    { id: 'leaves', label: 'Leaves in', type: 'choice', choices: ['auto', 'row', 'column'], initial: 'auto' },
  ],
  draw: drawTree,
  drop: handOver,
  write,
}

function headlineOf(plan: readonly PlanNode[]): string {
  const fte = plan.reduce((sum, { post }) => sum + (post.holders.length > 0 ? fteOf(post.position) : 0), 0)
  const vacant = plan.filter(({ post }) => post.holders.length === 0).length
  const parts = [countOf(plan.length, 'position'), `${Number(fte.toFixed(1))} fte`]
  if (vacant > 0) parts.push(`${vacant} vacant`)
  return parts.join(', ')
}

function planned(model: Model, view: View, day: Day): PlanNode[] {
  const { levels } = view.options
  const root = view.scope['root']
  return planTree(structureOn(model, day), {
    levels: typeof levels === 'string' && /^\d+$/.test(levels) ? Number(levels) : Infinity,
    ...(typeof root === 'string' ? { root: root as Id } : {}),
  })
}

/** Width to height of the sheet that an automatic arrangement aims at: a landscape page with its margins. */
const PAGE_SHAPE = 1.6
const HANG_FROM = [Infinity, 4, 3, 2]

/** The places of a plan; with 'auto' those of the arrangement whose shape comes nearest to a page's. O(positions). */
function arranged(plan: readonly PlanNode[], cards: readonly Card[], leaves: Leaves): Places {
  const arrange = (hangFrom: number) => arrangeTree(plan, cards, columnsOf(plan, leaves, hangFrom), leaves)
  if (leaves !== 'auto') return arrange(Infinity)
  let best: Places | undefined
  let least = Infinity
  for (const hangFrom of HANG_FROM) {
    const places = arrange(hangFrom)
    const misfit = Math.abs(Math.log(shapeOf(places, cards) / PAGE_SHAPE))
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
    left = Math.min(left, x[i] ?? 0)
    right = Math.max(right, (x[i] ?? 0) + width)
    bottom = Math.max(bottom, (y[i] ?? 0) + height)
  })
  return (right - left) / bottom
}

const leavesOf = (view: View): Leaves => {
  const leaves = view.options['leaves']
  return leaves === 'row' || leaves === 'column' ? leaves : 'auto'
}

/** The organisation of a day as a tree of cards; with a second day that of the later one, and what differs. O(positions + text). */
function drawTree(model: Model, view: View, shownDay: Day, compared?: Day): Scene {
  const [before, day] = compared === undefined || compared < shownDay ? [compared, shownDay] : [shownDay, compared]
  const plan = planned(model, view, day)
  const words = plan.map((node) => wordsOf(model, node, day))
  const cards = makeCards(words, plan)
  const places = arranged(plan, cards, leavesOf(view))
  const boxes = cards.map(({ width, height }, i): Box => ({ x: places.x[i] ?? 0, y: places.y[i] ?? 0, width, height }))
  const colouring = view.options['colour'] ?? 'unit'
  const names = plan.map(({ post }) => categoryOf(model, post.position, colouring))
  const numbers = numberCategories(names)
  const items = cards.flatMap((card, index): Item[] => {
    const node = plan[index]
    const box = boxes[index]
    if (!node || !box) return []
    const parent = plan[node.parent]?.id
    return [
      {
        id: node.id,
        facts: factsOf(node),
        label: lineOf(node.post) || 'Untitled position, vacant',
        box,
        marks: cardMarks(card, numbers.get(names[index] ?? '') ?? 0, node.hidden),
        texts: cardTexts(card),
        ...(parent === undefined ? {} : { parent }),
      },
    ]
  })
  const boxById = new Map(plan.flatMap(({ id }, i) => (boxes[i] ? [[id, boxes[i]] as const] : [])))
  const tree = around(boxes, MARGIN)
  const difference = before === undefined ? undefined : compareItems(model, items, tree, before, day)
  const drawn = difference ? withGhosts(tree, difference) : tree
  const key = legend(numbers, drawn)
  return {
    bounds: { ...drawn, height: drawn.height + key.height },
    backdrop: [...key.marks, ...(difference?.backdrop ?? [])],
    items: difference?.items ?? items,
    links: [...treeLinks(plan, places, boxes), ...dottedLinks(model, boxById, day)],
    headline: difference?.headline ?? headlineOf(plan),
    summary: `An organisation chart of ${countOf(plan.length, 'position')}.`,
  }
}

/** The drawing with the row of those that are gone beneath it. */
function withGhosts(tree: Box, { items, height }: Compared): Box {
  if (height === 0) return tree
  const all = around([tree, ...items.map(({ box }) => box)], 0)
  return { ...all, width: all.width + MARGIN, height: tree.height + height }
}

function write(wish: Wish, part: string, text: string): Outcome {
  const { model, day, selection } = wish
  const id = selection[0]
  const post = id === undefined ? undefined : structureOn(model, day).posts.get(id)
  if (id === undefined || !post) return { refused: 'This position is not in force on the day shown.' }
  const line = readLine(lineOf(post))
  const typed = text.trim()
  const holder = part === 'holder' ? typed : (line.holder ?? '')
  const title = part === 'title' ? typed : post.position.name
  const marks = `${line.acting ? ' (acting)' : ''}${post.assists ? ' (assistant)' : ''}`
  return changed(`Write “${typed.slice(0, 60)}”`, writeLineSteps(wish, id, `${holder || 'vacant'} — ${title}${marks}`))
}
