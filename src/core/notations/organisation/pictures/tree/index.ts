import type { Day, Id, Model, View } from '../../../../model'
import type { Outcome, Picture, Wish } from '../../../../notation'
import { around, type Box, type Item, type Scene } from '../../../../scene'
import { handOver } from '../../actions'
import { changed, writeLineSteps } from '../../edits'
import { fteOf, structureOn } from '../../structure'
import { countOf, lineOf, readLine } from '../../words'
import { arrangeTree, type Placed } from './arrange'
import { cardMarks, cardTexts, factsOf, makeCards, wordsOf, type Card } from './card'
import { dottedLinks } from './dotted'
import { categoryOf, COLOURINGS, legend, numberCategories } from './legend'
import { treeLinks } from './lines'
import { planTree, type Arrangement, type PlanNode } from './plan'

const MARGIN = 24

export const tree: Picture = {
  id: 'tree',
  title: 'Tree',
  options: [
    { id: 'levels', label: 'Levels', type: 'choice', choices: ['all', '1', '2', '3', '4', '5', '6'], initial: 'all' },
    { id: 'colour', label: 'Colour by', type: 'choice', choices: COLOURINGS, initial: 'unit' },
    { id: 'leaves', label: 'Leaves in', type: 'choice', choices: ['auto', 'row', 'column'], initial: 'auto' },
  ],
  draw: drawTree,
  headline: (model, view, day) => {
    const plan = planned(model, view, day)
    const fte = plan.reduce((sum, { post }) => sum + (post.holders.length > 0 ? fteOf(post.position) : 0), 0)
    const vacant = plan.filter(({ post }) => post.holders.length === 0).length
    const parts = [countOf(plan.length, 'position'), `${Number(fte.toFixed(1))} fte`]
    if (vacant > 0) parts.push(`${vacant} vacant`)
    return parts.join(', ')
  },
  drop: handOver,
  write,
}

function planned(model: Model, view: View, day: Day, hangFrom = Infinity): PlanNode[] {
  const { levels } = view.options
  const root = view.scope['root']
  return planTree(structureOn(model, day), {
    levels: typeof levels === 'string' && /^\d+$/.test(levels) ? Number(levels) : Infinity,
    leaves: leavesOf(view),
    hangFrom,
    ...(typeof root === 'string' ? { root: root as Id } : {}),
  })
}

/** Width to height of the sheet that an automatic arrangement aims at: a landscape page with its margins. */
const PAGE_SHAPE = 1.6
const HANG_FROM = [Infinity, 4, 3, 2]

/** The plan and its places; with 'auto' the arrangement whose shape comes nearest to a page's. O(positions). */
function arranged(model: Model, view: View, day: Day, cards: readonly Card[], first: readonly PlanNode[]) {
  const leaves = leavesOf(view)
  const start = { plan: first, placed: arrangeTree(first, cards, leaves) }
  if (leaves !== 'auto') return start
  const misfit = ({ placed }: { placed: readonly Placed[] }) => {
    const { width, height } = around(placed, 0)
    return Math.abs(Math.log(Math.max(width, 1) / Math.max(height, 1) / PAGE_SHAPE))
  }
  return HANG_FROM.slice(1)
    .map((hangFrom) => {
      const plan = planned(model, view, day, hangFrom)
      return { plan, placed: arrangeTree(plan, cards, leaves) }
    })
    .reduce((best, next) => (misfit(next) < misfit(best) - 0.05 ? next : best), start)
}

const leavesOf = (view: View): Arrangement => {
  const leaves = view.options['leaves']
  return leaves === 'row' || leaves === 'column' ? leaves : 'auto'
}

/** The organisation of a day as a tree of cards. O(positions + text). */
function drawTree(model: Model, view: View, day: Day): Scene {
  const shown = planned(model, view, day)
  const cards = makeCards(
    shown.map((node) => wordsOf(model, node, day)),
    shown,
  )
  const { plan, placed } = arranged(model, view, day, cards, shown)
  const colouring = view.options['colour'] ?? 'unit'
  const names = plan.map(({ post }) => categoryOf(model, post.position, colouring))
  const numbers = numberCategories(names)
  const boxes = new Map<Id, Box>()
  const items = plan.map((node, index): Item => {
    const { x, y, width, height } = placed[index] ?? { x: 0, y: 0, width: 0, height: 0 }
    const card = cards[index]
    const box = { x, y, width, height }
    boxes.set(node.id, box)
    const parent = plan[node.parent]?.id
    return {
      id: node.id,
      facts: factsOf(node),
      label: lineOf(node.post) || 'Untitled position, vacant',
      box,
      marks: card ? cardMarks(card, numbers.get(names[index] ?? '') ?? 0, node.hidden) : [],
      texts: card ? cardTexts(card) : [],
      ...(parent === undefined ? {} : { parent }),
    }
  })
  const drawn = around(boxes.values(), MARGIN)
  const key = legend(numbers, drawn)
  return {
    bounds: { ...drawn, height: drawn.height + key.height },
    backdrop: key.marks,
    items,
    links: [...treeLinks(plan, placed), ...dottedLinks(model, boxes, day)],
    summary: `An organisation chart of ${countOf(plan.length, 'position')}.`,
  }
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
