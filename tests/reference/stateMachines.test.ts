import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { asId, Model, type Entity, type Id, type Relation } from '../../src/core/model'
import { runsOf, whereActive } from '../../src/core/notations/uml/states/runs'
import { machinesOn, type Machine } from '../../src/core/notations/uml/states/structure'
import { bothHold } from '../../src/core/notations/uml/states/rules'
import { testPaths } from '../../src/core/notations/uml/states/tour'
import { DAY } from '../facts'

/**
 * State machines against brute force: an interpreter of UML 2.5.1, 14.2.3 that knows nothing of ours, walks at random and by every step, and keeps
 * for each region what is active in it.
 */

interface Drawn {
  readonly states: readonly { readonly form: number; readonly within: number; readonly region: number }[]
  readonly leads: readonly {
    readonly from: number
    readonly to: number
    readonly event: number
    readonly guard: boolean
  }[]
}
/** A state with two regions of two states each, in which the same events come, and one beside it. */
const beside: fc.Arbitrary<Drawn> = fc.record({
  states: fc.constant([
    { form: 0, within: 9, region: 0 },
    ...[1, 1, 2, 2].map((region) => ({ form: 0, within: 0, region })),
    { form: 0, within: 9, region: 0 },
  ]),
  leads: fc.array(
    fc.record({ from: fc.nat(5), to: fc.nat(5), event: fc.integer({ min: 1, max: 2 }), guard: fc.boolean() }),
    { minLength: 3, maxLength: 9 },
  ),
})
const anyhow: fc.Arbitrary<Drawn> = fc.record({
  states: fc.array(fc.record({ form: fc.nat(9), within: fc.nat(9), region: fc.nat(2) }), {
    minLength: 1,
    maxLength: 8,
  }),
  leads: fc.array(fc.record({ from: fc.nat(9), to: fc.nat(9), event: fc.nat(3), guard: fc.boolean() }), {
    maxLength: 14,
  }),
})
const drawn = fc.oneof(anyhow, beside)
const FORMS = ['state', 'state', 'state', 'state', 'state', 'state', 'choice', 'final', 'junction', 'state'] as const

/** A machine with regions in some states, a beginning in every region, and every transition that the standard allows. */
function machineOf({ states, leads }: Drawn): Machine {
  const entities: Entity[] = [{ id: asId('m'), kind: 'machine', name: 'M', fields: {} }]
  const relations: Relation[] = []
  const holderOf: (Id | undefined)[] = []
  const put = (key: string, kind: string, fields: Entity['fields']) => {
    entities.push({ id: asId(key), kind, name: key, fields: { machine: 'm', ...fields } })
  }
  const begun = new Set<string>()
  states.forEach(({ form, within, region }, at) => {
    const outer = within < at && FORMS[states[within]?.form ?? 0] === 'state' ? within : undefined
    const isSplit = outer !== undefined && region > 0
    const holder = outer === undefined ? undefined : isSplit ? `s${outer}r${region}` : `s${outer}`
    if (isSplit && !entities.some(({ id }) => id === holder)) put(holder ?? '', 'region', { within: `s${outer}` })
    put(`s${at}`, 'state', { form: FORMS[form] ?? 'state', ...(holder === undefined ? {} : { within: holder }) })
    holderOf[at] = holder === undefined ? undefined : asId(holder)
    if (begun.has(holder ?? '') || FORMS[form] === 'final') return
    begun.add(holder ?? '')
    put(`i${at}`, 'state', { form: 'initial', ...(holder === undefined ? {} : { within: holder }) })
    relations.push({
      id: asId(`b${at}`),
      kind: 'transition',
      source: asId(`i${at}`),
      target: asId(`s${at}`),
      fields: {},
    })
  })
  leads.forEach(({ from, to, event, guard }, at) => {
    const [a, b] = [from % states.length, to % states.length]
    if (FORMS[states[a]?.form ?? 0] === 'final') return
    const isPassed = FORMS[states[a]?.form ?? 0] !== 'state'
    relations.push({
      id: asId(`t${at}`),
      kind: 'transition',
      source: asId(`s${a}`),
      target: asId(`s${b}`),
      fields: { ...(isPassed || event === 0 ? {} : { trigger: `e${event}` }), ...(guard ? { guard: `g${at}` } : {}) },
    })
  })
  const found = machinesOn(Model.of({ entities, relations }), DAY).get(asId('m'))
  if (!found) throw new Error('no machine')
  return found
}

/** For every region that is entered, the vertex that is active in it. */
type Tree = ReadonlyMap<string, string>

interface Lead {
  readonly id: string
  readonly from: string
  readonly to: string
  readonly event: string | undefined
  readonly guard: boolean
}

/** The brute force: parents by name, regions by the holder’s identity, steps by the letter of the standard. */
class Interpreter {
  readonly #form = new Map<string, string>()
  /** The region that each vertex stands in, and the vertex that each region belongs to. */
  readonly #region = new Map<string, string>()
  readonly #owner = new Map<string, string>()
  readonly #regions = new Map<string, Set<string>>()
  readonly #initial = new Map<string, string>()
  readonly #leads: readonly Lead[]

  constructor(machine: Machine) {
    for (const one of machine.vertices) {
      const region = String(one.entity.fields['within'] ?? 'top')
      const owner = region.replace(/r\d$/, '')
      this.#form.set(one.id, one.form)
      this.#region.set(one.id, region)
      if (region !== 'top') {
        this.#owner.set(region, owner)
        this.#regions.set(owner, (this.#regions.get(owner) ?? new Set()).add(region))
      }
      if (one.form === 'initial') this.#initial.set(region, one.id)
    }
    for (const [id, region] of machine.regionById)
      if (region.owner) {
        this.#owner.set(id, region.owner.id)
        this.#regions.set(region.owner.id, (this.#regions.get(region.owner.id) ?? new Set()).add(id))
      }
    this.#leads = machine.transitions.map(({ id, source, target, triggers, guard }) => ({
      id,
      from: source.id,
      to: target.id,
      event: triggers[0],
      guard: guard !== undefined,
    }))
  }

  /** How often several transitions made one step. */
  together = 0

  begin(): Tree | undefined {
    const initial = this.#initial.get('top')
    return initial === undefined ? undefined : new Map([['top', initial]])
  }

  /** All regions around a vertex, the innermost first. */
  #around(vertex: string): string[] {
    const found: string[] = []
    for (let at: string | undefined = vertex; at !== undefined;) {
      const region: string = this.#region.get(at) ?? 'top'
      found.push(region)
      at = region === 'top' ? undefined : this.#owner.get(region)
    }
    return found
  }

  isActive = (tree: Tree, vertex: string): boolean => tree.get(this.#region.get(vertex) ?? 'top') === vertex

  #isPassing = (vertex: string) => ['initial', 'choice', 'junction'].includes(this.#form.get(vertex) ?? '')

  /** Enters a vertex as what is active in its region, with what stands in it from the beginning. */
  #enter(tree: Map<string, string>, vertex: string): void {
    tree.set(this.#region.get(vertex) ?? 'top', vertex)
    for (const region of this.#regions.get(vertex) ?? []) {
      const initial = this.#initial.get(region)
      if (initial !== undefined) this.#enter(tree, initial)
    }
  }

  /** Everything that can happen, whichever guards hold: a transition by itself, or on one event a largest set of those that do not leave the same. */
  steps(tree: Tree): { ids: readonly string[]; tree: Tree }[] {
    const active = [...tree.values()]
    if (this.#form.get(tree.get('top') ?? '') === 'final') return []
    const passing = active.filter(this.#isPassing)
    const enabled = this.#leads.filter(({ from, event }) => {
      if (!this.isActive(tree, from) || (passing.length > 0 && !passing.includes(from))) return false
      const regions = [...(this.#regions.get(from) ?? [])]
      const isDone = regions.every((region) => this.#form.get(tree.get(region) ?? '') === 'final')
      return event === undefined ? isDone : !this.#isTaken(tree, from, event)
    })
    const alone = enabled.filter(({ event }) => event === undefined).map((one) => [one])
    const sets = [...new Set(enabled.map(({ event }) => event))].flatMap((event) =>
      event === undefined
        ? []
        : this.#largest(
            tree,
            enabled.filter((one) => one.event === event),
          ),
    )
    return [...alone, ...sets].map((set) => ({
      ids: set.map(({ id }) => id),
      tree: set.reduce((at, one) => this.#take(at, one), tree),
    }))
  }

  /** The sets of transitions of which none leaves what another leaves, and which no other could join whose guard is none. */
  #largest(tree: Tree, list: readonly Lead[]): Lead[][] {
    const gone = list.map((one) => {
      const common = this.#common(one)
      return new Set([...tree.keys()].filter((region) => this.#isWithin(region, common)))
    })
    const isApart = (a: number, b: number) => [...(gone[a] ?? [])].every((region) => !gone[b]?.has(region))
    const found: Lead[][] = []
    for (let bits = 1; bits < 1 << list.length; bits++) {
      const chosen = [...list.keys()].filter((at) => (bits >> at) & 1)
      const others = [...list.keys()].filter((at) => !chosen.includes(at))
      if (!chosen.every((a) => chosen.every((b) => a === b || isApart(a, b)))) continue
      if (others.some((one) => list[one]?.guard === false && chosen.every((other) => isApart(one, other)))) continue
      found.push(chosen.flatMap((at) => list[at] ?? []))
    }
    return found
  }

  #common({ from, to }: Lead): string {
    const targets = this.#around(to)
    return this.#around(from).find((region) => targets.includes(region)) ?? 'top'
  }

  #take(tree: Tree, lead: Lead): Tree {
    const { to } = lead
    const [targets, common] = [this.#around(to), this.#common(lead)]
    const next = new Map([...tree].filter(([region]) => !this.#isWithin(region, common)))
    // From the outside in: each state on the way is entered, and so are its other regions, from the beginning.
    const line = [to, ...targets.slice(0, targets.indexOf(common)).map((region) => this.#owner.get(region) ?? '')]
    line.reverse().forEach((vertex, at) => {
      next.set(this.#region.get(vertex) ?? 'top', vertex)
      const inner = line[at + 1]
      for (const region of this.#regions.get(vertex) ?? []) {
        const initial = this.#initial.get(region)
        if ((inner === undefined || this.#region.get(inner) !== region) && initial !== undefined)
          this.#enter(next, initial)
      }
    })
    return next
  }

  /** Whether a region is another one or lies somewhere in it. */
  #isWithin(region: string, outer: string): boolean {
    for (let at: string | undefined = region; at !== undefined;) {
      if (at === outer) return true
      const owner: string | undefined = at === 'top' ? undefined : this.#owner.get(at)
      at = owner === undefined ? undefined : this.#region.get(owner)
    }
    return false
  }

  /** Whether something active further inside answers to an event whatever holds. */
  #isTaken(tree: Tree, outer: string, event: string): boolean {
    return this.#leads.some(
      (one) =>
        one.event === event &&
        !one.guard &&
        one.from !== outer &&
        this.isActive(tree, one.from) &&
        this.#around(one.from).some((region) => this.#owner.get(region) === outer),
    )
  }

  /** Every standing from the beginning. */
  all(most: number): { trees: Map<string, Tree>; taken: Set<string> } {
    const trees = new Map<string, Tree>()
    const taken = new Set<string>()
    const first = this.begin()
    const open = first ? [first] : []
    const key = (tree: Tree) => JSON.stringify([...tree].sort())
    for (const tree of open) trees.set(key(tree), tree)
    for (let tree = open.pop(); tree && trees.size < most; tree = open.pop())
      for (const { ids, tree: next } of this.steps(tree)) {
        for (const id of ids) taken.add(id)
        if (ids.length > 1) this.together++
        if (trees.has(key(next))) continue
        trees.set(key(next), next)
        open.push(next)
      }
    return { trees, taken }
  }
}

const MOST = 3000
const seeded = { seed: 2026, numRuns: 400 }

describe('what a machine comes to', () => {
  it('is what brute force comes to, state by state and transition by transition', () => {
    let [count, together] = [0, 0]
    fc.assert(
      fc.property(drawn, (plan) => {
        const machine = machineOf(plan)
        const brute = new Interpreter(machine)
        const { trees, taken } = brute.all(MOST)
        if (trees.size >= MOST) return
        const runs = runsOf(machine, 4 * MOST)
        const ours = [...whereActive(runs).keys()].sort()
        const theirs = machine.vertices.flatMap(({ id }) =>
          [...trees.values()].some((tree) => brute.isActive(tree, id)) ? [id] : [],
        )
        expect(ours).toEqual(theirs.sort())
        const happened = new Set(runs.happenings.flat().flatMap((one) => one.taken.map(({ id }) => id as string)))
        expect([...happened].sort()).toEqual([...taken].sort())
        expect(runs.standings).toHaveLength(trees.size)
        if (trees.size > 3) count++
        together += brute.together
      }),
      seeded,
    )
    expect(count).toBeGreaterThan(100)
    expect(together).toBeGreaterThan(10)
  })
})

describe('test paths', () => {
  it('are ways that brute force can go, and take together whatever it can take', () => {
    fc.assert(
      fc.property(drawn, (plan) => {
        const machine = machineOf(plan)
        const brute = new Interpreter(machine)
        const { trees, taken } = brute.all(300)
        if (trees.size >= 300) return
        const paths = testPaths(machine)
        expect([...new Set(paths.flatMap((one) => one.taken.map(({ id }) => id as string)))].sort()).toEqual(
          [...taken].sort(),
        )
        for (const path of paths) {
          // Several standings may follow one transition only where regions are entered; here each has one.
          const goes = (tree: Tree, left: readonly string[]): boolean =>
            left.length === 0 ||
            brute
              .steps(tree)
              .some(
                (step) =>
                  [...step.ids].sort().join() === left.slice(0, step.ids.length).sort().join() &&
                  goes(step.tree, left.slice(step.ids.length)),
              )
          const begun = brute.begin()
          const ids = path.taken.map(({ id }) => id as string)
          expect(begun !== undefined && goes(begun, ids), ids.join()).toBe(true)
        }
      }),
      seeded,
    )
  })

  it('are no longer than a tour that is found by trying, of machines without regions', () => {
    const flat = fc.record({
      states: fc.constantFrom(3, 4, 5, 6),
      leads: fc.array(fc.tuple(fc.nat(5), fc.nat(5)), { minLength: 1, maxLength: 11 }),
    })
    fc.assert(
      fc.property(flat, ({ states, leads }) => {
        const machine = machineOf({
          states: Array.from({ length: states }, () => ({ form: 0, within: 9, region: 0 })),
          leads: leads.map(([from, to], at) => ({ from, to, event: 1 + at, guard: false })),
        })
        const { standings } = runsOf(machine)
        if (standings.length === 0) return
        const length = testPaths(machine).reduce((sum, { taken }) => sum + taken.length, 0)
        expect(length).toBe(shortestByTrying(machine))
      }),
      { seed: 2026, numRuns: 300 },
    )
  })
})

describe('a way that was taken once too often', () => {
  it('is taken back where that makes all of them shorter', () => {
    // 0: S, 1: p, 2: q, 3: A, 4 and 5 lack ways in, 6: an end.
    const leads = [
      [0, 1],
      [1, 2],
      [2, 3],
      [0, 4],
      [3, 4],
      [3, 5],
      [4, 3],
      [4, 6],
      [4, 6],
      [5, 3],
      [5, 6],
    ] as const
    const machine = machineOf({
      states: Array.from({ length: 7 }, () => ({ form: 0, within: 9, region: 0 })),
      leads: leads.map(([from, to], at) => ({ from, to, event: 1 + at, guard: false })),
    })
    const length = testPaths(machine).reduce((sum, { taken }) => sum + taken.length, 0)
    expect(length).toBe(16)
    expect(shortestByTrying(machine)).toBe(16)
  })
})

/** The fewest transitions with which every one that can be taken is, beginning anew from any state for nothing: breadth first over all subsets. */
function shortestByTrying(machine: Machine): number {
  const arcs = machine.transitions
  const reached = new Set<string>(['initial'])
  const initial = machine.vertices.find(({ form }) => form === 'initial')
  const key = (at: string, done: number) => `${at} ${done}`
  const start = initial?.id ?? ''
  for (let grown = true; grown;) {
    grown = false
    for (const { source, target } of arcs)
      if ((source.id === start || reached.has(source.id)) && !reached.has(target.id)) {
        reached.add(target.id)
        grown = true
      }
  }
  const all = arcs.reduce(
    (sum, { source }, at) => (source.id === start || reached.has(source.id) ? sum | (1 << at) : sum),
    0,
  )
  const seen = new Set([key(start, 0)])
  let wave: { at: string; done: number }[] = [{ at: start, done: 0 }]
  for (let length = 0; wave.length > 0; length++) {
    if (wave.some(({ done }) => done === all)) return length
    const next: { at: string; done: number }[] = []
    for (const { at, done } of wave)
      arcs.forEach(({ source, target }, index) => {
        // From a state one may begin anew, which costs nothing.
        if (source.id !== at && source.id !== start) return
        const one = { at: target.id as string, done: done | (1 << index) }
        if (seen.has(key(one.at, one.done))) return
        seen.add(key(one.at, one.done))
        next.push(one)
      })
    wave = next
  }
  return -1
}

describe('guards of comparisons with and, or and not', () => {
  type Guard =
    | {
        readonly is: 'compared'
        readonly field: 'n' | 'm'
        readonly sign: string
        readonly than: number
        readonly turned: boolean
      }
    | { readonly is: 'in'; readonly field: 'n' | 'm'; readonly values: readonly number[] }
    | { readonly is: 'flag'; readonly flag: 'ready()' }
    | { readonly is: 'and' | 'or'; readonly parts: readonly Guard[] }
    | { readonly is: 'not'; readonly part: Guard }
  const number = fc.integer({ min: -2, max: 2 })
  const field = fc.constantFrom('n' as const, 'm' as const)
  const { guard } = fc.letrec<{ guard: Guard }>((tie) => ({
    guard: fc.oneof(
      { maxDepth: 3, withCrossShrink: true },
      fc.record({
        is: fc.constant('compared' as const),
        field,
        sign: fc.constantFrom('<', '<=', '>', '>=', '=', '!='),
        than: number,
        turned: fc.boolean(),
      }),
      fc.record({ is: fc.constant('in' as const), field, values: fc.array(number, { minLength: 1, maxLength: 3 }) }),
      fc.constant({ is: 'flag' as const, flag: 'ready()' as const }),
      fc.record({
        is: fc.constantFrom('and' as const, 'or' as const),
        parts: fc.array(tie('guard'), { minLength: 2, maxLength: 3 }),
      }),
      fc.record({ is: fc.constant('not' as const), part: tie('guard') }),
    ),
  }))
  const written = (one: Guard): string => {
    switch (one.is) {
      case 'compared':
        return one.turned ? `${one.than} ${one.sign} ${one.field}` : `${one.field} ${one.sign} ${one.than}`
      case 'in':
        return `${one.field} in {${one.values.join(', ')}}`
      case 'flag':
        return one.flag
      case 'not':
        return `not (${written(one.part)})`
      default:
        return `(${one.parts.map(written).join(` ${one.is} `)})`
    }
  }
  type Case = Readonly<{ n: number; m: number; ready: boolean }>
  const holds = (one: Guard, at: Case): boolean => {
    switch (one.is) {
      case 'compared': {
        const [left, right] = one.turned ? [one.than, at[one.field]] : [at[one.field], one.than]
        if (one.sign === '<') return left < right
        if (one.sign === '<=') return left <= right
        if (one.sign === '>') return left > right
        if (one.sign === '>=') return left >= right
        return one.sign === '=' ? left === right : left !== right
      }
      case 'in':
        return one.values.includes(at[one.field])
      case 'flag':
        return at.ready
      case 'not':
        return !holds(one.part, at)
      case 'and':
        return one.parts.every((part) => holds(part, at))
      case 'or':
        return one.parts.some((part) => holds(part, at))
    }
  }
  // Between any two numbers that are compared there is a half.
  const tried = Array.from({ length: 13 }, (_, at) => (at - 6) / 2)
  const cases = tried.flatMap((n) => tried.flatMap((m) => [true, false].map((ready): Case => ({ n, m, ready }))))
  it('exclude each other exactly where no case is tried for which both hold', () => {
    fc.assert(
      fc.property(guard, guard, (a, b) => {
        const both = cases.some((at) => holds(a, at) && holds(b, at))
        expect(bothHold(written(a), written(b)).are === 'apart').toBe(!both)
      }),
      { seed: 2026, numRuns: 3000 },
    )
  })
})
