import { setFlagsFromString } from 'node:v8'
import { runInNewContext } from 'node:vm'
import { describe, expect, it } from 'vitest'
import { findingsOf } from '../../src/core/findings'
import { apply, Succession, Model, type Step } from '../../src/core/model'
import { registry } from '../../src/core/notations'
import { marramSoundFerries } from '../../src/demo'
import { DAY, id } from '../facts'

setFlagsFromString('--expose-gc')
const collect = runInNewContext('gc') as () => void

/** Everything that a workspace has computed, and what is left of its facts once nobody needs them. */
function used(): WeakRef<Model>[] {
  const model = Model.of(copyOf(marramSoundFerries()))
  const set: Step = { do: 'set-entity', id: id('md'), path: 'name', value: 'Somebody' }
  const later = apply(model, { label: '', steps: [set] }).model
  for (const one of [model, later]) {
    findingsOf(registry, one, DAY)
    for (const view of one.views.values()) {
      const notation = registry.notations.find((each) => each.id === view.notation)
      notation?.pictures.find((each) => each.id === view.picture)?.draw(one, view, DAY)
      notation?.measures(one, DAY, undefined, view)
      notation?.outline?.lines(one, view, DAY)
      for (const sheet of notation?.numbers ?? []) sheet.rows(one, DAY)
    }
  }
  return [new WeakRef(model), new WeakRef(later)]
}

const copyOf = (model: Model) => ({
  name: model.name,
  settings: model.settings,
  entities: structuredClone([...model.entities.values()]),
  relations: structuredClone([...model.relations.values()]),
  views: structuredClone([...model.views.values()]),
})

describe('what has been computed of facts', () => {
  it('keeps no facts that nobody else needs', async () => {
    const left = used()
    for (let tries = 0; tries < 20 && left.some((model) => model.deref()); tries++) {
      await new Promise((resolve) => setTimeout(resolve, 10))
      collect()
    }
    expect(left.map((model) => model.deref() === undefined)).toEqual([true, true])
  })
  it('is gone on from by its key, of the last few', () => {
    const memory = new Succession<string>(2)
    const told: string[] = []
    const ask = (key: string, model: Model) =>
      memory.of(
        model,
        key,
        (earlier, known) => void told.push(`${key} after ${earlier.name}: ${known}`),
        () => model.name,
      )
    const [a, b, c] = ['a', 'b', 'c'].map((name) => Model.of({ name }))
    if (!a || !b || !c) throw new Error('no models')
    ask('one', a)
    ask('two', a)
    ask('one', b)
    ask('three', a)
    // `two` was asked for longest ago, and is begun anew; `one` is gone on from.
    ask('two', c)
    ask('one', c)
    expect(told).toEqual(['one after a: a'])
    ask('two', b)
    expect(told).toEqual(['one after a: a', 'two after c: c'])
  })
})
