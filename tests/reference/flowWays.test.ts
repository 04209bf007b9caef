import fc from 'fast-check'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { parseWorkspace } from '../../src/core/file'
import { asId, type Id, type Model } from '../../src/core/model'
import { registry } from '../../src/core/notations'
import { totalsOf } from '../../src/core/notations/process/numbers'
import { expectedMinutes, shortestAndLongest } from '../../src/core/notations/process/numbers/paths'
import { visitsOf } from '../../src/core/notations/process/numbers/visits'
import { soundnessOf } from '../../src/core/notations/process/soundness'
import type { FlowNode, Process } from '../../src/core/notations/process/structure'
import { graph, shown } from '../core/process/facts'

const named = (name: string): Process =>
  shown(parseWorkspace(readFileSync(join('tests', 'cases', name), 'utf8'), registry).model)

const timed = (model: Model, times: readonly number[]): Model => {
  let next = 0
  return model.with({
    entities: new Map(
      [...model.entities].map(([id, entity]) => [
        id,
        entity.kind === 'step'
          ? { ...entity, fields: { ...entity.fields, duration: times[next++ % Math.max(1, times.length)] ?? 1 } }
          : entity,
      ]),
    ),
  })
}
const minutesOf = ({ entity }: FlowNode): number =>
  typeof entity.fields['duration'] === 'number' ? entity.fields['duration'] : 0

/** Random flows without any plan: exclusive gateways that lead anywhere, loops within loops, dead loops too. */
const anyFlow = fc
  .record({
    size: fc.integer({ min: 2, max: 7 }),
    ways: fc.array(fc.tuple(fc.nat(), fc.nat()), { minLength: 7, maxLength: 7 }),
    times: fc.array(fc.integer({ min: 1, max: 50 }), { minLength: 7, maxLength: 7 }),
  })
  .map(({ size, ways, times }) => {
    const lines = ['b>x0']
    for (let i = 0; i < size; i++) {
      const [a = 0, b = 0] = ways[i] ?? []
      const to = (n: number) => (n % (size + 1) === size ? 'e' : `x${n % (size + 1)}`)
      lines.push(`x${i}>s${i}a`, `s${i}a>${to(a)}`, `x${i}>s${i}b`, `s${i}b>${to(b)}`)
    }
    return shown(timed(graph(lines.join(' ')), times))
  })

/** Every way through without coming to an element twice, one by one. */
function waysThrough(process: Process): number[] {
  const found: number[] = []
  const walk = (id: Id, seen: ReadonlySet<Id>, minutes: number) => {
    const node = process.nodes.get(id)
    if (!node || seen.has(id)) return
    const now = minutes + minutesOf(node)
    if (node.out.length === 0) found.push(now)
    for (const { target } of node.out) walk(target, new Set([...seen, id]), now)
  }
  walk(asId('b'), new Set(), 0)
  return found
}

describe('the shortest and the longest way', () => {
  it('are those of all ways, looked at one by one', () => {
    let loops = 0
    fc.assert(
      fc.property(anyFlow, (process) => {
        const ways = waysThrough(process)
        const found = shortestAndLongest(process, asId('b'))
        loops += process.flows.length > process.nodes.size ? 1 : 0
        if (ways.length === 0) expect(found).toBeUndefined()
        else expect(found).toEqual({ least: Math.min(...ways), most: Math.max(...ways) })
      }),
      { numRuns: 400 },
    )
    expect(loops).toBeGreaterThan(50)
  })
  it('are found where a loop is entered at two places', () => {
    expect(shortestAndLongest(named('shortest.skivel.json'), asId('start0'))?.least).toBe(3)
  })
  it('take as few or as many of inclusive ways as may be', () => {
    expect(shortestAndLongest(named('or-visits.skivel.json'), asId('start0'))).toEqual({ least: 15, most: 25 })
  })
  it('leave the longest open where there are too many ways, and find the shortest all the same', () => {
    // Thirteen decisions each of which leads to every other: more ways than can be looked at.
    const keys = Array.from({ length: 13 }, (_, i) => `x${i}`)
    const lines = keys.flatMap((a) => keys.flatMap((b) => (a === b ? [] : [`${a}>s${a}${b}`, `s${a}${b}>${b}`])))
    const process = shown(timed(graph(`b>x0 ${lines.join(' ')} x12>e`), [7, 3, 11]))
    const { least, most } = shortestAndLongest(process, asId('b')) ?? {}
    expect(most).toBeUndefined()
    // From x0 to x12 by the one step between them, or around by two others.
    const direct = minutesOf(process.nodes.get(asId('sx0x12')) ?? ([...process.nodes.values()][0] as FlowNode))
    expect(least).toBeLessThanOrEqual(direct)
    expect(least).toBeGreaterThanOrEqual(3)
  })
  it('walk sequences of thousands of steps', () => {
    const steps = Array.from({ length: 8000 }, (_, i) => `s${i}>s${i + 1}`)
    const process = shown(timed(graph(`b>s0 ${steps.join(' ')} s8000>e`), [1]))
    expect(shortestAndLongest(process, asId('b'))).toEqual({ least: 8001, most: 8001 })
    expect(expectedMinutes(process, asId('b'))).toBe(8001)
  })
})

describe('an inclusive join', () => {
  it('is passed once a case, and what is behind it costs once', () => {
    const process = named('or-visits.skivel.json')
    const { nodes } = visitsOf(process)
    expect(['task2', 'task3', 'or4', 'task5'].map((id) => nodes.get(asId(id)))).toEqual([0.5, 0.7, 1, 1])
    expect(totalsOf(process).cost).toBeCloseTo(101.2, 9)
    // Where the longer way is not taken, the shorter one is.
    expect(totalsOf(process).time).toBeCloseTo(0.7 * 20 + 0.3 * 10 + 5, 9)
  })
  it.each([
    ['with ways that end elsewhere', 'b>i1 i1>s1:1 i1>x1:0.5 x1>s2:0.5 x1>e2:0.5 s1>i2 s2>i2 i2>s3 s3>e', 's3', 1],
    ['of an exclusive choice', 'b>x1 x1>s1:0.2 x1>s2:0.3 x1>e2:0.5 s1>i2 s2>i2 i2>s3 s3>e', 's3', 0.5],
    ['with a loop on one way', 'b>i1 i1>x1 i1>s2 x1>s1 s1>x2 x2>x1:0.5 x2>i2:0.5 s2>i2 i2>s3 s3>e', 's3', 1],
    ['within a loop', 'b>x1 x1>i1 i1>s1 i1>s2 s1>i2 s2>i2 i2>x2 x2>x1:0.5 x2>s3:0.5 s3>e', 'i2', 2],
    ['that a later loop enters from behind', 'b>i1 i1>x3 i1>s2 x3>s1 s1>i2 s2>i2 i2>x2 x2>x3:0.5 x2>e:0.5', 's1', 2],
  ])('%s is passed as often as something comes to it', (_, lines, node, visits) => {
    expect(visitsOf(shown(graph(lines))).nodes.get(asId(node))).toBeCloseTo(visits, 9)
  })
  /** Two to four ways of one to three steps, each with a share: a case takes every way by itself, and one of them at least. */
  it('is passed once for any number of ways and any shares', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0.05, max: 1, noNaN: true }), { minLength: 2, maxLength: 4 }), (shares) => {
        const ways = shares.map((share, i) => `i1>s${i}:${share} s${i}>i2`)
        expect(visitsOf(shown(graph(`b>i1 ${ways.join(' ')} i2>s9 s9>e`))).nodes.get(asId('s9'))).toBeCloseTo(1, 9)
      }),
    )
  })
  // ISO/IEC 19510, 13.4.3: what can come to a line that is marked already holds nothing up.
  it('does not wait for what can come to a line that is marked already', () => {
    expect(soundnessOf(named('false-alarm.skivel.json'))).toMatchObject({ decided: true, faults: [] })
  })
})

describe('what splits again and again', () => {
  it('takes no time that could be told, and stops nothing', () => {
    const process = named('loop2.skivel.json')
    expect(totalsOf(process).time).toBe(Infinity)
    expect(visitsOf(process).nodes.get(asId('start0'))).toBe(1)
  })
  it('is counted as without bound where every round makes more of it', () => {
    const { nodes } = visitsOf(shown(graph('b>x1 x1>p1 p1>x2 p1>x3 x2>x1 x3>x1:0.5 x3>e:0.5')))
    expect([nodes.get(asId('b')), nodes.get(asId('p1')), nodes.get(asId('e'))]).toEqual([1, Infinity, Infinity])
  })
  it('is never more than a number of any random flow', () => {
    const any = fc.array(fc.tuple(fc.constantFrom('x', 'p', 'i'), fc.nat(), fc.nat()), { minLength: 2, maxLength: 9 })
    fc.assert(
      fc.property(any, (nodes) => {
        const name = (n: number) => {
          const at = n % (nodes.length + 1)
          return at === nodes.length ? 'e' : `${nodes[at]?.[0]}${at}`
        }
        const lines = nodes.flatMap(([, a, b], i) => [`${name(i)}>s${i} s${i}>${name(a)}`, `${name(i)}>${name(b)}`])
        const process = shown(timed(graph(`b>${name(0)} ${[...new Set(lines)].join(' ')}`), [3, 5]))
        const { time, shortest, longest, cost } = totalsOf(process)
        for (const value of [time, cost, shortest ?? 0, longest ?? 0, ...visitsOf(process).nodes.values()])
          expect(value).toBeGreaterThanOrEqual(0)
      }),
      { numRuns: 1500 },
    )
  })
})
