import type { Day, Model, View } from '../../../../model'
import type { Against, Picture } from '../../../../notation'
import { type Box, type Scene } from '../../../../scene'
import { positionTurns } from '../../changes'
import { tree as gestures } from '../../gestures'
import { fteOf, structureOn } from '../../structure'
import { countOf } from '../../words'
import { choicesOf, drawPlan, MARGIN, type Look } from './drawing'
import { categoriesOf, legend, numberCategories } from './legend'
import { drawPages } from './pages'
import { planTree, type PlanNode } from './plan'

export const tree: Picture = {
  ...gestures,
  draw: drawTree,
  turns: positionTurns,
  needs: ['reports-to.line', 'holds beside', 'holds to', 'person.employer'],
}

function headlineOf(posts: readonly PlanNode['post'][]): string {
  const fte = posts.reduce((sum, { position, holders }) => sum + (holders.length > 0 ? fteOf(position) : 0), 0)
  const vacant = posts.filter(({ holders }) => holders.length === 0).length
  const parts = [countOf(posts.length, 'position'), `${Number(fte.toFixed(1))} fte`]
  if (vacant > 0) parts.push(`${vacant} vacant`)
  return parts.join(', ')
}

/** The organisation of a day as a tree of cards. O(positions + text). */
function drawTree(model: Model, view: View, day: Day, against?: Against): Scene {
  const structure = structureOn(model, day)
  const plan = planTree(structure, choicesOf(view))
  const posts = plan.map(({ post }) => post)
  const names = categoriesOf(model, posts, view.options['colour'] ?? 'unit')
  const numbers = numberCategories(names)
  const look: Look = { model, view, day, numbers, categories: new Map(plan.map(({ id }, i) => [id, names[i]])) }
  const summary = `An organisation chart of ${countOf(plan.length, 'position')}.`
  if (view.options['pages'] === 'a branch each' && !against) {
    const paged = drawPages(look, structure, plan)
    return { ...paged, headline: `${headlineOf(posts)}, on ${countOf(paged.pages.length, 'page')}`, summary }
  }
  const { box, items, links } = drawPlan(look, plan, 0, 0)
  const bounds = grown(box, MARGIN)
  const key = legend(numbers, bounds)
  return {
    bounds: { ...bounds, height: bounds.height + key.height },
    backdrop: key.marks,
    items,
    links,
    headline: headlineOf(posts),
    summary,
  }
}

const grown = ({ x, y, width, height }: Box, margin: number): Box => ({
  x: x - margin,
  y: y - margin,
  width: width + 2 * margin,
  height: height + 2 * margin,
})
