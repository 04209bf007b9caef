import { isoDay, startOf } from '../../../calendar'
import { counted, dayInWords, type Day, type Id, type Model, type Relation, type View } from '../../../model'
import { spacingOf, type Against, type Picture } from '../../../notation'
import {
  aroundPoints,
  CATEGORIES,
  kit,
  textWidth,
  type Item,
  type Link,
  type Mark,
  type Role,
  type Scene,
} from '../../../scene'
import { bars as gestures } from '../gestures'
import { atEnd, planOn, planShown, textOf, typeOfLink, type Plan, type Work } from '../plan'
import { baselineOf, slipOf } from '../baseline'
import { workTurns } from '../turns'
import { AXIS_HEIGHT, axisMarks, cellsOf, type Axis } from './axis'
import { pullBar } from './barGestures'
import { barItem, rowItem } from './barMarks'
import { BAR, drawnSpan, drawnStart, ROWS } from './barRows'
import { barsAxis, NUMBER, TABLE } from './barsAxis'
import { loadRows } from './loadRows'
import { ARROW, linkWay, type BarSpot } from './links'
import { PLAN_NEEDS } from './needs'

export const bars: Picture = {
  ...gestures,
  draw: drawBars,
  pull: pullBar,
  turns: workTurns,
  needs: [...PLAN_NEEDS, 'baseline beside', 'baseline.plan', 'baselined beside', 'baselined.start', 'baselined.finish'],
}

function drawBars(model: Model, view: View, day: Day, against?: Against): Scene {
  const plan = planShown(model, view, day)
  const { list } = plan
  const show = (option: string) =>
    (view.options[option] ?? gestures.options.find(({ id }) => id === option)?.initial) === true
  const earlier = against && planOn(against.model, plan.plan?.id, against.day)
  const base = earlier ? undefined : show('baseline') ? baselineOf(model, plan, day) : undefined
  const axis = barsAxis(plan, view, base?.instants ?? [])
  const rowOf = new Map(list.map(({ id }, row) => [id, row]))
  const rowHeight = ROWS[spacingOf(view)]
  const y = (row: number) => AXIS_HEIGHT + row * rowHeight
  /** Where a bar’s usual row begins. */
  const barY = (row: number) => y(row) + (rowHeight - ROWS.normal) / 2
  const loads = show('load') ? loadRows(model, plan, axis, day, y(Math.max(1, list.length))) : undefined
  const height = loads?.bottom ?? y(Math.max(1, list.length))
  const width = TABLE + axis.width
  const colours = colourGroups(plan, view)
  const flags = flagsOf(plan, axis, day)

  const items: Item[] = []
  const links: Link[] = []
  const spots = new Map<Id, BarSpot>()
  list.forEach((work, row) => {
    const [from, to] = drawnSpan(work)
    const middle = barY(row) + BAR.top + BAR.height / 2
    const reach = work.kind === 'milestone' ? 8 : 0
    spots.set(work.id, { from: axis.x(from) - reach, to: axis.x(to) + reach, middle })
  })
  if (show('links'))
    for (const link of plan.links) {
      const drawn = drawLink(plan, link, spots)
      if (drawn) links.push(drawn)
    }
  const drawnLinks = new Set(links.map(({ id }) => id))
  for (const link of plan.links) if (drawnLinks.has(link.id)) items.push(arrowItem(plan, link, spots.get(link.target)))
  list.forEach((work, row) => {
    items.push(rowItem(work, y(row), row, rowHeight))
    items.push(barItem(model, work, axis, barY(row), { show, base, earlier, fill: colours.get(work.id) }))
  })

  return {
    bounds: { x: 0, y: 0, width, height },
    backdrop: backdrop(plan, axis, height, y, rowOf, day),
    items: [...items, ...(loads?.items ?? [])],
    links,
    frozen: {
      top: [
        ...axisMarks(
          axis,
          0,
          flags.map(({ left, width: wide }) => [left, left + wide]),
        ),
        ...flags.flatMap(flagMarks),
      ],
      left: [],
      corner: cornerMarks(),
      width: TABLE,
      height: AXIS_HEIGHT,
    },
    headline: headlineOf(plan, base),
    summary: `A plan of ${counted(list.length, 'line')} from ${dayInWords(isoDay(plan.begin))} to ${atEnd(plan)}: ${list
      .filter(({ depth }) => depth === 0)
      .map(({ entity }) => entity.name)
      .slice(0, 30)
      .join(', ')}.${loads ? ` ${loads.summary}` : ''}`,
  }
}

export function headlineOf(plan: Plan, base?: ReturnType<typeof baselineOf>): string {
  const tasks = plan.list.filter(({ kind }) => kind === 'task').length
  const slip = base ? slipOf(plan, base) : 0
  const late = slip > 0 ? `${slip}d late` : slip < 0 ? `${-slip}d early` : ''
  return [tasks === 1 ? '1 task' : `${tasks} tasks`, plan.list.length > 0 ? `ends ${atEnd(plan)}` : '', late]
    .filter(Boolean)
    .join(', ')
}

/** A colour of its own for each colour group, in the order in which they first come. */
function colourGroups({ list }: Plan, view: View): Map<Id, Role> {
  const colours = new Map<Id, Role>()
  if (view.options['colour'] !== 'colour group') return colours
  const groups = new Map<string, number>()
  for (const { id, entity } of list) {
    const name = textOf(entity, 'category')
    if (name === undefined) continue
    const group = groups.get(name) ?? (groups.size % CATEGORIES) + 1
    groups.set(name, group)
    colours.set(id, `edge-${group}`)
  }
  return colours
}

function backdrop(
  plan: Plan,
  axis: Axis,
  height: number,
  y: (row: number) => number,
  rowOf: ReadonlyMap<Id, number>,
  day: Day,
): Mark[] {
  const { list, time } = plan
  const marks: Mark[] = []
  for (const work of list) {
    if (work.kind !== 'group') continue
    const rows = leavesAndGroups(work)
    const [from, to] = drawnSpan(work)
    const row = rowOf.get(work.id) ?? 0
    const [x1, x2] = [axis.x(from), axis.x(to)]
    const box = { x: x1, y: y(row) + 12, width: Math.max(0, x2 - x1), height: y(row + rows + 1) - y(row) - 12 }
    if (work.depth === 0) marks.push(kit.rect(box, { fill: 'wash', stroke: 'none', opacity: 0.55 }))
  }
  // Days without work, where a day is wide enough to be seen.
  if (axis.x(1440) - axis.x(0) >= 3.5) {
    let d = ''
    for (let day = Math.floor(axis.from / 1440); day * 1440 < axis.to; day++) {
      if (time.worksOn(day)) continue
      let end = day + 1
      while (!time.worksOn(end) && end * 1440 < axis.to) end++
      const [x1, x2] = [axis.x(day * 1440), axis.x(end * 1440)]
      d += `M${x1} ${AXIS_HEIGHT}H${x2}V${height}H${x1}Z`
      day = end
    }
    if (d !== '') marks.push(kit.path(d, { fill: 'head', stroke: 'none', opacity: 0.7 }))
  }
  const verticals = cellsOf(axis)
    .upper.filter(({ from }) => from > axis.from)
    .map(({ from }) => `M${axis.x(from)} ${AXIS_HEIGHT}V${height}`)
  const rows = list.map((_, row) => `M${TABLE} ${y(row + 1)}H${TABLE + axis.width}`)
  marks.push(
    kit.path(rows.join('') || 'M0 0', { stroke: 'hairline', 'stroke-width': 0.6, fill: 'none' }),
    kit.path(verticals.join('') || 'M0 0', { stroke: 'hairline', 'stroke-width': 1, fill: 'none' }),
  )
  const x = axis.x(startOf(day))
  if (x >= TABLE && x <= TABLE + axis.width)
    marks.push(kit.path(`M${x} ${AXIS_HEIGHT}V${height}`, { stroke: 'error', 'stroke-width': 1.2, fill: 'none' }))
  const at = plan.status === undefined ? undefined : axis.x(drawnStart(plan.status, time))
  if (at !== undefined && Math.abs(at - x) > 2)
    marks.push(
      kit.path(`M${at} ${AXIS_HEIGHT}V${height}`, {
        stroke: 'ink-quiet',
        'stroke-width': 1.2,
        'stroke-dasharray': '5 3',
        fill: 'none',
      }),
    )
  return marks
}

const leavesAndGroups = (work: Work): number =>
  work.children.reduce((sum, child) => sum + 1 + leavesAndGroups(child), 0)

interface Flag {
  readonly words: string
  readonly fill: Role
  readonly left: number
  readonly width: number
}

/** The day shown and the status date, as flags in the axis. */
function flagsOf(plan: Plan, axis: Axis, day: Day): Flag[] {
  const end = TABLE + axis.width
  const flag = (x: number, words: string, fill: Role, before: boolean): Flag[] => {
    const width = textWidth(words, 10, 'text400') + 8
    return x < TABLE || x > end ? [] : [{ words, fill, left: before ? x - width : Math.min(x, end - width), width }]
  }
  const shownDay = startOf(day)
  const status = plan.status === undefined ? undefined : drawnStart(plan.status, plan.time)
  return [
    ...(status === undefined || status === shownDay ? [] : flag(axis.x(status), 'status', 'ink-quiet', true)),
    ...flag(axis.x(shownDay), dayInWords(day).replace(/ \d{4}$/, ''), 'error', false),
  ]
}

const flagMarks = ({ words, fill, left, width }: Flag): Mark[] => [
  kit.rect({ x: left, y: 27, width, height: 13 }, { rx: 2, fill, stroke: 'none' }),
  kit.text(left + 4, 37, words, { fill: 'sheet', 'font-size': 10 }),
]

const headText = (x: number, words: string, anchor: 'start' | 'end' = 'start'): Mark =>
  kit.text(x, 33, words, { fill: 'ink-quiet', 'font-size': 11, 'text-anchor': anchor })
const cornerMarks = (): Mark[] => [
  kit.rect({ x: 0, y: 0, width: TABLE, height: AXIS_HEIGHT }, { fill: 'head', stroke: 'none' }),
  kit.path(`M0 ${AXIS_HEIGHT - 0.5}H${TABLE}M${TABLE - 0.5} 0V${AXIS_HEIGHT}`, {
    stroke: 'outline',
    'stroke-width': 1,
    fill: 'none',
  }),
  headText(12, 'No.'),
  headText(NUMBER + 8, 'Task'),
  headText(TABLE - 12, 'Duration', 'end'),
]

function drawLink(plan: Plan, link: Relation, spots: ReadonlyMap<Id, BarSpot>): Link | undefined {
  const [a, b] = [spots.get(link.source), spots.get(link.target)]
  if (!a || !b) return undefined
  const way = linkWay(a, b, typeOfLink(link))
  const [source, target] = [plan.byId.get(link.source), plan.byId.get(link.target)]
  const strong = source?.critical === true && target?.critical === true
  return {
    id: link.id,
    source: link.source,
    target: link.target,
    bounds: aroundPoints(way, 6),
    marks: kit.arrow(way, strong ? 'ink' : 'line', { width: strong ? 1.4 : 1, length: ARROW, half: 3.2 }),
  }
}

/** A link is taken hold of at its arrow. */
function arrowItem(plan: Plan, link: Relation, target: BarSpot | undefined): Item {
  const { from = 0, to = 0, middle = 0 } = target ?? {}
  const starts = typeOfLink(link)[1] === 'S'
  return {
    id: link.id,
    facts: [link.id],
    label: `${plan.byId.get(link.source)?.entity.name ?? ''} before ${plan.byId.get(link.target)?.entity.name ?? ''}`,
    box: { x: starts ? from - 9 : to + 1, y: middle - 5, width: 8, height: 10 },
    marks: [],
    texts: [],
  }
}
