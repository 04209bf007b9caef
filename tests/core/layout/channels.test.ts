import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { wayOf } from '../../../src/core/layout/flowchart/board'
import { route } from '../../../src/core/layout/flowchart/grid'
import { tracksOf, type ChannelLine } from '../../../src/core/layout/flowchart/tracks'

const lane = (from: number, to: number, fromSide = 0, toSide = 0): ChannelLine => [
  { at: from, side: fromSide },
  { at: to, side: toSide },
]
const reach = (line: ChannelLine): readonly [number, number] => {
  const places = line.map(({ at }) => at)
  return [Math.min(...places), Math.max(...places)]
}

describe('the tracks of a channel', () => {
  it('are never shared by lines that meet, be it only at their ends', () => {
    expect(new Set(tracksOf([lane(0, 4), lane(4, 8)]).track).size).toBe(2)
    expect(new Set(tracksOf([lane(4, 0), lane(8, 4)]).track).size).toBe(2)
    expect(tracksOf([lane(0, 4), lane(5, 8)])).toEqual({ track: Int32Array.of(0, 0), count: 1 })
  })
  it('hold any lines apart, in no more tracks than there are lines', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc
            .tuple(fc.nat(12), fc.nat(12), fc.constantFrom(-1, 0, 1), fc.constantFrom(-1, 0, 1))
            .map((of) => lane(...of)),
          { maxLength: 9 },
        ),
        (lanes) => {
          const { track, count } = tracksOf(lanes)
          expect(count).toBeLessThanOrEqual(lanes.length)
          lanes.forEach((a, i) =>
            lanes.slice(i + 1).forEach((b, k) => {
              const [[low, high], [from, to]] = [reach(a), reach(b)]
              const apart = high < from || to < low
              if (!apart) expect(track[i]).not.toBe(track[i + 1 + k])
            }),
          )
        },
      ),
      { seed: 2026 },
    ))
  it('let a line turn off to its own side without crossing the other', () => {
    // The short one turns off upwards, within the long one: it lies nearer to that side.
    expect([...tracksOf([lane(0, 10), lane(4, 6, -1, -1)]).track]).toEqual([1, 0])
    expect([...tracksOf([lane(0, 10), lane(4, 6, 1, 1)]).track]).toEqual([0, 1])
  })
  it('let no line turn off along another one', () => {
    // At 4 one comes from the lower tracks and the other leads to the higher ones: the first lies lower.
    expect([...tracksOf([lane(0, 4, 0, 1), lane(4, 8, -1, 0)]).track]).toEqual([1, 0])
    expect([...tracksOf([lane(4, 8, -1, 0), lane(0, 4, 0, 1)]).track]).toEqual([0, 1])
  })
  it('may part: one line with several turns', () => {
    const rail: ChannelLine = [...lane(5, 1, -1, 1), ...lane(5, 9, -1, 1)]
    expect([...tracksOf([rail, lane(3, 4)]).track].sort()).toEqual([0, 1])
    expect(tracksOf([rail, lane(10, 12)]).count).toBe(1)
  })
})

describe('what a way costs', () => {
  const straight = route('right', 'left', true, true, [[true, 2, 3, 9]])
  const bent = route('right', 'left', true, true, [
    [true, 2, 3, 5],
    [false, 5, 2, 6],
    [true, 6, 5, 9],
  ])
  it('is its length and its bends: a bend weighs more than a column or two', () => {
    expect(wayOf(straight, 0).base).toBe(6 * 0.25)
    expect(wayOf(bent, 0).base).toBe(2 * 6 + 6 * 0.25 + 4 * 0.35)
    const longer = route('right', 'left', true, true, [[true, 2, 3, 3 + 4 * 4]])
    expect(wayOf(longer, 0).base).toBeLessThan(wayOf(bent, 0).base)
    expect(wayOf(straight, 2).base).toBe(wayOf(straight, 0).base + 2)
  })
})
