import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { nth } from '../../../src/core/graph'
import { compacted, crossingsIn, type CompactBox, type CompactLine, type Point } from '../../../src/core/layout'

const CLEAR = { lines: 8, beside: 12, stub: 16 }
const box = (x: number, y: number, width = 60, height = 40): CompactBox => ({ x, y, width, height })
const lengthOf = (ways: readonly (readonly Point[])[]): number =>
  ways.reduce(
    (sum, way) =>
      sum +
      way.slice(1).reduce((all, b, at) => all + Math.abs(b.x - nth(way, at).x) + Math.abs(b.y - nth(way, at).y), 0),
    0,
  )

/** Rows of boxes with lines from each row to the next, every line on a track and at places of its own. */
const drawings = fc
  .record({
    rows: fc.array(
      fc.array(
        fc.record({
          gap: fc.nat(200),
          width: fc.integer({ min: 60, max: 200 }),
          height: fc.integer({ min: 20, max: 90 }),
        }),
        { minLength: 1, maxLength: 5 },
      ),
      {
        minLength: 2,
        maxLength: 5,
      },
    ),
    ties: fc.array(fc.tuple(fc.nat(20), fc.nat(20)), { maxLength: 24 }),
  })
  .map(({ rows, ties }) => {
    const boxes: CompactBox[] = []
    const rowOf: number[] = []
    const tops: number[] = []
    rows.forEach((row, at) => {
      let x = 0
      tops.push(at * 600)
      for (const { gap, width, height } of row) {
        x += gap + 40
        boxes.push(box(x, at * 600, width, height))
        rowOf.push(at)
        x += width
      }
    })
    const [out, into] = [new Map<number, number>(), new Map<number, number>()]
    const next = (used: Map<number, number>, at: number) => {
      const place = (used.get(at) ?? 0) + 1
      used.set(at, place)
      return place
    }
    const lines: CompactLine[] = []
    ties.forEach(([a, b]) => {
      const from = a % boxes.length
      const beneath = boxes.flatMap((_, at) => (rowOf[at] === (rowOf[from] ?? 0) + 1 ? [at] : []))
      const to = beneath[b % beneath.length]
      if (to === undefined) return
      const [upper, lower] = [nth(boxes, from), nth(boxes, to)]
      const [exit, entry] = [next(out, from), next(into, to)]
      if (exit * 9 > upper.width - 9 || entry * 9 > lower.width - 9) return
      const [x, y] = [upper.x + exit * 9, upper.y + upper.height]
      const end = lower.x + entry * 9 + 4
      const track = (rowOf[from] ?? 0) * 600 + 150 + lines.length * 14
      lines.push({
        from,
        to,
        way: [
          { x, y },
          { x, y: track },
          { x: end, y: track },
          { x: end, y: lower.y },
        ],
      })
    })
    return { boxes, lines }
  })

describe('a drawing that is drawn together', () => {
  const boxes = [box(0, 0), box(500, 400)]
  const lines = [
    {
      from: 0,
      to: 1,
      way: [
        { x: 30, y: 40 },
        { x: 30, y: 200 },
        { x: 530, y: 200 },
        { x: 530, y: 400 },
      ],
    },
  ]
  it('brings a box to what it is tied to, as near as there is room', () => {
    const { boxes: now, ways } = compacted(boxes, lines, CLEAR)
    expect(nth(now, 1).x + 30).toBeCloseTo(nth(now, 0).x + 30)
    expect(nth(now, 1).y - nth(now, 0).y - 40).toBe(2 * CLEAR.stub)
    expect(lengthOf(ways)).toBe(2 * CLEAR.stub)
  })
  it('moves along one axis only where that is asked', () => {
    const { boxes: now } = compacted(boxes, lines, CLEAR, ['y'])
    expect(now.map(({ x }) => x)).toEqual([0, 500])
    expect(nth(now, 1).y).toBeLessThan(100)
  })
  it('pushes nothing away from where more lines hold it', () => {
    const held = [box(84, 0, 60), box(168, 0, 60), box(0, 400, 60), box(84, 400, 60)]
    const drawn = [
      {
        from: 1,
        to: 2,
        way: [
          { x: 198, y: 40 },
          { x: 198, y: 200 },
          { x: 50, y: 200 },
          { x: 50, y: 400 },
        ],
      },
      // Held by two that bend a little, so that they may be pulled.
      ...[100, 120].map((x, at) => ({
        from: 0,
        to: 3,
        way: [
          { x, y: 40 },
          { x, y: 240 + at * 20 },
          { x: x + 2, y: 240 + at * 20 },
          { x: x + 2, y: 400 },
        ],
      })),
    ]
    const { boxes: now, ways } = compacted(held, drawn, CLEAR, ['x'])
    expect(nth(now, 3).x - nth(now, 0).x).toBeCloseTo(-2)
    expect(lengthOf(ways)).toBeLessThan(lengthOf(drawn.map(({ way }) => way)))
  })
  it('lets nothing come nearer than there is room, crosses as before, and is shorter', () => {
    fc.assert(
      fc.property(drawings, ({ boxes, lines }) => {
        const before = lines.map(({ way }) => way)
        const { boxes: now, ways } = compacted(boxes, lines, CLEAR)
        expect(lengthOf(ways)).toBeLessThanOrEqual(lengthOf(before) + 0.01)
        expect(crossingsIn(ways)).toBe(crossingsIn(before))
        now.forEach((a, at) =>
          now.slice(at + 1).forEach((b) => {
            const apart = Math.max(b.x - a.x - a.width, a.x - b.x - b.width, b.y - a.y - a.height, a.y - b.y - b.height)
            expect(apart).toBeGreaterThanOrEqual(CLEAR.beside - 0.01)
          }),
        )
        // Lines still begin and end where they did on their boxes, at right angles.
        ways.forEach((way, at) => {
          const { from, to, way: was } = nth(lines, at)
          const [first, last] = [nth(way, 0), nth(way, way.length - 1)]
          expect(first.x - nth(now, from).x).toBeCloseTo(nth(was, 0).x - nth(boxes, from).x)
          expect(first.y).toBeCloseTo(nth(now, from).y + nth(now, from).height)
          expect(last.x - nth(now, to).x).toBeCloseTo(nth(was, was.length - 1).x - nth(boxes, to).x)
          expect(last.y).toBeCloseTo(nth(now, to).y)
          way.slice(1).forEach((point, place) => {
            const other = nth(way, place)
            expect(Math.min(Math.abs(point.x - other.x), Math.abs(point.y - other.y))).toBeLessThan(0.01)
          })
          for (const [index, one] of now.entries())
            way.slice(1).forEach((point, place) => {
              const other = nth(way, place)
              const inside =
                Math.min(point.x, other.x) < one.x + one.width - 0.01 &&
                Math.max(point.x, other.x) > one.x + 0.01 &&
                Math.min(point.y, other.y) < one.y + one.height - 0.01 &&
                Math.max(point.y, other.y) > one.y + 0.01
              expect(inside, `line ${at} through box ${index}`).toBe(false)
            })
        })
      }),
      { numRuns: 400 },
    )
  })
  it('is what it was where there is nothing to move', () => {
    expect(compacted([], [], CLEAR)).toEqual({ boxes: [], ways: [] })
    const alone = [box(3, 4)]
    expect(compacted(alone, [], CLEAR).boxes).toEqual(alone)
  })
})
