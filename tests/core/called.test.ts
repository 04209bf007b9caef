import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { apply, Model, type Entity, type View } from '../../src/core/model'
import { begunWith, calledKey, isRefusal, oneCalled, referenceColumn, type Outcome } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import { DAY, day, done, id, numbering, person } from '../facts'

const view = (notation: string, picture: string): View => ({
  id: id('view'),
  notation,
  picture,
  title: 'Of a test',
  order: 1,
  scope: {},
  options: {},
  pins: {},
  look: {},
})
const outlineOf = (notation: string) => {
  const found = registry.notations.find((one) => one.id === notation)?.outline
  if (!found) throw new Error(notation)
  return found
}
const pasted = (model: Model, notation: string, picture: string, list: string): Outcome => {
  const shown = view(notation, picture)
  const ground = model.with({ views: new Map([[shown.id, shown]]) })
  return outlineOf(notation).paste(
    { model: ground, view: shown, day: DAY, selection: [], newId: numbering() },
    undefined,
    list,
  )
}
const within = (model: Model, notation: string, picture: string, list: string): Model => {
  const shown = view(notation, picture)
  return apply(model.with({ views: new Map([[shown.id, shown]]) }), done(pasted(model, notation, picture, list)).change)
    .model
}
const people = (model: Model) => model.ofKind('person').map(({ name }) => name)

const ruth = person('ruth', { name: 'Ruth Abel' })
const known = Model.of({ entities: [ruth] })
const on = (model: Model) => ({ model, day: DAY })

/** Other ways to write one name. */
const otherwise = fc
  .record({ upper: fc.boolean(), spaces: fc.integer({ min: 1, max: 3 }), turned: fc.constantFrom('', ',', ' ') })
  .map(({ upper, spaces, turned }) => {
    const [given, family] = upper ? ['RUTH', 'ABEL'] : ['Ruth', 'Abel']
    const gap = ' '.repeat(spaces)
    return turned === '' ? `${given}${gap}${family}` : `${family}${turned}${gap}${given}`
  })

describe('a name', () => {
  it('means who is called so, whatever its case, its spaces and the order of its parts', () => {
    fc.assert(
      fc.property(otherwise, (name) => {
        expect(oneCalled(on(known), ['person'], name)).toBe(ruth)
      }),
    )
    expect(calledKey('person', 'Abel, Ruth')).toBe(calledKey('person', 'ruth  ABEL'))
    // What is no person has its words in their order.
    expect(calledKey('system', 'Ledger new')).not.toBe(calledKey('system', 'new Ledger'))
    expect(oneCalled(on(known), ['person'], 'Ruth')).toBeUndefined()
  })

  it('that several have is asked about, unless one is meant already or it is said which', () => {
    const two = Model.of({ entities: [ruth, person('other', { name: 'Ruth Abel' })] })
    expect(oneCalled(on(two), ['person'], 'ruth abel')).toHaveProperty('refused')
    expect(oneCalled(on(two), ['person'], 'ruth abel', (one) => one === 'other')).toHaveProperty('id', 'other')
    expect(oneCalled(on(two), ['person'], 'Ruth Abel #2')).toHaveProperty('id', 'other')
    expect(oneCalled(on(two), ['person'], 'Ruth Abel #3')).toBeUndefined()
    // Whoever has left is not meant where somebody is there.
    const left = Model.of({ entities: [person('left', { name: 'Ruth Abel', to: day('2020-01-01') }), ruth] })
    expect(oneCalled(on(left), ['person'], 'Ruth Abel')).toBe(ruth)
    const twins = Model.of({ entities: [ruth, person('other', { name: 'Abel, Ruth' })] })
    expect(oneCalled(on(twins), ['person'], 'Abel, Ruth')).toHaveProperty('id', 'other')
  })

  it.each([
    ['schedule', 'bars', 'Buy gloves  1d  @ NAME'],
    ['organisation', 'tree', 'NAME — Head'],
    ['organisation', 'tree', 'NAME — Head\n  NAME — Clerk'],
    ['process', 'lanes', 'Check\nbesides:\n  owner: NAME'],
  ])('in a list of %s as %s makes no second one: %s', (notation, picture, list) => {
    fc.assert(
      fc.property(
        // Commas and wide gaps are signs of some lists.
        otherwise.filter((name) => !/,|\s{2}/.test(name)),
        (name) => {
          const outcome = pasted(known, notation, picture, list.replaceAll('NAME', name))
          // What a list cannot say there is refused, and makes nobody.
          if (isRefusal(outcome)) return
          expect(people(within(known, notation, picture, list.replaceAll('NAME', name)))).toEqual(['Ruth Abel'])
        },
      ),
    )
  })

  it('in a list that becomes a view of its own makes no second one either', () => {
    const list = 'Yard\n  Dig  3d  @ Ruth Abel\n  Pour  4d  @ ruth abel, Ada Holm'
    const begun = begunWith(registry.notations, list, 'tasks', numbering(), DAY, known)
    if ('refused' in begun) throw new Error(begun.refused)
    expect(people(begun.model)).toEqual(['Ruth Abel', 'Ada Holm'])
    expect(begun.model.views.get(begun.view)?.notation).toBe('schedule')
    expect(apply(known, { label: '', steps: begun.steps }).model.entities.size).toBe(begun.model.entities.size)
  })

  it('in a cell means who is there, and several are asked about', () => {
    const field = { id: 'owner', label: 'Owner', type: 'reference', refers: ['person'] } as const
    const process: Entity = { id: id('p'), kind: 'process', name: 'P', fields: {} }
    const write = (entities: readonly Entity[], text: string) => {
      const model = Model.of({ entities: [process, ...entities] })
      const wish = { model, view: view('process', 'lanes'), day: DAY, selection: [], newId: numbering() }
      return referenceColumn(field, 100, 'person').write?.(wish, process.id, text)
    }
    expect(write([ruth], 'ABEL, Ruth')).toMatchObject({
      change: { steps: [{ do: 'set-entity', id: 'p', path: 'fields.owner', value: 'ruth' }] },
    })
    expect(write([ruth, person('other', { name: 'Ruth Abel' })], 'Ruth Abel')).toHaveProperty('refused')
  })

  it('of somebody who has left is somebody new in a chart, and who is meant by #2 keeps the name', () => {
    const left = Model.of({ entities: [person('left', { name: 'Ruth Abel', to: day('2020-01-01') })] })
    expect(people(within(left, 'organisation', 'tree', 'Ruth Abel — Head'))).toEqual(['Ruth Abel', 'Ruth Abel'])
    const two = Model.of({ entities: [ruth, person('other', { name: 'Ruth Abel' })] })
    const model = within(two, 'organisation', 'tree', 'Ruth Abel #2 — Head')
    expect(people(model)).toEqual(['Ruth Abel', 'Ruth Abel'])
    const shown = model.views.get(id('view')) ?? view('organisation', 'tree')
    const [line] = outlineOf('organisation').lines(model, shown, DAY)
    expect(model.relationsOfKind('holds').map(({ source }) => source)).toEqual(['other'])
    const again = (text: string) =>
      outlineOf('organisation').write(
        { model, view: shown, day: DAY, selection: [], newId: numbering() },
        line?.id ?? id(''),
        text,
      )
    for (const text of ['Ruth Abel #2 — Head', 'Ruth Abel — Head'])
      expect(done(again(text)).change.steps, text).toEqual([])
    expect(done(again('Ruth Abel #1 — Head')).change.steps).toContainEqual(
      expect.objectContaining({ do: 'add-relation', relation: expect.objectContaining({ source: 'ruth' }) as unknown }),
    )
  })

  it('of who holds nothing is vacant in brackets too', () => {
    for (const word of ['vacant', '(vacant)', '(Vacant)', 'open', '(open)'])
      expect(people(within(Model.of({}), 'organisation', 'tree', `${word} — Electrician`)), word).toEqual([])
  })
})
