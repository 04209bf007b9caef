import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { soundnessOf, type Verdict } from '../../src/core/notations/process/soundness'
import { marramSoundFerries } from '../../src/demo'
import { levelsOn } from '../../src/core/notations/process/levels'
import { graph, shown } from '../core/process/facts'
import { DAY } from '../facts'

const verdict = (lines: string): Verdict => soundnessOf(shown(graph(lines)))
const sorts = (lines: string) => verdict(lines).faults.map(({ sort, node }) => `${sort} ${node}`)

/** van der Aalst: The application of Petri nets to workflow management, 1998: matching pairs of split and join are sound, others are not. */
describe('soundness (van der Aalst 1998)', () => {
  it.each([
    ['a sequence', 'b>s1 s1>s2 s2>e'],
    ['exclusive split and exclusive join', 'b>x1 x1>s1 x1>s2 s1>x2 s2>x2 x2>e'],
    ['parallel split and parallel join', 'b>p1 p1>s1 p1>s2 s1>p2 s2>p2 p2>e'],
    ['inclusive split and inclusive join', 'b>i1 i1>s1 i1>s2 s1>i2 s2>i2 i2>e'],
    ['a loop', 'b>x1 x1>s1 s1>x2 x2>x1 x2>e'],
    ['parallel ways with an end each', 'b>p1 p1>s1 p1>s2 s1>e1 s2>e2'],
    ['blocks within blocks', 'b>p1 p1>x1 p1>s1 x1>s2 x1>s3 s2>x2 s3>x2 x2>p2 s1>p2 p2>e'],
    ['an exclusive way past a parallel block', 'b>x1 x1>p1 x1>x2 p1>s1 p1>s2 s1>p2 s2>p2 p2>x2 x2>e'],
  ])('%s is sound', (_, lines) => {
    expect(verdict(lines)).toMatchObject({ decided: true, faults: [] })
  })

  it('an exclusive split into a parallel join deadlocks at the join', () => {
    expect(sorts('b>x1 x1>s1 x1>s2 s1>p1 s2>p1 p1>e')).toEqual(['deadlock p1'])
  })
  it('a parallel split into an exclusive merge loses synchronisation', () => {
    expect(sorts('b>p1 p1>s1 p1>s2 s1>x1 s2>x1 x1>s3 s3>e')).toContain('unsynchronised x1')
  })
  it('and right before an end the case ends more than once', () => {
    expect(sorts('b>p1 p1>s1 p1>s2 s1>e s2>e')).toEqual(['improper-end e'])
  })
  it('a loop out of a parallel branch is unsound', () => {
    expect(verdict('b>x0 x0>p1 p1>s1 p1>s2 s1>x1 x1>x0 x1>p2 s2>p2 p2>e').faults.length).toBeGreaterThan(0)
  })
  it('shows the shortest way to the fault', () => {
    const [fault] = verdict('b>x1 x1>s1 x1>s2 s1>p1 s2>p1 p1>e').faults
    expect(fault?.trace.map(({ node }) => node)).toEqual(['b', 'x1', 's1'])
    expect(fault?.trace.at(-1)?.marked).toEqual(['s1-p1'])
  })
  it('leaves the question open beyond its bound, and says so', () => {
    // Nine ways at once, each of which also waits for its neighbour: nothing can be folded away.
    const ways = Array.from(
      { length: 9 },
      (_, i) => `p1>pa${i} pa${i}>s${i} pa${i}>pj${(i + 1) % 9} s${i}>pj${i} pj${i}>p2`,
    )
    const process = shown(graph(`b>p1 ${ways.join(' ')} p2>e`))
    expect(soundnessOf(process, 500)).toMatchObject({ decided: false })
    expect(soundnessOf(process)).toMatchObject({ decided: true, faults: [] })
  })

  /** Blocks within blocks, by number: sequence, choice, parallel, loop. */
  const block = fc.letrec<{ block: (name: string) => string[] }>((tie) => ({
    block: fc.oneof(
      { maxDepth: 4 },
      fc.constant((name: string) => [`${name}`]),
      fc.tuple(fc.constantFrom('seq', 'x', 'p', 'loop'), tie('block'), tie('block')).map(
        ([sort, a, b]) =>
          (name: string) =>
            [sort, name, a, b] as unknown as string[],
      ),
    ),
  })).block
  /** The flows of a block between two nodes. */
  function flows(make: (name: string) => string[], from: string, to: string, name: string): string[] {
    const made = make(name) as unknown as [string, string, (n: string) => string[], (n: string) => string[]] | [string]
    if (made.length === 1) return [`${from}>s${name}`, `s${name}>${to}`]
    const [sort, , a, b] = made
    if (sort === 'seq') return [...flows(a, from, `s${name}m`, `${name}1`), ...flows(b, `s${name}m`, to, `${name}2`)]
    if (sort === 'loop')
      return [
        `${from}>x${name}i`,
        ...flows(a, `x${name}i`, `x${name}o`, `${name}1`),
        ...flows(b, `x${name}o`, `x${name}i`, `${name}2`),
        `x${name}o>${to}`,
      ]
    return [
      `${from}>${sort}${name}i`,
      ...flows(a, `${sort}${name}i`, `${sort}${name}o`, `${name}1`),
      ...flows(b, `${sort}${name}i`, `${sort}${name}o`, `${name}2`),
      `${sort}${name}o>${to}`,
    ]
  }
  it('finds any nesting of matching pairs sound, folded or searched', () => {
    fc.assert(
      fc.property(block, (make) => {
        const process = shown(graph(flows(make, 'b', 'e', '0').join(' ')))
        expect(soundnessOf(process)).toMatchObject({ decided: true, faults: [] })
      }),
      { numRuns: 120 },
    )
  })
  it('finds the fault of a nesting in which one exclusive join is made parallel', () => {
    expect(sorts('b>p1 p1>x1 p1>s1 x1>s2 x1>s3 s2>p9 s3>p9 p9>p2 s1>p2 p2>e')).toContain('deadlock p9')
  })
})

describe('the demo', () => {
  it('has one deadlock, where an exclusive choice meets in a parallel join', () => {
    const faults = levelsOn(marramSoundFerries(), DAY).flatMap((process) => soundnessOf(process).faults)
    expect(faults.map(({ sort, node }) => [sort, node])).toEqual([['deadlock', 'sc-settled']])
  })
})
