import type { Id } from '../../../../model'
import { kit, around, type Item, type Link, type Mark, type Page } from '../../../../scene'
import type { Structure } from '../../structure'
import { titleOf } from '../../words'
import { choicesOf, drawPlan, MARGIN, type Drawing, type Look } from './drawing'
import { legend } from './legend'
import { planTree, type PlanNode } from './plan'

const PAGE_GAP = 28
const PAGE_HEAD = 26

interface Paged {
  readonly bounds: Page['box']
  readonly backdrop: readonly Mark[]
  readonly items: readonly Item[]
  readonly links: readonly Link[]
  readonly pages: readonly Page[]
}

/** The upper levels on a page, and each branch below them on a page of its own, one under the other. */
export function drawPages(look: Look, structure: Structure, plan: readonly PlanNode[]): Paged {
  const { model, day, view } = look
  const shallow = plan.some(({ depth }) => depth === 1) ? 2 : 1
  const tops = new Set(
    plan
      .filter(({ depth, children, assistants }) => depth === shallow && children.length + assistants.length > 0)
      .map(({ id }) => id),
  )
  const choices = choicesOf(view)
  const overview = planTree(structure, { ...choices, folded: new Set([...choices.folded, ...tops]) })
  const drawings: { title: string; drawing: Drawing }[] = []
  let y = MARGIN + PAGE_HEAD
  const add = (title: string, nodes: readonly PlanNode[], elsewhere?: ReadonlySet<Id>) => {
    const drawing = drawPlan(look, nodes, MARGIN, y, elsewhere)
    drawings.push({ title, drawing })
    y = drawing.box.y + drawing.box.height + MARGIN + LEGEND_ROOM + PAGE_GAP + MARGIN + PAGE_HEAD
  }
  add('Overview', overview, tops)
  for (const id of tops)
    add(titleOf(model, id, day), planTree(structure, { ...choices, levels: choices.levels - shallow + 1, root: id }))
  const width = Math.max(...drawings.map(({ drawing }) => drawing.box.width)) + 2 * MARGIN
  const marks: Mark[] = []
  const pages = drawings.map(({ title, drawing: { box, items } }, index): Page => {
    const head = `${index + 1} of ${drawings.length}   ${title}`
    const frame = {
      x: 0,
      y: box.y - MARGIN - PAGE_HEAD,
      width,
      height: box.height + 2 * MARGIN + PAGE_HEAD + LEGEND_ROOM,
    }
    const here = new Set(items.map((item) => look.categories.get(item.facts[0] ?? item.id)))
    const key = legend(new Map([...look.numbers].filter(([name]) => here.has(name))), {
      ...frame,
      height: frame.height - LEGEND_ROOM,
    })
    marks.push(
      kit.rect(frame, { fill: 'none', stroke: 'hairline', 'stroke-width': 1 }),
      kit.text(MARGIN, frame.y + 24, head, { fill: 'ink-quiet', 'font-size': 12 }),
      ...key.marks,
    )
    return { title: head, box: frame }
  })
  return {
    bounds: around(
      pages.map(({ box }) => box),
      8,
    ),
    backdrop: marks,
    items: drawings.flatMap(({ drawing }) => drawing.items),
    links: drawings.flatMap(({ drawing }) => drawing.links),
    pages,
  }
}

const LEGEND_ROOM = 30
