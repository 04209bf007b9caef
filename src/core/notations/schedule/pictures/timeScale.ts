import { readWhen, whenInWords, type Instant } from '../../../calendar'
import type { Entity, Model, View } from '../../../model'
import { planOf, textOf } from '../plan'
import { UNITS } from '../terms'
import { axisOf, unitFor, type Axis } from './axis'

export const MARGIN = 24
/** From the line to the nearest callout. */
export const BASE = 18
const AUTO_WIDTH = 2000
/** How long the line is, where nobody chose an axis. */
export const LINE = 1080

export interface Point {
  readonly entity: Entity
  readonly at: Instant
  readonly words: string
}
export interface Span {
  readonly entity: Entity
  readonly from: Instant
  readonly to: Instant
}

export const isMain = (entity: Entity): boolean => entity.fields['weight'] === 'main'

/** Events and eras of the view's plan, or all where it names none. */
export function factsOf(model: Model, view: View): TimeFacts {
  const plan = typeof view.scope['plan'] === 'string' ? planOf(model, view) : undefined
  const mine = (kind: string) =>
    view.scope['plan'] === ''
      ? []
      : model.ofKind(kind).filter((entity) => plan === undefined || textOf(entity, 'plan') === plan)
  const points = mine('event').flatMap((entity): Point[] => {
    const when = readWhen(textOf(entity, 'when') ?? '')
    return when ? [{ entity, at: (when.from + when.to) / 2, words: whenInWords(textOf(entity, 'when') ?? '') }] : []
  })
  const spans = mine('era').flatMap((entity): Span[] => {
    const [when, until] = [readWhen(textOf(entity, 'when') ?? ''), readWhen(textOf(entity, 'until') ?? '')]
    return when ? [{ entity, from: when.from, to: Math.max(when.from, (until ?? when).to + 1440) }] : []
  })
  points.sort((a, b) => a.at - b.at)
  spans.sort((a, b) => a.from - b.from)
  return { points, spans }
}

/** A timeline’s events and eras, and what the plan has besides. */
export interface TimeFacts {
  readonly points: readonly Point[]
  readonly spans: readonly Span[]
  /** From when to when it reaches, where that takes more than events and eras. */
  readonly ends?: readonly [Instant, Instant]
}

export interface TimeScale {
  readonly x: (at: Instant) => number
  readonly at: (x: number) => Instant
  readonly axis: Axis | undefined
  readonly width: number
  /** What pulls along it say, so that it can be laid again without the plan: how long it is, and its ends where events do not say them. */
  readonly words: string
}

/** The scale that a pull began on, by its words; undefined where dates stand evenly apart and the plan says some of them. */
export function scaleAgain(view: View, facts: TimeFacts, words: readonly string[]): TimeScale | undefined {
  const [length = LINE, from, to] = words.map(Number)
  if (from === undefined || to === undefined) return scaleOf(view, facts, length)
  return view.options['spacing'] === 'even' ? undefined : scaleOf(view, { ...facts, ends: [from, to] }, length)
}

/** Where time stands: true to scale, or every date as far from the next; on a line so long, or longer where somebody chose its unit. */
export function scaleOf(view: View, { points, spans, ends }: TimeFacts, length: number): TimeScale {
  const instants = [...points.map(({ at }) => at), ...spans.flatMap(({ from, to }) => [from, to]), ...(ends ?? [])]
  const words = [length, ...(ends ?? [])].join(' ')
  const [first, last] = instants.length === 0 ? [0, 525_600] : [Math.min(...instants), Math.max(...instants)]
  if (view.options['spacing'] === 'even') {
    const stops = [...new Set(instants)].sort((a, b) => a - b)
    const step = Math.max(70, Math.min(180, AUTO_WIDTH / Math.max(1, stops.length))) * (length / LINE)
    const x = (at: Instant): number => {
      const next = stops.findIndex((stop) => stop >= at)
      if (next <= 0) return MARGIN + (next < 0 ? (stops.length - 1) * step : 0) + 20
      const [a, b] = [stops[next - 1] ?? 0, stops[next] ?? 0]
      return MARGIN + 20 + (next - 1 + (at - a) / (b - a || 1)) * step
    }
    const at = (px: number): Instant => {
      const place = Math.max(0, Math.min(stops.length - 1, (px - MARGIN - 20) / step))
      const [a, b] = [stops[Math.floor(place)] ?? 0, stops[Math.ceil(place)] ?? 0]
      return a + (place - Math.floor(place)) * (b - a)
    }
    return { x, at, words, axis: undefined, width: MARGIN + 40 + Math.max(0, stops.length - 1) * step }
  }
  const span = Math.max(last - first, 1440)
  const stated = view.options['unit']
  const chosen = UNITS.find((one) => one === stated)
  const unit = chosen ?? unitFor(span, AUTO_WIDTH)
  const axis = axisOf(unit, first, last, MARGIN, length, chosen ? 'stretch' : 'fit')
  return { x: axis.x, at: axis.at, words, axis, width: MARGIN + axis.width }
}
