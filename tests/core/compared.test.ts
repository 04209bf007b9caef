import { describe, expect, it } from 'vitest'
import { apply, type Change, type Id, type Model, type Step, type View } from '../../src/core/model'
import { drawn } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import type { Item, Mark, Scene } from '../../src/core/scene'
import { marramSoundFerries } from '../../src/demo'
import { demoViews } from '../demoViews'
import { DAY, day, id } from '../facts'
import { nodeNamed, told } from './process/facts'
import { idOf, planned, planView } from './schedule/facts'

const demo = marramSoundFerries()
const views = demoViews.map(({ view }) => view)

const compared = (now: Model, then: Model, view: View): Scene => {
  const scene = drawn(registry, now, view, DAY, { model: then, day: DAY })
  if (!scene) throw new Error(`nothing is drawn of ${view.picture}`)
  return scene
}
const textsOf = (marks: readonly Mark[]): string[] =>
  marks.flatMap((mark) => (mark.tag === 'text' ? [mark.children[0]] : mark.tag === 'g' ? textsOf(mark.children) : []))
const isPale = ({ marks: [mark] }: Item): boolean => mark?.tag === 'g' && (mark.attrs.opacity ?? 1) < 1
const changed = (model: Model, steps: readonly Step[]): Model =>
  apply(model, { label: '', steps } satisfies Change).model
const set = (id: Id, path: string, value: string | null): Step => ({ do: 'set-entity', id, path, value })
function without(model: Model, id: Id): Model {
  const ties = [...model.relations.values()].filter(({ source, target }) => source === id || target === id)
  return changed(model, [
    ...ties.map((tie): Step => ({ do: 'remove-relation', id: tie.id })),
    { do: 'remove-entity', id },
  ])
}

/** Every picture of the demo that draws facts, with one of them, which it draws once if there is such. */
const pictures = views.flatMap((view) => {
  // What differs takes the place of what stands out otherwise, and of what stands around.
  const { paper, across } = view.look
  const look = { ...(paper === undefined ? {} : { paper }), ...(across === undefined ? {} : { across }) }
  const plain = drawn(registry, demo, { ...view, look }, DAY)
  const owns = plain?.items.map(({ id, facts }) => facts[0] ?? id).filter((id) => demo.entities.has(id)) ?? []
  const fact = owns.find((id) => owns.indexOf(id) === owns.lastIndexOf(id)) ?? owns[0]
  return plain && fact !== undefined ? [[`${view.title}, ${view.picture}`, view, plain, fact] as const] : []
})

describe.each(pictures)('%s', (_, view, plain, entity) => {
  it('shows no difference from itself: all pale, nothing signed', () => {
    const scene = compared(demo, demo, view)
    expect(scene.headline).toBe('no difference')
    expect(scene.items.map(({ label }) => label)).toEqual(plain.items.map(({ label }) => label))
    expect(scene.items.every((item) => isPale(item) || item.ground || item.stays)).toBe(true)
    expect(scene.bounds).toEqual(plain.bounds)
  })

  it('signs what was called otherwise and says how, as what is new and what is gone', () => {
    const name = demo.entities.get(entity)?.name ?? ''
    const other = compared(changed(demo, [set(entity, 'name', 'Quite another')]), demo, view)
    const signed = other.items.filter(({ label }) => label.includes(`was ${name}`) || label.includes(`was “${name}”`))
    expect(signed.map(({ facts, id }) => facts[0] ?? id)).toContain(entity)
    expect(other.items.some((item) => textsOf(item.marks).some((text) => /^[≠»±+ ]+$/.test(text)))).toBe(true)
    expect(textsOf(other.backdrop).join(' ')).toContain(name.slice(0, 12))

    const less = without(demo, entity)
    const gone = compared(less, demo, view).items.find((item) => (item.facts[0] ?? item.id) === entity)
    expect(gone?.label).toMatch(/: gone$/)
    expect(compared(less, demo, view).headline).toContain('− ')
    const added = compared(demo, less, view).items.find((item) => (item.facts[0] ?? item.id) === entity)
    expect(added?.label).toMatch(/: .*(new|now)/)
  })

  it('puts its sign over no word of what is small, and within what is not', () => {
    const other = compared(changed(demo, [set(entity, 'name', 'Quite another')]), demo, view)
    for (const { box, marks } of other.items) {
      const at = marks.findIndex((mark) => mark.tag === 'text' && /^[≠»±+ ]+$/.test(mark.children[0]))
      const plate = marks[at - 1]
      if (at < 0 || plate?.tag !== 'rect') continue
      if (box.width < plate.attrs.width + 16) expect(plate.attrs.y + plate.attrs.height).toBeLessThan(0)
      else expect(plate.attrs.x + plate.attrs.width).toBeLessThan(box.width)
    }
  })

  it('lays nothing of it over anything else', () => {
    const { items, bounds } = compared(without(demo, entity), demo, view)
    const cards = items.filter(({ label }) => label.endsWith(': gone'))
    for (const { box } of cards) {
      expect(box.x >= bounds.x && box.y >= bounds.y).toBe(true)
      expect(box.x + box.width <= bounds.x + bounds.width && box.y + box.height <= bounds.y + bounds.height).toBe(true)
      for (const other of items)
        if (!cards.includes(other) && !other.stays && !other.ground)
          expect(other.box.y + other.box.height).toBeLessThanOrEqual(box.y)
    }
  })
})

describe('what became of a fact', () => {
  it('of a step: another lane is a move, another way is told where it leaves', () => {
    const before = told('Ask @ Desk\nApprove it @ Lead\nTell @ Desk')
    const ask = before.entities.get(nodeNamed(before, 'Ask'))
    const lead = before.ofKind('lane').find(({ name }) => name === 'Lead')
    const [view] = before.views.values()
    if (!ask || !lead || !view) throw new Error('no step')
    const lanes = { ...view, picture: 'lanes' }
    const [done] = before.leaving(ask.id, 'performed-in')
    if (!done) throw new Error('no lane')
    const elsewhere: Step = { do: 'set-relation', id: done.id, path: 'target', value: lead.id }
    const scene = compared(changed(before, [elsewhere]), before, lanes)
    expect(scene.headline).toBe('» 1 moved')
    expect(textsOf(scene.backdrop).join(' ')).toContain('» “Ask”, task: is done in “Lead” instead of “Desk”')
    const [flow] = before.leaving(ask.id, 'flow')
    if (!flow) throw new Error('no way')
    const cut = compared(changed(before, [{ do: 'remove-relation', id: flow.id }]), before, lanes)
    expect(textsOf(cut.backdrop).join('\n')).toMatch(/“Ask”, task: no longer leads to “Approve it/)
  })

  it('of a task: its own fields, and the days that follow from another task', () => {
    const before = planned('Dig 2d\nPour 3d after 1')
    const after = changed(before, [set(idOf(before, 'Dig'), 'fields.duration', '4d')])
    for (const picture of ['bars', 'network', 'month']) {
      const scene = compared(after, before, planView({ picture }))
      expect(scene.headline).toBe('» 2 moved, ≠ 1 changed')
      expect(textsOf(scene.backdrop).join('\n')).toMatch(/Pour: was 7 Jan 2026 to 9 Jan 2026/)
      expect(textsOf(scene.backdrop).join('\n')).toMatch(/Dig: Duration was 2d, was 5 Jan 2026 to 6 Jan 2026/)
    }
  })

  it('of a field: where a fact belongs makes a move, any other reference a change', () => {
    const before = planned('Build\n  Dig 2d\n  Pour 3d\nMend\n  Oil 1d')
    const other = changed(before, [set(idOf(before, 'Pour'), 'fields.group', idOf(before, 'Mend'))])
    const moved = compared(other, before, planView({ picture: 'bars' }))
    expect(textsOf(moved.backdrop).join('\n')).toMatch(/» .*Pour: Group was “Build”/)
    const story = told('Ask @ Desk\nTell @ Desk')
    const [view] = story.views.values()
    if (!view) throw new Error('no view')
    const tools = changed(story, [
      ...['One', 'Two'].map((name): Step => ({
        do: 'add-entity',
        entity: { id: id(name), kind: 'system', name, fields: {} },
      })),
      set(nodeNamed(story, 'Ask'), 'fields.tool', 'One'),
    ])
    const swapped = compared(changed(tools, [set(nodeNamed(story, 'Ask'), 'fields.tool', 'Two')]), tools, view)
    expect(swapped.headline).toBe('≠ 1 changed')
    expect(textsOf(swapped.backdrop).join(' ')).toContain('Uses was “One”')
  })

  it('is signed once where a head at the side stands for the same, and told in so many lines at most', () => {
    const before = planned(Array.from({ length: 70 }, (_, i) => `Task ${i} 1d`).join('\n'))
    const all = [...before.ofKind('task')].map(({ id: key, name }) => set(key, 'name', `${name} anew`))
    const scene = compared(changed(before, all), before, planView({ picture: 'bars' }))
    const signed = scene.items.filter((item) => textsOf(item.marks).includes('≠'))
    expect(signed.map(({ stays }) => stays)).toEqual(Array(70).fill(undefined))
    expect(scene.headline).toBe('≠ 70 changed')
    expect(textsOf(scene.backdrop)).toContain('… and 10 more')
    expect(textsOf(scene.backdrop).filter((text) => text.includes('Name was')).length).toBe(60)
  })

  it('of two days: the later one is drawn, whichever is shown', () => {
    const model = planned('Dig 2d\nPour 3d after 1')
    const later = changed(model, [set(idOf(model, 'Pour'), 'from', '2027-01-01')])
    const view = planView({ picture: 'bars' })
    const scenes = [
      drawn(registry, later, view, day('2027-02-01'), { model: later, day: DAY }),
      drawn(registry, later, view, DAY, { model: later, day: day('2027-02-01') }),
    ]
    expect(scenes[0]).toEqual(scenes[1])
  })
})
