import { describe, expect, it } from 'vitest'
import { apply, asId, type Entity, type Model, type Relation } from '../../../src/core/model'
import { registry } from '../../../src/core/notations'
import { DAY, day, person, position, tie } from '../../facts'
import { after, findings, graph, nodeNamed, told } from './facts'

const fields = (model: Model, id: string, more: Entity['fields']): Model =>
  apply(model, {
    label: '',
    steps: Object.entries(more).map(([key, value]) =>
      model.relations.has(asId(id))
        ? ({ do: 'set-relation', id: asId(id), path: `fields.${key}`, value } as const)
        : ({ do: 'set-entity', id: asId(id), path: `fields.${key}`, value } as const),
    ),
  }).model
const named = (model: Model, id: string, name: string): Model =>
  apply(model, { label: '', steps: [{ do: 'set-entity', id: asId(id), path: 'name', value: name }] }).model
const ending = (model: Model, id: string, to: string): Model =>
  apply(model, {
    label: '',
    steps: [
      model.relations.has(asId(id))
        ? { do: 'set-relation', id: asId(id), path: 'to', value: to }
        : { do: 'set-entity', id: asId(id), path: 'to', value: to },
    ],
  }).model
const lane = (id: string, more: Entity['fields'] = {}): Entity => ({
  id: asId(id),
  kind: 'lane',
  name: id,
  fields: { process: 'p', order: 1, ...more },
})
const within = (node: string, into: string): Relation => tie('performed-in', node, into)

const LATER = day('2027-06-01')
const GOOD = graph('b>s1 s1>e')
const CHOICE = 'b>x1 x1>s1 x1>s2 s1>x2 s2>x2 x2>e'

/** Each rule: facts that break it, with the first fact it names; facts that do not; and facts that break it on one day only. */
const CASES: readonly (readonly [rule: string, broken: Model, subject: string, sound: Model, until: Model])[] = [
  ['flow/no-start', graph('s1>e'), 's1', GOOD, ending(graph('s1>e'), 's1', '2026-12-31')],
  ['flow/no-end', graph('b>s1'), 's1', GOOD, ending(ending(graph('b>s1'), 's1', '2026-12-31'), 'b', '2026-12-31')],
  ['flow/unreachable', graph('b>s1 s1>e s2>e'), 's2', GOOD, ending(graph('b>s1 s1>e s2>e'), 's2', '2026-12-31')],
  [
    'flow/dead-end',
    graph('b>x1 x1>s1 x1>s2 s2>e'),
    's1',
    GOOD,
    ending(graph('b>x1 x1>s1 x1>s2 s2>e'), 's1', '2026-12-31'),
  ],
  [
    'flow/endless',
    graph('b>x1 x1>e x1>s1 s1>s2 s2>s1'),
    's1',
    GOOD,
    ending(graph('b>x1 x1>e x1>s1 s1>s2 s2>s1'), 'x1-s1', '2026-12-31').with({}) &&
      ending(ending(graph('b>x1 x1>e x1>s1 s1>s2 s2>s1'), 's1', '2026-12-31'), 's2', '2026-12-31'),
  ],
  ['flow/decision-arity', graph('b>x1 x1>e'), 'x1', graph(CHOICE), ending(graph('b>x1 x1>e'), 'x1', '2026-12-31')],
  [
    'flow/unlabelled-branch',
    fields(graph(CHOICE), 'x1-s1', { label: null } as never),
    'x1',
    graph(CHOICE),
    ending(fields(graph(CHOICE), 'x1-s1', { label: null } as never), 'x1-s1', '2026-12-31'),
  ],
  [
    'flow/duplicate-label',
    fields(fields(graph(CHOICE), 'x1-s1', { label: 'Yes' }), 'x1-s2', { label: 'yes' }),
    'x1',
    graph(CHOICE),
    ending(fields(fields(graph(CHOICE), 'x1-s1', { label: 'Yes' }), 'x1-s2', { label: 'yes' }), 'x1-s1', '2026-12-31'),
  ],
  [
    'flow/shares',
    graph('b>x1 x1>s1:0.7 x1>s2:0.4 s1>x2 s2>x2 x2>e'),
    'x1',
    graph('b>x1 x1>s1:0.6 x1>s2:0.4 s1>x2 s2>x2 x2>e'),
    ending(graph('b>x1 x1>s1:0.7 x1>s2:0.4 s1>x2 s2>x2 x2>e'), 'x1-s2', '2026-12-31'),
  ],
  [
    'flow/condition-gap',
    fields(fields(graph(CHOICE), 'x1-s1', { condition: 'weight < 10' }), 'x1-s2', { condition: 'weight > 10' }),
    'x1',
    fields(fields(graph(CHOICE), 'x1-s1', { condition: 'weight < 10' }), 'x1-s2', { condition: 'weight >= 10' }),
    ending(
      fields(fields(graph(CHOICE), 'x1-s1', { condition: 'weight < 10' }), 'x1-s2', { condition: 'weight > 10' }),
      'x1-s2',
      '2026-12-31',
    ),
  ],
  [
    'flow/condition-overlap',
    fields(fields(graph(CHOICE), 'x1-s1', { condition: 'kind in {car, van}' }), 'x1-s2', { condition: 'kind = van' }),
    'x1',
    fields(fields(graph(CHOICE), 'x1-s1', { condition: 'kind in {car, van}' }), 'x1-s2', { condition: 'kind = bus' }),
    ending(
      fields(fields(graph(CHOICE), 'x1-s1', { condition: 'kind in {car, van}' }), 'x1-s2', { condition: 'kind = van' }),
      'x1-s2',
      '2026-12-31',
    ),
  ],
  [
    'flow/start-with-incoming',
    graph('b>s1 s1>x1 x1>b x1>e'),
    'b',
    GOOD,
    ending(graph('b>s1 s1>x1 x1>b x1>e'), 'x1-b', '2026-12-31'),
  ],
  [
    'flow/end-with-outgoing',
    graph('b>s1 s1>e e>s2 s2>e2'),
    'e',
    GOOD,
    ending(graph('b>s1 s1>e e>s2 s2>e2'), 'e-s2', '2026-12-31'),
  ],
  [
    'flow/implicit-merge',
    graph('b>x1 x1>s1 x1>s2 s1>s3 s2>s3 s3>e'),
    's3',
    graph(CHOICE),
    ending(graph('b>x1 x1>s1 x1>s2 s1>s3 s2>s3 s3>e'), 's1-s3', '2026-12-31'),
  ],
  [
    'flow/gateway-both',
    graph('b>x1 x1>s1 x1>s2 s1>x2 s2>x2 x2>s3 x2>s4 s3>e s4>e2'),
    'x2',
    graph(CHOICE),
    ending(graph('b>x1 x1>s1 x1>s2 s1>x2 s2>x2 x2>s3 x2>s4 s3>e s4>e2'), 'x2-s4', '2026-12-31'),
  ],
  [
    'flow/no-lane',
    graph('b>s1 s1>e', [lane('l')]),
    's1',
    graph('b>s1 s1>e', [lane('l'), within('s1', 'l')]),
    ending(graph('b>s1 s1>e', [lane('l')]), 'l', '2026-12-31'),
  ],
  [
    'flow/verb-object',
    named(GOOD, 's1', 'Verification'),
    's1',
    named(GOOD, 's1', 'Check the claim'),
    ending(named(GOOD, 's1', 'Verification'), 's1', '2026-12-31'),
  ],
  [
    'flow/deadlock',
    graph('b>x1 x1>s1 x1>s2 s1>p1 s2>p1 p1>e'),
    'p1',
    graph(CHOICE),
    ending(graph('b>x1 x1>s1 x1>s2 s1>p1 s2>p1 p1>e'), 's2', '2026-12-31'),
  ],
  [
    'flow/unsynchronised',
    graph('b>p1 p1>s1 p1>s2 s1>x1 s2>x1 x1>s3 s3>e'),
    'x1',
    graph(CHOICE),
    ending(graph('b>p1 p1>s1 p1>s2 s1>x1 s2>x1 x1>s3 s3>e'), 's2', '2026-12-31'),
  ],
  [
    'flow/improper-end',
    graph('b>p1 p1>s1 p1>s2 s1>e s2>e'),
    'e',
    graph(CHOICE),
    ending(graph('b>p1 p1>s1 p1>s2 s1>e s2>e'), 's2', '2026-12-31'),
  ],
  [
    'flow/raci-accountable',
    graph('b>s1 s1>e', [tie('raci', 'r', 's1', { fields: { part: 'R' } })]),
    's1',
    graph('b>s1 s1>e', [
      { ...tie('raci', 'r', 's1', { fields: { part: 'R' } }), id: asId('a1') },
      tie('raci', 'r', 's1', { fields: { part: 'A' } }),
    ]),
    ending(graph('b>s1 s1>e', [tie('raci', 'r', 's1', { fields: { part: 'R' } })]), 'raci:r:s1', '2026-12-31'),
  ],
  [
    'flow/raci-responsible',
    graph('b>s1 s1>e', [tie('raci', 'r', 's1', { fields: { part: 'A' } })]),
    's1',
    GOOD,
    ending(graph('b>s1 s1>e', [tie('raci', 'r', 's1', { fields: { part: 'A' } })]), 'raci:r:s1', '2026-12-31'),
  ],
]

describe.each(CASES)('%s', (rule, broken, subject, sound, until) => {
  it('finds what breaks it', () =>
    expect(findings(rule, broken).map(({ subjects: [first] }) => first)).toContain(asId(subject)))
  it('says nothing of what does not', () => expect(findings(rule, sound)).toEqual([]))
  it('follows the day', () => {
    expect(findings(rule, until).map(({ subjects: [first] }) => first)).toContain(asId(subject))
    expect(findings(rule, until, LATER).map(({ subjects: [first] }) => first)).not.toContain(asId(subject))
  })
})

const role = (id: string): Entity => ({ id: asId(id), kind: 'role', name: id, fields: {} })

describe('rules about who does it', () => {
  const staffed = (to?: string) =>
    graph('b>s1 s1>s2 s2>e', [
      lane('l', { of: 'clerk' }),
      lane('m', { of: 'chief', order: 2 }),
      role('clerk'),
      role('chief'),
      within('s1', 'l'),
      within('s2', 'm'),
      position('post'),
      position('desk'),
      person('Ada'),
      tie('fills', 'post', 'clerk'),
      tie('fills', 'desk', 'chief'),
      tie('holds', 'Ada', 'post', to ? { to: day(to) } : {}),
      tie('holds', 'Ada', 'desk'),
      tie('kept-apart', 's1', 's2'),
    ])
  it('x/lane-role-empty: a lane whose role nobody holds on the day', () => {
    expect(findings('x/lane-role-empty', staffed())).toEqual([])
    expect(findings('x/lane-role-empty', staffed('2026-12-31'))).toEqual([])
    expect(findings('x/lane-role-empty', staffed('2026-12-31'), LATER).map(({ subjects: [first] }) => first)).toEqual([
      'l',
    ])
  })
  it('flow/same-hands: steps kept apart that one person does', () => {
    expect(findings('flow/same-hands', staffed())[0]?.message).toContain('Ada does both')
    expect(findings('flow/same-hands', staffed('2026-12-31'), LATER)).toEqual([])
  })
  it('x/system-retired: a step that uses a system past its last day', () => {
    const system: Entity = { id: asId('sys'), kind: 'system', name: 'Sys', fields: {}, to: day('2026-12-31') }
    const model = fields(graph('b>s1 s1>e', [system]), 's1', { tool: 'sys' })
    expect(findings('x/system-retired', model)).toEqual([])
    expect(findings('x/system-retired', model, LATER).map(({ subjects: [first] }) => first)).toEqual(['s1'])
  })
  it('flow/crosses-pool: a flow between two pools, mended by a message', () => {
    const pool = (id: string): Entity => ({ id: asId(id), kind: 'pool', name: id, fields: { process: 'p' } })
    const model = graph('b>s1 s1>s2 s2>e', [
      pool('x'),
      pool('y'),
      lane('l', { pool: 'x' }),
      lane('m', { pool: 'y', order: 2 }),
      within('s1', 'l'),
      within('s2', 'm'),
    ])
    const [finding] = findings('flow/crosses-pool', model)
    expect(finding?.subjects[0]).toBe('s1-s2')
    const mended = finding?.fixes[0] && apply(model, finding.fixes[0].change).model
    expect(mended && findings('flow/crosses-pool', mended)).toEqual([])
    expect(mended?.relationsOfKind('message')).toHaveLength(1)
  })
  it('flow/ping-pong: the likely way goes to and fro between two lanes', () => {
    const model = graph('b>s1 s1>s2 s2>s3 s3>s4 s4>e', [
      lane('l'),
      lane('m', { order: 2 }),
      within('s1', 'l'),
      within('s2', 'm'),
      within('s3', 'l'),
      within('s4', 'm'),
    ])
    expect(findings('flow/ping-pong', model)).toHaveLength(1)
    expect(
      findings(
        'flow/ping-pong',
        apply(model, { label: '', steps: [{ do: 'set-workspace', path: 'thresholds.flow/ping-pong', value: 4 }] })
          .model,
      ),
    ).toEqual([])
  })
  it('flow/too-large: more elements than the workspace allows', () => {
    const steps = Array.from({ length: 51 }, (_, i) => `s${i}>s${i + 1}`).join(' ')
    expect(findings('flow/too-large', graph(`b>s0 ${steps} s51>e`))).toHaveLength(1)
    expect(findings('flow/too-large', GOOD)).toEqual([])
  })
})

describe('fixes', () => {
  const fixed = (rule: string, model: Model, label: string): Model => {
    const fix = findings(rule, model)[0]?.fixes.find((one) => one.label === label)
    if (!fix) throw new Error(`no fix ${label}`)
    return apply(model, fix.change).model
  }
  it.each([
    ['flow/deadlock', 'b>x1 x1>s1 x1>s2 s1>p1 s2>p1 p1>e', 'Join as “either”'],
    ['flow/unsynchronised', 'b>p1 p1>s1 p1>s2 s1>x1 s2>x1 x1>s3 s3>e', 'Join as “both”'],
    ['flow/improper-end', 'b>p1 p1>s1 p1>s2 s1>e s2>e', 'Add the missing parallel join'],
    ['flow/shares', 'b>x1 x1>s1:0.7 x1>s2:0.4 s1>x2 s2>x2 x2>e', 'Bring them to 100 %'],
    ['flow/start-with-incoming', 'b>s1 s1>x1 x1>b x1>e', 'Remove the line'],
  ])('of %s mends it', (rule, lines, label) => {
    expect(findings(rule, fixed(rule, graph(lines), label))).toEqual([])
  })
  it('of an unlabelled branch writes “otherwise”', () => {
    const model = told('Is it right?\n  yes\n    A b\n  –\n    C d')
    expect(findings('flow/unlabelled-branch', fixed('flow/unlabelled-branch', model, 'Write “otherwise”'))).toEqual([])
    expect(after).toBeDefined()
    expect(nodeNamed(model, 'A b')).toBeDefined()
  })
})

it('every rule of the notation is listed with its words and source', () => {
  const rules = [...registry.rules.values()].filter(({ id }) => id.startsWith('flow/'))
  expect(rules).toHaveLength(26)
  for (const { title, why, source } of rules) expect([title, why, source].every((text) => text.length > 3)).toBe(true)
  expect(DAY).toBe('2026-11-24')
})
