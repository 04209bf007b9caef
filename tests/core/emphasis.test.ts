import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { asId, type Id, type Model, type View } from '../../src/core/model'
import { drawn, EMPHASES, lettersOf, PLAIN, readRule, toggled } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import { layersOf, type Item, type Mark, type Scene } from '../../src/core/scene'
import { marramSoundFerries } from '../../src/demo'
import { demoViews } from '../demoViews'
import { DAY } from '../facts'

const demo = marramSoundFerries()
const viewOf = (id: string, look: View['look'] = {}): View => {
  const view = demo.views.get(asId(id))
  if (!view) throw new Error(`no view ${id}`)
  return { ...view, look: { ...view.look, ...look } }
}
const sceneOf = (view: View, model: Model = demo): Scene => {
  const scene = drawn(registry, model, view, DAY)
  if (!scene) throw new Error('no scene')
  return scene
}
const textsIn = (scene: Scene): readonly string[] => {
  const said: string[] = []
  const look = (mark: Mark): void => {
    if (mark.tag === 'text') said.push(mark.children[0])
    else if (mark.tag === 'g') mark.children.forEach(look)
  }
  for (const { marks } of layersOf(scene)) marks.forEach(look)
  return said
}
const rolesIn = ({ marks }: { readonly marks: readonly Mark[] }): ReadonlySet<string> => {
  const roles = new Set<string>()
  const look = (mark: Mark): void => {
    if (mark.tag === 'g') mark.children.forEach(look)
    else if (mark.tag !== 'image')
      for (const role of [mark.attrs.fill, 'stroke' in mark.attrs ? mark.attrs.stroke : undefined])
        if (role) roles.add(role)
  }
  marks.forEach(look)
  return roles
}
const named = (scene: Scene, name: string): Item => {
  const item = scene.items.find(({ facts }) => facts.some((id) => demo.entities.get(id)?.name === name))
  if (!item) throw new Error(`nothing is called ${name}`)
  return item
}

describe('a rule of emphasis', () => {
  it.each([
    ['colour by unit', { sort: 'colour', by: 'unit' }],
    ['Color  by Cost centre', { sort: 'colour', by: 'cost centre' }],
    ['strong where late', { sort: 'where', give: 'strong' }],
    ['crossed out where status is dropped', { sort: 'where', give: 'crossed out' }],
    ['Category 3 where grade in {G3, G4} and not vacant', { sort: 'where', give: 'category 3' }],
    ['quiet where outside “Port services”', { sort: 'where', give: 'quiet' }],
  ])('is read: %s', (text, expected) => {
    expect(readRule(text)).toMatchObject(expected)
  })

  it.each([
    '',
    'make it red',
    'colour by',
    'strong if late',
    'category 9 where late',
    'strong where',
    'strong where duration > long',
    'strong where 3 < x < ',
    `colour by ${'x'.repeat(500)}`,
  ])('is refused in words: %s', (text) => {
    const read = readRule(text)
    expect('refused' in read ? read.refused : '').toMatch(/Write|characters|is not understood/)
  })

  it('reads or refuses whatever is typed, and never throws', () => {
    fc.assert(
      fc.property(
        fc.string({ maxLength: 120 }),
        fc.constantFrom('', 'colour by ', 'quiet where ', 'strong where not '),
        (text, head) => {
          const read = readRule(head + text)
          expect('refused' in read || read.text.length > 0).toBe(true)
        },
      ),
    )
  })
})

describe('emphasis in a view', () => {
  it('colours what a field says, each value its own category, and says so beneath', () => {
    const scene = sceneOf(viewOf('whole-company', { rules: ['colour by grade'] }))
    const grades = new Map<string, Set<string>>()
    for (const item of scene.items) {
      const grade = demo.entities.get(item.facts[0] as Id)?.fields['grade']
      const edge = [...rolesIn(item)].find((role) => role.startsWith('edge-'))
      if (typeof grade === 'string' && edge) grades.set(grade, (grades.get(grade) ?? new Set()).add(edge))
    }
    expect(grades.size).toBeGreaterThan(3)
    expect([...grades.values()].every((edges) => edges.size === 1)).toBe(true)
    const said = textsIn(scene)
    expect(said).toContain('Grade')
    expect(said.filter((text) => grades.has(text)).length).toBeGreaterThanOrEqual(7)
    expect(scene.bounds.height).toBeGreaterThan(sceneOf(viewOf('whole-company', { rules: [] })).bounds.height - 60)
  })

  it('keeps seven of more than eight values, and says how many others there are', () => {
    const said = textsIn(sceneOf(viewOf('whole-company', { rules: ['colour by name'] })))
    expect(said.some((text) => /^\d+ others$/.test(text))).toBe(true)
  })

  it('tells numbers of many values by bands', () => {
    const said = textsIn(sceneOf(viewOf('dry-dock', { rules: ['colour by float'] })))
    expect(said.filter((text) => /^up to \d+/.test(text)).length).toBeGreaterThan(2)
  })

  it('is strong where something is said, and quiet outside a branch', () => {
    const scene = sceneOf(viewOf('dry-dock', { rules: ['strong where critical', 'quiet where outside Build'] }))
    const critical = scene.items.filter((item) => item.label.includes('(strong'))
    expect(critical.length).toBeGreaterThan(0)
    const quiet = scene.items.filter((item) => item.label.includes('quiet'))
    expect(quiet.length).toBeGreaterThan(0)
    expect(named(scene, 'Build').label).not.toContain('quiet')
    for (const item of quiet)
      for (const role of rolesIn(item))
        expect(['none', 'sheet', 'plate', 'hairline', 'ink-quiet', 'ink', 'error', 'warning']).toContain(role)
  })

  it.each([
    ['strong where start after 2027-01-01', 'dry-dock'],
    ['strong where duration > 10', 'dry-dock'],
    ['strong where unit is Ports', 'whole-company'],
    ['strong where not unit is Ports', 'whole-company'],
    ['strong where inside Osei Brandt', 'whole-company'],
    ['strong where name has ticket', 'dry-dock'],
    ['strong where kind is step', 'cancelled'],
    ['strong where lane is Passenger desk', 'cancelled'],
    ['strong where inside Passenger desk', 'cancelled'],
    ['strong where grade in {G3, G4}', 'whole-company'],
    ['strong where grade is not G3', 'whole-company'],
  ])('%s marks some of %s, not all', (rule, id) => {
    const scene = sceneOf(viewOf(id, { rules: [rule] }))
    const strong = scene.items.filter(({ label }) => label.endsWith('(strong)')).length
    expect(strong).toBeGreaterThan(0)
    expect(strong).toBeLessThan(scene.items.length)
  })

  it('takes what stands on a ground as inside it, and not what follows from there', () => {
    const steps = (rule: string): ReadonlySet<Id> => {
      const { items } = sceneOf(viewOf('cancelled', { rules: [rule] }))
      const strong = items.filter(({ label, ground }) => label.endsWith('(strong)') && !ground)
      return new Set(strong.flatMap(({ facts }) => facts.filter((id) => demo.entities.get(id)?.kind === 'step')))
    }
    expect(steps('strong where inside Passenger desk').size).toBeGreaterThan(5)
    expect(steps('strong where inside Passenger desk')).toEqual(steps('strong where lane is Passenger desk'))
  })

  it('compares working times by how long they are, and other sizes by their number', () => {
    const marked = (rule: string) =>
      new Set(
        sceneOf(viewOf('dry-dock', { rules: [rule] })).items.flatMap(({ label, facts: [id] }) =>
          label.includes('(strong') && id !== undefined ? [id] : [],
        ),
      )
    const long = demo.ofKind('task').filter(({ fields }) => Number.parseFloat(String(fields['duration'])) > 10)
    expect(long.length).toBeGreaterThan(3)
    for (const { id } of long) expect(marked('strong where duration > 10d')).toContain(id)
    expect(marked('strong where duration > 2w')).toEqual(marked('strong where duration > 10d'))
    expect(marked('strong where duration > 80 h')).toEqual(marked('strong where duration > 10d'))
    expect(marked('strong where float >= 2w')).toEqual(marked('strong where float >= 10'))
    expect(marked('strong where % done >= 50 %')).toEqual(marked('strong where % done >= 50'))
  })

  it.each([
    ['whole-company', 'tree', 'Osei Brandt'],
    ['cancelled', 'flow', 'Declare the cancellation'],
  ])('leaves the lines within a branch as they are, where all outside it is quiet: %s, %s', (id, picture, root) => {
    const view = { ...viewOf(id), picture }
    const plain = sceneOf({ ...view, look: {} })
    const scene = sceneOf({ ...view, look: { rules: [`quiet where outside ${root}`] } })
    const before = new Map(plain.links.map((link) => [link.id, link]))
    const own = new Map(scene.items.map((item) => [item.facts[0] ?? item.id, item]))
    const isLoud = (end: Id) => own.get(end)?.label.includes('(quiet') === false
    const within = scene.links.filter(({ source, target }) => isLoud(source) && isLoud(target))
    expect(within.length).toBeGreaterThan(1)
    expect(within.length).toBeLessThan(scene.links.length)
    for (const link of within) {
      expect(link.marks).toEqual(before.get(link.id)?.marks)
      expect(own.get(link.id)?.label ?? '').not.toContain('(quiet')
    }
    for (const link of scene.links)
      if (!within.includes(link)) expect(link.marks).not.toEqual(before.get(link.id)?.marks)
  })

  it('puts together what a fact and another one on the same box say', () => {
    const card = named(sceneOf(viewOf('whole-company')), 'Finance lead')
    const [position, person] = card.facts
    expect(person).toBeDefined()
    const look = { rules: ['category 2 where name has lead'], [`emphasis ${person}`]: ['strong'] }
    const item = sceneOf(viewOf('whole-company', look)).items.find(({ facts }) => facts[0] === position)
    expect(item?.label).toContain('(strong)')
    expect(rolesIn(item ?? { marks: [] })).toContain('fill-2')
  })

  it('knows what ends after its deadline', () => {
    const work = named(sceneOf(viewOf('dry-dock')), 'Sea trials').facts[0] as Id
    const entity = demo.entities.get(work)
    if (!entity) throw new Error('gone')
    const model = demo.with({
      entities: new Map(demo.entities).set(work, { ...entity, fields: { ...entity.fields, deadline: '2026-12-01' } }),
    })
    const late = (of: Model) =>
      sceneOf(viewOf('dry-dock', { rules: ['strong where late > 2'] }), of).items.flatMap((item) =>
        item.label.includes('(strong') ? item.facts[0] : [],
      )
    expect(late(demo)).toEqual([])
    expect(new Set(late(model))).toEqual(new Set([work]))
  })

  it('says in the legend where a rule meets nothing', () => {
    expect(textsIn(sceneOf(viewOf('dry-dock', { rules: ['strong where salary > 3'] })))).toContain('Salary > 3: none')
    expect(textsIn(sceneOf(viewOf('dry-dock', { rules: ['colour by salary'] })))).toContain('nothing here says it')
  })

  it('says what of a file is no rule, and reads no more rules than anybody writes', () => {
    expect(textsIn(sceneOf(viewOf('dry-dock', { rules: ['make it red'] })))).toContain('“make it red” is no rule')
    const many = sceneOf(
      viewOf('dry-dock', { rules: Array.from({ length: 900 }, (_, at) => `strong where float > ${at}`) }),
    )
    expect(textsIn(many).filter((text) => text.startsWith('Float > ')).length).toBe(20)
  })

  it('takes what is chosen in the view before its rules, and these before what a fact says of itself', () => {
    const position = named(sceneOf(viewOf('whole-company')), 'Port services lead').facts[0] as Id
    const other = named(sceneOf(viewOf('whole-company')), 'Finance lead').facts[0] as Id
    const entity = demo.entities.get(position)
    if (!entity) throw new Error('gone')
    const model = demo.with({
      entities: new Map(demo.entities).set(position, {
        ...entity,
        fields: { ...entity.fields, emphasis: 'category 8' },
      }),
    })
    const edges = (look: View['look'], of: Id) => {
      const item = sceneOf(viewOf('whole-company', look), model).items.find(({ facts }) => facts[0] === of)
      return [...rolesIn(item ?? { marks: [] })].filter((role) => role.startsWith('edge-'))
    }
    expect(edges({}, position)).toEqual(['edge-8'])
    expect(edges({ rules: ['category 2 where name has lead'] }, position)).toEqual(['edge-2'])
    const look = {
      rules: ['category 2 where name has lead'],
      [`emphasis ${position}`]: ['category 5'],
      [`emphasis ${other}`]: [PLAIN],
    }
    expect(edges(look, position)).toEqual(['edge-5'])
    expect(edges(look, other)).not.toContain('edge-2')
  })

  it('says what was chosen by hand stands for: what somebody said, else the names', () => {
    const id = named(sceneOf(viewOf('whole-company')), 'Finance lead').facts[0] as Id
    const look = { [`emphasis ${id}`]: ['strong', 'crossed out'] }
    expect(textsIn(sceneOf(viewOf('whole-company', look)))).toContain('Finance lead')
    expect(textsIn(sceneOf(viewOf('whole-company', { ...look, 'means strong': 'To be filled first' })))).toContain(
      'To be filled first',
    )
    expect(JSON.stringify(sceneOf(viewOf('whole-company', look)).items.find(({ facts }) => facts[0] === id))).toContain(
      'line-through',
    )
  })

  it('letters each colour, no two alike', () => {
    const scene = sceneOf(viewOf('whole-company', { rules: ['colour by grade'], letters: true }))
    const withLetters = sceneOf(viewOf('whole-company', { rules: ['colour by grade'] }))
    expect(textsIn(scene).length).toBeGreaterThan(textsIn(withLetters).length + 50)
    fc.assert(
      fc.property(fc.uniqueArray(fc.string({ maxLength: 12 }), { maxLength: 8 }), (words) => {
        const letters = lettersOf(words)
        expect(new Set(letters).size).toBe(words.length)
        expect(letters.every((one) => one.length > 0)).toBe(true)
      }),
    )
  })

  it('is switched on for several at once, and off where all have it; weights and categories take each other’s place', () => {
    const view = viewOf('whole-company', { 'emphasis a': ['strong', 'category 2'] })
    const ids = [asId('a'), asId('b')]
    expect(toggled(view, ids, 'strong')).toEqual([
      { path: 'look.emphasis a', value: ['category 2', 'strong'] },
      { path: 'look.emphasis b', value: ['strong'] },
    ])
    expect(toggled(view, [asId('a')], 'strong')).toEqual([{ path: 'look.emphasis a', value: ['category 2'] }])
    expect(toggled(view, [asId('a')], 'quiet')).toEqual([{ path: 'look.emphasis a', value: ['category 2', 'quiet'] }])
    expect(toggled(view, [asId('a')], PLAIN)).toEqual([{ path: 'look.emphasis a', value: [PLAIN] }])
    expect(toggled(viewOf('whole-company', { 'emphasis a': [PLAIN] }), [asId('a')], PLAIN)).toEqual([
      { path: 'look.emphasis a', value: null },
    ])
  })
})

describe.each(demoViews.map(({ view, picture }) => [`${view.title}, ${picture.title}`, view] as const))(
  'every emphasis in %s',
  (_, view) => {
    const plain = drawn(registry, demo, view, DAY)
    it('marks what it is given to, leaves the others, and keeps legend and picture apart', () => {
      const item = plain?.items.find(
        ({ ground, marks }) =>
          ground !== true && marks.some((mark) => mark.tag === 'text' && mark.attrs.fill === 'ink'),
      )
      if (!plain || !item) return
      const [fact = item.id] = item.facts
      for (const word of EMPHASES) {
        const scene = sceneOf({ ...view, look: { ...view.look, [`emphasis ${fact}`]: [word] } })
        const marked = scene.items.find(({ id }) => id === item.id)
        expect(marked?.marks, word).not.toEqual(item.marks)
        const category = /\d$/.exec(word)?.[0]
        if (category !== undefined && marked) {
          const roles = [...rolesIn(marked)]
          expect(
            roles.filter((role) => /^(?:fill|edge)-/.test(role) && !role.endsWith(`-${category}`)),
            word,
          ).toEqual([])
          expect(roles, word).not.toContain('plate')
        }
        const others = scene.items.filter(({ facts }) => !facts.includes(fact))
        const before = new Map(plain.items.map((one) => [one.id, one]))
        for (const one of others) expect(one.marks, word).toEqual(before.get(one.id)?.marks)
        // Its legend is new, and lies within the bounds.
        expect(textsIn(scene).length).toBeGreaterThan(textsIn(plain).length)
      }
    })
  },
)
