import { MONTHS } from '../../../model'
import { civilOf, midnight, yearInWords, type Instant } from '../../../calendar'
import { kit, type Mark } from '../../../scene'
import { UNITS, type Unit } from '../terms'

const DAY = 1440
/** Width of a day in px. */
const SCALE: Readonly<Record<Unit, number>> = {
  hours: 528,
  days: 30,
  weeks: 6,
  months: 2.2,
  quarters: 0.95,
  years: 0.24,
  decades: 0.03,
  centuries: 0.0036,
}

/** Where time stands on a picture: x in px from `left`. */
export interface Axis {
  readonly unit: Unit
  readonly left: number
  readonly width: number
  readonly from: Instant
  readonly to: Instant
  readonly x: (at: Instant) => number
  readonly at: (x: number) => Instant
}

/** The finest unit whose picture of the span is not wider than this. */
export function unitFor(minutes: number, width: number): Unit {
  return UNITS.find((unit) => (minutes / DAY) * SCALE[unit] <= width) ?? 'centuries'
}

/** An axis over a span, begun and ended with whole cells, at least `least` px wide by more time or by stretching the same time, or just so wide. */
export function axisOf(
  unit: Unit,
  first: Instant,
  last: Instant,
  left: number,
  least = 0,
  by: 'time' | 'stretch' | 'fit' = 'time',
): Axis {
  const from = cellStart(unit, first)
  const end = cellStart(unit, last, 1)
  const filling = least / (end - from)
  const scale = { time: SCALE[unit] / DAY, stretch: Math.max(SCALE[unit] / DAY, filling), fit: filling }[by]
  const to = Math.max(end, from + least / scale)
  return {
    unit,
    left,
    from,
    to,
    width: (to - from) * scale,
    x: (at) => left + (at - from) * scale,
    at: (x) => from + (x - left) / scale,
  }
}

interface Cell {
  readonly from: Instant
  readonly label: string
}

const dayOf = (at: Instant) => civilOf(Math.floor(at / DAY))
/** Monday of a day's week. */
const weekStart = (at: Instant): Instant => {
  const day = Math.floor(at / DAY)
  return (day - ((((day + 3) % 7) + 7) % 7)) * DAY
}

/** ISO 8601: the week belongs to the year of its Thursday. */
export function isoWeek(at: Instant): number {
  const thursday = Math.floor(weekStart(at) / DAY) + 3
  const { year } = civilOf(thursday)
  return Math.floor((thursday - midnight(year) / DAY) / 7) + 1
}

function cellStart(unit: Unit, at: Instant, on = 0): Instant {
  const { year, month } = dayOf(at)
  switch (unit) {
    case 'hours':
      return (Math.floor(at / DAY) + on) * DAY
    case 'days':
    case 'weeks':
      return weekStart(at) + on * 7 * DAY
    case 'months':
    case 'quarters':
      return midnight(year, Math.floor((month - 1) / 3) * 3 + 1 + on * 3)
    case 'years':
      return midnight(year + on)
    case 'decades':
      return midnight((Math.floor(year / 10) + on) * 10)
    case 'centuries':
      return midnight((Math.floor(year / 100) + on) * 100)
  }
}

/** The cells of both rows, each from its beginning on. */
export function cellsOf({ unit, from, to }: Axis): { upper: Cell[]; lower: Cell[] } {
  const months = (step: number, label: (year: number, month: number) => string): Cell[] => {
    const cells: Cell[] = []
    const { year, month } = dayOf(from)
    for (let m = Math.floor((month - 1) / step) * step + 1; midnight(year, m) < to; m += step) {
      const at = midnight(year, m)
      const civil = dayOf(at)
      cells.push({ from: at, label: label(civil.year, civil.month) })
    }
    return cells
  }
  const years = (step: number): Cell[] => {
    const cells: Cell[] = []
    for (let year = Math.floor(dayOf(from).year / step) * step; midnight(year) < to; year += step)
      cells.push({ from: midnight(year), label: yearInWords(year) })
    return cells
  }
  const steps = (length: number, first: Instant, label: (at: Instant) => string): Cell[] => {
    const cells: Cell[] = []
    for (let at = first; at < to; at += length) cells.push({ from: at, label: label(at) })
    return cells
  }
  const monthName = (year: number, month: number) => `${MONTHS[month - 1]} ${yearInWords(year)}`
  switch (unit) {
    case 'hours':
      return {
        upper: steps(DAY, from, (at) => {
          const { year, month, day } = dayOf(at)
          return `${day} ${monthName(year, month)}`
        }),
        lower: steps(60, from, (at) => String(Math.floor((at - Math.floor(at / DAY) * DAY) / 60)).padStart(2, '0')),
      }
    case 'days':
      return { upper: months(1, monthName), lower: steps(DAY, from, (at) => String(dayOf(at).day)) }
    case 'weeks':
      return { upper: months(1, monthName), lower: steps(7 * DAY, weekStart(from), (at) => `w${isoWeek(at)}`) }
    case 'months':
      return { upper: years(1), lower: months(1, (_, month) => MONTHS[month - 1] ?? '') }
    case 'quarters':
      return { upper: years(1), lower: months(3, (_, month) => `Q${Math.ceil(month / 3)}`) }
    case 'years':
      return { upper: years(10), lower: years(1) }
    case 'decades':
      return { upper: years(100), lower: years(10) }
    case 'centuries':
      return { upper: years(1000), lower: years(100) }
  }
}

export const AXIS_HEIGHT = 40

/**
 * Both rows of an axis as marks. A first cell that began earlier is written at the axis' own beginning; in the lower row
 * nothing is written beneath `flags`, from where to where each of them lies.
 */
export function axisMarks(axis: Axis, top = 0, flags: readonly (readonly [number, number])[] = []): Mark[] {
  const { upper, lower } = cellsOf(axis)
  const { left, width } = axis
  const text = kit.texts({ 'font-size': 11, fill: 'ink-quiet' })
  const lines = upper.filter(({ from }) => from > axis.from).map(({ from }) => `M${axis.x(from)} ${top}v${AXIS_HEIGHT}`)
  const ticks = lower.filter(({ from }) => from > axis.from).map(({ from }) => `M${axis.x(from)} ${top + 22}v18`)
  const end = left + width
  return [
    kit.rect({ x: left, y: top, width, height: AXIS_HEIGHT }, { fill: 'head', stroke: 'none' }),
    kit.path(`${ticks.join('')}M${left} ${top + AXIS_HEIGHT - 0.5}H${end}`, {
      stroke: 'hairline',
      'stroke-width': 1,
      fill: 'none',
    }),
    kit.path(lines.join('') || 'M0 0', { stroke: 'outline', 'stroke-width': 1, fill: 'none' }),
    ...upper.flatMap(({ from, label }, i): Mark[] => {
      const x = Math.max(left, axis.x(from))
      const next = upper[i + 1]
      const room = (next ? axis.x(next.from) : end) - x
      return room > label.length * 6.6 + 6
        ? [text(x + 6, top + 15, label, { fill: 'ink', 'font-weight': 700, 'font-size': 12 })]
        : []
    }),
    ...lower.flatMap(({ from, label }, i): Mark[] => {
      const x = Math.max(left, axis.x(from))
      const next = lower[i + 1]
      const room = (next ? axis.x(next.from) : end) - x
      const ends = x + 4 + label.length * 6.4
      const isFree = flags.every(([from, to]) => ends < from || x + 3 > to)
      return isFree && room > label.length * 5.8 + 3
        ? [text(x + 4, top + 33, label, { 'font-family': 'mono', 'font-size': 10.5 })]
        : []
    }),
  ]
}
