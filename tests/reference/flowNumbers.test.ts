import fc from 'fast-check'
import { determinant, inverse, Matrix } from 'ml-matrix'
import { describe, expect, it } from 'vitest'
import { asId, type Model } from '../../src/core/model'
import { expectedMinutes, shortestAndLongest } from '../../src/core/notations/process/numbers/paths'
import { totalsOf } from '../../src/core/notations/process/numbers'
import { solve } from '../../src/core/notations/process/numbers/equations'
import { visitsOf } from '../../src/core/notations/process/numbers/visits'
import { graph, shown } from '../core/process/facts'

const timed = (model: Model, times: Readonly<Record<string, number>>): Model =>
  model.with({
    entities: new Map(
      [...model.entities].map(([id, entity]) => [
        id,
        id in times ? { ...entity, fields: { ...entity.fields, duration: times[id] ?? 0 } } : entity,
      ]),
    ),
  })
const visits = (lines: string, node: string) => visitsOf(shown(graph(lines))).nodes.get(asId(node))
const minutes = (lines: string, times: Readonly<Record<string, number>>) =>
  expectedMinutes(shown(timed(graph(lines), times)), asId('b'))

describe('expected visits', () => {
  // Standard cycle-time formula: a loop repeated with probability r is gone through 1 / (1 − r) times.
  it.each([0, 0.1, 0.25, 0.5, 0.9])('of a rework loop repeated with probability %d are 1 / (1 − r)', (r) => {
    expect(visits(`b>x1 x1>s1 s1>x2 x2>x1:${r} x2>e:${1 - r}`, 's1')).toBeCloseTo(1 / (1 - r), 9)
  })
  it('of a choice are its shares, of ways taken at once one each, and behind them one again', () => {
    const choice = 'b>x1 x1>s1:0.3 x1>s2:0.7 s1>x2 s2>x2 x2>s3 s3>e'
    expect([visits(choice, 's1'), visits(choice, 's2'), visits(choice, 's3')]).toEqual(
      [0.3, 0.7, 1].map((value) => expect.closeTo(value, 9) as number),
    )
    const parallel = 'b>p1 p1>s1 p1>s2 s1>p2 s2>p2 p2>s3 s3>e'
    expect([visits(parallel, 's1'), visits(parallel, 's2'), visits(parallel, 's3')]).toEqual(
      [1, 1, 1].map((value) => expect.closeTo(value, 9) as number),
    )
  })
  it('divide among the ways without a share what the others leave', () => {
    expect(visits('b>x1 x1>s1:0.4 x1>s2 x1>s3 s1>e s2>e s3>e', 's3')).toBeCloseTo(0.3, 9)
  })

  /** Random absorbing chains: exclusive gateways only; the fundamental matrix N = (I − Q)⁻¹ by ml-matrix gives the visits in its first row. */
  const chains = fc.integer({ min: 2, max: 8 }).chain((size) =>
    fc.array(fc.record({ a: fc.nat(), b: fc.nat(), share: fc.double({ min: 0.05, max: 0.95, noNaN: true }) }), {
      minLength: size,
      maxLength: size,
    }),
  )
  it('are those of an absorbing Markov chain, solved with ml-matrix', () => {
    fc.assert(
      fc.property(chains, (rows) => {
        const n = rows.length
        const q = Matrix.zeros(n, n)
        const lines = ['b>x0']
        rows.forEach(({ a, share }, i) => {
          // One way to a random element, the other to the next, so that an end is always reached.
          const back = a % n
          lines.push(`x${i}>s${i}:${share} s${i}>x${back}`, `x${i}>${i + 1 < n ? `x${i + 1}` : 'e'}:${1 - share}`)
          q.set(i, back, q.get(i, back) + share)
          if (i + 1 < n) q.set(i, i + 1, q.get(i, i + 1) + 1 - share)
        })
        const fundamental = inverse(Matrix.eye(n).sub(q))
        const found = visitsOf(shown(graph(lines.join(' ')))).nodes
        for (let i = 0; i < n; i++) expect(found.get(asId(`x${i}`))).toBeCloseTo(fundamental.get(0, i), 5)
      }),
      { numRuns: 80 },
    )
  })
  it('solve linear equations as ml-matrix does', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(fc.integer({ min: -9, max: 9 }), { minLength: 5, maxLength: 5 }), {
          minLength: 4,
          maxLength: 4,
        }),
        (rows) => {
          const a = new Matrix(rows.map((row) => row.slice(0, 4)))
          fc.pre(Math.abs(determinant(a)) > 0.5)
          const x = solve(rows.map((row) => Float64Array.from(row)))
          rows.forEach((row) =>
            expect(row.slice(0, 4).reduce((sum, value, i) => sum + value * (x[i] ?? 0), 0)).toBeCloseTo(row[4] ?? 0, 4),
          )
        },
      ),
      { numRuns: 60 },
    )
  })
})

/** Standard formulas of cycle time: sums, weighted means, the longest of parallel ways, and rounds of a loop. */
describe('cycle time', () => {
  it('of a sequence is the sum', () => expect(minutes('b>s1 s1>s2 s2>e', { s1: 4, s2: 6 })).toBe(10))
  it('of a choice is the mean by share', () =>
    expect(minutes('b>x1 x1>s1:0.25 x1>s2:0.75 s1>x2 s2>x2 x2>e', { s1: 8, s2: 4 })).toBeCloseTo(5, 9))
  it('of ways taken at once is the longest', () =>
    expect(minutes('b>p1 p1>s1 p1>s2 s1>p2 s2>p2 p2>s3 s3>e', { s1: 3, s2: 9, s3: 1 })).toBe(10))
  it('of a loop is its body 1 / (1 − r) times', () =>
    expect(minutes('b>x1 x1>s1 s1>x2 x2>x1:0.2 x2>e:0.8', { s1: 8 })).toBeCloseTo(10, 9))
  it('of blocks within blocks is made up of theirs', () =>
    expect(
      minutes('b>p1 p1>x1 p1>s3 x1>s1:0.5 x1>s2:0.5 s1>x2 s2>x2 x2>p2 s3>p2 p2>e', { s1: 10, s2: 20, s3: 12 }),
    ).toBeCloseTo(15, 9))
  it('has a shortest and a longest way, loops left out', () => {
    const process = shown(
      timed(graph('b>x0 x0>s1 s1>x1 x1>s2 x1>s3 s2>x2 s3>x2 x2>x3 x3>x0 x3>e'), { s1: 1, s2: 2, s3: 5 }),
    )
    expect(shortestAndLongest(process, asId('b'))).toEqual({ least: 3, most: 6 })
  })
  // Malcolm, Roseboom, Clark & Fazar 1959: mean (a + 4m + b) / 6.
  it('takes three-point times by their mean', () => {
    const model = graph('b>s1 s1>e')
    const step = model.entities.get(asId('s1'))
    if (!step) throw new Error('no step')
    const three = model.with({
      entities: new Map([
        ...model.entities,
        [step.id, { ...step, fields: { ...step.fields, least: 2, duration: 3, most: 10 } }],
      ]),
    })
    expect(totalsOf(shown(three))).toMatchObject({ time: 4, work: 4, shortest: 2, longest: 10 })
  })
})
