import fc from 'fast-check'
import { afterAll, describe, expect, inject, it } from 'vitest'
import { readWorkspace, StepsError, writeWorkspace } from '../../src/core/file'
import {
  apply,
  asDay,
  asId,
  Model,
  ModelError,
  type Entity,
  type Relation,
  type Step,
  type View,
} from '../../src/core/model'
import { registry } from '../../src/core/notations'
import { openPool } from '../../src/server/db/pool'
import { commitChange } from '../../src/server/services/changes'
import { BadRequest, Clash } from '../../src/server/services/errors'
import { makeShare } from '../../src/server/services/shares'
import { storeOn } from '../../src/server/services/store'
import { createWorkspace, loadWorkspace } from '../../src/server/services/workspaces'
import { facts, id, position, reports, treeView } from '../facts'

const store = storeOn(openPool(inject('databaseUrl')))
afterAll(() => store.pool.end())

let sent = 0
/** Answers the revision that it led to. */
const commit = async (workspace: string, base: number, steps: readonly unknown[], writer = `w${++sent}`) => {
  const change = { id: `m-${++sent}`, base, label: 'test', author: 'Tester', steps }
  const { revision } = await commitChange(store, workspace, change, writer)
  return { revision }
}

/** What a server that has seen nothing yet reads, in its order. */
async function readAnew(workspace: string): Promise<Model> {
  const other = storeOn(store.pool)
  return (await loadWorkspace(other, workspace)).model
}

/** Everything of a model, the order of its facts included; in which order a fact tells its own parts says nothing. */
const told = (model: Model) =>
  JSON.stringify([writeWorkspace(model), [...model.views.keys()]], (_, value: unknown) =>
    typeof value === 'object' && value !== null && !Array.isArray(value)
      ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
      : value,
  )

const ID = fc.constantFrom('a', 'A', 'á', 'b', 'ß', 'ss', '1', '01').map(asId)
const TEXT = fc.constantFrom('One', 'one', ' é ', '😀', '\\"\n\t', 'null', '0')
const DAY = fc.constantFrom('0001-01-02', '2026-11-24', '9999-12-31').map(asDay)
const maybe = <T>(value: fc.Arbitrary<T>) => fc.option(value, { nil: null })
const ENTITY: fc.Arbitrary<Entity> = fc
  .record({
    id: ID,
    kind: fc.constantFrom('position', 'task', 'group', 'step', 'gateway'),
    name: TEXT,
    from: maybe(DAY),
  })
  .map(({ from, ...entity }) => ({ ...entity, fields: {}, ...(from ? { from } : {}) }))
const RELATION: fc.Arbitrary<Relation> = fc.record({
  id: ID,
  kind: fc.constantFrom('reports-to', 'assists', 'precedes'),
  source: ID,
  target: ID,
  fields: fc.constant({}),
})
const VIEW: fc.Arbitrary<View> = fc.record({
  id: ID,
  notation: fc.constant('process'),
  picture: fc.constantFrom('lanes', 'flow'),
  title: TEXT,
  order: fc.constantFrom(1, 1, 2.5),
  scope: fc.constant({ process: 'a' }),
  options: fc.constant({}),
  pins: fc.constant({ a: [1, 2] as const }),
  look: fc.constant({}),
})
/** Steps of every sort; whether they fit the facts is decided when they are made. */
const STEP: fc.Arbitrary<Step> = fc.oneof(
  ENTITY.map((entity): Step => ({ do: 'add-entity', entity })),
  ID.map((one): Step => ({ do: 'remove-entity', id: one })),
  fc
    .tuple(ID, fc.constantFrom('name', 'fields.note', 'fields.alt'), TEXT)
    .map(([one, path, value]): Step => ({ do: 'set-entity', id: one, path, value })),
  fc
    .tuple(ID, fc.constantFrom('from', 'to'), maybe(DAY))
    .map(([one, path, value]): Step => ({ do: 'set-entity', id: one, path, value })),
  RELATION.map((relation): Step => ({ do: 'add-relation', relation })),
  ID.map((one): Step => ({ do: 'remove-relation', id: one })),
  fc
    .tuple(ID, fc.constantFrom('source', 'target'), ID)
    .map(([one, path, value]): Step => ({ do: 'set-relation', id: one, path, value })),
  fc.tuple(ID, maybe(TEXT)).map(([one, value]): Step => ({ do: 'set-relation', id: one, path: 'fields.note', value })),
  VIEW.map((view): Step => ({ do: 'add-view', view })),
  ID.map((one): Step => ({ do: 'remove-view', id: one })),
  fc
    .tuple(
      ID,
      fc.constantFrom<[string, unknown][]>(
        ['title', 'T'],
        ['order', 1],
        ['picture', 'flow'],
        ['scope.process', null],
        ['look.theme', 'x'],
        ['pins.a', [3, 4]],
      ),
    )
    .map(([one, [path, value]]) => ({ do: 'set-view', id: one, path, value }) as Step),
  TEXT.map((value): Step => ({ do: 'set-workspace', path: 'name', value })),
  maybe(fc.constantFrom('dark', 'strong')).map((value): Step => ({ do: 'set-workspace', path: 'look.tone', value })),
  maybe(fc.constantFrom(['House', '#112233'], ['Other', '#445566', 'heavy lines'])).map((value): Step => ({
    do: 'set-workspace',
    path: 'themes.own',
    value,
  })),
  maybe(fc.constantFrom(3, 12)).map((value): Step => ({
    do: 'set-workspace',
    path: 'thresholds.org/wide-span',
    value,
  })),
)
/** Those of some steps that can be made, one after another. */
function fitting(model: Model, steps: readonly Step[]): Step[] {
  let now = model
  return steps.filter((step) => {
    try {
      now = apply(now, { label: 'try', steps: [step] }).model
      return true
    } catch (error) {
      if (!(error instanceof ModelError)) throw error
      return false
    }
  })
}
/** A fact that becomes another kind: it goes and comes again within one change. */
const CHANGE = fc.oneof(
  fc.array(STEP, { minLength: 1, maxLength: 6 }),
  ENTITY.map((entity): Step[] => [
    { do: 'remove-entity', id: entity.id },
    { do: 'add-entity', entity },
  ]),
  RELATION.map((relation): Step[] => [
    { do: 'remove-relation', id: relation.id },
    { do: 'add-relation', relation },
  ]),
)

describe('what a server remembers', () => {
  it('is what another one reads, after every change of every sort', async () => {
    let made = 0
    await fc.assert(
      fc.asyncProperty(fc.array(CHANGE, { minLength: 4, maxLength: 14 }), async (changes) => {
        const workspace = await createWorkspace(store, facts(position('a'), position('b'), reports('b', 'a')))
        let revision = 0
        await loadWorkspace(store, workspace)
        for (const wanted of changes) {
          const steps = fitting((await loadWorkspace(store, workspace)).model, wanted)
          if (steps.length === 0) continue
          ;({ revision } = await commit(workspace, revision, steps))
          made += steps.length
          const remembered = (await loadWorkspace(store, workspace)).model
          expect(told(remembered)).toBe(told(await readAnew(workspace)))
        }
      }),
      { numRuns: 60 },
    )
    expect(made).toBeGreaterThan(500)
  })
  it('is the new kind of a fact that was made another', async () => {
    const task = { id: id('t'), kind: 'task', name: 'Build', fields: {} }
    const workspace = await createWorkspace(store, facts(task))
    await commit(workspace, 0, [
      { do: 'remove-entity', id: 't' },
      { do: 'add-entity', entity: { ...task, kind: 'group' } },
    ])
    expect((await readAnew(workspace)).entities.get(id('t'))?.kind).toBe('group')
  })
})

describe('the gate', () => {
  const view = treeView({ id: id('v') })
  const added = (more: object) => [{ do: 'add-view', view: { ...view, ...more } }]
  const set = (path: string, value: unknown) => [{ do: 'set-view', id: 'v', path, value }]
  const refused: Readonly<Record<string, readonly unknown[]>> = {
    'an object in the scope': [...added({}), ...set('scope.root', { a: 1 })],
    'a list in the look': [...added({}), ...set('look.theme', ['dark'])],
    'an unknown option of a view added in the same change': [...added({}), ...set('options.nonsense', 'x')],
    'an unknown picture of a view added in the same change': [...added({}), ...set('picture', 'nonsense')],
    'an order without end': [...added({}), ...set('order', Infinity)],
    'an order without end from the start': added({ order: Infinity }),
    'half a character': [{ do: 'set-entity', id: 'a', path: 'name', value: '\ud83d' }],
    'a control character': [{ do: 'set-entity', id: 'a', path: 'fields.note', value: 'a\u0000b' }],
    'a pin called __proto__': [...added({}), { do: 'set-view', id: 'v', path: 'pins.__proto__', value: [1, 2] }],
    'a kind of step that every object has': [{ do: 'constructor' }],
    'a kind of step that is an object': [{ do: { toString: 1 } }],
  }
  for (const [what, steps] of Object.entries(refused))
    it(`lets through no ${what.replace(/^an? /, '')}`, async () => {
      const workspace = await createWorkspace(store, facts(position('a')))
      await expect(commit(workspace, 0, steps)).rejects.toMatchObject({
        faults: [{ path: expect.stringMatching(/^steps\[\d\]/) as string }],
      })
      expect(() =>
        readWorkspace(JSON.parse(JSON.stringify(writeWorkspace(facts(position('a'))))), registry),
      ).not.toThrow()
      expect((await loadWorkspace(store, workspace)).revision).toBe(0)
    })
  it('lets through nothing that a file of the workspace would not', async () => {
    const value = fc.oneof(fc.jsonValue(), fc.constantFrom(Infinity, '\ud800', '__proto__', 'tree', 'a'))
    const path = fc.constantFrom(
      'scope.root',
      'scope.x',
      'look.theme',
      'options.levels',
      'options.x',
      'pins.a',
      'order',
      'title',
      'caption',
      'picture',
    )
    const workspace = await createWorkspace(store, facts(position('a')))
    let revision = 0
    await fc.assert(
      fc.asyncProperty(path, value, async (at, what) => {
        const key = asId(`v${++sent}`)
        const steps = [...added({ id: key }), { do: 'set-view', id: key, path: at, value: what }]
        try {
          ;({ revision } = await commit(workspace, revision, steps))
        } catch (error) {
          if (!(error instanceof BadRequest || error instanceof StepsError)) throw error
        }
        const { model } = await loadWorkspace(store, workspace)
        readWorkspace(JSON.parse(JSON.stringify(writeWorkspace(model))), registry)
      }),
      { numRuns: 150 },
    )
  })
  it('lets no more addresses be made than a view has, however many are asked for at once', async () => {
    const plan = { ...view, id: id('plan'), notation: 'schedule', picture: 'bars' } as View
    const workspace = await createWorkspace(store, Model.of({ views: [plan] }))
    const asked = Array.from({ length: 60 }, () => makeShare(store, workspace, { view: 'plan', format: 'plan' }))
    const outcomes = await Promise.allSettled(asked)
    expect(outcomes.filter(({ status }) => status === 'fulfilled')).toHaveLength(50)
  })
})

describe('two sides on one field', () => {
  const rename = (value: string): Step => ({ do: 'set-entity', id: id('a'), path: 'name', value })
  it('are a question, whatever revision has been heard of meanwhile', async () => {
    const workspace = await createWorkspace(store, facts(position('a'), position('b')))
    await commit(workspace, 0, [rename('Theirs')])
    await expect(commit(workspace, 0, [rename('Ours')])).rejects.toThrow(Clash)
  })
  it('are no question where the same page wrote both, one on the other', async () => {
    const workspace = await createWorkspace(store, facts(position('a'), position('b')))
    await commit(workspace, 0, [rename('First')], 'page')
    expect(await commit(workspace, 0, [rename('Second')], 'page')).toEqual({ revision: 2 })
    await expect(commit(workspace, 0, [rename('Third')], 'other')).rejects.toThrow(Clash)
  })
  it('are a question whatever a page calls its changes: whose one is follows from what nobody else knows', async () => {
    const workspace = await createWorkspace(store, facts(position('a')))
    const change = (label: string) => ({
      id: `page.${++sent}`,
      base: 0,
      label,
      author: 'Tester',
      steps: [rename(label)],
    })
    await commitChange(store, workspace, change('Theirs'), 'their secret')
    // The names of others’ changes are told to everybody.
    await expect(commitChange(store, workspace, change('Ours'), 'our secret')).rejects.toThrow(Clash)
    await expect(commitChange(store, workspace, change('Ours'), 'page')).rejects.toThrow(Clash)
    await expect(commitChange(store, workspace, change('Ours'))).rejects.toThrow(Clash)
    const rows = await store.database.rows('SELECT * FROM `change` WHERE workspace_id = ?', [workspace])
    expect(JSON.stringify(rows)).not.toContain('their secret')
  })
  it('are refused when they lie too many changes apart to be compared', async () => {
    const workspace = await createWorkspace(store, facts(position('a'), position('b')))
    await commit(workspace, 0, [rename('Theirs')])
    // As many changes as others make in weeks, written without making them one by one.
    await store.database.write(
      "INSERT INTO `change` (workspace_id, revision, change_id, label, author, steps, inverse) SELECT ?, seq, CONCAT('x', seq), 'l', 'a', '[]', '[]' FROM seq_2_to_5001",
      [workspace],
    )
    await store.database.write('UPDATE workspace SET revision = 5001 WHERE id = ?', [workspace])
    const refused = commit(workspace, 0, [rename('Ours')])
    await expect(refused).rejects.toThrow(Clash)
    await expect(refused).rejects.toMatchObject({ sides: { revision: 5001 } })
    expect((await readAnew(workspace)).entities.get(id('a'))?.name).toBe('Theirs')
    // Within reach of the comparison it is judged by what was changed.
    expect(await commit(workspace, 1, [{ ...rename('b'), id: id('b') }])).toEqual({ revision: 5002 })
  })
})
