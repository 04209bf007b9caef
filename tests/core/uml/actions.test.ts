import { describe, expect, it } from 'vitest'
import { apply, type Model } from '../../../src/core/model'
import type { Outcome, Wish } from '../../../src/core/notation'
import { handling } from '../../../src/core/notations/uml/handling'
import { classView } from '../../classShapes'
import { DAY, numbering } from '../../facts'
import { after, named } from '../network/facts'
import { classModel, textOf } from './facts'

const fresh = numbering('m')
const wish = (model: Model, selection: readonly string[], more: Partial<Wish> = {}): Wish => ({
  model,
  view: classView(),
  day: DAY,
  selection: selection.map((name) => named(model, name)),
  newId: fresh,
  ...more,
})
const act = (id: string, asked: Wish): Outcome => {
  const action = handling.actions.find((one) => one.id === id)
  if (!action) throw new Error(`no action “${id}”`)
  if (!action.applies(asked)) return { refused: 'not offered' }
  return action.run(asked)
}
const done = (model: Model, outcome: Outcome): string => textOf(after(model, outcome))
const [classes] = handling.pictures
const { outline } = handling
if (!classes?.write || !classes.drop || !classes.pull || !outline) throw new Error('no gestures')
const { write, drop, pull } = classes

const SMALL = 'Document\n  # reference : String\nTicket\n  - seats : Integer\n  + cancel()\nLeg'

describe('a class', () => {
  it('is added tied to the one that is selected, and typed into at once', () => {
    const model = classModel(SMALL)
    expect(act('next', wish(model, ['Ticket']))).toMatchObject({ edit: 'name' })
    expect(done(model, act('next', wish(model, ['Ticket'])))).toContain('  has NewClass')
    expect(done(model, act('kind-of', wish(model, ['Ticket'])))).toContain('Special\n  is a Ticket')
  })
  it('has a member more, of its own sort', () => {
    expect(done(classModel(SMALL), act('member', wish(classModel(SMALL), ['Leg'])))).toContain('Leg\n  newMember')
    const colours = classModel('Colour  (enumeration)\n  red')
    expect(done(colours, act('member', wish(colours, ['Colour'])))).toBe('Colour  (enumeration)\n  red\n  NewLiteral')
  })
  it('is drawn out of what several share: members that are alike move up', () => {
    const model = classModel(
      'Doc\nA\n  is a Doc\n  + x : Integer\n  + y : Real\n  + go()\nB\n  is a Doc\n  + x : Integer\n  + go()',
    )
    expect(done(model, act('draw-out', wish(model, ['A', 'B'])))).toBe(
      'Doc\nA\n  + y : Real\n  is a General\nB\n  is a General\nGeneral  (abstract)\n  + x : Integer\n  + go()\n  is a Doc',
    )
    expect(act('draw-out', wish(model, ['A']))).toEqual({ refused: 'not offered' })
  })
  it('goes with its members and ties', () => {
    const model = classModel('A\n  x : Integer\n  has B\nB\n  y : A')
    const left = after(model, act('remove', wish(model, ['A'])))
    expect([...left.entities.values()].map(({ name }) => name)).toEqual(['B', 'y'])
    expect(left.relations.size).toBe(0)
  })
  it('is dropped into a package, and members into another class', () => {
    const model = classModel('p  (package)\n  A\nB\n  x : Integer\n  go()')
    const into = drop({ ...wish(model, ['B']), target: named(model, 'p') })
    expect(done(model, into)).toBe('p  (package)\n  A\n  B\n    x : Integer\n    go()')
    const moved = drop({ ...wish(model, ['x', 'go']), target: named(model, 'A') })
    expect(done(model, moved)).toBe('p  (package)\n  A\n    x : Integer\n    go()\nB')
    expect(drop({ ...wish(model, ['B']), target: named(model, 'x') })).toEqual({ refused: 'Drop it into a package.' })
  })
  it('is made where the view shows it, also when the package that the view is of is gone', () => {
    const model = classModel('p  (package)\n  A')
    const gone = { ...wish(model, []), view: classView({ scope: { package: 'long-gone' } }) }
    expect(done(model, act('class', gone))).toBe('p  (package)\n  A\nNewClass')
    const blank = { ...wish(model, []), view: classView({ scope: { package: '' } }) }
    expect(act('class', blank)).toMatchObject({
      change: { steps: [{ do: 'add-entity', entity: { kind: 'package' } }, { do: 'set-view' }, { do: 'add-entity' }] },
    })
  })
})

describe('a package', () => {
  it('is dropped into another one, but into none that stands within it', () => {
    const model = classModel('p  (package)\n  q  (package)\n    A\nr  (package)')
    expect(done(model, drop({ ...wish(model, ['r']), target: named(model, 'q') }))).toContain('    r  (package)')
    for (const into of ['q', 'A'])
      expect(drop({ ...wish(model, ['p']), target: named(model, into) })).toEqual({
        refused: 'A package does not stand within one that stands within it.',
      })
  })
})

describe('a tie', () => {
  const line = (model: Model, from: string, to: string, handle = 'tie'): Outcome =>
    pull(
      { ...wish(model, [from]), target: named(model, to) },
      { handle, by: { x: 0, y: 0 }, at: { x: 0, y: 0 }, box: { x: 0, y: 0, width: 1, height: 1 } },
    )
  it('is drawn as an association, or upwards as what it is a kind of', () => {
    const model = classModel(SMALL)
    expect(done(model, line(model, 'Ticket', 'Leg'))).toContain('  has Leg')
    expect(done(model, line(model, 'Ticket', 'Document', 'kind'))).toContain('  is a Document')
  })
  it('is what the standard allows between the two, and refused where it allows none', () => {
    const model = classModel('I  (interface)\nE  (enumeration)\nA\nB  (final)\nP  (primitive)')
    expect(done(model, line(model, 'A', 'I', 'kind'))).toContain('A\n  realises I')
    expect(line(model, 'A', 'B', 'kind')).toEqual({ refused: '“B” is final.' })
    expect(line(model, 'A', 'A', 'kind')).toEqual({ refused: 'Nothing is a kind of itself.' })
    expect(line(model, 'A', 'E', 'kind')).toMatchObject({ refused: expect.stringContaining('of one sort') as string })
    expect(line(model, 'P', 'A')).toEqual({ refused: 'A primitive type has nothing.' })
    const again = after(model, line(model, 'A', 'I', 'kind'))
    expect(line(again, 'A', 'I', 'kind')).toEqual({ refused: '“A” realises “I” already.' })
  })
  it('becomes one of another sort, is owned, and turned round with its ends', () => {
    const model = classModel('A\n  has 1..* B as bs  each 1 as a  name: of\nB')
    const [tie] = model.relationsOfKind('association')
    if (!tie) throw new Error('no tie')
    const on = { ...wish(model, []), selection: [tie.id] }
    expect(done(model, act('whole', on))).toContain('  owns 1..* B as bs  each 1 as a  name: of')
    expect(done(model, act('flip', on))).toBe('A\nB\n  knows 1 A as a  each 1..* as bs  both ways  name: of')
    expect(done(model, act('as-generalization', on))).toBe('A\n  is a B\nB')
    expect(act('as-realization', on)).toEqual({ refused: 'not offered' })
  })
})

describe('a text in the picture', () => {
  it('is a member in the notation of the standard, refused with the place of the fault', () => {
    const model = classModel(SMALL)
    const seats = named(model, 'seats')
    expect(done(model, write(wish(model, ['Ticket']), seats, '- seats : Integer [1..9] = 1'))).toContain(
      '  - seats : Integer [1..9] = 1',
    )
    expect(write(wish(model, ['Ticket']), seats, '- seats : Integer [9..1]')).toMatchObject({
      refused: expect.stringMatching(/^At letter 20: .*more than/) as string,
    })
    expect(done(model, write(wish(model, ['Ticket']), seats, 'count() : Integer'))).toContain('  count() : Integer')
  })
  it('is no longer than a line may be, nor its name than a name', () => {
    const model = classModel(`${SMALL}\nColour  (enumeration)\n  red`)
    for (const [member, text] of [
      ['seats', `- ${'('.repeat(200_000)}`],
      ['seats', `- ${'s'.repeat(500)} : Integer`],
      ['red', 'r'.repeat(500)],
    ] as const)
      expect(write(wish(model, ['Ticket']), named(model, member), text)).toMatchObject({
        refused: expect.stringMatching(/the most|at most/) as string,
      })
  })
  it('is the name of a class', () => {
    const model = classModel(SMALL)
    expect(done(model, write(wish(model, ['Leg']), 'name', 'Crossing'))).toContain('Crossing')
    expect(write(wish(model, ['Leg']), 'name', ' ')).toEqual({ refused: 'It needs a name.' })
  })
})

describe('the outline', () => {
  const lineOf = (model: Model, name: string) => named(model, name)
  it('turns a class into a member of the one above, and a bare member into a class', () => {
    const model = classModel('A\nb\nC')
    const inner = after(model, outline.indent(wish(model, []), lineOf(model, 'b')))
    expect(textOf(inner)).toBe('A\n  b\nC')
    expect(done(inner, outline.outdent(wish(inner, []), lineOf(inner, 'b')))).toBe('A\nb\nC')
  })
  it('puts classes into the package above, and takes them out again', () => {
    const model = classModel('p  (package)\nA\n  x : Integer')
    const inner = after(model, outline.indent(wish(model, []), lineOf(model, 'A')))
    expect(textOf(inner)).toBe('p  (package)\n  A\n    x : Integer')
    expect(done(inner, outline.outdent(wish(inner, []), lineOf(inner, 'A')))).toBe('p  (package)\nA\n  x : Integer')
  })
  it('takes a package out to the place next to the one that held it', () => {
    const model = classModel('p  (package)\n  q  (package)\n  r  (package)\ns  (package)\nt  (package)')
    const turned = after(model, outline.move(wish(model, []), lineOf(model, 'p'), 1))
    expect(done(turned, outline.outdent(wish(turned, []), lineOf(turned, 'q')))).toBe(
      's  (package)\np  (package)\n  r  (package)\nq  (package)\nt  (package)',
    )
  })
  it('keeps a line that it does not understand as typed, and says why', () => {
    const model = classModel(SMALL)
    expect(outline.write(wish(model, []), lineOf(model, 'seats'), '- seats : [')).toMatchObject({
      refused: expect.stringContaining('At letter') as string,
    })
    expect(outline.write(wish(model, []), lineOf(model, 'Leg'), 'Leg  (blue)')).toMatchObject({
      refused: expect.stringContaining('“blue” is no sort of class') as string,
    })
    expect(outline.paste(wish(model, []), undefined, 'A\n  x : Integer [2..1]')).toMatchObject({
      refused: expect.stringMatching(/^Line 2, .*Nothing was changed\.$/) as string,
    })
  })
  it('reads bulleted lists: dots are signs of the list, a minus beneath a class is private', () => {
    expect(textOf(classModel('- Ticket\n  - seats : Integer\n  • price\n* Leg'))).toBe(
      'Ticket\n  - seats : Integer\n  price\nLeg',
    )
  })
  it('makes a class that is only named, an interface where it is realised', () => {
    expect(textOf(classModel('p  (package)\n  A\n    realises Printable\n    has 0..1 B'))).toBe(
      'p  (package)\n  A\n    realises Printable\n    has 0..1 B\n  Printable  (interface)\n  B',
    )
  })
  it('adds a line on the level of another one, in its place', () => {
    const model = classModel('A\n  x : Integer\n  z : Integer\nB')
    expect(done(model, outline.insert(wish(model, []), lineOf(model, 'x'), 'y : Integer'))).toBe(
      'A\n  x : Integer\n  y : Integer\n  z : Integer\nB',
    )
    expect(done(model, outline.insert(wish(model, []), lineOf(model, 'A'), 'C'))).toContain('\nC\nB')
  })
})

describe('what a view shows', () => {
  const model = classModel('p  (package)\n  A\n    has B\n  B\n    has C\nq  (package)\n  C\n    uses D\n  D')
  const lines = (scope: Record<string, string>) =>
    outline.lines(model, classView({ scope }), DAY).map(({ text }) => text)
  it('is a package with what is in it, or a class with its neighbours', () => {
    expect(lines({ package: named(model, 'q') })).toEqual(['C', 'uses D', 'D'])
    expect(lines({ class: named(model, 'B') })).toEqual([
      'p  (package)',
      'A',
      'has B',
      'B',
      'has C',
      'q  (package)',
      'C',
    ])
  })
  it('is chosen, and given up again', () => {
    const some = apply(model, { label: '', steps: [] }).model
    const outcome = act('around', wish(some, ['B']))
    expect(outcome).toMatchObject({ change: { steps: [{ path: 'scope.class', value: named(some, 'B') }] } })
  })
})
