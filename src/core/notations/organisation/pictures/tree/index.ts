import type { Day, Model, View } from '../../../../model'
import type { Against, Picture } from '../../../../notation'
import { around, type Box, type Scene } from '../../../../scene'
import { tree as gestures } from '../../gestures'
import { fteOf, structureOn } from '../../structure'
import { countOf } from '../../words'
import { compareItems, type Compared } from './compared'
import { choicesOf, drawPlan, MARGIN, type Look } from './drawing'
import { categoriesOf, legend, numberCategories } from './legend'
import { drawPages } from './pages'
import { planTree, type PlanNode } from './plan'

export const tree: Picture = { ...gestures, draw: drawTree }

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
