import type { Day, Model, View } from '../../../../model'
import {
  changed,
  NOT_IN_FORCE,
  writing,
  type Against,
  type Outcome,
  type Picture,
  type Wish,
} from '../../../../notation'
import { around, type Box, type Scene } from '../../../../scene'
import { handOver, handOverAlone } from '../../handOver'
import { writeLineSteps } from '../../edits'
import { UNTITLED } from '../../kinds'
import { fteOf, structureOn } from '../../structure'
import { countOf, readHolders, saidOf } from '../../words'
import { compareItems, type Compared } from './compared'
import { choicesOf, drawPlan, MARGIN, type Look } from './drawing'
import { categoriesOf, COLOURINGS, legend, numberCategories } from './legend'
import { drawPages } from './pages'
import { planTree, type PlanNode } from './plan'

const LINES = 'Lines of a box'

export const tree: Picture = {
  id: 'tree',
  title: 'Tree',
  draws: ['position'],
  options: [
    { id: 'levels', label: 'Levels', type: 'choice', choices: ['all', '1', '2', '3', '4', '5', '6'], initial: 'all' },
    { id: 'colour', label: 'Colour by', type: 'choice', choices: COLOURINGS, initial: 'unit' },
    {
      id: 'leaves',
      label: 'Leaves in',
      type: 'choice',
      choices: ['auto', 'row', 'column', 'two columns'],
      initial: 'auto',
    },
    { id: 'grows', label: 'Grows', type: 'choice', choices: ['down', 'right'], initial: 'down' },
    {
      id: 'page',
      label: 'For a page',
      type: 'choice',
      choices: ['landscape', 'portrait', 'screen'],
      initial: 'landscape',
    },
    { id: 'pages', label: 'Pages', type: 'choice', choices: ['one', 'a branch each'], initial: 'one' },
    { id: 'title', label: 'Title', type: 'flag', initial: true, group: LINES },
    { id: 'unit', label: 'Unit', type: 'flag', initial: false, group: LINES },
    { id: 'location', label: 'Location', type: 'flag', initial: false, group: LINES },
    { id: 'fte', label: 'Fte', type: 'flag', initial: false, group: LINES },
    { id: 'dates', label: 'Dates', type: 'flag', initial: false, group: LINES },
    { id: 'photo', label: 'Photo', type: 'flag', initial: false, group: LINES },
  ],
  draw: drawTree,
  drop: (wish) => (wish.alone ? handOverAlone(wish) : handOver(wish)),
  write,
}

function headlineOf(posts: readonly PlanNode['post'][]): string {
  const fte = posts.reduce((sum, { position, holders }) => sum + (holders.length > 0 ? fteOf(position) : 0), 0)
  const vacant = posts.filter(({ holders }) => holders.length === 0).length
  const parts = [countOf(posts.length, 'position'), `${Number(fte.toFixed(1))} fte`]
  if (vacant > 0) parts.push(`${vacant} vacant`)
  return parts.join(', ')
}

/** The organisation of a day as a tree of cards; with a second day that of the later one, and what differs. O(positions + text). */
function drawTree(shown: Model, view: View, shownDay: Day, against?: Against): Scene {
  const { before, after } = inOrder({ model: shown, day: shownDay }, against)
  const { model, day } = after
  const structure = structureOn(model, day)
  const plan = planTree(structure, choicesOf(view))
  const posts = plan.map(({ post }) => post)
  const names = categoriesOf(model, posts, view.options['colour'] ?? 'unit')
  const numbers = numberCategories(names)
  const look: Look = { model, view, day, numbers, categories: new Map(plan.map(({ id }, i) => [id, names[i]])) }
  const summary = `An organisation chart of ${countOf(plan.length, 'position')}.`
  if (view.options['pages'] === 'a branch each' && before === undefined) {
    const paged = drawPages(look, structure, plan)
    return { ...paged, headline: `${headlineOf(posts)}, on ${countOf(paged.pages.length, 'page')}`, summary }
  }
  const drawing = drawPlan(look, plan, 0, 0)
  const tree = grown(drawing.box, MARGIN)
  const difference = before === undefined ? undefined : compareItems(drawing.items, tree, before, after)
  const drawn = difference ? withGhosts(tree, difference) : tree
  const key = legend(numbers, drawn)
  return {
    bounds: { ...drawn, height: drawn.height + key.height },
    backdrop: [...key.marks, ...(difference?.backdrop ?? [])],
    items: difference?.items ?? drawing.items,
    links: drawing.links,
    headline: difference?.headline ?? headlineOf(posts),
    summary,
  }
}

const grown = ({ x, y, width, height }: Box, margin: number): Box => ({
  x: x - margin,
  y: y - margin,
  width: width + 2 * margin,
  height: height + 2 * margin,
})

/** The earlier of two days comes first; of two states of the facts the one compared with does. */
function inOrder(shown: Against, against: Against | undefined): { before: Against | undefined; after: Against } {
  if (against && against.model === shown.model && against.day > shown.day) return { before: shown, after: against }
  return { before: against, after: shown }
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
  if (id === undefined || !post) return NOT_IN_FORCE
  const said = saidOf(post)
  const all = said.holders.length > 0 && said.holders.every(({ acting }) => acting)
  const line =
    part === 'title' ? { ...said, title: text.trim() || UNTITLED } : { ...said, holders: readHolders(text, all) }
  return changed(writing(text), writeLineSteps(wish, id, line))
}
