import { describe, expect, it } from 'vitest'
import { parseWorkspace, writeWorkspace } from '../../src/core/file'
import { apply, asId, Model, type Id, type View } from '../../src/core/model'
import { broughtIn, drawn, portionOf, type Brought } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import { layersOf, type Mark, type Scene } from '../../src/core/scene'
import { marramSoundFerries } from '../../src/demo'
import { DAY } from '../facts'

const demo = marramSoundFerries()
const views = [...demo.views.values()]

const numbered = () => {
  let count = 0
  return () => asId(`n${++count}`)
}
const sceneOf = (model: Model, view: View | undefined): Scene => {
  const scene = view && drawn(registry, model, view, DAY)
  if (!scene) throw new Error('no scene')
  return scene
}
const factsOf = (scene: Scene): readonly Id[] => [
  ...scene.items.flatMap(({ facts }) => facts),
  ...scene.links.map(({ id }) => id),
]
const bring = (
  into: Model,
  portion: Model,
  newId = numbered(),
): { readonly model: Model; readonly brought: Brought } => {
  const brought = broughtIn(registry, into, portion, newId)
  if ('refused' in brought) throw new Error(brought.refused)
  return { model: apply(into, brought.change).model, brought }
}
const textsIn = (scene: Scene): readonly string[] => {
  const said: string[] = []
  const look = (mark: Mark): void => {
    if (mark.tag === 'text') said.push(mark.children[0])
    else if (mark.tag === 'g') mark.children.forEach(look)
  }
  for (const { marks } of layersOf(scene)) marks.forEach(look)
  return said.sort()
}

/** What is only counted from elsewhere stays there: how many stand below what is drawn, and who holds a role today. */
const isTaken = (words: string): boolean => !/^\d+ below$/.test(words) && !HELD.has(words)
const HELD = new Set(['nobody today', 'Ida Nwosu, Celine', 'Abara, Milo Fenn,', 'Asa Kjerulf', 'Jens Okafor'])

describe.each(views.map((view) => [view.title, view] as const))('“%s” taken elsewhere', (_, view) => {
  const there = sceneOf(demo, view)
  const portion = portionOf(registry, demo, factsOf(there), [view])

  it('is a file that is sound, and less than all', () => {
    const { model } = parseWorkspace(JSON.stringify(writeWorkspace(portion)), registry)
    expect(model.entities.size).toBe(portion.entities.size)
    expect(model.entities.size).toBeLessThan(demo.entities.size)
    for (const { source, target } of model.relations.values()) {
      expect(model.entities.has(source)).toBe(true)
      expect(model.entities.has(target)).toBe(true)
    }
  })

  it('draws the same in a workspace that has nothing, with other identities', () => {
    const { model, brought } = bring(Model.empty, portion)
    const [id] = brought.views
    const here = sceneOf(model, id === undefined ? undefined : model.views.get(id))
    expect(here.items.length).toBe(there.items.length)
    expect(here.links.length).toBe(there.links.length)
    expect(textsIn(here).filter(isTaken)).toEqual(textsIn(there).filter(isTaken))
    for (const fact of model.entities.keys()) expect(demo.entities.has(fact)).toBe(false)
    expect(brought.known).toBe(0)
  })

  it('is one step that is taken back without a trace', () => {
    const brought = broughtIn(registry, demo, portion, numbered())
    if ('refused' in brought) throw new Error(brought.refused)
    const { model, inverse } = apply(demo, brought.change)
    expect(writeWorkspace(apply(model, inverse).model)).toEqual(writeWorkspace(demo))
  })

  it('begun once more where it is keeps people, roles and units, and repeats the rest', () => {
    const { model, brought } = bring(demo, portion)
    const shared = ['person', 'role', 'unit', 'system', 'site', 'document']
    for (const kind of shared) expect(model.ofKind(kind).length).toBe(demo.ofKind(kind).length)
    const own = [...portion.entities.values()].filter(({ kind }) => !shared.includes(kind))
    expect(model.entities.size).toBe(demo.entities.size + own.length)
    expect(brought.known).toBe(portion.entities.size - own.length)
  })
})

describe('facts taken elsewhere', () => {
  it('bring dates, emphasis, notes and the theme that they are drawn in', () => {
    const [first] = views
    if (!first) throw new Error('no view')
    const [item] = sceneOf(demo, first).items
    const fact = item?.facts[0] ?? asId('x')
    const view: View = {
      ...first,
      look: { theme: 'own', [`emphasis ${fact}`]: ['strong'], 'note n': ['1', 'Ask first', fact], starter: 'A line' },
    }
    const model = demo.with({
      settings: {
        ...demo.settings,
        themes: { own: ['House', '#004d7f'], other: ['Other', '#7f0000'] },
        look: { tone: 'tinted' },
      },
      views: new Map([[view.id, view]]),
    })
    const { model: there, brought } = bring(
      Model.empty,
      portionOf(registry, model, factsOf(sceneOf(model, view)), [view]),
    )
    const made = there.views.get(brought.views[0] ?? asId(''))
    expect(Object.values(there.settings.themes ?? {})).toEqual([['House', '#004d7f']])
    expect(Object.keys(there.settings.themes ?? {})).toEqual([made?.look['theme']])
    expect(made?.look['tone']).toBe('tinted')
    expect(made?.look['starter']).toBeUndefined()
    const named = [...there.entities.values()].find(({ name }) => name === demo.entities.get(fact)?.name)
    expect(made?.look[`emphasis ${named?.id}`]).toEqual(['strong'])
    expect(made?.look['note n']).toEqual(['1', 'Ask first', named?.id])
    const dated = [...there.relations.values()].filter(({ from }) => from !== undefined)
    expect(dated.length).toBeGreaterThan(10)
  })

  it('tie what is new to people who are there', () => {
    const portion = portionOf(registry, demo, factsOf(sceneOf(demo, views[0])), [])
    const person = [...portion.entities.values()].find(({ kind }) => kind === 'person')
    if (!person) throw new Error('nobody')
    const into = Model.of({ entities: [{ ...person, id: asId('known-here'), name: person.name.toUpperCase() }] })
    const { model, brought } = bring(into, portion)
    expect(brought.known).toBe(1)
    expect(model.leaving(asId('known-here')).length).toBe(demo.leaving(person.id).length)
  })

  it('take no word for a fact that is called like it', () => {
    const [first] = views
    const known = sceneOf(demo, first).items[0]?.facts[0]
    const entity = known === undefined ? undefined : demo.entities.get(known)
    if (!first || !entity) throw new Error('nothing')
    const named = Model.of({
      entities: ['unit', 'note', 'dotted', 'Staff', 'tight'].map((word) => ({ ...entity, id: asId(word), fields: {} })),
      views: [
        {
          ...first,
          scope: {},
          options: { colour: 'unit', room: 'tight' },
          pins: {},
          look: { ground: 'dotted', source: 'Staff', 'note note': ['1', 'Words', 'unit'], 'emphasis unit': ['strong'] },
        },
      ],
    })
    const { model, brought } = bring(
      Model.empty,
      portionOf(registry, named, named.entities.keys(), [...named.views.values()]),
    )
    const made = model.views.get(brought.views[0] ?? asId(''))
    const other = [...model.entities.keys()][0] ?? ''
    expect(made?.options).toEqual({ colour: 'unit', room: 'tight' })
    expect(made?.look['source']).toBe('Staff')
    expect(made?.look['ground']).toBe('dotted')
    expect(made?.look[`emphasis ${other}`]).toEqual(['strong'])
    const [note] = Object.entries(made?.look ?? {}).filter(([key]) => key.startsWith('note '))
    expect(note?.[1]).toEqual(['1', 'Words', other])
  })

  it('add no tie a second time between two that are there', () => {
    const person = { id: asId('p'), kind: 'person', name: 'Ada Holm', fields: {} }
    const unit = { id: asId('u'), kind: 'unit', name: 'Ports', fields: {} }
    const tie = { id: asId('t'), kind: 'owns', source: person.id, target: unit.id, fields: {} }
    const there = Model.of({ entities: [person, unit], relations: [tie] })
    const portion = portionOf(registry, there, [asId('nobody'), person.id, unit.id], [])
    expect(portion.relations.size).toBe(1)
    expect(bring(there, portion).brought.added).toBe(0)
    expect(bring(Model.of({ entities: [person, unit] }), portion).brought.added).toBe(1)
    // On other days it is another tie.
    const before = Model.of({ entities: [person, unit], relations: [{ ...tie, to: DAY }] })
    expect(bring(before, portion).brought.added).toBe(1)
  })

  it('are refused where there are none, and where there are too many', () => {
    expect(broughtIn(registry, demo, Model.empty, numbered())).toEqual({ refused: 'There are no facts in it.' })
    const many = Model.of({
      entities: Array.from({ length: 20_001 }, (_, at) => ({
        id: asId(`e${at}`),
        kind: 'person',
        name: 'X',
        fields: {},
      })),
    })
    expect(broughtIn(registry, demo, many, numbered())).toEqual({
      refused: 'That are 20,001 facts; 20,000 are taken at once.',
    })
  })
})
