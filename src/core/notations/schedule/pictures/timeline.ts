import type { Model, View } from '../../../model'
import type { Picture } from '../../../notation'
import { around, CATEGORIES, type Item, type Mark, type Role, type Scene } from '../../../scene'
import { timeline as gestures } from '../gestures'
import { textOf } from '../plan'
import { placeCallouts } from '../../../layout'
import { workTurns } from '../turns'
import {
  ERA,
  eraItem,
  eraPlace,
  label,
  legend,
  legendWidth,
  packed,
  pointItem,
  STRIP,
  strip,
  textOfPoint,
  type Passed,
} from './timelineMarks'
import { BASE, factsOf, MARGIN, scaleOf, type Point, type Span } from './timeScale'

export const timeline: Picture = { ...gestures, draw: drawTimeline, turns: workTurns }

const TEXT = { narrow: 104, medium: 148, wide: 216 } as const

function drawTimeline(model: Model, view: View): Scene {
  const { points, spans } = factsOf(model, view)
  const scale = scaleOf(view, points, spans)
  const bands = [...new Set([...points, ...spans].map(({ entity }) => textOf(entity, 'band') ?? ''))]
  const colours = new Map<string, Role>(
    bands.map((band, i) => [band, band === '' ? 'ink' : `edge-${(i % CATEGORIES) + 1}`]),
  )
  const rows =
    view.options['bands'] === true && bands.length > 1
      ? bands.map((band) => ({
          band,
          points: points.filter(({ entity }) => (textOf(entity, 'band') ?? '') === band),
          spans: spans.filter(({ entity }) => (textOf(entity, 'band') ?? '') === band),
        }))
      : [{ band: '', points, spans }]
  const items: Item[] = []
  const backdrop: Mark[] = []
  const names: Passed[] = []
  let top = MARGIN
  for (const row of rows) {
    const drawn = drawRow(view, row, scale, colours, top)
    items.push(...drawn.items)
    backdrop.push(...drawn.backdrop)
    names.push(...drawn.eras)
    top = drawn.bottom + 28
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
    headline: `${points.length} ${points.length === 1 ? 'event' : 'events'}${spans.length > 0 ? `, ${spans.length} ${spans.length === 1 ? 'era' : 'eras'}` : ''}`,
    summary: `A timeline: ${points
      .map(({ words, entity }) => `${words}, ${entity.name}`)
      .slice(0, 60)
      .join('; ')}.`,
  }
}

interface Row {
  readonly band: string
  readonly points: readonly Point[]
  readonly spans: readonly Span[]
}

function drawRow(
  view: View,
  { band, points, spans }: Row,
  { x, axis, width }: ReturnType<typeof scaleOf>,
  colours: ReadonlyMap<string, Role>,
  top: number,
): { items: Item[]; backdrop: Mark[]; eras: readonly Passed[]; bottom: number } {
  const room = TEXT[view.options['width'] as keyof typeof TEXT] ?? TEXT.medium
  const texts = points.map(({ entity, words }) => textOfPoint(entity, words, room))
  const places = placeCallouts(
    points.map(({ entity, at }, i) => {
      const pin = view.pins[entity.id]?.[1]
      return {
        x: x(at),
        width: texts[i]?.width ?? room,
        height: texts[i]?.height ?? 0,
        ...(pin === undefined ? {} : { side: pin < 0 ? ('above' as const) : ('below' as const), least: Math.abs(pin) }),
      }
    }),
    BASE,
  )
  const reach = (side: 'above' | 'below') =>
    places.reduce(
      (most, place, i) => (place.side === side ? Math.max(most, place.out + (texts[i]?.height ?? 0)) : most),
      0,
    )
  const line = top + reach('above') + (band ? 18 : 0)
  const eras = packed(spans, x)
  const eraRows = Math.max(0, ...eras.map(({ row }) => row + 1))
  const under = line + STRIP + (eraRows > 0 ? eraRows * (ERA + 4) + 10 : 0)
  const backdrop: Mark[] = [...strip(axis, width, line)]
  if (band) backdrop.push(label(4, top + 10, band, { 'font-weight': 700, fill: 'ink', 'font-size': 12 }))
  const items: Item[] = []
  const eraTop = (rank: number) => line + STRIP + 10 + rank * (ERA + 4)
  const passed = eras.map(({ span, row }) => eraPlace(span, x, eraTop(row)))
  points.forEach((point, i) => {
    const place = places[i]
    const text = texts[i]
    if (place && text) items.push(pointItem(point, x(point.at), text, place, { line, under, passed }, colours))
  })
  // Eras lie over the stems that pass them.
  for (const { span, row } of eras) items.push(eraItem(span, x, eraTop(row), colours))
  return { items, backdrop, eras: passed, bottom: under + reach('below') }
}
