import { describe, expect, it } from 'vitest'
import { apply, asId, type Day, type Id, type Model } from '../../../src/core/model'
import type { Outcome, Wish } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { stateOutline } from '../../../src/core/notations/uml/states/outline'
import { layOut } from '../../../src/core/notations/uml/pictures/states/layout'
import { happeningsAt, runsOf } from '../../../src/core/notations/uml/states/runs'
import { machinesOn, ownersOf, type Vertex } from '../../../src/core/notations/uml/states/structure'
import { overlaps, type Box } from '../../../src/core/scene'
import { marramSoundFerries } from '../../../src/demo'
import { bothHold } from '../../../src/core/notations/uml/states/rules'
import { readLine } from '../../../src/core/notations/uml/states/words'
import { cyclomatic } from '../../../src/core/notations/uml/states/numbers'
import { testPaths } from '../../../src/core/notations/uml/states/tour'
import { DAY, day } from '../../facts'
import { findings, mended, named } from '../network/facts'
import { machineIn, stateModel, statesText, stateView } from './stateFacts'

const BEGIN = '(initial)\n  -> A\n'

interface Case {
  readonly rule: string
  /** What is at fault, from a day on; and what is not. */
  readonly wrong: string
  readonly right: string
  readonly says: string
  readonly fix?: number
}

const CASES: readonly Case[] = [
  {
    rule: 'uml/state-no-initial',
    wrong: 'A  since 2026-03-01\n  on x -> A',
    right: `${BEGIN}A\n  on x -> A`,
    says: 'Nothing says which state of “M” comes first',
    fix: 0,
  },
  {
    rule: 'uml/state-no-initial',
    wrong: `${BEGIN}  -> B  since 2026-03-01\nA\n  on x -> B\nB\n  on x -> A`,
    right: `${BEGIN}A\n  on x -> B\nB\n  (initial)\n    -> C\n  C\n    on y -> A`,
    says: 'From the beginning of “M” 2 ways lead on',
    fix: 0,
  },
  {
    rule: 'uml/state-no-initial',
    wrong: `${BEGIN}A\n  on x -> B\nB\n  on x -> A\n  C  since 2026-03-01`,
    // What is only entered past its border needs no beginning.
    right: `${BEGIN}A\n  on x -> C\nB\n  on x -> A\n  C`,
    says: 'Nothing says which state of “B” comes first',
    fix: 0,
  },
  {
    rule: 'uml/state-unreachable',
    wrong: `${BEGIN}A\n  on x -> A\nB  since 2026-03-01\n  on x -> A`,
    right: `${BEGIN}A\n  on x -> B\nB\n  on x -> A`,
    says: '“B” is never entered: nothing leads there',
  },
  {
    rule: 'uml/state-unreachable',
    wrong: `${BEGIN}A\n  on x -> J\n  on y -> B\nB\n  on x -> J  since 2026-03-01\nJ  (join)\n  -> A`,
    right: `${BEGIN}A\n  on x -> A\n  P  (region)\n    (initial)\n      -> B\n    B\n      -> J\n  Q  (region)\n    (initial)\n      -> C\n    C\n      -> J\nJ  (join)\n  -> A`,
    says: '“J” is never entered: what meets there is never there together',
  },
  {
    rule: 'uml/state-trap',
    wrong: `${BEGIN}A\n  on x -> B  since 2026-03-01\n  on y -> A\nB`,
    right: `${BEGIN}A\n  on x -> B\nB\n  on y -> A`,
    says: '“B” is entered and never left',
    fix: 0,
  },
  {
    rule: 'uml/state-trap',
    wrong: `${BEGIN}A\n  on x -> B  since 2026-03-01\n  on y -> final\nB\n  on z -> C\nC\n  on z -> B\n(final)`,
    right: `${BEGIN}A\n  on x -> B\n  on y -> final\nB\n  on z -> C\nC\n  on z -> B\n  on y -> A\n(final)`,
    says: 'From “B”, “C” on, “M” never comes to its end',
  },
  {
    rule: 'uml/state-nondeterministic',
    wrong: `${BEGIN}A\n  on pay [fare < 10] -> A\n  on pay [fare > 5] -> B  since 2026-03-01\nB\n  on x -> A`,
    right: `${BEGIN}A\n  on pay [fare < 10] -> A\n  on pay [fare >= 10] -> B\nB\n  on x -> A`,
    says: 'On “pay” two ways lead from “A”, to “A” and to “B”, and both may be taken: both hold where fare is between 5 and 10',
    fix: 0,
  },
  {
    rule: 'uml/final-with-outgoing',
    wrong: `${BEGIN}A\n  on x -> final\n(final)\n  -> A  since 2026-03-01`,
    right: `${BEGIN}A\n  on x -> final\n(final)`,
    says: 'From the end something leads to “A”',
    fix: 0,
  },
]

describe.each(CASES)('$rule: $says', ({ rule, wrong, right, says, fix }) => {
  it('finds what is wrong from the day on which it is, and says it', () => {
    const model = stateModel(wrong)
    expect(findings(rule, model, DAY).map(({ message }) => message)).toEqual([expect.stringContaining(says) as string])
    expect(findings(rule, model, day('2026-02-15'))).toEqual([])
  })
  it('finds nothing where nothing is wrong', () => {
    expect(findings(rule, stateModel(right))).toEqual([])
  })
  it('is mended by its fix, where there is one', () => {
    const [found] = findings(rule, stateModel(wrong))
    expect(found?.fixes.length === 0).toBe(fix === undefined)
    if (fix !== undefined) expect(mended(rule, stateModel(wrong), fix)).toEqual([])
  })
})

describe('a line with an arrow', () => {
  it('is led by an event, with “on” or without', () => {
    for (const event of ['paid', 'after 14 d', 'at 08:00', 'when fare > 3'])
      for (const line of [`on ${event} [late] / warn -> Overdue`, `${event} [late] / warn → Overdue`])
        expect(readLine(line, 'state')).toMatchObject({
          is: 'transition',
          fields: { trigger: event, guard: 'late', effect: 'warn' },
          target: { name: 'Overdue' },
        })
  })
  it('is no state', () => {
    for (const line of ['Open -> Done', 'Open → Done', 'after 14 d -> Overdue'])
      expect(readLine(line, 'elsewhere')).toEqual({ refused: 'What leads away from a state stands beneath it.' })
    expect(readLine('"Open -> Done"', 'elsewhere')).toMatchObject({ is: 'state', name: 'Open -> Done' })
    expect(readLine('After hours', 'elsewhere')).toMatchObject({ is: 'state', name: 'After hours' })
  })
})

describe('what is played to a finding', () => {
  it('leads from the beginning into the trap, each moment by what happens', () => {
    const model = stateModel(`${BEGIN}A\n  on x [ok] -> B\n  on y -> A\nB\n  -> C\nC`)
    const [found] = findings('uml/state-trap', model)
    expect(found?.trace?.map(({ words }) => words)).toEqual([
      'It begins.',
      'It goes on: now in “A”.',
      '“x” happens, as ok: now in “B”.',
      'It goes on: now in “C”.',
      'Nothing leads out of “C”.',
    ])
    for (const { at } of found?.trace ?? [])
      for (const one of at) expect(model.entities.has(one) || model.relations.has(one)).toBe(true)
  })
  it('shows what is entered step by step where a state never is', () => {
    const model = stateModel(`${BEGIN}A\n  on x -> B\nB\n  on x -> A\nC\n  on x -> A`)
    const [found] = findings('uml/state-unreachable', model)
    expect(found?.trace?.map(({ at }) => at.map((one) => model.entities.get(one)?.name))).toEqual([
      ['initial'],
      ['A'],
      ['B'],
      ['C'],
    ])
  })
})

describe('two guards', () => {
  const APART = [
    ['a', 'not a'],
    ['!(paid)', 'paid'],
    ['!isValid()', 'isValid()'],
    ['not isValid()', 'isValid( )'],
    ['¬ order.isPaid(now)', 'order.isPaid(now)'],
    ['x', 'else'],
    [undefined, 'else'],
    ['x > 3', 'x <= 3'],
    ['3 < x', 'x <= 3'],
    ['3 >= x', 'x > 3'],
    ['not x > 3', 'x > 3'],
    ['not (x > 3 or y > 1)', 'y > 2'],
    ['x > 5 and y > 1', 'x <= 5'],
    ['x > 5 && isValid()', 'x < 9 and !isValid()'],
    ['x between 1 and 5', 'x > 5'],
    ['1 <= x < 5', 'x between 5 and 9'],
    ['x in {1, 2}', 'x > 5'],
    ['x in {few, 2}', 'x > 5'],
    ['x = "few"', 'x > 5'],
    ['x is between 1 and 5', 'x > 5'],
    ['x in {1, 2}', 'x not in {1, 2, 3}'],
    ['x != 3', 'x = 3'],
    ['kind in {car, van}', 'kind = bus'],
    ['kind is not van', 'kind = "van"'],
    ['status = open', 'status = closed'],
    ['amount >= price', 'amount < price'],
    ['price <= amount', 'amount < price'],
    ['price = amount', 'amount < price'],
    ['a.size() > 0', 'a.size() = 0'],
    ['count (x) > 2 or (late and not paid)', 'count(x) <= 2 and paid'],
  ] as const
  const TOGETHER = [
    ['else', 'else', 'both say else'],
    [undefined, undefined, ''],
    [undefined, 'x', 'wherever “x” holds'],
    ['x >= 3', 'x <= 3', 'both hold where x is 3'],
    ['1 < x < 5', 'x in {4, 5}', 'both hold where x is 4'],
    ['x > 5 and rain', 'x > 7', 'both hold where x is above 7'],
    ['x > 5 or late', 'late', 'both may hold'],
    ['kind in {car, van}', 'kind in {van, bus}', 'both hold where kind is van'],
    ['amount >= price', 'amount <= price', 'both may hold'],
    ['a', 'A ', 'they ask the same'],
    ['ready', 'ready and x > 5', 'both hold where x is above 5'],
    ['x in {few, 7}', 'x > 5', 'both hold where x is 7'],
    ['x != few', 'x > 5', 'both hold where x is above 5'],
  ] as const
  const UNKNOWN = [
    ['a', 'b'],
    ['isValid()', 'isReady()'],
    ['amount > price', 'amount < cost'],
    ['x > 5', 'y > 1'],
    ['x = limit', 'x > 5'],
    ['x = limit', 'x = 5'],
    ['x > 5 and rain', 'x > 3 and sun'],
    ['the order, or what is left of it', 'the order and more'],
  ] as const
  it.each(APART)('“%s” and “%s” exclude each other', (a, b) => {
    expect([bothHold(a, b), bothHold(b, a)]).toEqual([{ are: 'apart' }, { are: 'apart' }])
  })
  it.each(TOGETHER)('“%s” and “%s”: %s', (a, b, where) => {
    expect([bothHold(a, b), bothHold(b, a).are]).toEqual([{ are: 'together', where }, 'together'])
  })
  it.each(UNKNOWN)('of “%s” and “%s” nobody but people knows', (a, b) => {
    expect([bothHold(a, b), bothHold(b, a)]).toEqual([{ are: 'unknown' }, { are: 'unknown' }])
  })
  it('are words where they are too large or too deep to be taken apart', () => {
    const many = Array.from({ length: 400 }, (_, at) => `(x${at} > 1 or y${at} > 1)`).join(' and ')
    expect(bothHold(many, `not ${many}`)).toEqual({ are: 'unknown' })
    expect(bothHold(`${'('.repeat(1500)}x${')'.repeat(1500)}`, 'not x')).toEqual({ are: 'apart' })
    expect(bothHold(`${'not '.repeat(900)}x`, 'y')).toEqual({ are: 'unknown' })
  })
})

describe('one event, one way', () => {
  const at = (text: string) => findings('uml/state-nondeterministic', stateModel(text)).map(({ message }) => message)
  it('looks at each event of a list by its name, arguments or not', () => {
    expect(at(`${BEGIN}A\n  on x, y(a) -> A\n  on Y -> B\nB\n  on x -> A`)).toHaveLength(1)
  })
  it('looks at ways that are gone without an event, and at those of a choice', () => {
    expect(at(`${BEGIN}A\n  -> B\n  [x] -> C\nB\n  on x -> A\nC\n  on x -> A`)).toHaveLength(1)
    expect(at(`${BEGIN}A\n  on x -> K\nK  (choice)\n  [fare > 3] -> A\n  [fare > 5] -> A\n  [else] -> A`)).toHaveLength(
      1,
    )
  })
  it('warns where conditions are words, and is silent where they exclude each other', () => {
    const two = (a: string, b: string) => {
      const model = stateModel(`${BEGIN}A\n  on x [${a}] -> A\n  on x [${b}] -> B\nB\n  on x -> A`)
      const of = (rule: string) => findings(rule, model).map(({ message }) => message)
      return [of('uml/state-nondeterministic').length, ...of('uml/state-undecided')]
    }
    expect(two('isPaid()', '!isPaid()')).toEqual([0])
    expect(two('x > 1', 'x > 2')).toEqual([1])
    expect(two('rain', 'sun')).toEqual([
      0,
      'On “x” two ways lead from “A”, to “A” and to “B”: nothing says that “rain” and “sun” exclude each other.',
    ])
  })
  it('leaves a state within another one to answer first', () => {
    expect(at(`${BEGIN}A\n  on x -> A\n  (initial)\n    -> B\n  B\n    on x -> B`)).toEqual([])
  })
})

let made = 0
const wishFor = (model: Model, ...selection: readonly Id[]): Wish => ({
  model,
  view: stateView(),
  day: DAY,
  selection,
  newId: () => asId(`new${++made}`),
})
const done = (model: Model, outcome: Outcome): Model => {
  if ('refused' in outcome) throw new Error(outcome.refused)
  return apply(model, outcome.change).model
}
const uml = registry.notations.find(({ id }) => id === 'uml')
const act = (key: string, model: Model, ...selection: readonly Id[]): Model => {
  const action = uml?.actions.find(({ id }) => id === `states-${key}`)
  if (!action?.applies(wishFor(model, ...selection))) throw new Error(`“${key}” is not offered`)
  return done(model, action.run(wishFor(model, ...selection)))
}
const gesture = uml?.pictures.find(({ id }) => id === 'states')

describe('actions on states', () => {
  const begun = () => stateModel(`${BEGIN}A\n  on x -> B\nB\n  on y [ok] / go -> A`)
  it('go on from a state, into it, and beside it', () => {
    const model = begun()
    const a = named(model, 'A')
    expect(statesText(act('next-state', model, a))).toContain('  -> New state')
    expect(statesText(act('next-choice', model, a))).toContain('(choice)')
    expect(statesText(act('inside', model, a))).toContain('  on x -> B\n  (initial)\n    -> New state\n  New state')
    expect(
      statesText(act('state', model, a))
        .split('\n')
        .at(-1),
    ).toBe('New state')
  })
  it('make regions of what stood in a state', () => {
    const once = act('inside', begun(), named(begun(), 'A'))
    const model = act('region', once, named(once, 'A'))
    expect(statesText(model)).toContain(
      '  First  (region)\n    (initial)\n      -> New state\n    New state\n  Beside  (region)',
    )
  })
  it('remove a state with what stands in it and what leads there', () => {
    const once = act('inside', begun(), named(begun(), 'A'))
    const model = act('remove', once, named(once, 'A'))
    expect(statesText(model)).toBe('(initial)\nB')
    expect([...model.relations.values()]).toEqual([])
  })
  it('turn a transition round, and refuse what the standard does', () => {
    const model = begun()
    const [first, second] = model.relationsOfKind('transition')
    if (!first || !second) throw new Error('no transitions')
    expect(statesText(act('turn-round', model, second.id))).toContain('B\n  on x -> A')
    const turn = uml?.actions.find(({ id }) => id === 'states-turn-round')
    expect(turn?.run(wishFor(model, first.id))).toEqual({ refused: 'Nothing leads to a beginning.' })
    const end = stateModel(`${BEGIN}A\n  on x -> final`)
    expect(gesture?.pull?.({ ...wishFor(end, named(end, 'final')), target: named(end, 'A') }, PULL)).toEqual({
      refused: 'From an end nothing leads on.',
    })
  })
  it('draw a line to another state, and write at it', () => {
    const model = begun()
    const drawn = done(
      model,
      gesture?.pull?.({ ...wishFor(model, named(model, 'B')), target: named(model, 'B') }, PULL) ?? NONE,
    )
    const line = drawn.relationsOfKind('transition').at(-1)
    if (!line) throw new Error('no line')
    const write = (text: string) => gesture?.write?.(wishFor(drawn, line.id), 'text', text) ?? NONE
    expect(statesText(done(drawn, write('again, more [n < 3] / n++')))).toContain('  on again, more [n < 3] / n++ -> B')
    expect(write('x [n < 3')).toEqual({ refused: 'At letter 3: “[” is opened and not closed.' })
    expect(write('x [a] b')).toEqual({
      refused: 'At letter 7: After the condition comes / and what is done, or nothing.',
    })
  })
  it('drop a state into another one, not into itself nor into an end', () => {
    const model = begun()
    const [a, b] = [named(model, 'A'), named(model, 'B')]
    const drop = (target: Id | undefined, ...moved: readonly Id[]) =>
      gesture?.drop?.({ ...wishFor(model, ...moved), ...(target === undefined ? {} : { target }) }) ?? NONE
    const inside = done(model, drop(a, b))
    expect(inside.entities.get(b)?.fields['within']).toBe(a)
    expect(gesture?.drop?.({ ...wishFor(inside, a), target: b })).toEqual({
      refused: 'A state does not stand within itself.',
    })
    expect(done(inside, gesture?.drop?.(wishFor(inside, b)) ?? NONE).entities.get(b)?.fields['within']).toBeUndefined()
  })
})

const NONE: Outcome = { refused: 'nothing' }
const PULL = { handle: 'lead', by: { x: 0, y: 0 }, at: { x: 0, y: 0 }, box: { x: 0, y: 0, width: 1, height: 1 } }

describe('the outline of states', () => {
  const lineOf = (model: Model, text: string) => {
    const found = stateOutline.lines(model, stateView(), DAY).find((line) => line.text === text)
    if (!found) throw new Error(`no line “${text}”`)
    return found.id
  }
  const begun = () =>
    stateModel(`${BEGIN}A  entry: wake\n  on x [n > 1] / go -> B\n  on tick / count\nB\n  on y -> final\n(final)`)
  it('reads a whole machine, and what it does not understand it names', () => {
    expect(statesText(begun())).toBe(
      '(initial)\n  -> A\nA  entry: wake\n  on tick / count\n  on x [n > 1] / go -> B\nB\n  on y -> final\n(final)',
    )
    expect(statesText(stateModel('A\n  → B\n  - on x -> A\nB'))).toBe('A\n  -> B\n  on x -> A\nB')
    expect(() => stateModel('A\n  on x [n -> B')).toThrow(
      'Line 2, “on x [n -> B”: At “[n”: “[” is opened and not closed.',
    )
    expect(() => stateModel('A\n  on -> B')).toThrow('After “on” an event is missing')
    expect(() => stateModel('A\n  on a,, b -> B')).toThrow('Between two commas an event is missing')
    expect(() => stateModel('A\n  on after -> B')).toThrow('After “after” a duration is missing')
    expect(() => stateModel('A\n  on x /-> B')).toThrow('After / what is done is missing')
    expect(() => stateModel('A  (stat)')).toThrow('“stat” is no sort of state')
    expect(() => stateModel('on x -> B')).toThrow('What leads away from a state stands beneath it')
  })
  it('writes a line: name, sort, what is done, where it leads', () => {
    const model = begun()
    const write = (line: string, text: string) =>
      stateOutline.write(wishFor(model, asId('x')), lineOf(model, line), text)
    expect(statesText(done(model, write('A  entry: wake', 'Awake  do: wait')))).toContain('Awake  do: wait\n')
    expect(statesText(done(model, write('on x [n > 1] / go -> B', 'on x -> C')))).toContain('  on x -> C')
    expect(statesText(done(model, write('on tick / count', 'on tick / count -> B')))).toContain(
      '  on tick / count -> B',
    )
    expect(write('on y -> final', 'B2')).toMatchObject({
      refused: expect.stringContaining('a line of its own') as string,
    })
  })
  it('puts a line in its place, in and out', () => {
    const model = begun()
    const added = done(model, stateOutline.insert(wishFor(model), lineOf(model, 'A  entry: wake'), 'Next'))
    expect(statesText(added)).toContain('go -> B\nNext\nB')
    const inner = done(added, stateOutline.indent(wishFor(added), lineOf(added, 'Next')))
    expect(statesText(inner)).toContain('go -> B\n  Next\nB')
    // Next to what it came out of, before what follows that.
    expect(statesText(done(inner, stateOutline.outdent(wishFor(inner), lineOf(inner, 'Next'))))).toContain(
      'go -> B\nNext\nB',
    )
    expect(stateOutline.indent(wishFor(model), lineOf(model, 'A  entry: wake'))).toMatchObject({
      refused: 'Nothing stands in a initial.',
    })
    expect(statesText(done(model, stateOutline.move(wishFor(model), lineOf(model, 'B'), -1)))).toMatch(
      /B\n {2}on y -> final\nA/,
    )
    expect(statesText(done(model, stateOutline.remove(wishFor(model), lineOf(model, 'B'))))).not.toContain('B')
  })
  it('a name leads to what stands beside it before anything else of that name', () => {
    const model = stateModel(
      `${BEGIN}A\n  on x -> C\n  (initial)\n    -> B\n  B\n    on y -> C\n    on z -> C #2\n  C\nC`,
    )
    const [inner, outer] = machineIn(model).vertices.filter(({ name }) => name === 'C')
    const b = machineIn(model).vertices.find(({ name }) => name === 'B')
    expect(b?.out.map(({ target }) => target)).toEqual([inner, outer])
    expect(machineIn(model).vertices.find(({ name }) => name === 'A')?.out[0]?.target).toBe(outer)
  })
  it('states within themselves stand outside, and nothing is lost', () => {
    const model = stateModel('A\n  B\n    C')
    const circle = apply(model, {
      label: 'A circle',
      steps: [{ do: 'set-entity', id: named(model, 'A'), path: 'fields.within', value: named(model, 'C') }],
    }).model
    expect(
      machineIn(circle)
        .vertices.map(({ name }) => name)
        .sort(),
    ).toEqual(['A', 'B', 'C'])
  })
})

describe('what can happen', () => {
  const namesIn = (text: string) => {
    const runs = runsOf(machineIn(stateModel(text)))
    return runs.standings.map(({ active }) =>
      active
        .map(({ name }) => name)
        .sort()
        .join('+'),
    )
  }
  it('a state with regions is done when each of them has come to its end', () => {
    const text = `${BEGIN}A\n  -> B\n  P  (region)\n    (initial)\n      -> p\n    p\n      on x -> final\n    (final)\n  Q  (region)\n    (initial)\n      -> q\n    q\n      on never -> q\nB`
    expect(namesIn(text)).not.toContain('B')
    expect(namesIn(text.replace('on never -> q', 'on y -> final\n    (final)'))).toContain('B')
  })
  it('an event that several regions answer to is one step (UML 2.5.1, 14.2.3.9.4)', () => {
    const two = (first: string, second: string, more = '') =>
      `${BEGIN}A${more}\n  P  (region)\n    (initial)\n      -> p\n    p\n      ${first} -> p2\n    p2\n  Q  (region)\n    (initial)\n      -> q\n    q\n      ${second} -> q2\n    q2`
    const settled = (text: string) => namesIn(text).filter((one) => !/initial/.test(one))
    expect(settled(two('on x', 'on x'))).toEqual(['p+q', 'p2+q2'])
    // Where a condition may not hold one of them stays; others go on by themselves.
    expect(settled(two('on x [ok]', 'on x'))).toEqual(['p+q', 'p2+q2', 'p+q2'])
    expect([...new Set(settled(two('on x [ok]', 'on x [fine]')))].sort()).toEqual(['p+q', 'p+q2', 'p2+q', 'p2+q2'])
    expect(settled(two('on x', 'on y')).sort()).toEqual(['p+q', 'p+q2', 'p2+q', 'p2+q2'])
    // The whole is left only where neither answers: both may in one step as well.
    const whole = settled(`${two('on x [ok]', 'on x [fine]', '\n  on x -> B')}\nB`)
    expect([...new Set(whole)].sort()).toEqual(
      ['B', 'p+q', 'p+q2', 'p2+q', 'p2+q2'].filter((one) => whole.includes(one)),
    )
    expect(whole).toContain('p2+q2')
    expect(whole).toContain('B')
  })
  it('a history brings back what was there when its region was left, deep or not', () => {
    const text = (form: string) =>
      `${BEGIN}A\n  on out -> Away\n  (initial)\n    -> One\n  H  (${form})\n  One\n    on on -> Two\n  Two\n    (initial)\n      -> In\n    In\n      on in -> Deep\n    Deep\nAway\n  on back -> H`
    const after = (form: string, ...events: readonly string[]): string => {
      const runs = runsOf(machineIn(stateModel(text(form))))
      let at = runs.standings[0]
      const settle = () => {
        for (
          let next = at && happeningsAt(at).find(({ trigger }) => trigger === undefined);
          next;
          next = at && happeningsAt(at).find(({ trigger }) => trigger === undefined)
        )
          at = next.to
      }
      settle()
      for (const event of events) {
        at = at && happeningsAt(at).find(({ trigger }) => trigger === event)?.to
        settle()
      }
      return at?.active.map(({ name }) => name).join('+') ?? 'nothing'
    }
    expect(after('history', 'out', 'back')).toBe('One')
    expect(after('history', 'on', 'in', 'out', 'back')).toBe('In')
    expect(after('deep history', 'on', 'in', 'out', 'back')).toBe('Deep')
    expect(after('deep history', 'on', 'out', 'back', 'in', 'out', 'back')).toBe('Deep')
  })
})

describe('the picture of states', () => {
  const demo = marramSoundFerries()
  const within = (a: Box, b: Box) =>
    a.x >= b.x && a.y >= b.y && a.x + a.width <= b.x + b.width && a.y + a.height <= b.y + b.height
  /** Much that leads out of a state and into it, past its border. */
  const crossed = `${BEGIN}A\n  on x -> In 3\nOuter\n  (initial)\n    -> In 1\n  In 1\n    on a -> Out 1\n    on b -> Out 2\n  In 2\n    on c -> Out 1\n    on d -> Out 3\n  In 3\n    on e -> Out 2\n    on f -> In 1\n  Deep\n    Deeper\n      on g -> Out 3\n      on h -> In 2\nOut 1\n  on back -> In 2\nOut 2\n  on back -> In 3\n  on far -> Deeper\nOut 3\n  on all -> Outer`
  it.each([
    ['the life of a ticket', () => machinesOn(demo, DAY).get(asId('machine-ticket'))],
    ['boarding', () => machinesOn(demo, DAY).get(asId('machine-boarding'))],
    ['much that crosses a border', () => machineIn(stateModel(crossed))],
  ])('%s: states within what they stand in, lines from border to border, none along another', (_, make) => {
    const machine = make()
    if (!machine) throw new Error('no machine')
    const laid = layOut(machine, 0.85)
    const boxOf = (one: Vertex): Box => laid.boxes.get(one) ?? { x: 0, y: 0, width: 0, height: 0 }
    for (const one of machine.vertices) {
      if (one.region.owner) expect(within(boxOf(one), boxOf(one.region.owner)), one.name).toBe(true)
      for (const other of machine.vertices)
        if (one !== other && !ownersOf(one).includes(other) && !ownersOf(other).includes(one))
          expect(overlaps(boxOf(one), boxOf(other)), `${one.name} and ${other.name}`).toBe(false)
    }
    const isAt = ({ x, y }: { x: number; y: number }, box: Box) =>
      x >= box.x - 1 && x <= box.x + box.width + 1 && y >= box.y - 1 && y <= box.y + box.height + 1
    const pieces: {
      readonly of: string
      readonly across: boolean
      readonly at: number
      readonly from: number
      readonly to: number
    }[] = []
    for (const one of machine.transitions) {
      const way = laid.ways.get(one) ?? []
      const [first, last] = [way[0], way.at(-1)]
      expect(first && isAt(first, boxOf(one.source)), one.text).toBe(true)
      expect(last && isAt(last, boxOf(one.target)), one.text).toBe(true)
      way.slice(1).forEach((b, at) => {
        const a = way[at] ?? b
        const across = Math.abs(a.y - b.y) < 0.01
        expect(across || Math.abs(a.x - b.x) < 0.01, `${one.text} runs aslant`).toBe(true)
        pieces.push(
          across
            ? { of: one.id, across, at: a.y, from: Math.min(a.x, b.x), to: Math.max(a.x, b.x) }
            : { of: one.id, across, at: a.x, from: Math.min(a.y, b.y), to: Math.max(a.y, b.y) },
        )
      })
    }
    pieces.forEach((a, at) =>
      pieces.slice(at + 1).forEach((b) => {
        if (a.of === b.of || a.across !== b.across || Math.abs(a.at - b.at) > 1) return
        expect(Math.min(a.to, b.to) - Math.max(a.from, b.from), `${a.of} runs along ${b.of}`).toBeLessThanOrEqual(1)
      }),
    )
    for (const [one, { box }] of laid.labels)
      for (const vertex of machine.vertices)
        if (vertex.regions.length === 0)
          expect(overlaps(box, boxOf(vertex)), `“${one.text}” over “${vertex.name}”`).toBe(false)
  })
})

describe('numbers of states', () => {
  it('counts ways through (McCabe): transitions − vertices + 2', () => {
    expect(cyclomatic(machineIn(stateModel(`${BEGIN}A\n  on x -> B\n  on y -> B\nB\n  -> final\n(final)`)))).toBe(2)
  })
  it('test paths take every transition, and no path ends in a choice', () => {
    const model = stateModel(
      `${BEGIN}A\n  on x -> K\nK  (choice)\n  [a] -> B\n  [else] -> C\nB\n  on back -> A\nC\n  on stop -> final\n(final)`,
    )
    const paths = testPaths(machineIn(model))
    expect(paths.map(({ triggers }) => triggers)).toEqual([['x', 'back', 'x', 'stop']])
    expect(paths.flatMap(({ taken }) => taken)).toHaveLength(7)
  })
  it('no path ends where one only passes through, though ways are missing from there', () => {
    const model = stateModel(
      `${BEGIN}A\n  on x -> K\n  on y -> K\n  on z -> K\nK  (choice)\n  [a] -> A\n  [else] -> B\nB`,
    )
    for (const { taken } of testPaths(machineIn(model))) expect(taken.at(-1)?.target.form).not.toBe('choice')
  })
  it('are sheets of their own, for every machine', () => {
    const model = stateModel(`${BEGIN}A\n  on x -> A`)
    const sheet = (key: string) => uml?.numbers.find(({ id }) => id === key)?.rows(model, DAY)
    expect(sheet('states')).toEqual([{ id: 'm', machine: 'M', states: 1, transitions: 2, cyclomatic: 2 }])
    expect(sheet('paths')).toEqual([{ id: 'm', machine: 'M', path: 1, transitions: 2, triggers: 'x' }])
    expect(sheet('states')).not.toEqual(
      uml?.numbers
        .find(({ id }) => id === 'states')
        ?.rows(model, '1999-01-01' as Day)
        .slice(1),
    )
  })
})
