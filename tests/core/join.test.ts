import { describe, expect, it } from 'vitest'
import { apply, difference, Model, type Entity, type Id, type Relation } from '../../src/core/model'
import { findingsOf, makeChecker } from '../../src/core/findings'
import { joinFix, joinTwo, nowKnownAs, type Wish } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import { writeWorkspace } from '../../src/core/file'
import { marramSoundFerries } from '../../src/demo'
import { DAY, day, id, person, tie as tied } from '../facts'

const tie = (name: string, kind: string, source: string, target: string, more: Partial<Relation> = {}): Relation => ({
  ...tied(kind, source, target, more),
  id: id(name),
})
const SAME = { added: [], removed: [], altered: [] }
const joined = (model: Model, into: string, other: string): Model => {
  const [one, two] = [model.entities.get(id(into)), model.entities.get(id(other))]
  if (!one || !two) throw new Error('not there')
  return apply(model, joinFix(model, one, two).change).model
}

describe('two that are joined into one', () => {
  const ruth = person('ruth-abel', {
    name: 'Ruth Abel',
    fields: { email: 'r@marram.example', note: 'first' },
    from: day('2024-01-01'),
  })
  const twin = person('r-abel', {
    name: 'R Abel',
    fields: { email: 'old@marram.example', phone: '12', note: 'second' },
    from: day('2020-01-01'),
    to: day('2026-01-01'),
  })
  it('have all that one of them says, the times of both, and both their notes', () => {
    const model = joined(Model.of({ entities: [ruth, twin] }), ruth.id, twin.id)
    expect([...model.entities.values()]).toEqual([
      {
        ...ruth,
        from: day('2020-01-01'),
        fields: { email: 'r@marram.example', phone: '12', note: 'first\nsecond', joined: ['r-abel'] },
      },
    ])
    const [label, back] = [
      joinFix(Model.of({ entities: [ruth, twin] }), ruth, twin).change.label,
      apply(model, { label: '', steps: [] }),
    ]
    expect(label).toBe('Join “R Abel” into “Ruth Abel”, whose email stay')
    expect(back.model.entities.size).toBe(1)
  })
  it('have the ties of both: none to itself, none twice, and with the times of both where they meet', () => {
    const master = { id: id('p'), kind: 'position', name: 'Master', fields: {} }
    const crew = { id: id('q'), kind: 'position', name: 'Mate', fields: {} }
    const model = Model.of({
      entities: [ruth, twin, master, crew],
      relations: [
        tie('h1', 'holds', 'ruth-abel', 'p', { from: day('2025-01-01') }),
        tie('h2', 'holds', 'r-abel', 'p', { from: day('2024-01-01'), to: day('2025-06-01') }),
        tie('h3', 'holds', 'r-abel', 'p', { to: day('2022-01-01') }),
        tie('h4', 'holds', 'r-abel', 'q', { fields: { share: 50 } }),
        tie('k', 'stands-in-for', 'r-abel', 'ruth-abel'),
      ],
    })
    expect([...joined(model, 'ruth-abel', 'r-abel').relations.values()]).toEqual([
      tie('h1', 'holds', 'ruth-abel', 'p', { from: day('2024-01-01') }),
      tie('h3', 'holds', 'ruth-abel', 'p', { to: day('2022-01-01') }),
      tie('h4', 'holds', 'ruth-abel', 'q', { fields: { share: 50 } }),
    ])
  })
  it('are named as one wherever the other was: in fields, lists, views and what was let stand', () => {
    const model = Model.of({
      entities: [ruth, twin, person('boss', { fields: { deputy: 'r-abel', team: ['r-abel', 'ruth-abel', 'x'] } })],
      views: [
        {
          id: id('v'),
          notation: 'organisation',
          picture: 'tree',
          title: 'All',
          order: 1,
          scope: { root: 'r-abel' },
          options: { 'folded r-abel': true },
          pins: { 'r-abel': [1, 2] },
          look: { 'emphasis r-abel': ['strong'], 'emphasis ruth-abel': ['quiet'], 'note 1': ['n', 'words', 'r-abel'] },
        },
      ],
      settings: { thresholds: {}, accepted: { 'org/duplicate-person r-abel ruth-abel': { reason: 'x' } } },
    })
    const after = joined(model, 'ruth-abel', 'r-abel')
    expect(after.entities.get(id('boss'))?.fields).toEqual({ deputy: 'ruth-abel', team: ['ruth-abel', 'x'] })
    expect(after.views.get(id('v'))).toMatchObject({
      scope: { root: 'ruth-abel' },
      options: { 'folded ruth-abel': true },
      pins: { 'ruth-abel': [1, 2] },
      look: { 'emphasis ruth-abel': ['quiet'], 'note 1': ['n', 'words', 'ruth-abel'] },
    })
    expect(after.settings.accepted).toEqual({ 'org/duplicate-person ruth-abel ruth-abel': { reason: 'x' } })
  })
  it('are known by what one of them was, however often they were joined', () => {
    const third = person('ruthie')
    const model = joined(joined(Model.of({ entities: [ruth, twin, third] }), 'r-abel', 'ruthie'), 'ruth-abel', 'r-abel')
    const known = (one: string) => nowKnownAs(model, id(one))
    expect(['ruthie', 'r-abel', 'ruth-abel', 'nobody'].map(known)).toEqual([
      'ruth-abel',
      'ruth-abel',
      'ruth-abel',
      'nobody',
    ])
    expect(nowKnownAs(Model.of({ entities: [ruth, twin] }), twin.id)).toBe('r-abel')
  })
  it('leave no trace of the other, and come back, whatever they are', () => {
    const model = marramSoundFerries()
    const kinds = new Set([...model.entities.values()].map(({ kind }) => kind))
    for (const kind of kinds) {
      const [one, two] = model.ofKind(kind)
      if (!one || !two) continue
      const after = apply(model, joinFix(model, one, two).change)
      const { [one.id]: _, ...others } = Object.fromEntries(after.model.entities)
      const text = JSON.stringify(
        writeWorkspace(after.model.with({ entities: new Map(Object.entries(others) as [Id, Entity][]) })),
      )
      expect(
        text.includes(`"${two.id}"`) || text.includes(`${two.id} `) || text.includes(` ${two.id}"`),
        `${kind} ${two.id}`,
      ).toBe(false)
      const back = difference(model, apply(after.model, after.inverse).model)
      expect(Object.values(back)).toEqual([SAME, SAME, SAME])
    }
  })
})

describe('“Join two into one”', () => {
  const model = Model.of({
    entities: [
      person('ruth-abel', { name: 'Ruth Abel' }),
      person('r-abel'),
      { id: id('p'), kind: 'position', name: 'Master', fields: {} },
    ],
  })
  const wish = (...selection: string[]): Wish => {
    const view = registry.notations[0]?.view(() => id('v'), 'All')
    if (!view) throw new Error('no notation')
    return { model, view, day: DAY, selection: selection.map(id), newId: () => id('new') }
  }
  const picks = (asked: Wish) => (typeof joinTwo.picks === 'function' ? joinTwo.picks(asked) : joinTwo.picks)
  it('is offered for two of a kind, and for one, whose other is asked for', () => {
    expect(
      ['ruth-abel r-abel', 'ruth-abel p', 'ruth-abel', 'p', ''].map((list) =>
        joinTwo.applies(wish(...list.split(' ').filter(Boolean))),
      ),
    ).toEqual([true, false, true, false, false])
    expect(picks(wish('ruth-abel', 'r-abel'))).toBeUndefined()
    expect(picks(wish('ruth-abel'))).toEqual({
      kinds: ['person'],
      prompt: 'Join what into “Ruth Abel”?',
      offers: ['r-abel'],
    })
    expect(joinTwo.run({ ...wish('ruth-abel'), target: id('r-abel') })).toMatchObject({ select: 'ruth-abel' })
    expect(joinTwo.run({ ...wish('ruth-abel'), target: id('p') })).toEqual({
      refused: 'Only facts of one kind can be one.',
    })
    expect(joinTwo.run({ ...wish('ruth-abel'), target: id('ruth-abel') })).toEqual({ refused: 'It is one already.' })
    expect(joinTwo.run(wish('ruth-abel'))).toEqual({ refused: 'This no longer exists.' })
  })
})

describe('what is there twice', () => {
  const fixes = (model: Model, rule: string) =>
    findingsOf(registry, model, DAY).flatMap((one) => (one.rule === rule ? [one.fixes] : []))
  const two = (kind: string, name: string, fields: Entity['fields'] = {}) =>
    ['a', 'b'].map((one): Entity => ({ id: id(one), kind, name, fields }))
  const TWICE: readonly (readonly [string, Model])[] = [
    ['org/duplicate-person', Model.of({ entities: two('person', 'Ruth Abel', { email: 'r@marram.example' }) })],
    ['net/duplicate-hostname', Model.of({ entities: two('device', 'core', { type: 'switch' }) })],
    ['uml/duplicate-name', Model.of({ entities: two('class', 'Fare') })],
    ['uml/duplicate-name', Model.of({ entities: two('package', 'Fares') })],
    [
      'map/duplicate-concept',
      Model.of({
        entities: [
          { id: id('f'), kind: 'figure', name: 'Map', fields: {} },
          ...two('concept', 'Linen', { figure: 'f' }),
        ],
      }),
    ],
  ]
  it.each(TWICE)('is joined by its finding: %s', (rule, model) => {
    const [found] = fixes(model, rule)
    const join = found?.find(({ label }) => label === 'Join two into one')
    if (!join) throw new Error('not offered')
    const after = apply(model, join.change).model
    expect([...after.entities.keys()].filter((one) => one !== 'f')).toEqual(['a'])
    expect(fixes(after, rule)).toEqual([])
  })
  it.each(TWICE)('is joined with all that names it by then: %s', (rule, model) => {
    const check = makeChecker(registry)
    check(model, DAY)
    const note = { id: id('n'), kind: 'figure', name: 'Figure', fields: { note: 'b' } }
    const tied = tie('k', 'stands-in-for', 'n', 'b')
    const { model: more } = apply(model, {
      label: '',
      steps: [
        { do: 'add-entity', entity: note },
        { do: 'add-relation', relation: tied },
      ],
    })
    const [found] = check(more, DAY).filter((one) => one.rule === rule)
    const join = found?.fixes.find(({ label }) => label === 'Join two into one')
    if (!join) throw new Error('not offered')
    const after = apply(more, join.change).model
    expect([after.relations.get(id('k'))?.target, after.entities.get(id('n'))?.fields['note']]).toEqual(['a', 'a'])
  })
  it('is not joined where it is a part of a class', () => {
    const parts = two('attribute', 'price', { class: 'c' })
    const model = Model.of({ entities: [{ id: id('c'), kind: 'class', name: 'Fare', fields: {} }, ...parts] })
    expect(fixes(model, 'uml/duplicate-name')[0]?.map(({ label }) => label)).toEqual(['Call it “price2”'])
  })
})
