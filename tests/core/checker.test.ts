import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { findingsOf, makeChecker } from '../../src/core/findings'
import { apply, Model, ModelError, type Change, type Entity, type Id, type Step } from '../../src/core/model'
import {
  fieldsOfKind,
  fieldsOfRelation,
  judging,
  type Field,
  type Finding,
  type Registry,
  type Rule,
} from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import { marramSoundFerries } from '../../src/demo'
import { DAY, day, facts, id, listed, person, position, reports, tie } from '../facts'
import { figureOf, figureView, mapOf } from '../figureShapes'
import { network } from './network/facts'
import { graph } from './process/facts'
import { planned } from './schedule/facts'

const together = (...models: readonly Model[]): Model =>
  Model.of({
    entities: models.flatMap((model) => [...model.entities.values()]),
    relations: models.flatMap((model) => [...model.relations.values()]),
    views: models.flatMap((model) => [...model.views.values()]),
  })
/** The demo, where much is told, and a few facts of every notation, where every change is near to a contradiction. */
const models: readonly Model[] = [
  marramSoundFerries(),
  together(
    listed('Ada — Head\n  Ben — Lead\n    Cid — Clerk\n    Dan — Clerk\n  Eve — Aide (assistant)\n    Ben — Desk'),
    facts(tie('holds', 'twin', 'p2'), person('twin', { name: 'Ben' })),
  ),
  together(
    graph('b>p1 p1>s1 p1>s2 s1>x1 s2>x1 x1>s3 s3>x2 x2>e x2>s1'),
    facts(
      { id: id('lane'), kind: 'lane', name: 'Desk', fields: { process: 'p', of: 'clerk' } },
      { id: id('clerk'), kind: 'role', name: 'Clerk', fields: {} },
      position('post'),
      person('holder'),
      tie('holds', 'holder', 'post'),
      tie('fills', 'post', 'clerk'),
      ...['s1', 's2', 's3'].map((step) => tie('performed-in', step, 'lane')),
    ),
  ),
  together(
    figureOf([
      { text: 'A', under: [{ text: 'a' }] },
      { text: 'B', under: [{ text: 'b' }] },
      { text: 'New part' },
      { text: 'C' },
    ]),
    mapOf(5, 6),
    Model.of({
      views: [
        figureView('ring', { paper: 'A5' }),
        figureView('concepts', { paper: 'A5' }, { id: id('map'), scope: { figure: 'f' } }),
      ],
    }),
  ),
  planned('Phase\n  Dig  5d\n  Lay  10d  after Dig\n  Test  3d  after Lay\nOpen  milestone  after Test', '2026-11-02', [
    person('worker'),
    position('crew'),
    tie('holds', 'worker', 'crew'),
  ]),
  network(`Out  (zone, trust none)
  isp  cloud service  203.0.113.1/30
    ge0 to fw wan  1G
In  (zone, trust high)
  Lan  (subnet 10.0.0.0/29, gateway 10.0.0.1)
  fw  firewall  10.0.0.1/29  at Hall
    port wan  203.0.113.2/30
    lan to sw p1  1G
    allow tcp 443 from Out to web
    deny any from any to any
  sw  switch  10.0.0.2/29  in A1 u 3
  web  server  10.0.0.3/29  critical  in A1 u 4
    e0 to sw p2  100M  copper  90 m
    flow to isp  tcp 443  80 Mbit/s  needed
  db  server  10.0.0.4/29  in A1 u 5  units: 2  power: 100
    hosts Ledger
    e0 to sw p3  1G
A1  (rack, units 6, watts 150)  at Hall
Hall  (site, north 50, east 3)`),
]

/** Values that are likely to make or end a finding, by the type of a field. */
function valuesFor(field: Field, model: Model): readonly unknown[] {
  switch (field.type) {
    case 'number':
    case 'integer':
      return [0, 0.5, 1, 3, 80]
    case 'flag':
      return [true]
    case 'choice':
      return field.choices ?? []
    case 'reference':
      return [...[...model.entities.values()].slice(0, 40).map(({ id: one }) => one), 'Nobody']
    case 'duration':
      return ['1d', '30d', '-2d']
    case 'moment':
    case 'day':
      return ['2026-11-02', '2027-06-01', '2026-12-25']
    case 'when':
      return ['1900', '2030-01']
    case 'list':
      return [['Mon', 'Tue'], ['10.0.0.2/29'], ['10.0.0.9/29', 'fe80::1/64']]
    default:
      return ['some words', 'M2', 'A 9', '10.0.0.0/30', '443']
  }
}

/** A change of one to three steps of any sort, by numbers that are drawn. */
function changeOf(model: Model, draws: readonly number[]): Change {
  let at = 0
  const draw = (most: number) => (draws[at++ % draws.length] ?? 0) % Math.max(1, most)
  const pick = <T>(list: readonly T[]): T => list[draw(list.length)] as T
  const steps: Step[] = []
  for (let count = draw(3); count >= 0; count--) {
    if (model.entities.size === 0 || model.relations.size === 0) return { label: 'None', steps }
    const entity = pick([...model.entities.values()])
    const relation = pick([...model.relations.values()])
    const days = ['2026-01-01', '2026-11-20', '2027-03-01', null] as const
    const sort = draw(10)
    if (sort === 0) steps.push({ do: 'remove-entity', id: entity.id })
    else if (sort === 1) steps.push({ do: 'remove-relation', id: relation.id })
    else if (sort === 2)
      steps.push({ do: 'set-entity', id: entity.id, path: 'name', value: pick(['Ben', 'Unnamed', 'Do it', 'Ada']) })
    else if (sort === 3) steps.push({ do: 'set-entity', id: entity.id, path: pick(['from', 'to']), value: pick(days) })
    else if (sort === 4)
      steps.push({ do: 'set-relation', id: relation.id, path: pick(['from', 'to']), value: pick(days) })
    else if (sort === 5)
      steps.push({ do: 'set-relation', id: relation.id, path: pick(['source', 'target']), value: entity.id })
    else if (sort === 6)
      steps.push({ do: 'add-relation', relation: { ...relation, id: id(`new-${draw(1e9)}`), target: entity.id } })
    else if (sort === 7) steps.push({ do: 'add-entity', entity: { ...entity, id: id(`new-${draw(1e9)}`) } })
    else {
      const own = sort === 8 ? relation : entity
      const kind = sort === 8 ? registry.relationKinds.get(own.kind) : registry.kinds.get(own.kind)
      const fields = kind && 'sources' in kind ? fieldsOfRelation(kind) : kind ? fieldsOfKind(kind) : []
      const field = pick(fields)
      const value = pick([...valuesFor(field, model), null]) as string | null
      steps.push({ do: sort === 8 ? 'set-relation' : 'set-entity', id: own.id, path: `fields.${field.id}`, value })
    }
  }
  return { label: 'Any', steps }
}

/** Findings of each rule by itself, so that a difference names the rule. */
const byRule = (found: readonly Finding[]) =>
  new Map([...registry.rules.keys()].map((rule) => [rule, found.filter((one) => one.rule === rule)]))

describe('a checker', () => {
  it('finds what all rules run anew find, whatever has changed before', () => {
    const all = makeChecker(registry)
    fc.assert(
      fc.property(
        fc.constantFrom(0, 1, 1, 2, 2, 3, 3),
        fc.array(fc.array(fc.nat(), { minLength: 12, maxLength: 24 }), { minLength: 1, maxLength: 8 }),
        (start, runs) => {
          let model = models[start] ?? Model.empty
          all(model, DAY)
          for (const draws of runs) {
            const change = changeOf(model, draws)
            try {
              ;({ model } = apply(model, change))
            } catch (error) {
              if (!(error instanceof ModelError)) throw error
              continue
            }
            const [found, anew] = [byRule(all(model, DAY)), byRule(findingsOf(registry, model, DAY))]
            for (const rule of registry.rules.keys()) expect(found.get(rule), rule).toEqual(anew.get(rule))
          }
        },
      ),
      { numRuns: 150, seed: 2026, endOnFailure: true },
    )
  }, 120_000)

  it('keeps what it found of a fact that has not changed, the same object', () => {
    const check = makeChecker(registry)
    const model = facts(position('a'), position('b'), reports('a', 'a'), reports('b', 'b'))
    const before = check(model, DAY)
    const after = check(
      apply(model, { label: '', steps: [{ do: 'set-entity', id: id('b'), path: 'name', value: 'B' }] }).model,
      DAY,
    )
    const of = (found: readonly { subjects: readonly Id[] }[], key: string) =>
      found.find(({ subjects }) => subjects[0] === key)
    expect(of(after, 'a')).toBe(of(before, 'a'))
    expect(of(after, 'b')).not.toBe(of(before, 'b'))
  })

  it('looks again on another day, and after another threshold or acceptance', () => {
    const check = makeChecker(registry)
    const span = facts(position('a'), ...['b', 'c', 'd'].flatMap((key) => [position(key), reports(key, 'a')]))
    const has = (model: Model, on = DAY) => check(model, on).some(({ rule }) => rule === 'org/wide-span')
    const set = (path: string, value: never) =>
      apply(span, { label: '', steps: [{ do: 'set-workspace', path, value }] }).model
    expect(has(span)).toBe(false)
    expect(has(set('thresholds.org/wide-span', 2 as never))).toBe(true)
    expect(has(span)).toBe(false)
    const ends = facts(position('a', { to: day('2026-12-31') }), position('b'), reports('b', 'a'))
    const key = check(ends, DAY).find(({ rule }) => rule === 'org/manager-not-in-force')
    expect(key).toBeDefined()
    const accepted = apply(ends, {
      label: '',
      steps: [
        { do: 'set-workspace', path: `accepted.${key?.rule} ${key?.subjects.join(' ')}`, value: { reason: 'Known.' } },
      ],
    }).model
    const stands = (on = DAY) => check(accepted, on).find(({ rule }) => rule === key?.rule)?.accepted
    expect([stands()?.reason, check(ends, DAY).find(({ rule }) => rule === key?.rule)?.accepted]).toEqual([
      'Known.',
      undefined,
    ])
    expect(stands()).toBe(stands())
  })

  it('runs no rule that looks at nothing of what has changed, and runs a rule again that failed', () => {
    let [runs, fails] = [0, true]
    const rule = (more: Partial<Rule>): Rule => ({
      id: 'test/rule',
      severity: 'note',
      title: '',
      why: '',
      source: '',
      check: () => {
        runs++
        if (fails) throw new Error('broken')
        return []
      },
      reads: { facts: { position: ['from'] } },
      ...more,
    })
    const only = { ...registry, rules: new Map([['test/rule', rule({})]]) } as Registry
    const check = makeChecker(only)
    const model = facts(position('a'))
    const named = (value: string, path = 'name') =>
      apply(model, { label: '', steps: [{ do: 'set-entity', id: id('a'), path, value }] }).model
    expect(check(model, DAY)[0]?.failed).toBe(true)
    fails = false
    check(named('A'), DAY)
    check(named('B'), DAY)
    check(named('2', 'fields.grade'), DAY)
    expect(runs).toBe(2)
    check(named('2026-01-01', 'from'), DAY)
    expect(runs).toBe(3)
  })

  it('judges again only facts near to a change, where a rule judges them one by one', () => {
    const judged: string[] = []
    const rule = judging<Entity>(
      {
        id: 'test/each',
        severity: 'note',
        title: '',
        why: '',
        source: '',
        reads: { facts: { position: true, 'reports-to': true }, names: ['*'] },
      },
      (model) => model.ofKind('position'),
      (model, { id: one, name }) => {
        judged.push(one)
        return [{ message: `${name} leads ${model.reaching(one).length}.`, subjects: [one], fixes: [] }]
      },
    )
    const check = makeChecker({ ...registry, rules: new Map([['test/each', rule]]) })
    const keys = ['a', 'b', 'c', 'd', 'e']
    const model = facts(...keys.map((key) => position(key)), reports('b', 'a'), reports('c', 'b'))
    check(model, DAY)
    expect(judged.splice(0)).toEqual(keys)
    const { model: next } = apply(model, { label: '', steps: [{ do: 'remove-relation', id: reports('c', 'b').id }] })
    const found = check(next, DAY).map(({ message }) => message)
    expect(judged).toEqual(['b', 'c'])
    expect(found).toEqual(keys.map((key) => `${next.entities.get(id(key))?.name} leads ${key === 'a' ? 1 : 0}.`))
  })

  it('tells what is called like a position from positions, however many are called so', () => {
    const check = makeChecker(registry)
    const held = [tie('holds', 'x', 'thing'), tie('holds', 'x', 'post')]
    const model = facts(
      person('x'),
      { id: id('thing'), kind: 'role', name: 'Ada', fields: {} },
      position('post'),
      position('other', { name: 'Ada' }),
      position('far'),
      ...held,
    )
    check(model, DAY)
    const { model: next } = apply(model, {
      label: '',
      steps: [{ do: 'set-entity', id: id('far'), path: 'name', value: 'Ada' }],
    })
    expect(byRule(check(next, DAY))).toEqual(byRule(findingsOf(registry, next, DAY)))
  })
})
