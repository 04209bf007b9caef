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
    for (const other of order.slice(0, place))
      if (meet(lines[index], lines[other])) low = Math.max(low, nth(track, other) + 1)
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

const spanOf = ({ from, to }: ChannelLine): [number, number] => (from < to ? [from, to] : [to, from])

function meet(a: ChannelLine | undefined, b: ChannelLine | undefined): boolean {
  if (!a || !b) return false
  const [a1, a2] = spanOf(a)
  const [b1, b2] = spanOf(b)
  return a1 <= b2 && b1 <= a2
}

/** Crossings when the first stands on a lower track than the second. */
function crossings(low: ChannelLine | undefined, high: ChannelLine | undefined): number {
  if (!low || !high) return 0
  const within = (at: number, line: ChannelLine) => {
    const [from, to] = spanOf(line)
    return at > from && at < to
  }
  let count = 0
  for (const [at, side] of [
    [low.from, low.fromSide],
    [low.to, low.toSide],
  ] as const)
    if (side > 0 && within(at, high)) count++
  for (const [at, side] of [
    [high.from, high.fromSide],
    [high.to, high.toSide],
  ] as const)
    if (side < 0 && within(at, low)) count++
  return count
}
