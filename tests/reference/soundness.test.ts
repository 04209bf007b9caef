import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Process } from '../../src/core/notations/process/structure'
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
      { numRuns: 70 },
    )
  })
  it('finds the fault of a nesting in which one exclusive join is made parallel', () => {
    expect(sorts('b>p1 p1>x1 p1>s1 x1>s2 x1>s3 s2>p9 s3>p9 p9>p2 s1>p2 p2>e')).toContain('deadlock p9')
  })
})

/**
 * The same question asked in the plainest way: every state is looked at, nothing is folded away, and an inclusive join looks along every line for
 * what can still come (ISO/IEC 19510, 13.4.3). Answers whether anything can go wrong; undefined where there are too many states.
 */
function goesWrong(process: Process, most = 300): boolean | undefined {
  const { nodes, flows } = process
  const comesTo = (from: string, goals: ReadonlySet<string>, past: string): boolean => {
    const seen = new Set([from])
    const open = [from]
    for (let id = open.pop(); id !== undefined; id = open.pop()) {
      if (goals.has(id)) return true
      const target = flows.find((line) => line.id === id)?.target
      if (target === undefined || target === past) continue
      for (const { id: next } of nodes.get(target)?.out ?? [])
        if (!seen.has(next)) {
          seen.add(next)
          open.push(next)
        }
    }
    return false
  }
  const every = (ids: readonly string[]): string[][] =>
    ids.reduce<string[][]>((sets, id) => [...sets, ...sets.map((set) => [...set, id])], [[]]).slice(1)
  const first = [...nodes.values()].find(({ type }) => type === 'start')?.out.map(({ id }) => String(id)) ?? []
  const key = (state: readonly string[]) => [...state].sort().join(' ')
  const seen = new Set([key(first)])
  const states = [first]
  for (const state of states) {
    if (states.length > most) return undefined
    const marked = new Set(state.filter((one) => !one.startsWith('ended ')))
    let moved = false
    for (const node of nodes.values()) {
      const into = node.into.map(({ id }) => String(id))
      const out = node.out.map(({ id }) => String(id))
      const full = into.filter((id) => marked.has(id))
      if (full.length === 0) continue
      const gate = node.kind === 'gateway' ? node.type : 'merge'
      const empty = new Set(into.filter((id) => !marked.has(id)))
      const waits = () =>
        [...marked].some(
          (one) => !into.includes(one) && comesTo(one, empty, node.id) && !comesTo(one, new Set(full), node.id),
        )
      const takes =
        gate === 'parallel'
          ? full.length === into.length
            ? [into]
            : []
          : gate === 'inclusive'
            ? empty.size > 0 && waits()
              ? []
              : [full]
            : full.map((id) => [id])
      const gives =
        out.length === 0
          ? [[`ended ${node.id}`]]
          : gate === 'exclusive'
            ? out.map((id) => [id])
            : gate === 'inclusive'
              ? every(out)
              : [out]
      for (const taken of takes)
        for (const given of gives) {
          moved = true
          const rest = state.filter((id) => !taken.includes(id))
          if (given.some((id) => rest.includes(id))) return true
          const next = [...rest, ...given]
          if (seen.has(key(next))) continue
          seen.add(key(next))
          states.push(next)
        }
    }
    if (!moved && marked.size > 0) return true
  }
  return false
}

describe('random flows', () => {
  /** Blocks within blocks from a row of numbers: some joins are of another sort than their split, some lines lead across to another join. */
  const flow = fc.array(fc.nat(1000), { minLength: 6, maxLength: 24 })
  function linesOf(numbers: readonly number[]): string {
    let at = 0
    let count = 0
    const dice = (sides: number): number => (numbers[at++ % numbers.length] ?? 0) % sides
    const joins: string[] = []
    const lines: string[] = []
    const block = (from: string, to: string, depth: number): void => {
      const sort = depth > 2 || at > numbers.length ? 's' : (['s', 'x', 'p', 'i', 'i'][dice(5)] ?? 's')
      const key = ++count
      if (sort === 's') return void lines.push(`${from}>s${key}`, `s${key}>${to}`)
      const closing = dice(6) === 0 ? (['x', 'p', 'i'][dice(3)] ?? 'x') : sort
      const [split, join] = [`${sort}${key}`, `${closing}${key}j`]
      lines.push(`${from}>${split}`, `${join}>${to}`)
      joins.push(join)
      block(split, join, depth + 1)
      block(split, join, depth + 1)
      if (dice(4) === 0) lines.push(`${split}>${joins[dice(joins.length)]}`)
    }
    block('b', 'x0', 0)
    block('x0', 'e', 1)
    return [...new Set(lines)].join(' ')
  }
  it('go wrong in just the cases in which looking at every state finds that they do', () => {
    const count = { wrong: 0, right: 0, inclusive: 0 }
    fc.assert(
      fc.property(flow, (numbers) => {
        const process = shown(graph(linesOf(numbers)))
        const wrong = goesWrong(process)
        const { decided, faults } = soundnessOf(process)
        if (wrong === undefined || !decided) return
        expect(faults.length > 0).toBe(wrong)
        count[wrong ? 'wrong' : 'right']++
        if (!wrong && [...process.nodes.values()].some((node) => node.type === 'inclusive' && node.into.length > 1))
          count.inclusive++
      }),
      { numRuns: 120 },
    )
    expect(Math.min(count.wrong, count.right, count.inclusive)).toBeGreaterThan(5)
  })
})

describe('the demo', () => {
  it('has one deadlock, where an exclusive choice meets in a parallel join', () => {
    const faults = levelsOn(marramSoundFerries(), DAY).flatMap((process) => soundnessOf(process).faults)
    expect(faults.map(({ sort, node }) => [sort, node])).toEqual([['deadlock', 'sc-settled']])
  })
})
