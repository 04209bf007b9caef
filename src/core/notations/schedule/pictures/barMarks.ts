import type { Id, Model } from '../../../model'
import { kit, wrap, type Handle, type Item, type Mark, type Role } from '../../../scene'
import type { baselineOf } from '../baseline'
import { workerWords } from '../edits'
import { durationWords, instantOf, textOf, type Plan, type Work } from '../plan'
import type { Axis } from './axis'
import { LENGTH, NUMBER, TABLE } from './barsAxis'
import { BAR, drawnFinish, drawnSpan } from './barRows'

/** A work's line in the table. */
export function rowItem(work: Work, top: number, row: number, height: number): Item {
  const { entity, number, depth, kind } = work
  const indent = NUMBER + 8 + Math.min(depth, 6) * 12
  const room = TABLE - LENGTH - indent
  const strong = kind === 'group'
  const name = wrap(entity.name, room, 12, strong ? 'text700' : 'text400', 1)[0] ?? ''
  const text = kit.texts({ fill: 'ink', 'font-size': 12 })
  const line = height / 2 + 5
  const field = { y: height / 2 - 12, height: 24 }
  return {
    id: `row ${work.id}` as Id,
    facts: [work.id],
    label: `${number} ${entity.name}`,
    box: { x: 0, y: top, width: TABLE, height },
    stays: 'left',
    marks: [
      kit.rect({ x: 0, y: 0, width: TABLE, height }, { fill: row % 2 === 0 ? 'sheet' : 'plate', stroke: 'none' }),
      kit.path(`M0 ${height}H${TABLE}M${TABLE - 0.5} 0V${height}`, {
        stroke: 'hairline',
        'stroke-width': 0.8,
        fill: 'none',
      }),
      text(12, line, number, { fill: 'ink-quiet', 'font-family': 'mono', 'font-size': 11 }),
      text(indent, line, name, strong ? { 'font-weight': 700 } : {}),
      text(TABLE - 12, line, durationWords(work), { 'text-anchor': 'end', 'font-family': 'mono', 'font-size': 11 }),
    ],
    texts: [
      { part: 'name', value: entity.name, label: 'Task', box: { x: indent - 4, width: room + 4, ...field } },
      ...(kind === 'task'
        ? [
            {
              part: 'duration',
              value: durationWords(work),
              label: 'Duration',
              box: { x: TABLE - LENGTH - 6, width: LENGTH, ...field },
            },
          ]
        : []),
    ],
  }
}

export interface Drawing {
  readonly show: (option: string) => boolean
  readonly base: ReturnType<typeof baselineOf>
  readonly earlier: Plan | undefined
  readonly fill: Role | undefined
}

const LINK_REACH = 12

export function barItem(
  model: Model,
  work: Work,
  axis: Axis,
  top: number,
  { show, base, earlier, fill }: Drawing,
): Item {
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
    marks.push(
      kit.path(`M0 4H${width}v7l${-tip} -4H${tip}l${-tip} 4Z`, {
        fill: critical ? 'bar-done' : 'action',
        stroke: 'none',
      }),
    )
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
      marks.push(
        kit.path(`M${width} ${height / 2}H${end}M${end} ${height / 2 - 3}v6`, {
          stroke: 'bar-done',
          'stroke-width': 1.5,
          'stroke-dasharray': '2 3',
          fill: 'none',
        }),
      )
  }
  marks.push(
    kit.rect(
      { x: 0, y: 0, width, height },
      { rx: Math.min(3, width / 2), fill: fill ?? (critical ? 'bar-strong' : 'bar'), stroke: 'none' },
    ),
  )
  if (work.done > 0)
    marks.push(
      kit.rect(
        { x: 0, y: height - 5, width: width * work.done, height: 5 },
        { rx: Math.min(2, width / 2), fill: 'bar-done', stroke: 'none' },
      ),
    )
  if (critical)
    marks.push(
      kit.rect(
        { x: -2, y: -2, width: width + 4, height: height + 4 },
        { rx: 4.5, fill: 'none', stroke: 'ink', 'stroke-width': 1.3 },
      ),
    )
  if (dates) {
    const [a, b] = [axis.x(dates[0]) - x1, axis.x(dates[1]) - x1]
    const moved = Math.abs(a) > 0.5 || Math.abs(b - width) > 0.5
    marks.push(
      kit.rect(
        { x: a, y: height + 4, width: Math.max(2, b - a), height: 3 },
        { rx: 1.5, fill: moved ? 'outline' : 'hairline', stroke: 'none' },
      ),
    )
  }
  marks.push(...deadlineMark(work, axis, x1))
  const people = show('people') ? workerWords(model, work.id) : ''
  if (people) {
    const late = work.totalFloat > 0 && show('float') ? axis.x(drawnFinish(work.lateFinish, time)) - x1 : width
    marks.push(kit.text(late + 14, height - 3, people, { fill: 'ink-quiet', 'font-size': 11 }))
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

const diamond = (x: number, y: number, r: number, fill: Role, stroke: Role): Mark =>
  kit.path(`M${x} ${y - r}L${x + r} ${y}L${x} ${y + r}L${x - r} ${y}Z`, { fill, stroke, 'stroke-width': 1.3 })

/** A small flag where it has to be done; struck through in the colour of errors when it comes later. */
function deadlineMark(work: Work, axis: Axis, x1: number): Mark[] {
  const deadline = instantOf(textOf(work.entity, 'deadline'), work.time, 'finish')
  if (deadline === undefined) return []
  const x = axis.x(drawnFinish(deadline, work.time)) - x1
  const missed = work.finish > deadline
  const stroke = missed ? 'error' : 'ink-quiet'
  return [
    kit.path(`M${x} -4V19`, { stroke, 'stroke-width': 1.5, fill: 'none' }),
    kit.path(`M${x} -5l7 3l-7 3Z`, { fill: missed ? 'error' : 'ink-quiet', stroke: 'none' }),
  ]
}
