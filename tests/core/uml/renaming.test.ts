import { describe, expect, it } from 'vitest'
import { apply, asId, Model, type Entity, type Id } from '../../../src/core/model'
import type { Outcome } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { classView } from '../../classShapes'
import { DAY, numbering } from '../../facts'
import { named } from '../network/facts'
import { classModel, textOf } from './facts'

const uml = registry.notations.find(({ id }) => id === 'uml')
const wish = (model: Model, ...selection: readonly Id[]) => ({
  model,
  view: classView(),
  day: DAY,
  selection,
  newId: numbering('r'),
})
const done = (model: Model, outcome: Outcome | undefined): Model => {
  if (!outcome || 'refused' in outcome) throw new Error(outcome?.refused ?? 'nothing')
  return apply(model, outcome.change).model
}
const write = (model: Model, name: string, text: string): Outcome | undefined =>
  uml?.pictures.find(({ id }) => id === 'classes')?.write?.(wish(model, named(model, name)), 'name', text)

const SHOP = `Money  (data type)
MoneyOrder
Order
  + total : Money [0..1] = 0
  + lines : Map<String, Money>
  + pay(Money : Money, by : MoneyOrder = Money) : List<Money>
  has 1 Money as price`

describe('a class that is called otherwise', () => {
  it('is called so in every type that names it, and in nothing that only looks like it', () => {
    const model = done(classModel(SHOP), write(classModel(SHOP), 'Money', 'Amount'))
    expect(textOf(model)).toBe(`Amount  (data type)
MoneyOrder
Order
  + total : Amount [0..1] = 0
  + lines : Map<String, Amount>
  + pay(Money : Amount, by : MoneyOrder = Money) : List<Amount>
  has 1 Amount as price`)
  })
  it('says in how many places', () => {
    const outcome = write(classModel(SHOP), 'Money', 'Amount')
    expect(outcome && 'change' in outcome && outcome.change.label).toBe(
      'Rename “Money” to “Amount”, and in 4 other places',
    )
  })
  it('leaves types alone where another class has the name', () => {
    const text = `p  (package)\n  Money\nq  (package)\n  Money\n  Order\n    + total : Money`
    const model = done(classModel(text), write(classModel(text), 'Money', 'Amount'))
    expect(textOf(model)).toContain('+ total : Money')
  })
  it('is called so from its line and from the register, too', () => {
    const model = classModel('Money\nOrder\n  total : Money')
    const column = uml?.registers.find(({ id }) => id === 'classes')?.columns.find(({ id }) => id === 'name')
    const both = [
      column?.write?.(wish(model), named(model, 'Money'), 'Amount'),
      uml?.outline?.write(wish(model), named(model, 'Money'), 'Amount'),
    ]
    for (const outcome of both) expect(textOf(done(model, outcome))).toContain('total : Amount')
  })
})

describe('what sequences say of it', () => {
  const begun = () => {
    const model = classModel('Ticket\n  + pay(amount : Real)\nClerk')
    const part = (key: string, kind: string, name: string, fields: Entity['fields']): Entity => ({
      id: asId(key),
      kind,
      name,
      fields: { interaction: 'i', ...fields },
    })
    return Model.of({
      entities: [
        ...model.entities.values(),
        { id: asId('i'), kind: 'interaction', name: 'I', fields: {} },
        part('l1', 'lifeline', 'Clerk', {}),
        part('l2', 'lifeline', 'old : Ticket', {}),
        part('c', 'call', 'pay(5)', { from: 'l1', to: 'l2', order: 1 }),
        part('d', 'call', 'pay(6)', { from: 'l2', to: 'l1', order: 2 }),
      ],
      relations: model.relations.values(),
    })
  }
  it('follows a class by the names of lifelines, and an operation by what is said', () => {
    const model = done(begun(), write(begun(), 'Ticket', 'Pass'))
    expect(model.entities.get(asId('l2'))?.name).toBe('old : Pass')
    const pay = named(begun(), 'pay')
    const picture = uml?.pictures.find(({ id }) => id === 'classes')
    const after = done(
      begun(),
      picture?.write?.(wish(begun(), named(begun(), 'Ticket')), pay, '+ settle(amount : Real)'),
    )
    expect(after.entities.get(asId('c'))?.name).toBe('settle(5)')
    // Another class has its own.
    expect(after.entities.get(asId('d'))?.name).toBe('pay(6)')
  })
})
