import { describe, expect, it } from 'vitest'
import { apply, asId, Model, type Entity, type Id, type View } from '../../../src/core/model'
import type { Outcome, Wish } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { layOut } from '../../../src/core/notations/uml/pictures/sequence/layout'
import { sequenceOutline } from '../../../src/core/notations/uml/sequences/outline'
import { blocksOf, interactionsOn, messageOf } from '../../../src/core/notations/uml/sequences/structure'
import { overlaps } from '../../../src/core/scene'
import { DAY, day, numbering } from '../../facts'
import { findings, mended, named } from '../network/facts'
import { classModel } from './facts'
import { stateModel } from './stateFacts'

const view = (): View => ({
  id: asId('calls'),
  notation: 'uml',
  picture: 'sequence',
  title: 'Sequence',
  order: 2,
  scope: { interaction: 'i' },
  options: {},
  pins: {},
  look: {},
})
const HOME: Entity = { id: asId('i'), kind: 'interaction', name: 'I', fields: {} }

/** A sequence, with classes and a state machine that it is about. */
function sequence(text: string, { classes = '', states = '' } = {}): Model {
  const known = classes === '' ? Model.of({}) : classModel(classes)
  const machine = states === '' ? Model.of({}) : stateModel(states)
  const of = [...known.entities.values()].find(({ name }) => name === 'Ticket')
  const begun = Model.of({
    entities: [
      HOME,
      ...known.entities.values(),
      ...[...machine.entities.values()].map((one) =>
        one.kind === 'machine' && of ? { ...one, fields: { class: of.id } } : one,
      ),
    ],
    relations: [...known.relations.values(), ...machine.relations.values()],
    views: [view()],
  })
  const outcome = sequenceOutline.paste(
    { model: begun, view: view(), day: day('2000-01-01'), selection: [], newId: numbering('q') },
    undefined,
    text,
  )
  if ('refused' in outcome) throw new Error(outcome.refused)
  return apply(begun, outcome.change).model
}

const textOf = (model: Model): string =>
  sequenceOutline
    .lines(model, view(), DAY)
    .map(({ depth, text }) => `${'  '.repeat(depth)}${text}`)
    .join('\n')

const TICKET =
  'Ticket\n  + refund(amount : Real, reason : String = "none", out left : Real)\n  + pay(amount : Real)\n  + cancel()\n  - lock()\n  + leave()\nClerk'
const LIFE = '(initial)\n  -> Reserved\nReserved\n  on pay -> Paid\nPaid\n  on cancel -> final\n(final)'

interface Case {
  readonly rule: string
  readonly wrong: string
  readonly right: string
  readonly says: string
  readonly fix: number
  readonly states?: string
}
const CASES: readonly Case[] = [
  {
    rule: 'uml/message-unknown-operation',
    wrong: 'Clerk asks Ticket: reopen(1)  since 2026-03-01',
    right: 'Clerk asks Ticket: pay(5)\nClerk asks Somebody: reopen()\nTicket answers Clerk: reopened',
    says: '“Clerk” asks “Ticket”: reopen, but “Ticket” has no such operation',
    fix: 0,
  },
  {
    rule: 'uml/message-unknown-operation',
    wrong: 'Clerk asks Ticket: lock()  since 2026-03-01',
    right: 'Ticket asks Ticket: lock()',
    says: 'lock, which is private in “Ticket”',
    fix: 0,
  },
  {
    rule: 'uml/message-unknown-operation',
    wrong: 'Clerk asks Ticket: pay(5, now)  since 2026-03-01',
    right: 'Clerk asks t : Ticket: pay(max(5, 6))',
    says: '“pay(5, now)” has 2 arguments; “+ pay(amount : Real)” of “Ticket” takes 1',
    fix: 0,
  },
  {
    rule: 'uml/message-unknown-operation',
    wrong: 'Clerk asks Ticket: refund(5, late, 1)  since 2026-03-01',
    right: 'Clerk asks Ticket: refund(5)\nClerk asks Ticket: refund(5, "late, or never")',
    says: '“refund(5, late, 1)” has 3 arguments',
    fix: 0,
  },
  {
    rule: 'uml/message-unknown-operation',
    wrong: 'Clerk tells Ticket: shove()  since 2026-03-01',
    right: 'Clerk tells Ticket: poke()',
    says: '“Clerk” tells “Ticket”: shove, but “Ticket” has no such operation',
    fix: 0,
    states: '(initial)\n  -> Open\nOpen\n  on poke -> final\n(final)',
  },
  {
    rule: 'uml/message-after-destroy',
    wrong: 'Clerk makes Ticket\nClerk makes Ticket  since 2026-03-01',
    right: 'either\n  Clerk makes Ticket\nor\n  Clerk makes Ticket\nClerk ends Ticket\nClerk makes Ticket',
    says: '“Ticket” has been made before',
    fix: 0,
  },
  {
    rule: 'uml/message-after-destroy',
    wrong: 'Clerk makes Ticket\nwhile unpaid\n  Clerk ends Ticket  since 2026-03-01',
    right: 'while unpaid\n  Clerk makes Ticket\n  Clerk asks Ticket: pay(1)\n  Clerk ends Ticket',
    says: '“Clerk” ends “Ticket”: “Ticket” has been ended before',
    fix: 0,
  },
  {
    rule: 'uml/message-after-destroy',
    wrong: 'Clerk makes Ticket\nClerk ends Ticket\nClerk asks Ticket: pay(1)  since 2026-03-01',
    right: 'Clerk makes Ticket\nif unpaid\n  Clerk ends Ticket\nClerk asks Ticket: pay(1)',
    says: '“pay(1)”: “Ticket” has been ended before',
    fix: 0,
  },
  {
    rule: 'uml/message-after-destroy',
    wrong: 'Clerk asks Ticket: pay(1)  since 2026-03-01\nClerk makes Ticket',
    right: 'Clerk makes Ticket\nClerk asks Ticket: pay(1)\nClerk ends Ticket',
    says: '“pay(1)”: “Ticket” is only made later',
    fix: 0,
  },
  {
    rule: 'uml/reply-unmatched',
    wrong: 'Clerk asks Ticket: pay(1)\nTicket answers Clerk\nTicket answers Clerk: twice  since 2026-03-01',
    right: 'Clerk asks Ticket: pay(1)\neither ok\n  Ticket answers Clerk: yes\nor\n  Ticket answers Clerk: no',
    says: '“Ticket” answers “Clerk”, who has asked nothing that is not answered yet',
    fix: 0,
  },
  {
    rule: 'uml/message-out-of-state',
    wrong: 'Clerk makes Ticket\nClerk asks Ticket: cancel()  since 2026-03-01\nClerk asks Ticket: pay(1)',
    right: 'Clerk makes Ticket\nClerk asks Ticket: pay(1)\nClerk asks Ticket: leave()\nClerk asks Ticket: cancel()',
    says: '“Ticket” cannot take “cancel()” there: by then it is in “Reserved”',
    fix: 0,
    states: LIFE,
  },
]

describe.each(CASES)('$rule: $says', ({ rule, wrong, right, says, fix, states = '' }) => {
  const model = (text: string) => sequence(text, { classes: TICKET, states })
  it('finds what is wrong from the day on which it is, and says it', () => {
    expect(findings(rule, model(wrong), DAY).map(({ message }) => message)).toEqual([
      expect.stringContaining(says) as string,
    ])
    expect(findings(rule, model(wrong), day('2026-02-15'))).toEqual([])
  })
  it('finds nothing where nothing is wrong', () => {
    expect(findings(rule, model(right))).toEqual([])
  })
  it('is mended by its fix', () => {
    expect(mended(rule, model(wrong), fix)).toEqual([])
  })
})

describe('a message against the states of its receiver', () => {
  const at = (text: string) => findings('uml/message-out-of-state', sequence(text, { classes: TICKET, states: LIFE }))
  it('is played to where nothing takes it', () => {
    const [found] = at('Clerk makes Ticket\nClerk asks Ticket: pay(1)\nClerk asks Ticket: pay(2)')
    expect(found?.trace?.map(({ words }) => words)).toEqual([
      '“Ticket” begins.',
      'It goes on: now in “Reserved”.',
      '“pay” happens: now in “Paid”.',
      'Nothing takes “pay(2)” in “Paid”.',
    ])
  })
  it('may come at any time to what was there before', () => {
    expect(at('Clerk asks Ticket: cancel()')).toEqual([])
    expect(at('Clerk asks Ticket: cancel()\nClerk asks Ticket: cancel()')).toHaveLength(1)
  })
  it('may come after any of several ways, and after one that may be left out', () => {
    expect(at('Clerk makes Ticket\nif paid\n  Clerk asks Ticket: pay(1)\nClerk asks Ticket: cancel()')).toEqual([])
    expect(
      at(
        'Clerk makes Ticket\neither a\n  Clerk asks Ticket: pay(1)\nor b\n  Clerk asks Ticket: leave()\nClerk asks Ticket: cancel()',
      ),
    ).toEqual([])
    expect(
      at(
        'Clerk makes Ticket\neither a\n  Clerk asks Ticket: pay(1)\nor b\n  Clerk asks Ticket: pay(2)\nClerk asks Ticket: pay(3)',
      ),
    ).toHaveLength(1)
  })
})

describe('what a message says', () => {
  it.each([
    ['book(2, leg)', 'book', ['2', 'leg']],
    ['book', 'book', undefined],
    ['book()', 'book', []],
    ['total = book(2) : Ticket', 'book', ['2']],
    ['book(max(1, 2), [3, 4])', 'book', ['max(1, 2)', '[3, 4]']],
  ] as const)('“%s” (17.4.4)', (text, name, args) => {
    expect(messageOf(text)).toEqual({ name, args })
  })
})

let made = 0
const wishFor = (model: Model, ...selection: readonly Id[]): Wish => ({
  model,
  view: view(),
  day: DAY,
  selection,
  newId: () => asId(`new${++made}`),
})
const done = (model: Model, outcome: Outcome | undefined): Model => {
  if (!outcome || 'refused' in outcome) throw new Error(outcome?.refused ?? 'nothing')
  return apply(model, outcome.change).model
}
const uml = registry.notations.find(({ id }) => id === 'uml')
const act = (key: string, model: Model, selection: readonly Id[], target?: Id): Model => {
  const action = uml?.actions.find(({ id }) => id === `sequence-${key}`)
  const wish = { ...wishFor(model, ...selection), ...(target === undefined ? {} : { target }) }
  if (!action?.applies(wish)) throw new Error(`“${key}” is not offered`)
  return done(model, action.run(wish))
}

describe('actions on a sequence', () => {
  const begun = () => sequence('A asks B: one()\nB asks C: two()\nA tells C: three()')
  const callNamed = (model: Model, name: string) => named(model, name)
  it('go on from a message, and answer it', () => {
    const model = begun()
    expect(textOf(act('answer', model, [callNamed(model, 'one()')]))).toContain(
      'A asks B: one()\nB answers A\nB asks C',
    )
    expect(textOf(act('next-message', model, [callNamed(model, 'one()')], named(model, 'C')))).toContain(
      'one()\nB asks C\nB asks C: two()',
    )
  })
  it('put a fragment around messages, and another way beside it', () => {
    const model = begun()
    const either = act('either', model, [callNamed(model, 'two()'), callNamed(model, 'three()')])
    expect(textOf(either)).toBe('A asks B: one()\neither\n  B asks C: two()\n  A tells C: three()')
    const operand = [...either.ofKind('operand')][0]
    if (!operand) throw new Error('no fragment')
    const both = act('or', either, [operand.id])
    expect(textOf(both)).toContain('A tells C: three()\nor else')
    expect(textOf(act('remove', both, [operand.id]))).toMatch(/A asks B: one\(\)\nor else$/)
  })
  it('make a message of another sort, move it, drop it, and take a lifeline away with what it says', () => {
    const model = begun()
    const three = callNamed(model, 'three()')
    expect(textOf(act('as-ends', model, [three]))).toContain('A ends C: three()')
    expect(textOf(act('earlier', model, [three]))).toBe('A asks B: one()\nA tells C: three()\nB asks C: two()')
    const gesture = uml?.pictures.find(({ id }) => id === 'sequence')
    const dropped = gesture?.drop?.({ ...wishFor(model, three), target: callNamed(model, 'one()') })
    expect(textOf(done(model, dropped))).toBe('A asks B: one()\nA tells C: three()\nB asks C: two()')
    const before = done(model, gesture?.drop?.({ ...wishFor(model, named(model, 'C')), target: named(model, 'A') }))
    expect(
      interactionsOn(before, DAY)
        .get(HOME.id)
        ?.lifelines.map(({ name }) => name),
    ).toEqual(['C', 'A', 'B'])
    expect(textOf(act('remove', model, [named(model, 'B')]))).toBe('A tells C: three()')
  })
})

describe('the outline of a sequence', () => {
  it('reads what it writes, fragments within fragments', () => {
    const text =
      'P  (actor)\nP asks B: go(2)\neither free\n  while more\n    B asks B: next()\n  B answers P\nor else\n  B answers P: none\nat once\n  B tells C: x\nmeanwhile\n  B tells D: y\nB ends C'
    expect(textOf(sequence(text))).toBe(text)
  })
  it('names what it does not understand', () => {
    expect(() => sequence('A wants B')).toThrow(
      'Line 1, “A wants B”: “A wants B” is not understood: write who asks, tells',
    )
    expect(() => sequence('A asks')).toThrow('After “asks” it is missing whom')
    expect(() => sequence('A  (lifeline)  x: y')).toThrow('“x: y” is not understood here')
  })
  it('puts lines in and out of fragments', () => {
    const model = sequence('A asks B: x\nif ok\n  A asks B: y\nA asks B: z')
    const lineOf = (text: string) =>
      sequenceOutline.lines(model, view(), DAY).find((line) => line.text === text)?.id ?? asId('none')
    expect(textOf(done(model, sequenceOutline.indent(wishFor(model), lineOf('A asks B: z'))))).toBe(
      'A asks B: x\nif ok\n  A asks B: y\n  A asks B: z',
    )
    expect(textOf(done(model, sequenceOutline.outdent(wishFor(model), lineOf('A asks B: y'))))).toBe(
      'A asks B: x\nif ok\nA asks B: y\nA asks B: z',
    )
    expect(
      textOf(done(model, sequenceOutline.insert(wishFor(model), lineOf('A asks B: x'), 'B tells A: w'))),
    ).toContain('x\nB tells A: w\nif ok')
    expect(textOf(done(model, sequenceOutline.write(wishFor(model), lineOf('A asks B: z'), 'C tells B: q')))).toContain(
      'C tells B: q',
    )
    expect(sequenceOutline.indent(wishFor(model), lineOf('A asks B: x'))).toEqual({
      refused: 'There is no fragment above it that it could stand in.',
    })
  })
})

describe('the picture of a sequence', () => {
  const laidOf = (text: string, numbers = false) => {
    const found = interactionsOn(sequence(text), DAY).get(HOME.id)
    if (!found) throw new Error('no sequence')
    return { found, laid: layOut(found, numbers, 1) }
  }
  it('sets lifelines so far apart that what is said between them has room', () => {
    const { laid, found } = laidOf('A asks B: aRatherLongNameOfAnOperation(withOne, andTwo)\nB asks C: x')
    const xs = found.lifelines.map((one) => laid.spans.get(one)?.x ?? 0)
    expect((xs[1] ?? 0) - (xs[0] ?? 0)).toBeGreaterThan(250)
    expect((xs[2] ?? 0) - (xs[1] ?? 0)).toBeLessThan(160)
    const heads = [...laid.heads.values()]
    heads.forEach((a, at) => heads.slice(at + 1).forEach((b) => expect(overlaps(a, b)).toBe(false)))
  })
  it('begins what is made where it is made, and ends what is ended', () => {
    const { laid, found } = laidOf('A makes B\nA ends B')
    const [a, b] = found.lifelines.map((one) => laid.spans.get(one))
    expect(b?.from).toBeGreaterThan(a?.from ?? Infinity)
    expect(b?.to).toBeLessThan(a?.to ?? 0)
    expect(b?.isEnded).toBe(true)
  })
  it('shows who is at work from the call to the answer, deeper for a call within', () => {
    const { laid, found } = laidOf('A asks B: x\nB asks B: y\nB answers A')
    const [x, y, answer] = found.calls.map(({ id }) => laid.calls.get(id))
    const bars = [...laid.bars].sort((p, q) => p.from - q.from)
    expect(bars.map(({ lifeline }) => lifeline.name)).toEqual(['B', 'B'])
    expect(bars[0]?.from).toBe(x?.y)
    expect(bars[0]?.to).toBe(answer?.y)
    expect(bars[1]?.from).toBe(y?.endY)
    expect(bars[1]?.x).toBeGreaterThan(bars[0]?.x ?? Infinity)
  })
  it('sets fragments around all that stands in them, one within the other', () => {
    const { laid } = laidOf('either a\n  A asks C: x\n  while b\n    B asks C: y\nor c\n  A asks B: z')
    const [inner, outer] = laid.frames
    if (!inner || !outer) throw new Error('no frames')
    expect(outer.operands).toHaveLength(2)
    expect(inner.x).toBeGreaterThanOrEqual(outer.x)
    expect(inner.y + inner.height).toBeLessThan(outer.y + outer.height)
    for (const { y } of laid.calls.values()) expect(y > outer.y && y < outer.y + outer.height).toBe(true)
  })
  it('takes ways of one sort that follow one another as one fragment', () => {
    const { found } = laidOf(
      'at once\n  A tells B: x\nmeanwhile\n  A tells C: y\neither a\n  A asks B: z\nor b\n  A asks B: w\nor c\n  A asks B: v\nmeanwhile\n  A tells B: u',
    )
    const blocks = blocksOf(found.list)
    expect(blocks.map((one) => ('operands' in one ? [one.operator, one.operands.length] : 'call'))).toEqual([
      ['par', 2],
      ['alt', 3],
      ['par', 1],
    ])
  })
  it('whoever is set to work in one way of several is so no longer in the next', () => {
    const { laid } = laidOf('either a\n  A asks B: x\nor b\n  A asks C: y')
    const [frame] = laid.frames
    const bar = laid.bars.find(({ lifeline }) => lifeline.name === 'B')
    expect(bar?.to).toBeLessThanOrEqual(frame?.operands[1]?.y ?? 0)
  })
  it('numbers messages where it is chosen', () => {
    const model = sequence('A asks B: x\nB asks C: y')
    const scene = uml?.pictures
      .find(({ id }) => id === 'sequence')
      ?.draw(model, { ...view(), options: { numbers: true } }, DAY)
    const words = JSON.stringify(scene?.links)
    expect(words).toContain('1: x')
    expect(words).toContain('2: y')
    expect(scene?.headline).toBe('2 messages between 3 lifelines')
  })
})
