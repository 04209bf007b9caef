import type { Day, Model, View } from '../../../model'
import type { Picture } from '../../../notation'
import { around, CATEGORIES, type Item, type Mark, type Role, type Scene } from '../../../scene'
import { timeline as gestures } from '../gestures'
import { workTurns } from '../turns'
import {
  ERA,
  eraItem,
  eraPlace,
  label,
  legend,
  legendWidth,
  pointItem,
  STRIP,
  strip,
  type Passed,
} from './timelineMarks'
import { layTimeline, type LaidRow } from './timelineRows'
import { PLAN_NEEDS } from './needs'
import { pullEvent } from './timelineGestures'
import { MARGIN, type Point, type Span, type TimeScale } from './timeScale'
import { toldBy } from './timelineWork'

export const timeline: Picture = {
  ...gestures,
  draw: drawTimeline,
  pull: pullEvent,
  turns: workTurns,
  needs: [
    ...PLAN_NEEDS,
    'plan beside',
    'event.plan',
    'event.when',
    'event.until',
    'event.weight',
    'event.band',
    'era.plan',
    'era.when',
    'era.until',
    'era.weight',
    'era.band',
  ],
}

function drawTimeline(model: Model, view: View, day: Day): Scene {
  const facts = toldBy(model, view, day)
  const { points, reckoned, left } = facts
  const { scale, bands, rows, bottom: top } = layTimeline(view, facts)
  const colours = new Map<string, Role>(
    bands.map((band, i) => [band, band === '' ? 'ink' : `edge-${(i % CATEGORIES) + 1}`]),
  )
  const items: Item[] = []
  const backdrop: Mark[] = []
  const names: Passed[] = []
  for (const row of rows) {
    const drawn = drawRow(row, scale, colours)
    items.push(...drawn.items.map((item) => (reckoned.has(item.id) ? asReckoned(item) : item)))
    backdrop.push(...drawn.backdrop)
    names.push(...drawn.eras)
  }
  const shown = bands.filter((band) => band !== '')
  if (rows.length === 1 && shown.length > 1) backdrop.push(...legend(shown, colours, top - 8))
  const boxes = [
    ...items.map(({ box }) => box),
    // A name may stand beside its era, and the words for the bands beneath all of it.
    ...names.map(({ from, to, top: y }) => ({ x: from, y, width: to - from, height: ERA })),
    { x: 0, y: 0, width: rows.length === 1 && shown.length > 1 ? legendWidth(shown) : 0, height: 0 },
    { x: 0, y: 0, width: scale.width + MARGIN, height: top + (shown.length > 1 ? 16 : 0) },
  ]
  const reach = around(boxes, 0)
  const bounds = { x: 0, y: 0, width: reach.x + reach.width + MARGIN, height: reach.y + reach.height + MARGIN / 2 }
  return {
    bounds,
    backdrop,
    items,
    links: [],
    headline: headlineOf(facts, left),
    summary: `A timeline: ${points
      .map(({ words, entity }) => `${words}, ${entity.name}`)
      .slice(0, 60)
      .join('; ')}.`,
  }
}

/** What the plan says: its name may be typed, its dates are worked out. */
const asReckoned = ({ handles: _handles, ...item }: Item): Item => ({
  ...item,
  ...(item.texts ? { texts: item.texts.filter(({ part }) => part === 'name') } : {}),
})

function headlineOf({ points, spans, reckoned }: ReturnType<typeof toldBy>, left: number): string {
  const count = (list: readonly (Point | Span)[], of: readonly [one: string, more: string], isOfPlan: boolean) => {
    const found = list.filter(({ entity }) => reckoned.has(entity.id) === isOfPlan).length
    return found > 0 ? `${found} ${found === 1 ? of[0] : of[1]}` : ''
  }
  const parts = [
    count(points, ['event', 'events'], false),
    count(spans, ['era', 'eras'], false),
    count(points, ['milestone', 'milestones'], true),
    count(
      spans.filter(({ entity }) => entity.kind === 'group'),
      ['group', 'groups'],
      true,
    ),
    count(
      spans.filter(({ entity }) => entity.kind === 'task'),
      ['task', 'tasks'],
      true,
    ),
    left > 0 ? `${left} tasks not drawn` : '',
  ].filter(Boolean)
  return parts.join(', ') || '0 events'
}

function drawRow(
  { band, points, texts, places, eras, top, line, under }: LaidRow,
  scale: TimeScale,
  colours: ReadonlyMap<string, Role>,
): { items: Item[]; backdrop: Mark[]; eras: readonly Passed[] } {
  const { x, axis, width, words } = scale
  const backdrop: Mark[] = [...strip(axis, width, line)]
  if (band) backdrop.push(label(4, top + 10, band, { 'font-weight': 700, fill: 'ink', 'font-size': 12 }))
  const items: Item[] = []
  const eraTop = (rank: number) => line + STRIP + 10 + rank * (ERA + 4)
  const passed = eras.map(({ span, row }) => eraPlace(span, x, eraTop(row)))
  points.forEach((point, i) => {
    const place = places[i]
    const text = texts[i]
    if (place && text) items.push(pointItem(point, x(point.at), text, place, { line, under, words, passed }, colours))
  })
  // Eras lie over the stems that pass them.
  for (const { span, row } of eras) items.push(eraItem(span, scale, eraTop(row), colours))
  return { items, backdrop, eras: passed }
}
