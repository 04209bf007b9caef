import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { parseWorkspace } from '../../src/core/file'
import { findingsOf } from '../../src/core/findings'
import { asDay, asId, Model, type Day, type Entity, type Fields, type Relation, type View } from '../../src/core/model'
import { registry } from '../../src/core/notations'
import { themeOf, toSvg } from '../../src/core/scene'
import { DAY, treeView } from '../facts'

/** Draws every picture of every view, runs every rule and every sheet: whatever cannot do so is named. */
function exercise(model: Model, day: Day): { readonly marks: number; readonly rules: readonly string[] } {
  let marks = 0
  for (const view of viewsOf(model)) {
    const scene = registry.notations
      .find(({ id }) => id === view.notation)
      ?.pictures.find(({ id }) => id === view.picture)
      ?.draw(model, view, day)
    if (!scene) throw new Error(`${view.picture} is not drawn`)
    expect(toSvg(scene, { theme: themeOf(undefined), title: view.title })).not.toMatch(/NaN|Infinity/)
    marks += scene.items.length
  }
  const findings = findingsOf(registry, model, day)
  for (const { numbers } of registry.notations) for (const sheet of numbers) sheet.rows(model, day)
  return { marks, rules: findings.map(({ rule }) => rule) }
}

/** The views of a model, and one of each picture besides. */
const viewsOf = (model: Model): View[] => [
  ...model.views.values(),
  ...registry.notations.flatMap(({ id: notation, pictures }) =>
    pictures.map(({ id: picture }) => treeView({ id: asId(`${notation}-${picture}`), notation, picture })),
  ),
]

const plan = (fields: Fields = {}): Entity => ({
  id: asId('p'),
  kind: 'plan',
  name: 'Plan',
  fields: { start: '2026-01-05', ...fields },
})
const task = (id: string, fields: Fields): Entity => ({
  id: asId(id),
  kind: 'task',
  name: id,
  fields: { plan: 'p', ...fields },
})
const event = (id: string, when: string): Entity => ({ id: asId(id), kind: 'event', name: id, fields: { when } })
const calendar: Entity = { id: asId('c'), kind: 'calendar', name: 'C', fields: { region: 'NO' } }

const FAR: Readonly<Record<string, readonly Entity[]>> = {
  'a duration of millions of days': [plan(), task('a', { duration: '5000000d' })],
  'a duration of thousands of weeks': [plan(), task('a', { duration: '99999w' }), task('b', { duration: '-99999w' })],
  'a deadline at the end of the calendar': [plan(), task('a', { duration: '3d', deadline: '9999-12-31' })],
  'a task fixed at the end of the calendar': [
    plan(),
    task('a', { fixed: true, start: '9999-12-01', finish: '9999-12-31' }),
    task('b', { duration: '3d' }),
  ],
  'a task fixed to the minute at both ends of the calendar': [
    plan(),
    task('a', { fixed: true, start: '0001-01-01T00:00', finish: '9999-12-31T23:59' }),
  ],
  'a plan that begins at the beginning of the calendar': [
    plan({ start: '0001-01-01', status: '9999-12-31' }),
    task('a', { duration: '3d' }),
  ],
  'holidays of a region over all that time': [
    plan({ calendar: 'c' }),
    calendar,
    task('a', { duration: '99999d', on: '9999-12-31', constraint: 'must finish' }),
  ],
  'done on the last day, begun on the first': [
    plan(),
    task('a', { actualStart: '0001-01-01', actualFinish: '9999-12-31', remaining: '99999w' }),
  ],
  'events at both ends of what can be written': [
    event('a', '-999999'),
    event('b', '999999-12-31T23:59'),
    event('c', '2026'),
  ],
}

describe('facts that lie far away', () => {
  for (const [what, facts] of Object.entries(FAR))
    it(`are drawn, checked and counted: ${what}`, () => {
      for (const day of [DAY, asDay('0001-01-02'), asDay('9999-12-31')])
        expect(exercise(Model.of({ entities: facts }), day).marks).toBeGreaterThan(0)
    })
  it('are said to lie beyond what is reckoned with', () => {
    const rules = (facts: readonly Entity[]) => exercise(Model.of({ entities: facts }), DAY).rules
    expect(rules([plan(), task('a', { duration: '5000000d' })])).toContain('sch/too-far')
    expect(rules([plan(), task('a', { deadline: '9999-12-31' })])).toContain('sch/too-far')
    expect(rules([plan(), task('a', { duration: '10000d', deadline: '2199-12-31' })])).not.toContain('sch/too-far')
  })
  it('leave nothing behind that changes what is reckoned later', () => {
    const near = Model.of({ entities: [plan(), task('a', { duration: '5d' })] })
    const rows = () =>
      JSON.stringify(registry.notations.flatMap(({ numbers }) => numbers.map((sheet) => sheet.rows(near, DAY))))
    const before = rows()
    exercise(Model.of({ entities: [task('x', {})] }), asDay('9999-12-31'))
    exercise(Model.of({ entities: [task('x', {})] }), asDay('0001-01-01'))
    expect(rows()).toBe(before)
    expect(exercise(Model.of({ entities: [plan(), task('b', { duration: '5d' })] }), DAY).rules).not.toContain(
      'x/failed',
    )
  })
})

const many = <T>(count: number, make: (index: number) => T): T[] => Array.from({ length: count }, (_, i) => make(i))
const of = (kind: string, id: string, fields: Fields, name = id): Entity => ({ id: asId(id), kind, name, fields })
const tied = (kind: string, source: string, target: string, fields: Fields = {}): Relation => ({
  id: asId(`${kind}.${source}.${target}`),
  kind,
  source: asId(source),
  target: asId(target),
  fields,
})
const joined = (a: string, b: string) => [
  of('port', `${a}-${b}`, { device: a }),
  of('port', `${b}-${a}`, { device: b }),
  tied('cable', `${a}-${b}`, `${b}-${a}`),
]
const stated = (facts: readonly (Entity | Relation)[]): Model =>
  Model.of({
    entities: facts.filter((fact): fact is Entity => 'name' in fact),
    relations: facts.filter((fact): fact is Relation => 'source' in fact),
  })

const NETWORKS: Readonly<Record<string, readonly (Entity | Relation)[]>> = {
  'subnets of all addresses there are, and of one': [
    of('subnet', 'a', { prefix: '::/0', gateway: '::' }),
    of('subnet', 'b', { prefix: '0.0.0.0/0', gateway: '255.255.255.255' }),
    of('subnet', 'c', { prefix: 'ffff:ffff:ffff:ffff:ffff:ffff:ffff:ffff/128' }),
    of('subnet', 'd', { prefix: '255.255.255.255/32', reserved: ['0.0.0.0-255.255.255.255', 'x', '9-1'] }),
    of('device', 'e', { addresses: ['::/0', '0.0.0.0/0', 'ffff::/128', 'nonsense'] }),
  ],
  'texts where addresses, prefixes and ports are asked for': [
    of('subnet', 'a', { prefix: '10.0.0.0/99', gateway: '🂡' }),
    of('device', 'f', { type: 'firewall', addresses: ['10.0.0.256', ''], rack: 'f', zone: 'f', unit: 3 }),
    of('filter', 'r', { device: 'f', verdict: 'allow', source: '::1::', destination: '/', port: '9-1,70000' }),
    of('filter', 'n', { device: 'n' }),
  ],
  'what leads to itself': [
    of('device', 'a', { zone: 'a', rack: 'a', type: 'switch' }),
    of('port', 'p', { device: 'a' }),
    of('port', 'q', { device: 'q' }),
    tied('cable', 'p', 'p'),
    tied('cable', 'q', 'p'),
    tied('traffic', 'a', 'a', { load: 1e9 }),
  ],
  'three thousand devices of one address and one name': many(3000, (i) =>
    of('device', `d${i}`, { addresses: ['10.0.0.1/8'], mac: '02:00:00:00:00:01' }, 'same'),
  ),
  'a thousand rules, each through all the others': [
    of('device', 'f', { type: 'firewall', addresses: ['10.0.0.1/8'] }),
    ...many(1000, (i) =>
      of('filter', `r${i}`, {
        device: 'f',
        verdict: i % 2 ? 'deny' : 'allow',
        source: i % 3 === 0 ? '' : `${i % 200}.0.0.0/${1 + (i % 9)}`,
        destination: i % 3 === 1 ? '' : `${(i * 7) % 200}.0.0.0/${1 + ((i * 5) % 9)}`,
        protocol: ['any', 'tcp', 'udp'][i % 3] ?? 'any',
        port: i % 3 === 2 ? '' : many(20, (k) => `${k * 3000 + i}-${k * 3000 + i + 1500}`).join(','),
        order: i,
      }),
    ),
  ],
  'a switch with five hundred cables, and a row of a hundred and fifty devices': [
    of('device', 'hub', { type: 'switch' }),
    ...many(500, (i) => [of('device', `l${i}`, { type: 'server' }), ...joined('hub', `l${i}`)]).flat(),
    of('device', 'd0', { type: 'router' }),
    ...many(149, (i) => [of('device', `d${i + 1}`, { type: 'router' }), ...joined(`d${i}`, `d${i + 1}`)]).flat(),
    tied('traffic', 'd0', 'd149', { load: 1 }),
  ],
  'racks that are full beyond their units, and sites at the ends of the world': [
    of('rack', 'r', { units: 1, watts: 0 }),
    ...many(50, (i) => of('device', `d${i}`, { rack: 'r', unit: 100 - i, height: 100, watts: 1e6 })),
    ...many(8, (i) =>
      of('site', `s${i}`, { latitude: i % 2 ? 90 : -90, longitude: [180, -180, 0, 179.999][i % 4] ?? 0 }),
    ),
    ...many(8, (i) => tied('located-at', `d${i}`, `s${i}`)),
    ...joined('d0', 'd1'),
  ],
}

describe('networks out of all proportion', () => {
  for (const [what, facts] of Object.entries(NETWORKS))
    it(`are drawn, checked and counted: ${what}`, { timeout: 30_000 }, () => {
      const { marks, rules } = exercise(stated(facts), DAY)
      expect(marks).toBeGreaterThan(0)
      expect(rules).not.toContain('x/failed')
    })
})

describe('files that were handed in', () => {
  const folder = join('tests', 'cases')
  for (const name of readdirSync(folder).filter((one) => one.endsWith('.skivel.json')))
    it(`are drawn, checked and counted: ${name}`, () => {
      const { model } = parseWorkspace(readFileSync(join(folder, name), 'utf8'), registry)
      exercise(model, DAY)
    }, 60_000)
})

describe('a line that takes too long to take apart', () => {
  it.each(
    registry.notations.flatMap((notation) => notation.pictures.map((picture) => [notation, picture.id] as const)),
  )('is refused in words by the outline of $0.id, $1', (notation, picture) => {
    const view = { ...notation.view(() => asId('view'), 'View'), picture }
    const wish = { model: Model.of({ views: [view] }), view, day: DAY, selection: [], newId: () => asId('new') }
    const paste = (line: string) => notation.outline?.paste(wish, undefined, `1887  First\n${line}`)
    expect(paste(`1888  a${' '.repeat(200_000)}b`)).toMatchObject({
      refused: expect.stringContaining('4,000 is the most'),
    })
  })
})
