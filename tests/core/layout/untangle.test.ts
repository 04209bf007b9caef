import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { columnsOf } from '../../../src/core/layout/flowchart/columns'
import { untangled, type Tangle } from '../../../src/core/layout/flowchart/untangle'

/** Crossings between columns, each two lines against each other. */
function crossings(columns: Tangle['columns'], pairs: Tangle['pairs']): number {
  const at = columns.map((list) => new Map(list.map((item, index) => [item, index])))
  let found = 0
  pairs.forEach((list, column) =>
    list.forEach(([a, b], i) =>
      list.slice(i + 1).forEach(([c, d]) => {
        const place = (of: number, item: number) => at[of]?.get(item) ?? -1
        if ((place(column, a) - place(column, c)) * (place(column + 1, b) - place(column + 1, d)) < 0) found++
      }),
    ),
  )
  return found
}

/** Columns of so many items each, with lines between neighbours; a hundred and above pass all columns. */
const tangles = fc
  .record({
    sizes: fc.array(fc.integer({ min: 1, max: 7 }), { minLength: 2, maxLength: 5 }),
    lines: fc.array(fc.tuple(fc.nat(3), fc.nat(6), fc.nat(6)), { maxLength: 30 }),
    passing: fc.nat(2),
    lanes: fc.integer({ min: 1, max: 3 }),
  })
  .map(({ sizes, lines, passing, lanes }): Tangle => {
    const chains = Array.from({ length: passing }, (_, index) => 100 + index)
    const laneOf = (item: number) => (item % 10) % lanes
    const columns = sizes.map((size, at) =>
      [...Array.from({ length: size }, (_, index) => at * 10 + index), ...chains].sort((a, b) => laneOf(a) - laneOf(b)),
    )
    const pairs = columns.map((_, at) =>
      at + 1 === columns.length
        ? []
        : [
            ...lines
              .filter(([column]) => column % (columns.length - 1) === at)
              .map(
                ([, a, b]) => [at * 10 + (a % (sizes[at] ?? 1)), (at + 1) * 10 + (b % (sizes[at + 1] ?? 1))] as const,
              ),
            ...chains.map((chain) => [chain, chain] as const),
          ],
    )
    return { columns, pairs, laneOf }
  })

describe('an order with fewer crossings', () => {
  it('holds the same items in the same lanes, and crosses as often as it says, never more', () =>
    fc.assert(
      fc.property(tangles, (tangle) => {
        const found = untangled(tangle)
        expect(found.crossings).toBe(crossings(found.columns, tangle.pairs))
        expect(found.crossings).toBeLessThanOrEqual(crossings(tangle.columns, tangle.pairs))
        found.columns.forEach((list, at) => {
          expect([...list].sort()).toEqual([...(tangle.columns[at] ?? [])].sort())
          const lanes = list.map(tangle.laneOf)
          expect(lanes).toEqual([...lanes].sort())
        })
      }),
      { seed: 2026 },
    ))
  it('crosses nothing where a reversed tree hangs on two columns', () => {
    const tangle = {
      columns: [[0, 1, 2], [15, 14, 13, 12, 11, 10], [20]],
      pairs: [[0, 1, 2].flatMap((hub) => [0, 1].map((leaf) => [hub, 10 + 2 * hub + leaf] as const)), [[13, 20]], []],
      laneOf: () => 0,
    } as const
    expect(crossings(tangle.columns, tangle.pairs)).toBe(12)
    expect(untangled(tangle).crossings).toBe(0)
  })
  it('puts a line that passes three columns to their border, in all of them at once', () => {
    // In the middle of each it crosses one line; whichever column it left alone, it would cross as many.
    const columns = [0, 1, 2].map((at) => [at * 10, at * 10 + 1, 100, at * 10 + 2, at * 10 + 3])
    const pairs = [0, 1].map((at) => [
      [100, 100] as const,
      ...[0, 1, 2, 3].map((row) => [at * 10 + row, at * 10 + 10 + row] as const),
      [at * 10 + 1, at * 10 + 12] as const,
      [at * 10 + 2, at * 10 + 11] as const,
    ])
    expect(crossings(columns, pairs)).toBe(6)
    expect(untangled({ columns, pairs: [...pairs, []], laneOf: () => 0 }).crossings).toBe(2)
  })
})

describe('what stands after another', () => {
  const node = { lane: 0, phase: 0, halfU: 10, halfV: 10, form: 'box' } as const
  const shape = (after: readonly (readonly [number, number])[]) => ({
    nodes: [node, node, node],
    edges: [{ from: 0, to: 1, sort: 'flow' as const }],
    lanes: [{ pool: 0, least: 10 }],
    after,
  })
  it('has a later column, with no edge between them', () => {
    expect([...columnsOf(shape([])).column]).toEqual([0, 1, 0])
    expect([...columnsOf(shape([[1, 2]])).column]).toEqual([0, 1, 2])
  })
})
