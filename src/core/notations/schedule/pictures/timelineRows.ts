import { placeCallouts, type CalloutPlace } from '../../../layout'
import type { View } from '../../../model'
import { paperOf } from '../../../scene'
import { textOf } from '../plan'
import { ERA, packed, STRIP, textOfPoint } from './timelineMarks'
import { BASE, LINE, MARGIN, scaleOf, type Point, type Span, type TimeFacts, type TimeScale } from './timeScale'

const TEXT = { narrow: 104, medium: 148, wide: 216 } as const
/** Between the callouts of one row and those of the next, in px. */
const BETWEEN = 28
const HEAD = 18
/** How much longer or shorter than usual a line is tried, to meet the shape of a paper. */
const LENGTHS = [0.55, 0.7, 0.85, 1, 1.12, 1.25, 1.4, 1.6, 2, 2.6, 3.4, 4.5] as const
/** Drawn so large, with what stays free around it, a timeline need not be made smaller. */
const LIFE = 1.12
/** Of more events than this, fewer lengths are tried. */
const MANY = 300

/** Events and eras along one line. */
interface Row {
  readonly band: string
  readonly points: readonly Point[]
  readonly spans: readonly Span[]
}

/** A row with the places of its texts; from its top to its bottom, the line and what stands under it, in px. */
export interface LaidRow extends Row {
  readonly texts: readonly ReturnType<typeof textOfPoint>[]
  readonly places: readonly CalloutPlace[]
  readonly eras: readonly { readonly span: Span; readonly row: number }[]
  readonly top: number
  readonly line: number
  readonly under: number
  readonly bottom: number
}

interface LaidTimeline {
  readonly scale: TimeScale
  readonly bands: readonly string[]
  readonly rows: readonly LaidRow[]
  /** How far to the right its line and its callouts reach. */
  readonly reach: number
  /** Where another row would begin. */
  readonly bottom: number
}

/**
 * A timeline as long as it usually is; on a paper, of the lengths that are tried the one with which it can be drawn largest, and of those that need not be
 * made smaller the longest. Grows as its callouts do.
 */
export function layTimeline(view: View, facts: TimeFacts): LaidTimeline {
  const paper = paperOf(view.look)
  if (!paper) return laidAt(view, facts, LINE)
  const few = LENGTHS.filter((_, at) => at % 3 === 0)
  const tried = (facts.points.length > MANY ? few : LENGTHS).map((by) => {
    const laid = laidAt(view, facts, LINE * by)
    return { laid, scale: Math.min(LIFE, paper.width / (laid.reach + MARGIN), paper.height / laid.bottom) }
  })
  return tried.reduce((best, next) => (next.scale >= best.scale ? next : best)).laid
}

function laidAt(view: View, facts: TimeFacts, length: number): LaidTimeline {
  const { points, spans } = facts
  const scale = scaleOf(view, facts, length)
  const bands = [...new Set([...points, ...spans].map(bandOf))]
  const rows: LaidRow[] = []
  let top: number = MARGIN
  for (const row of view.options['bands'] === true && bands.length > 1
    ? bands.map(inBand)
    : [{ band: '', points, spans }]) {
    const laid = layRow(view, row, scale, top)
    rows.push(laid)
    top = laid.bottom + BETWEEN
  }
  const ends = rows.flatMap((row) => row.points.map(({ at }, i) => scale.x(at) + (row.texts[i]?.width ?? 0)))
  return { scale, bands, rows, reach: ends.reduce((most, end) => Math.max(most, end), scale.width), bottom: top }

  function inBand(band: string): Row {
    return {
      band,
      points: points.filter((one) => bandOf(one) === band),
      spans: spans.filter((one) => bandOf(one) === band),
    }
  }
}

const bandOf = ({ entity }: Point | Span): string => textOf(entity, 'band') ?? ''

function layRow(view: View, row: Row, { x }: TimeScale, top: number): LaidRow {
  const room = TEXT[view.options['width'] as keyof typeof TEXT] ?? TEXT.medium
  const texts = row.points.map(({ entity, words }) => textOfPoint(entity, words, room))
  const places = placeCallouts(
    row.points.map(({ entity, at }, i) => {
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
  const line = top + reach('above') + (row.band ? HEAD : 0)
  const eras = packed(row.spans, x)
  const eraRows = Math.max(0, ...eras.map(({ row: rank }) => rank + 1))
  const under = line + STRIP + (eraRows > 0 ? eraRows * (ERA + 4) + 10 : 0)
  return { ...row, texts, places, eras, top, line, under, bottom: under + reach('below') }
}
