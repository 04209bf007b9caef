import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { rightAngledWay, type Obstacle, type Point } from '../../../src/core/layout'

const at = (x: number, y: number): Point => ({ x, y })
const box = (x: number, y: number, width = 20, height = 20): Obstacle => ({ x, y, width, height })

function expectClear(way: readonly Point[], obstacles: readonly Obstacle[], clearance: number): void {
  way.slice(1).forEach((b, i) => {
    const a = way[i] ?? b
    expect(a.x === b.x || a.y === b.y).toBe(true)
    for (const { x, y, width, height } of obstacles) {
      const crosses =
        Math.max(a.x, b.x) > x - clearance + 0.5 &&
        Math.min(a.x, b.x) < x + width + clearance - 0.5 &&
        Math.max(a.y, b.y) > y - clearance + 0.5 &&
        Math.min(a.y, b.y) < y + height + clearance - 0.5
      expect(crosses).toBe(false)
    }
  })
}

describe('a right-angled way', () => {
  it('is straight where nothing stands between', () => {
    expect(rightAngledWay([at(0, 0)], [at(100, 0)], [], 5)).toEqual([at(0, 0), at(100, 0)])
  })
  it('goes around what stands between, on the shorter side', () => {
    const wall = [box(40, 0, 20, 100)]
    const way = rightAngledWay([at(0, 10)], [at(100, 10)], wall, 5) ?? []
    expectClear(way, wall, 5)
    const length = way
      .slice(1)
      .reduce((sum, { x, y }, i) => sum + Math.abs(x - (way[i]?.x ?? 0)) + Math.abs(y - (way[i]?.y ?? 0)), 0)
    expect(length).toBe(100 + 2 * 15)
  })
  it('takes the door that is nearer', () => {
    const way = rightAngledWay([at(-10, 0), at(30, 0)], [at(100, 0)], [box(-4, -10, 28)], 5)
    expect(way?.[0]).toEqual(at(30, 0))
  })
  it('is not found out of a closed place', () => {
    const walls = [box(-30, -30, 60, 10), box(-30, 20, 60, 10), box(-30, -30, 10, 60), box(20, -30, 10, 60)]
    expect(rightAngledWay([at(0, 0)], [at(200, 0)], walls, 2)).toBeUndefined()
  })
  it('keeps clear of every obstacle, whatever they are', () => {
    const obstacle = fc.record({
      x: fc.integer({ min: 40, max: 400 }),
      y: fc.integer({ min: -200, max: 200 }),
      width: fc.integer({ min: 5, max: 80 }),
      height: fc.integer({ min: 5, max: 80 }),
    })
    let found = 0
    fc.assert(
      fc.property(fc.array(obstacle, { maxLength: 25 }), (obstacles) => {
        const way = rightAngledWay([at(0, 0)], [at(520, 30)], obstacles, 6)
        if (!way) return
        found++
        expectClear(way, obstacles, 6)
        expect([way[0], way.at(-1)]).toEqual([at(0, 0), at(520, 30)])
      }),
      { numRuns: 100 },
    )
    expect(found).toBeGreaterThan(80)
  })
})
