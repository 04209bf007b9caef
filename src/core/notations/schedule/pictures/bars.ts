import { isoDay, startOf } from '../../../calendar'
import { dayInWords, type Day, type Id, type Model, type Relation, type View } from '../../../model'
import type { Against, Field, Picture } from '../../../notation'
import { CATEGORIES, textWidth, wrap, type Handle, type Item, type Link, type Mark, type Scene } from '../../../scene'
import { atEnd } from '../actions'
import { instantOf, planOn, planShown, textOf, typeOfLink, durationWords, type Plan, type Work } from '../plan'
import { baselineOf, slipOf } from '../baseline'
import { workerWords } from '../edits'
import { AXIS_HEIGHT, axisMarks, cellsOf, UNITS, type Axis } from './axis'
import { barsAxis, TABLE } from './barsAxis'
import { BAR, drawnFinish, drawnSpan, drawnStart, ROW } from './barRows'
import { pullBar, writeBar } from './barGestures'
import { boundsOfWay, linkMarks, linkWay, type BarSpot } from './links'

type Option = Field & { readonly initial?: string | number | boolean }
const shown = 'Shown'
const options: readonly Option[] = [
  { id: 'unit', label: 'Axis', type: 'choice', choices: ['auto', ...UNITS], initial: 'auto' },
  { id: 'colour', label: 'Colour by', type: 'choice', choices: ['critical', 'colour group'], initial: 'critical' },
  { id: 'links', label: 'Links', type: 'flag', initial: true, group: shown },
  { id: 'float', label: 'Float', type: 'flag', initial: true, group: shown },
  { id: 'baseline', label: 'Baseline', type: 'flag', initial: true, group: shown },
  { id: 'people', label: 'People', type: 'flag', initial: false, group: shown },
]

/** Bars over time: the outline as a table at the left, the dates as they are computed at the right. */
export const bars: Picture = {
  id: 'bars',
  title: 'Bars',
  draws: ['task', 'milestone', 'group', 'plan'],
  options,
  draw: drawBars,
  pull: pullBar,
  write: writeBar,
}

const NUMBER = 44
const LENGTH = 52

function drawBars(model: Model, view: View, day: Day, against?: Against): Scene {
  const plan = planShown(model, view, day)
  const { list } = plan
  const show = (option: string) => (view.options[option] ?? options.find(({ id }) => id === option)?.initial) === true
  const earlier = against && planOn(against.model, plan.plan?.id, against.day)
  const base = earlier ? undefined : show('baseline') ? baselineOf(model, plan, day) : undefined
  const axis = barsAxis(plan, view, base?.instants ?? [])
  const rowOf = new Map(list.map(({ id }, row) => [id, row]))
  const y = (row: number) => AXIS_HEIGHT + row * ROW
  const height = AXIS_HEIGHT + Math.max(1, list.length) * ROW + 12
  const width = TABLE + axis.width
  const colours = colourGroups(plan, view)

  const items: Item[] = []
  const links: Link[] = []
  const spots = new Map<Id, BarSpot>()
  list.forEach((work, row) => {
    const [from, to] = drawnSpan(work)
    const middle = y(row) + BAR.top + BAR.height / 2
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
    items.push(rowItem(work, y(row), row))
    items.push(barItem(model, work, axis, y(row), { show, base, earlier, fill: colours.get(work.id) }))
  })

  return {
    bounds: { x: 0, y: 0, width, height },
    backdrop: backdrop(plan, axis, height, y, rowOf, day),
    items,
    links,
    frozen: {
      top: [...axisMarks(axis), ...dayMarks(plan, axis, day)],
      left: [],
      corner: cornerMarks(),
      width: TABLE,
      height: AXIS_HEIGHT,
    },
    headline: headlineOf(plan, base),
    summary: `A plan of ${list.length} lines from ${dayInWords(isoDay(plan.begin))} to ${atEnd(plan)}: ${list
      .filter(({ depth }) => depth === 0)
      .map(({ entity }) => entity.name)
      .slice(0, 30)
      .join(', ')}.`,
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
function colourGroups({ list }: Plan, view: View): Map<Id, string> {
  const colours = new Map<Id, string>()
  if (view.options['colour'] !== 'colour group') return colours
  const groups = new Map<string, number>()
  for (const { id, entity } of list) {
    const name = textOf(entity, 'category')
    if (name === undefined) continue
    if (!groups.has(name)) groups.set(name, (groups.size % CATEGORIES) + 1)
    colours.set(id, `edge-${groups.get(name)}`)
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
    const box = { x: x1, y: y(row) + 12, width: Math.max(0, x2 - x1), height: rows * ROW + ROW - 12 }
    if (work.depth === 0) marks.push({ tag: 'rect', attrs: { ...box, fill: 'wash', stroke: 'none', opacity: 0.55 } })
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
    if (d !== '') marks.push({ tag: 'path', attrs: { d, fill: 'head', stroke: 'none', opacity: 0.7 } })
  }
  const verticals = cellsOf(axis)
    .upper.filter(({ from }) => from > axis.from)
    .map(({ from }) => `M${axis.x(from)} ${AXIS_HEIGHT}V${height}`)
  const rows = list.map((_, row) => `M${TABLE} ${y(row + 1)}H${TABLE + axis.width}`)
  marks.push(
    { tag: 'path', attrs: { d: rows.join('') || 'M0 0', stroke: 'hairline', 'stroke-width': 0.6, fill: 'none' } },
    { tag: 'path', attrs: { d: verticals.join('') || 'M0 0', stroke: 'hairline', 'stroke-width': 1, fill: 'none' } },
  )
  const x = axis.x(startOf(day))
  if (x >= TABLE && x <= TABLE + axis.width)
    marks.push({
      tag: 'path',
      attrs: { d: `M${x} ${AXIS_HEIGHT}V${height}`, stroke: 'error', 'stroke-width': 1.2, fill: 'none' },
    })
  const at = plan.status === undefined ? undefined : axis.x(drawnStart(plan.status, time))
  if (at !== undefined && Math.abs(at - x) > 2)
    marks.push({
      tag: 'path',
      attrs: {
        d: `M${at} ${AXIS_HEIGHT}V${height}`,
        stroke: 'ink-quiet',
        'stroke-width': 1.2,
        'stroke-dasharray': '5 3',
        fill: 'none',
      },
    })
  return marks
}

const leavesAndGroups = (work: Work): number =>
  work.children.reduce((sum, child) => sum + 1 + leavesAndGroups(child), 0)

/** The day shown and the status date, written in the axis. */
function dayMarks(plan: Plan, axis: Axis, day: Day): Mark[] {
  const label = (x: number, words: string, fill: string, y: number): Mark[] => {
    const room = textWidth(words, 10, 'text400') + 8
    if (x < TABLE || x > TABLE + axis.width) return []
    const left = Math.min(words === 'status' ? x - room : x, TABLE + axis.width - room)
    return [
      { tag: 'rect', attrs: { x: left, y: y - 10, width: room, height: 13, rx: 2, fill, stroke: 'none' } },
      {
        tag: 'text',
        attrs: { x: left + 4, y, fill: 'sheet', 'font-family': 'text', 'font-size': 10 },
        children: [words],
      },
    ]
  }
  const shownDay = startOf(day)
  const status = plan.status === undefined ? undefined : drawnStart(plan.status, plan.time)
  return [
    ...(status === undefined || status === shownDay ? [] : label(axis.x(status), 'status', 'ink-quiet', 37)),
    ...label(axis.x(shownDay), dayInWords(day).replace(/ \d{4}$/, ''), 'error', 37),
  ]
}

const headText = (x: number, words: string, anchor = 'start'): Mark => ({
  tag: 'text',
  attrs: { x, y: 33, fill: 'ink-quiet', 'font-family': 'text', 'font-size': 11, 'text-anchor': anchor },
  children: [words],
})
const cornerMarks = (): Mark[] => [
  { tag: 'rect', attrs: { x: 0, y: 0, width: TABLE, height: AXIS_HEIGHT, fill: 'head', stroke: 'none' } },
  {
    tag: 'path',
    attrs: {
      d: `M0 ${AXIS_HEIGHT - 0.5}H${TABLE}M${TABLE - 0.5} 0V${AXIS_HEIGHT}`,
      stroke: 'outline',
      'stroke-width': 1,
      fill: 'none',
    },
  },
  headText(12, 'No.'),
  headText(NUMBER + 8, 'Task'),
  headText(TABLE - 12, 'Duration', 'end'),
]

/** A work's line in the table. */
function rowItem(work: Work, top: number, row: number): Item {
  const { entity, number, depth, kind } = work
  const indent = NUMBER + 8 + Math.min(depth, 6) * 12
  const room = TABLE - LENGTH - indent
  const strong = kind === 'group'
  const name = wrap(entity.name, room, 12, strong ? 'text700' : 'text400', 1)[0] ?? ''
  const text = (x: number, words: string, attrs: Mark['attrs']): Mark => ({
    tag: 'text',
    attrs: { x, y: 21, fill: 'ink', 'font-family': 'text', 'font-size': 12, ...attrs },
    children: [words],
  })
  return {
    id: `row ${work.id}` as Id,
    facts: [work.id],
    label: `${number} ${entity.name}`,
    box: { x: 0, y: top, width: TABLE, height: ROW },
    stays: 'left',
    marks: [
      {
        tag: 'rect',
        attrs: { x: 0, y: 0, width: TABLE, height: ROW, fill: row % 2 === 0 ? 'sheet' : 'plate', stroke: 'none' },
      },
      {
        tag: 'path',
        attrs: {
          d: `M0 ${ROW}H${TABLE}M${TABLE - 0.5} 0V${ROW}`,
          stroke: 'hairline',
          'stroke-width': 0.8,
          fill: 'none',
        },
      },
      text(12, number, { fill: 'ink-quiet', 'font-family': 'mono', 'font-size': 11 }),
      text(indent, name, strong ? { 'font-weight': 700 } : {}),
      text(TABLE - 12, durationWords(work), { 'text-anchor': 'end', 'font-family': 'mono', 'font-size': 11 }),
    ],
    texts: [
      { part: 'name', value: entity.name, label: 'Task', box: { x: indent - 4, y: 4, width: room + 4, height: 24 } },
      ...(kind === 'task'
        ? [
            {
              part: 'duration',
              value: durationWords(work),
              label: 'Duration',
              box: { x: TABLE - LENGTH - 6, y: 4, width: LENGTH, height: 24 },
            },
          ]
        : []),
    ],
  }
}

interface Drawing {
  readonly show: (option: string) => boolean
  readonly base: ReturnType<typeof baselineOf>
  readonly earlier: Plan | undefined
  readonly fill: string | undefined
}

const LINK_REACH = 12

function barItem(model: Model, work: Work, axis: Axis, top: number, { show, base, earlier, fill }: Drawing): Item {
  const { entity, kind, critical, time } = work
  const [from, to] = drawnSpan(work)
  const [x1, x2] = [axis.x(from), axis.x(to)]
  const marks: Mark[] = []
  const was = earlier?.byId.get(work.id)
  const dates = was ? drawnSpan(was) : base?.spans.get(work.id)
  if (kind === 'milestone') {
    if (dates && dates[1] !== to) marks.push(diamond(axis.x(dates[1]) - x1 + 8, 8, 5, 'none', 'outline'))
    if (critical) marks.push(diamond(8, 8, 10.5, 'none', 'ink'))
    marks.push(diamond(8, 8, 7, 'ink', 'none'))
    marks.push(...deadlineMark(work, axis, x1 - 8))
    return {
      id: work.id,
      facts: [work.id],
      label: `milestone ${entity.name}`,
      box: { x: x1 - 8, y: top + BAR.top - 1, width: 16, height: 16 },
      marks,
      handles: [
        { id: 'link F', box: { x: 18, y: 2, width: LINK_REACH, height: 12 }, pulls: 'line' },
        { id: 'slide', box: { x: 0, y: 0, width: 16, height: 16 }, pulls: 'along' },
      ],
      texts: [],
    }
  }
  const width = Math.max(2, x2 - x1)
  const { height } = BAR
  if (kind === 'group') {
    const tip = Math.min(5, width / 2)
    marks.push({
      tag: 'path',
      attrs: {
        d: `M0 4H${width}v7l${-tip} -4H${tip}l${-tip} 4Z`,
        fill: critical ? 'bar-done' : 'action',
        stroke: 'none',
      },
    })
    return {
      id: work.id,
      facts: [work.id],
      label: `group ${entity.name}`,
      box: { x: x1, y: top + BAR.top - 3, width, height },
      marks,
      handles: [
        { id: 'link F', box: { x: width + 2, y: 0, width: LINK_REACH, height }, pulls: 'line' },
        { id: 'link S', box: { x: -LINK_REACH - 2, y: 0, width: LINK_REACH, height }, pulls: 'line' },
      ],
      texts: [],
    }
  }
  if (show('float') && work.totalFloat > 0 && textOf(entity, 'actualFinish') === undefined) {
    const end = axis.x(drawnFinish(work.lateFinish, time)) - x1
    if (end - width > 3)
      marks.push({
        tag: 'path',
        attrs: {
          d: `M${width} ${height / 2}H${end}M${end} ${height / 2 - 3}v6`,
          stroke: 'bar-done',
          'stroke-width': 1.5,
          'stroke-dasharray': '2 3',
          fill: 'none',
        },
      })
  }
  marks.push({
    tag: 'rect',
    attrs: {
      x: 0,
      y: 0,
      width,
      height,
      rx: Math.min(3, width / 2),
      fill: fill ?? (critical ? 'bar-strong' : 'bar'),
      stroke: 'none',
    },
  })
  if (work.done > 0)
    marks.push({
      tag: 'rect',
      attrs: {
        x: 0,
        y: height - 5,
        width: width * work.done,
        height: 5,
        rx: Math.min(2, width / 2),
        fill: 'bar-done',
        stroke: 'none',
      },
    })
  if (critical)
    marks.push({
      tag: 'rect',
      attrs: {
        x: -2,
        y: -2,
        width: width + 4,
        height: height + 4,
        rx: 4.5,
        fill: 'none',
        stroke: 'ink',
        'stroke-width': 1.3,
      },
    })
  if (dates) {
    const [a, b] = [axis.x(dates[0]) - x1, axis.x(dates[1]) - x1]
    const moved = Math.abs(a) > 0.5 || Math.abs(b - width) > 0.5
    marks.push({
      tag: 'rect',
      attrs: {
        x: a,
        y: height + 4,
        width: Math.max(2, b - a),
        height: 3,
        rx: 1.5,
        fill: moved ? 'outline' : 'hairline',
        stroke: 'none',
      },
    })
  }
  marks.push(...deadlineMark(work, axis, x1))
  const people = show('people') ? workerWords(model, work.id) : ''
  if (people) {
    const late = work.totalFloat > 0 && show('float') ? axis.x(drawnFinish(work.lateFinish, time)) - x1 : width
    marks.push({
      tag: 'text',
      attrs: { x: late + 14, y: height - 3, fill: 'ink-quiet', 'font-family': 'text', 'font-size': 11 },
      children: [people],
    })
  }
  return {
    id: work.id,
    facts: [work.id],
    label: `task ${entity.name}`,
    box: { x: x1, y: top + BAR.top, width, height },
    marks,
    handles: barHandles(width, height, work.done),
    texts: [],
  }
}

/** Ends for links stand out beside the bar; its right edge stretches, the done part's corner tells progress, all else slides. */
const barHandles = (width: number, height: number, done: number): Handle[] => [
  { id: 'link F', box: { x: width + 3, y: 0, width: LINK_REACH, height }, pulls: 'line' },
  { id: 'link S', box: { x: -LINK_REACH - 3, y: 0, width: LINK_REACH, height }, pulls: 'line' },
  {
    id: 'finish',
    box: { x: width - Math.min(6, width / 3), y: 0, width: Math.min(6, width / 3), height },
    pulls: 'along',
  },
  { id: 'progress', box: { x: Math.max(0, width * done - 4), y: height - 6, width: 8, height: 6 }, pulls: 'along' },
  { id: 'slide', box: { x: 0, y: 0, width, height }, pulls: 'along' },
]

const diamond = (x: number, y: number, r: number, fill: string, stroke: string): Mark => ({
  tag: 'path',
  attrs: { d: `M${x} ${y - r}L${x + r} ${y}L${x} ${y + r}L${x - r} ${y}Z`, fill, stroke, 'stroke-width': 1.3 },
})

/** A small flag where it has to be done; struck through in the colour of errors when it comes later. */
function deadlineMark(work: Work, axis: Axis, x1: number): Mark[] {
  const deadline = instantOf(textOf(work.entity, 'deadline'), work.time, 'finish')
  if (deadline === undefined) return []
  const x = axis.x(drawnFinish(deadline, work.time)) - x1
  const missed = work.finish > deadline
  const stroke = missed ? 'error' : 'ink-quiet'
  return [
    { tag: 'path', attrs: { d: `M${x} -4V19`, stroke, 'stroke-width': 1.5, fill: 'none' } },
    { tag: 'path', attrs: { d: `M${x} -5l7 3l-7 3Z`, fill: missed ? 'error' : 'ink-quiet', stroke: 'none' } },
  ]
}

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
    bounds: boundsOfWay(way),
    marks: linkMarks(way, strong),
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
