import { describe, expect, it } from 'vitest'
import { begunWith, likenesses, ownTitle, waysToRead } from '../../src/core/notation'
import { asId } from '../../src/core/model'
import { registry } from '../../src/core/notations'
import { DAY } from '../facts'

const begun = (list: string, as?: string) => {
  let count = 0
  const made = begunWith(registry.notations, list, as, () => asId(`n${++count}`), DAY)
  if ('refused' in made) throw new Error(made.refused)
  return made
}
const readAs = (list: string) => likenesses(registry.notations, list)[0]?.reading.id
const staff = (list: string) => {
  const { model } = begun(list, 'people')
  return model.ofKind('position').map(({ id, name }) => {
    const [holds] = model.reaching(id, 'holds')
    return [holds ? model.entities.get(holds.source)?.name : undefined, name]
  })
}

// Lists as people write them; the names are made up.
describe('a list that is typed or pasted', () => {
  it.each([
    ['people', 'Ada Holm — Head\n  Ben Aas — Clerk'],
    ['people', 'Dana Ortiz, Chief of Operations\nRui Melo, Port lead'],
    ['people', 'Ada Holm\nBen Aas\nCleo van Moe'],
    ['people', 'A. Lovel — Managing director'],
    ['people', 'R. Abel, Master\nM. Cole, Mate\nT. Dunn, Cook'],
    ['people', 'R. Abel\nM. B. Cole\nT. Dunn'],
    ['people', 'Name\tTitle\nAda Holm\tHead\nBen Aas\tClerk'],
    ['people', 'Chief Operating Officer: Dana Ortiz\nPort lead: Rui Melo'],
    ['steps', 'Check the request\nAsk the port\nIs there a berth?\n  yes\n    Book it\n  no\n    Say so'],
    ['steps', 'Take the call\nWrite down what is missing\nSend the form'],
    ['steps', 'Draft the notice @ Desk\nSend the notice @ System'],
    ['tasks', 'Dig  5d\nLay pipes  10d  after Dig\nTest  3d'],
    ['tasks', '1. Survey the hull 3 days\n2. Order steel 2 weeks\n3. Paint 4 days'],
    ['uses', 'Ward clerk: Book equipment\nAccountant: Send invoice\nBook equipment\n  includes Check availability'],
    ['states', 'Lent\n  on returned -> Back\n  after 14 d -> Overdue\nBack\nOverdue'],
    ['events', '1887  The first ferry\n1921  A quay of stone\n1958..1960  Rebuilding'],
    ['events', '2024-03-01 Kick-off\n2024-05-17 First crossing'],
  ])('reads as %s: %j', (sort, list) => {
    expect(readAs(list)).toBe(sort)
  })

  it('keeps the initials of whom it names', () => {
    expect(staff('A. Lovel — Managing director')).toEqual([['A. Lovel', 'Managing director']])
    expect(staff('R. Abel, Master\nM. B. Cole, Mate')).toEqual([
      ['R. Abel', 'Master'],
      ['M. B. Cole', 'Mate'],
    ])
  })

  it('is read as something else when somebody says so, and named after how it begins', () => {
    const list = 'Check the request\nAsk the port'
    expect([...begun(list).model.views.values()].map(({ notation }) => notation)).toEqual(['process'])
    const tasks = begun(list, 'tasks')
    expect([...tasks.model.views.values()].map(({ picture }) => picture)).toEqual(['bars'])
    expect(tasks.model.ofKind('task').map(({ name }) => name)).toEqual(['Check the request', 'Ask the port'])
    expect(tasks.model.name).toBe('Check the request and 1 more')
    expect(waysToRead(registry.notations).map(({ id }) => id)).toEqual([
      'people',
      'steps',
      'tasks',
      'events',
      'devices',
      'classes',
      'states',
      'messages',
      'uses',
      'figure',
    ])
    expect(begun('').model.name).toBe('New workspace')
  })

  it.each([
    ['a comma', 'Dana Ortiz, Chief of Operations\nRui Melo, Port lead'],
    ['brackets', 'Dana Ortiz (Chief of Operations)\nRui Melo (Port lead)'],
    ['a colon', 'Dana Ortiz: Chief of Operations\nRui Melo: Port lead'],
    ['a tab', 'Dana Ortiz\tChief of Operations\nRui Melo\tPort lead'],
    ['columns', 'Dana Ortiz     Chief of Operations\nRui Melo       Port lead'],
    ['a bar', 'Dana Ortiz | Chief of Operations\nRui Melo | Port lead'],
    ['a heading', 'Name\tJob title\nDana Ortiz\tChief of Operations\nRui Melo\tPort lead'],
    ['titles first', 'Chief of Operations: Dana Ortiz\nPort lead: Rui Melo'],
  ])('tells names from titles by %s', (_, list) => {
    expect(staff(list)).toEqual([
      ['Dana Ortiz', 'Chief of Operations'],
      ['Rui Melo', 'Port lead'],
    ])
  })

  it('reads lines alike alike: one that could be read otherwise goes with the others', () => {
    expect(staff('Dana Ortiz, Chief of Operations\nCher, Singer\nNikolai, Second mate')).toEqual([
      ['Dana Ortiz', 'Chief of Operations'],
      ['Cher', 'Singer'],
      ['Nikolai', 'Second mate'],
    ])
    // A comma within titles that a dash tells apart is none between name and title.
    expect(staff('Dana Ortiz — Chief, operations\nRui Melo — Port lead')).toEqual([
      ['Dana Ortiz', 'Chief, operations'],
      ['Rui Melo', 'Port lead'],
    ])
    expect(staff('Ada Holm\nBen Aas')).toEqual([
      ['Ada Holm', 'Untitled'],
      ['Ben Aas', 'Untitled'],
    ])
  })
})

describe('the view of a list', () => {
  const titled = (list: string, as?: string) => {
    const { model, view } = begun(list, as)
    return model.views.get(view)?.title
  }
  it.each([
    ['Ada Holm — Head\n  Ben Aas — Clerk', 'people', 'Everyone'],
    ['Check the ramp @ Deck\nOpen the gate @ Deck\nCall the crew @ Bridge', 'steps', 'Check the ramp and 2 more'],
    ['Dig the trench  5d\nLay the cable  2d', 'tasks', 'Dig the trench and 1 more'],
    ['1887  The first ferry\n1902  The second ferry', 'events', 'The first ferry and 1 more'],
    ['Why boats are late\n  Weather\n  Crew', 'figure', 'Why boats are late'],
    ['Ticket\n  id : String', 'classes', 'Ticket'],
    ['', 'tasks', 'The plan'],
  ])('is called after what it shows: %j', (list, as, title) => expect(titled(list, as)).toBe(title))

  it('is called otherwise where another view is called so', () => {
    const { model } = begun('Dig the trench  5d', 'tasks')
    let count = 0
    const again = begunWith(registry.notations, 'Dig the trench  5d', 'tasks', () => asId(`m${++count}`), DAY, model)
    if ('refused' in again) throw new Error(again.refused)
    expect(again.model.views.get(again.view)?.title).toBe('Dig the trench, bars')
    // A picture is named as it is on the screen.
    const uml = registry.notations.find(({ id }) => id === 'uml')
    if (!uml) throw new Error('no notation')
    const views = [...again.model.views.values()].map((view) => ({ ...view, title: 'Buy' }))
    expect(ownTitle(views, 'Buy', uml, 'use-cases')).toBe('Buy, use cases')
    expect(
      ownTitle([...views, ...views.map((view) => ({ ...view, title: 'Buy, use cases' }))], 'Buy', uml, 'use-cases'),
    ).toBe('Buy, use cases 2')
  })
})

const ONE: Readonly<Record<string, string>> = { events: '1887  Gate', messages: 'Gate asks Gate: open' }

describe('what a picture says of itself', () => {
  const lines = registry.notations.flatMap(({ lists }) => lists.map(({ id }) => id))
  it.each(lines)('counts one thing as one: %s', (as) => {
    const { model, view: id } = begun(ONE[as] ?? 'Gate', as)
    const begunView = model.views.get(id)
    const pictures = registry.notations.find((one) => one.id === begunView?.notation)?.pictures ?? []
    const told = pictures.flatMap((picture) => {
      if (!begunView) return []
      const { headline, summary } = picture.draw(model, { ...begunView, picture: picture.id }, DAY)
      return [headline, summary ?? '']
    })
    expect(told.length).toBeGreaterThan(0)
    expect(told.filter((words) => /\b1 (?:[a-z]+ )?[a-z]*[^\Ws]s\b/.test(words))).toEqual([])
  })
})
