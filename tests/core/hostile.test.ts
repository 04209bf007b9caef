import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { parseWorkspace } from '../../src/core/file'
import { findingsOf } from '../../src/core/findings'
import { asDay, asId, Model, type Day, type Entity, type Fields, type View } from '../../src/core/model'
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
