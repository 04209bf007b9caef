import { nth } from '../../graph'
/** Where a line within a channel turns off, along the channel, and to which side: −1 to that of the lower tracks, 1 to the other; 0 where it ends there. */
export interface Turn {
  readonly at: number
  readonly side: number
}
/** A line within a channel by its ends; one that parts has more than two. */
export type ChannelLine = readonly Turn[]

const PASSES = 4

/**
 * A track for each line of a channel, so that no two that meet share one. Lines are put in order one by one, each where it crosses the fewest
 * ends of those before it, and moved again as long as that saves a crossing; then as low as those below it allow. O(lines²).
 */
export function tracksOf(lines: readonly ChannelLine[]): { track: Int32Array; count: number } {
  const order: number[] = []
  const reaches = lines.map((line): Reach => {
    const places = line.map(({ at }) => at)
    return { low: Math.min(...places), high: Math.max(...places) }
  })
  const lengthOf = (index: number) => nth(reaches, index).high - nth(reaches, index).low
  const byLength = lines.map((_, index) => index).sort((a, b) => lengthOf(a) - lengthOf(b) || a - b)
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
      if (meet(nth(reaches, index), nth(reaches, other))) low = Math.max(low, nth(track, other) + 1)
    }
    track[index] = low
    count = Math.max(count, low + 1)
  })
  return { track, count }

  /** Where a line crosses the fewest of those in order, and how many fewer than at a given place. */
  function placeFor(index: number, now = 0): { best: number; saved: number } {
    const [line, reach] = [nth(lines, index), nth(reaches, index)]
    // The cost of standing before all others, then the change with each step onwards.
    let cost = 0
    for (const other of order) cost += crossings(line, reach, nth(lines, other), nth(reaches, other))
    let [least, best, own] = [cost, 0, cost]
    order.forEach((other, place) => {
      const [beside, its] = [nth(lines, other), nth(reaches, other)]
      cost += crossings(beside, its, line, reach) - crossings(line, reach, beside, its)
      if (place + 1 === now) own = cost
      if (cost >= least) return
      least = cost
      best = place + 1
    })
    return { best, saved: own - least }
  }
}

/** From where to where a line runs. */
interface Reach {
  readonly low: number
  readonly high: number
}

function meet(a: Reach, b: Reach): boolean {
  return a.low <= b.high && b.low <= a.high
}

/** What lies along another line is worse than any crossing. */
const ALONG = 100

/** Crossings when the first stands on a lower track than the second. */
function crossings(low: ChannelLine, lowReach: Reach, high: ChannelLine, highReach: Reach): number {
  let count = 0
  for (const { at, side } of low) {
    if (side > 0 && at > highReach.low && at < highReach.high) count++
    if (side > 0) for (const other of high) if (other.side < 0 && other.at === at) count += ALONG
  }
  for (const { at, side } of high) if (side < 0 && at > lowReach.low && at < lowReach.high) count++
  return count
}
