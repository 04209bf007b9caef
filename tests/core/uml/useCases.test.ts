import { describe, expect, it } from 'vitest'
import { apply, asId, Model, type Entity, type Id, type View } from '../../../src/core/model'
import type { Outcome, Wish } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { caseOutline } from '../../../src/core/notations/uml/usecases/outline'
import { overlaps } from '../../../src/core/scene'
import { DAY, day, numbering } from '../../facts'
import { findings, mended, named } from '../network/facts'

const view = (scope: View['scope'] = {}): View => ({
  id: asId('cases'),
  notation: 'uml',
  picture: 'use-cases',
  title: 'Use cases',
  order: 2,
  scope,
  options: {},
  pins: {},
  look: {},
})

function useCases(text: string, known: readonly Entity[] = []): Model {
  const begun = Model.of({ entities: known, views: [view()] })
  const outcome = caseOutline.paste(
    { model: begun, view: view(), day: day('2000-01-01'), selection: [], newId: numbering('u') },
    undefined,
    text,
  )
  if ('refused' in outcome) throw new Error(outcome.refused)
  return apply(begun, outcome.change).model
}

const textOf = (model: Model): string =>
  caseOutline
    .lines(model, view(), DAY)
    .map(({ depth, text }) => `${'  '.repeat(depth)}${text}`)
    .join('\n')

const CASES = [
  {
    rule: 'uml/actor-unused',
    wrong: 'A  (actor)\nB  (actor)  since 2026-03-01\nA: Do it',
    right: 'A  (actor)\n  is a B\nB  (actor)\nB: Do it',
    says: '“B” takes part in no use case',
    fix: 0,
  },
  {
    rule: 'uml/use-case-unreached',
    wrong: 'A: Do it\nOther  since 2026-03-01\n  includes More\nMore  since 2026-03-01',
    right: 'A: Do it\nDo it\n  includes More\nMore\nMost\n  extends More\nKind\n  is a Do it',
    says: 'No actor comes to “Other”',
  },
  {
    rule: 'uml/include-cycle',
    wrong: 'A: X\nX\n  includes Y\nY\n  includes X  since 2026-03-01',
    right: 'A: X\nX\n  includes Y\n  includes Z\nY\n  includes Z\nZ\n  extends X',
    says: '“X”, “Y” include each other',
    fix: 0,
  },
] as const

describe.each(CASES)('$rule', ({ rule, wrong, right, says, ...more }) => {
  it('finds what is wrong from the day on which it is, and says it', () => {
    const messages = findings(rule, useCases(wrong), DAY).map(({ message }) => message)
    expect(messages[0]).toContain(says)
    expect(findings(rule, useCases(wrong), day('2026-02-15'))).toEqual([])
  })
  it('finds nothing where nothing is wrong', () => {
    expect(findings(rule, useCases(right))).toEqual([])
  })
  it('is mended by its fix, where there is one', () => {
    const fix = 'fix' in more ? more.fix : undefined
    expect(findings(rule, useCases(wrong))[0]?.fixes.length === 0).toBe(fix === undefined)
    if (fix !== undefined) expect(mended(rule, useCases(wrong), fix)).toEqual([])
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
const gesture = uml?.pictures.find(({ id }) => id === 'use-cases')
const act = (key: string, model: Model, ...selection: readonly Id[]): Model => {
  const action = uml?.actions.find(({ id }) => id === `use-cases-${key}`)
  if (!action?.applies(wishFor(model, ...selection))) throw new Error(`“${key}” is not offered`)
  return done(model, action.run(wishFor(model, ...selection)))
}
const PULL = { handle: 'tie', by: { x: 0, y: 0 }, at: { x: 0, y: 0 }, box: { x: 0, y: 0, width: 1, height: 1 } }

const SHOP =
  'Buyer  (actor)\nClerk  (actor)\nShop  (subject)\n  Buy\n    includes Pay\n  Pay\n  Wrap\n    extends Buy  if: a present\nBuyer: Buy\nClerk: Wrap'

describe('the outline of use cases', () => {
  it('reads what it writes', () => {
    expect(textOf(useCases(SHOP))).toBe(SHOP)
  })
  it('makes whoever and whatever is only named', () => {
    expect(textOf(useCases('Buyer: Buy\nBuyer: Return'))).toBe('Buyer  (actor)\nBuy\nReturn\nBuyer: Buy\nBuyer: Return')
  })
  it('names what it does not understand', () => {
    expect(() => useCases('Buy\n  needs Pay')).toThrow(
      '“needs Pay” is not understood beneath a use case: write includes, extends, is a',
    )
    expect(() => useCases('Buyer:')).toThrow('After “Buyer:” a use case is missing')
    expect(() => useCases('Shop  (subject)\n  X  (actor)')).toThrow('Beneath a subject stand its use cases')
    expect(() => useCases('X  (kind)')).toThrow('“(kind)” is not understood here')
  })
  it('keeps systems and roles by their identity', () => {
    const role: Entity = { id: asId('r'), kind: 'role', name: 'Port clerk', fields: {} }
    const model = useCases('Clerk  (actor)  role: Port clerk\nClerk: Check in', [role])
    expect(model.entities.get(named(model, 'Clerk'))?.fields['role']).toBe('r')
    expect(textOf(model)).toContain('Clerk  (actor)  role: Port clerk')
  })
  it('puts lines in and out of a subject, and writes them', () => {
    const model = useCases(`${SHOP}\nClean`)
    const lineOf = (text: string) =>
      caseOutline.lines(model, view(), DAY).find((one) => one.text === text)?.id ?? asId('none')
    expect(textOf(done(model, caseOutline.indent(wishFor(model), lineOf('Clean'))))).toContain('  Clean\n')
    expect(textOf(done(model, caseOutline.outdent(wishFor(model), lineOf('Pay'))))).toContain('\nPay\n')
    expect(textOf(done(model, caseOutline.write(wishFor(model), lineOf('includes Pay'), 'extends Pay')))).toContain(
      '    extends Pay',
    )
    expect(textOf(done(model, caseOutline.write(wishFor(model), lineOf('Buyer: Buy'), 'Clerk: Clean')))).toContain(
      'Clerk: Clean',
    )
    expect(textOf(done(model, caseOutline.insert(wishFor(model), lineOf('Buy'), 'Look around')))).toContain(
      '    includes Pay\n  Look around\n  Pay',
    )
  })
})

describe('actions on use cases', () => {
  it('go on from actors and use cases, and tie them as the standard allows', () => {
    const model = useCases(SHOP)
    const [buyer, buy, pay] = [named(model, 'Buyer'), named(model, 'Buy'), named(model, 'Pay')]
    expect(textOf(act('next', model, buyer))).toContain('Buyer: New use case')
    expect(textOf(act('included', model, pay))).toContain('    includes New use case')
    expect(textOf(act('extended', model, pay))).toContain('    extends Pay')
    expect(textOf(act('by', model, pay))).toContain('Somebody: Pay')
    const pull = (from: Id, to: Id) => gesture?.pull?.({ ...wishFor(model, from), target: to }, PULL)
    expect(textOf(done(model, pull(pay, buyer)))).toContain('Buyer: Pay')
    expect(textOf(done(model, pull(pay, buy)))).toContain('    includes Buy')
    expect(textOf(done(model, pull(named(model, 'Clerk'), buyer)))).toContain('  is a Buyer')
    expect(pull(buyer, buy)).toEqual({ refused: '“Buyer” takes part in “Buy” already.' })
  })
  it('take a subject away and keep what stood in it', () => {
    const model = useCases(SHOP)
    const without = act('remove', model, named(model, 'Shop'))
    expect(textOf(without)).not.toContain('(subject)')
    expect(textOf(without)).toContain('\nBuy\n  includes Pay')
  })
})

describe('the picture of use cases', () => {
  it('has use cases within their subject, actors outside left and right, and nothing over anything else', () => {
    const model = useCases(`${SHOP}\nBank  (actor)\nBank: Pay`)
    const scene = gesture && uml?.pictures.find(({ id }) => id === 'use-cases')?.draw(model, view(), DAY)
    if (!scene) throw new Error('no scene')
    const box = (name: string) => {
      const found = scene.items.find(({ id }) => id === named(model, name))
      if (!found) throw new Error(`no ${name}`)
      return found.box
    }
    const frame = box('Shop')
    for (const name of ['Buy', 'Pay', 'Wrap']) {
      const { x, y, width, height } = box(name)
      expect(
        x > frame.x && x + width < frame.x + frame.width && y > frame.y && y + height < frame.y + frame.height,
      ).toBe(true)
    }
    for (const name of ['Buyer']) expect(box(name).x + box(name).width).toBeLessThan(frame.x)
    for (const name of ['Bank', 'Clerk']) expect(box(name).x).toBeGreaterThan(frame.x + frame.width)
    const solid = scene.items.filter(({ ground, texts }) => !ground && texts.length > 0).map((one) => one.box)
    solid.forEach((a, at) => solid.slice(at + 1).forEach((b) => expect(overlaps(a, b)).toBe(false)))
    expect(scene.headline).toBe('3 use cases, 3 actors')
  })
  it('shows one subject with whoever has to do with it', () => {
    const model = useCases(`${SHOP}\nStore  (subject)\n  Count\nKeeper: Count`)
    const scene = uml?.pictures
      .find(({ id }) => id === 'use-cases')
      ?.draw(model, view({ subject: named(model, 'Shop') }), DAY)
    expect(scene?.headline).toBe('3 use cases, 2 actors')
  })
})
