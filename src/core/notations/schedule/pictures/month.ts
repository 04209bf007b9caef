import { civilOf, midnight } from '../../../calendar'
import { counted, type Day, type Id, type Model, type View } from '../../../model'
import { ordinal } from '../../../model'
import type { Picture } from '../../../notation'
import { kit, textWidth, wrap, type Item, type Mark, type Scene } from '../../../scene'
import { dayName } from '../calendars'
import { month as gestures } from '../gestures'
import { planShown, type Plan, type Work } from '../plan'
import { workTurns } from '../turns'
import { headlineOf } from './bars'
import { drawnSpan } from './barRows'
import { PLAN_NEEDS } from './needs'

export const month: Picture = {
  ...gestures,
  draw: drawMonths,
  turns: workTurns,
  needs: PLAN_NEEDS,
}

const CELL = 128
const WEEK = 34
const MARGIN = 20
const TITLE = 34
const HEAD = 20
const LEAST = 74
const DATE = 20
const BAR = 19
const NAMES = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
]
const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun']
const MOST_MONTHS = 60

/** First and last day of a work as they are drawn, by number since 1970-01-01. */
function daysOf(work: Work): readonly [first: number, last: number] {
  const [from, to] = drawnSpan(work)
  if (work.kind === 'milestone') {
    const day = Math.ceil(to / 1440) - 1
    return [Math.max(day, Math.floor(from / 1440) - 1), Math.max(day, Math.floor(from / 1440) - 1)]
  }
  return [Math.floor(from / 1440), Math.max(Math.floor(from / 1440), Math.ceil(to / 1440) - 1)]
}

/** O(weeks · tasks in them). */
function drawMonths(model: Model, view: View, day: Day): Scene {
  const plan = planShown(model, view, day)
  const done = view.options['finished'] !== false
  const works = plan.list.filter((work) => work.kind !== 'group' && (done || work.done < 1))
  const spans = works.map((work) => ({ work, days: daysOf(work) }))
  const [first, last] =
    spans.length === 0
      ? [ordinal(day), ordinal(day)]
      : [Math.min(...spans.map(({ days }) => days[0])), Math.max(...spans.map(({ days }) => days[1]))]
  const begin = civilOf(first)
  const end = civilOf(last)
  const count = Math.min(MOST_MONTHS, (end.year - begin.year) * 12 + end.month - begin.month + 1)
  const backdrop: Mark[] = []
  const items: Item[] = []
  let top = MARGIN
  for (let i = 0; i < count; i++) {
    const from = midnight(begin.year, begin.month + i) / 1440
    const to = midnight(begin.year, begin.month + i + 1) / 1440 - 1
    top = drawMonth(plan, spans, from, to, ordinal(day), top, backdrop, items) + MARGIN
  }
  return {
    bounds: { x: 0, y: 0, width: 7 * CELL + WEEK + 2 * MARGIN, height: top },
    backdrop,
    items,
    links: [],
    headline: headlineOf(plan),
    summary: `${counted(count, 'month')} of ${plan.plan?.name ?? 'a plan'} with ${counted(works.length, 'task')}.`,
  }
}

const text = kit.texts({ fill: 'ink-quiet', 'font-size': 11 })

function drawMonth(
  plan: Plan,
  spans: readonly { work: Work; days: readonly [number, number] }[],
  from: number,
  to: number,
  shown: number,
  top: number,
  backdrop: Mark[],
  items: Item[],
): number {
  const { year, month: at } = civilOf(from)
  const left = MARGIN + WEEK
  backdrop.push(text(left, top + 20, `${NAMES[at - 1]} ${year}`, { fill: 'ink', 'font-size': 15, 'font-weight': 700 }))
  WEEKDAYS.forEach((name, i) => backdrop.push(text(left + i * CELL + 6, top + TITLE + 13, name)))
  let y = top + TITLE + HEAD
  const monday = from - ((((from + 3) % 7) + 7) % 7)
  for (let week = monday; week <= to; week += 7) {
    const [a, b] = [Math.max(week, from), Math.min(week + 6, to)]
    const here = spans.filter(({ days }) => days[0] <= b && days[1] >= a)
    const ends: number[] = []
    const placed = here.map(({ work, days }) => {
      const [first, last] = [Math.max(days[0], a), Math.min(days[1], b)]
      let row = ends.findIndex((busy) => busy < first)
      if (row < 0) row = ends.length
      ends[row] = last
      return { work, first, last, row, begins: days[0] >= a, goesOn: days[1] > b }
    })
    const height = Math.max(LEAST, DATE + ends.length * (BAR + 3) + 6)
    for (let day = a; day <= b; day++) {
      const x = left + (day - week) * CELL
      const free = !plan.time.worksOn(day)
      const name = dayName(plan.calendar, day)
      backdrop.push(
        kit.rect(
          { x, y, width: CELL, height },
          { fill: free ? 'head' : 'sheet', stroke: 'hairline', 'stroke-width': 1 },
        ),
      )
      if (day === shown)
        backdrop.push(
          kit.rect(
            { x: x + 1, y: y + 1, width: CELL - 2, height: height - 2 },
            { fill: 'none', stroke: 'error', 'stroke-width': 1.5 },
          ),
        )
      const number = String(civilOf(day).day)
      backdrop.push(text(x + 6, y + 14, number, { fill: 'ink', 'font-weight': 700, 'font-family': 'mono' }))
      if (name)
        backdrop.push(text(x + 24, y + 14, wrap(name, CELL - 30, 10, 'text400', 1)[0] ?? '', { 'font-size': 10 }))
    }
    for (const { work, first, last, row, begins, goesOn } of placed)
      items.push(
        segment(
          work,
          left + (first - week) * CELL,
          y + DATE + row * (BAR + 3),
          (last - first + 1) * CELL,
          first,
          begins,
          goesOn,
        ),
      )
    y += height
  }
  return y
}

/** A task across the days of one week; where it goes on, its edge is open. */
function segment(
  work: Work,
  x: number,
  y: number,
  width: number,
  first: number,
  begins: boolean,
  goesOn: boolean,
): Item {
  const { entity, critical, kind } = work
  const [from, to] = [begins ? 3 : 0, width - (goesOn ? 0 : 3)]
  const label = wrap(entity.name, to - from - 14, 11, critical ? 'text700' : 'text400', 1)[0] ?? ''
  const marks: Mark[] =
    kind === 'milestone'
      ? [
          kit.path(`M12 ${BAR / 2 - 6}l6 6l-6 6l-6 -6Z`, { fill: 'ink', stroke: 'none' }),
          text(22, 13, wrap(entity.name, width - 26, 11, 'text700', 1)[0] ?? '', { fill: 'ink', 'font-weight': 700 }),
        ]
      : [
          kit.rect(
            { x: from, y: 0, width: to - from, height: BAR },
            { rx: begins && !goesOn ? 3 : 1, fill: 'bar', stroke: critical ? 'ink' : 'none', 'stroke-width': 1.3 },
          ),
          ...(work.done >= 1
            ? [kit.rect({ x: from, y: BAR - 3, width: to - from, height: 3 }, { fill: 'bar-done', stroke: 'none' })]
            : []),
          text(from + 6, 12, label, { fill: 'ink', ...(critical ? { 'font-weight': 700 } : {}) }),
        ]
  const room = Math.max(60, Math.min(width, textWidth(entity.name, 11, 'text700') + 24))
  return {
    id: `${work.id} ${first}` as Id,
    facts: [work.id],
    label: `${work.number} ${entity.name}`,
    box: { x, y, width, height: BAR },
    marks,
    texts: [{ part: 'name', value: entity.name, label: 'Task', box: { x: from, y: 0, width: room, height: BAR } }],
  }
}
