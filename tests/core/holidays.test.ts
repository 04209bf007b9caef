import { beforeEach, describe, expect, it, vi } from 'vitest'
import { apply, asId, ordinal, type Model, type Step } from '../../src/core/model'
import { writeWorkspace } from '../../src/core/file'
import { marramSoundFerries } from '../../src/demo'
import { DAY, day } from '../facts'

const CHRISTMAS = ordinal(day('2026-12-25'))
const calendar = { id: asId('c'), kind: 'calendar', name: 'Norway', fields: { region: 'NO' } }

/** The same facts, their calendars with the holidays of a country. */
const inNorway = (model: Model): Model => {
  const steps = model
    .ofKind('calendar')
    .map(({ id }): Step => ({ do: 'set-entity', id, path: 'fields.region', value: 'NO' }))
  return apply(model, { label: '', steps }).model
}

// A page begins without the list of holidays: modules of its own, in which nobody has loaded it.
beforeEach(() => vi.resetModules())

describe('the list of public holidays', () => {
  it('is loaded when it is asked for, and what was reckoned without it is reckoned anew', async () => {
    const { isRegion, loadHolidays, publicHolidays } = await import('../../src/core/calendar')
    const { timeOf } = await import('../../src/core/notations/schedule/calendars')
    expect([timeOf(calendar).worksOn(CHRISTMAS), publicHolidays('NO', 2026).size]).toEqual([true, 0])
    expect([isRegion('NO'), isRegion('Norway')]).toEqual([true, false])
    await loadHolidays()
    expect(loadHolidays()).toBeUndefined()
    expect(timeOf(calendar).worksOn(CHRISTMAS)).toBe(false)
    expect(timeOf(calendar)).toBe(timeOf(calendar))
    expect([isRegion('NO'), isRegion('QQ'), isRegion('GB-SCT')]).toEqual([true, false, true])
  })

  it('is waited for before a plan that needs it is drawn and checked, and not by other pictures', async () => {
    const { holidaysKnown } = await import('../../src/core/calendar')
    const { makeEngine } = await import('../../src/worker/engine')
    const { nextList, nextScene } = await import('../../src/worker/delta')
    const demo = inNorway(marramSoundFerries())
    const engine = makeEngine()
    engine.load(writeWorkspace(demo))
    const asked = { day: DAY, compared: undefined, selection: [] }
    const tree = await engine.read({ ...asked, view: asId('whole-company'), wants: { scene: true } })
    expect([tree.scene !== undefined, holidaysKnown()]).toEqual([true, false])
    const plan = await engine.read({ ...asked, view: asId('dry-dock'), wants: { scene: true } })
    expect(holidaysKnown()).toBe(true)

    const [{ registry }, { findingsOf }] = await Promise.all([
      import('../../src/core/notations'),
      import('../../src/core/findings'),
    ])
    const view = demo.views.get(asId('dry-dock'))
    const bars = registry.notations.find(({ id }) => id === 'schedule')?.pictures.find(({ id }) => id === 'bars')
    if (!tree.scene || !plan.scene || !view || !bars) throw new Error('the demo has a plan')
    const drawn = nextScene(nextScene(undefined, tree.scene), plan.scene)
    expect(drawn.items).toEqual(bars.draw(demo, view, DAY).items)
    const { findings, notes } = await engine.read({
      ...asked,
      view: asId('dry-dock'),
      wants: { findings: true, notes: true },
    })
    const found = findings && nextList([], findings)
    expect(found).toEqual(JSON.parse(JSON.stringify(findingsOf(registry, demo, DAY))))
    // The notes speak of the findings by their places, and count what the view shows.
    const here = [...(notes?.about ?? [])].map((at) => found?.[at])
    expect(here.length).toBeGreaterThan(0)
    const { error, warning, note } = notes?.counts.view ?? { error: 0, warning: 0, note: 0 }
    expect(error + warning + note).toBe(here.length)
    expect(notes?.measures?.list.length).toBeGreaterThan(0)
  })
})
