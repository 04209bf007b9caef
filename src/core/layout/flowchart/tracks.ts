import { nth } from '../../graph'
/** A line within a channel: where along the channel it runs, and to which side its two ends turn off. */
export interface ChannelLine {
  readonly from: number
  readonly to: number
  /** −1: to the side of the lower tracks; 1: to the other; 0: it ends there. */
  readonly fromSide: number
  readonly toSide: number
}

const PASSES = 4

/**
 * A track for each line of a channel, so that no two that meet share one. Lines are put in order one by one, each where it crosses the fewest
 * ends of those before it, and moved again as long as that saves a crossing; then as low as those below it allow. O(lines²).
 */
export function tracksOf(lines: readonly ChannelLine[]): { track: Int32Array; count: number } {
  const order: number[] = []
  const byLength = lines.map((_, index) => index).sort((a, b) => lengthOf(lines[a]) - lengthOf(lines[b]) || a - b)
  for (const index of byLength) order.splice(placeFor(index).best, 0, index)
  for (let pass = 0; pass < PASSES; pass++) {
    let better = false
    for (const index of byLength) {
      const now = order.indexOf(index)
      order.splice(now, 1)
      const { best, saved } = placeFor(index, now)
      order.splice(saved > 0 ? best : now, 0, index)
      better ||= saved > 0
    }
    if (!better) break
  }
  const track = new Int32Array(lines.length)
  let count = 0
  order.forEach((index, place) => {
    let low = 0
    for (let before = 0; before < place; before++) {
      const other = nth(order, before)
      if (meet(lines[index], lines[other])) low = Math.max(low, nth(track, other) + 1)
    }
    track[index] = low
    count = Math.max(count, low + 1)
  })
  return { track, count }

  /** Where a line crosses the fewest of those in order, and how many fewer than at a given place. */
  function placeFor(index: number, now = 0): { best: number; saved: number } {
    const line = lines[index]
    // The cost of standing before all others, then the change with each step onwards.
    let cost = 0
    for (const other of order) cost += crossings(line, lines[other])
    let [least, best, own] = [cost, 0, cost]
    order.forEach((other, place) => {
      cost += crossings(lines[other], line) - crossings(line, lines[other])
      if (place + 1 === now) own = cost
      if (cost >= least) return
      least = cost
      best = place + 1
    })
    return { best, saved: own - least }
  }
}

const lengthOf = (line: ChannelLine | undefined): number => (line ? Math.abs(line.to - line.from) : 0)

function meet(a: ChannelLine | undefined, b: ChannelLine | undefined): boolean {
  if (!a || !b) return false
  return Math.min(a.from, a.to) <= Math.max(b.from, b.to) && Math.min(b.from, b.to) <= Math.max(a.from, a.to)
}

const within = (at: number, { from, to }: ChannelLine): boolean =>
  from < to ? at > from && at < to : at > to && at < from

/** Crossings when the first stands on a lower track than the second. */
function crossings(low: ChannelLine | undefined, high: ChannelLine | undefined): number {
  if (!low || !high) return 0
  let count = 0
  if (low.fromSide > 0 && within(low.from, high)) count++
  if (low.toSide > 0 && within(low.to, high)) count++
  if (high.fromSide < 0 && within(high.from, low)) count++
  if (high.toSide < 0 && within(high.to, low)) count++
  return count
}
