import { kit, POINTS, READ_WELL, type Box, type Mark, type Point } from '../../../scene'
import { membersIn, regionIn, type Sets } from '../sets/regions'
import { across, cutAcross, cutDown, down, gapOf, inset } from './frame'
import { round, toldOf } from './shape'
import { heightOf, setInto, type Saying, type Slot, type Type } from './type'

/** What could not be read within its region stands beside the sets. In px. */
const LEAST_WITHIN = READ_WELL / POINTS
const WITHIN: Type = { title: LEAST_WITHIN * 1.5, head: LEAST_WITHIN * 1.25, detail: LEAST_WITHIN }
/** So many regions that have some room are told beside it; those that have none always are. */
const MOST_BESIDE = 8
/** The share of a frame that what stands beside its region takes: of its width where that is upright, else at most so much of its height. */
const SHARE = { broad: 0.26, high: 0.3 } as const
const DOT = 2.5

/** What is said in a region: its lines, and who was gathered; in short, their number. */
export function saidIn(
  sets: Sets,
  mask: number,
): { readonly whole: readonly Saying[]; readonly short: readonly Saying[] } {
  const region = sets.regions.get(mask)
  const says = (region?.parts ?? []).map((part): Saying => ({ part, text: toldOf(part), rank: 'detail' }))
  const text = region && membersIn(region)
  if (!region || text === undefined) return { whole: says, short: says }
  const names = region.members.map(({ id }) => id)
  const gathered = { part: undefined, rank: 'detail', names } as const
  return {
    whole: [...says, { ...gathered, text }],
    short: [...says, { ...gathered, text: names.length.toLocaleString('en') }],
  }
}

/** Regions of which something is said that their room does not hold, the smallest first. */
export function withoutRoom(sets: Sets, room: ReadonlyMap<number, Box>): readonly number[] {
  const sizeOf = (mask: number): number => {
    const { width = 0, height = 0 } = room.get(mask) ?? {}
    return width * height
  }
  return [...sets.regions.keys()]
    .filter((mask) => {
      const { short } = saidIn(sets, mask)
      const box = room.get(mask)
      return short.length > 0 && !(box && setInto({ box: inset(box, 1), says: short }, WITHIN).isWhole)
    })
    .sort((a, b) => sizeOf(a) - sizeOf(b))
    .filter((mask, at) => at < MOST_BESIDE || !room.has(mask))
}

/** What stands beside its region says which it is. */
function calloutSays(sets: Sets, mask: number): readonly Saying[] {
  const within = sets.sets.filter((_, at) => (mask >> at) & 1)
  const line = sets.shared.find((one) => regionIn(one.entity.name, sets.sets) === mask)
  const { whole } = saidIn(sets, mask)
  if (line) return [{ part: line, text: toldOf(line), rank: 'detail' }, ...whole]
  const called = within.map(({ entity }) => entity.name).join(' & ')
  const begin = within.length === 1 ? `only ${called}` : called
  return whole.map((one, at) => (at === 0 ? { ...one, text: `${begin}: ${one.text}` } : one))
}

const isUpright = ({ width, height }: Box): boolean => height > width

/** A strip of a frame for what has no room in its region, at the right of what is upright, else at the bottom; and the rest. */
export function cutForCallouts(sets: Sets, masks: readonly number[], frame: Box, type: Type) {
  const gap = gapOf(frame)
  if (masks.length === 0) return { strip: frame, rest: frame }
  if (isUpright(frame)) {
    const [rest, strip] = cutAcross(frame, frame.width * (1 - SHARE.broad), gap)
    return { strip, rest }
  }
  const width = frame.width / masks.length - gap
  const needs = masks.map((mask) => heightOf(calloutSays(sets, mask), width, type))
  const [rest, strip] = cutDown(
    frame,
    frame.height - Math.min(frame.height * SHARE.high, Math.max(...needs) + gap),
    gap,
  )
  return { strip, rest }
}

/** So many places within its box are tried for what stands beside its region, from its middle outwards. */
const TRIED = [0.5, 0.3, 0.7, 0.1, 0.9, 0, 1] as const

/** What has no room in its region, in a strip beside the sets, each with a line to where its region is or would be, over as few texts as may be. */
export function calloutsIn(
  strip: Box,
  sets: Sets,
  masks: readonly number[],
  spots: ReadonlyMap<number, Point>,
  type: Type,
  texts: readonly Box[],
): readonly { readonly slot: Slot; readonly leader: readonly Mark[] }[] {
  if (masks.length === 0) return []
  const gap = gapOf(strip)
  const isColumn = isUpright(strip)
  const told = masks
    .flatMap((mask) => {
      const spot = spots.get(mask)
      return spot ? { spot, says: calloutSays(sets, mask) } : []
    })
    .sort((a, b) => (isColumn ? a.spot.y - b.spot.y : a.spot.x - b.spot.x))
  const needs = told.map(({ says }) => heightOf(says, strip.width, type))
  const boxes = isColumn ? down(strip, told.length, gap, needs) : across(strip, told.length, gap)
  return told.flatMap(({ spot, says }, at) => {
    const whole = boxes[at]
    if (!whole) return []
    const high = Math.min(whole.height, heightOf(says, whole.width, type))
    const places = TRIED.map((share) => {
      const box = isColumn ? { ...whole, y: whole.y + (whole.height - high) * share, height: high } : whole
      const end = isColumn
        ? { x: box.x - 3, y: box.y + type.detail * 0.7 }
        : { x: box.x + 4 + (box.width - 8) * share, y: box.y - 2 }
      return { box, end, over: texts.filter((text) => meets(spot, end, text)).length }
    })
    const { box, end } = places.reduce((best, one) =>
      one.over < best.over || (!isColumn && one.over === best.over && far(one.end, spot) < far(best.end, spot))
        ? one
        : best,
    )
    const slot: Slot = { box, says, align: isColumn ? 'start' : 'middle', stands: 'top' }
    const leader = [
      kit.path(`M${round(end.x)} ${round(end.y)}L${round(spot.x)} ${round(spot.y)}`, {
        fill: 'none',
        stroke: 'ink-quiet',
        'stroke-width': 1,
      }),
      kit.circle(round(spot.x), round(spot.y), DOT, { fill: 'ink-quiet', stroke: 'none' }),
    ]
    return { slot, leader }
  })
}

const far = (a: Point, b: Point): number => Math.hypot(a.x - b.x, a.y - b.y)
const STEPS = 60

/** Whether a straight line meets a box. */
const meets = (from: Point, to: Point, { x, y, width, height }: Box): boolean =>
  Array.from({ length: STEPS + 1 }, (_, step) => step / STEPS).some((share) => {
    const [px, py] = [from.x + (to.x - from.x) * share, from.y + (to.y - from.y) * share]
    return px > x && px < x + width && py > y && py < y + height
  })
