import { setFlagsFromString } from 'node:v8'
import { runInNewContext } from 'node:vm'
import { describe, expect, it } from 'vitest'
import { findingsOf } from '../../src/core/findings'
import { apply, LastModels, Model, type Step } from '../../src/core/model'
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
  it('is found again by its key, of the last few', () => {
    const last = new LastModels(2)
    const models = ['a', 'b', 'c'].map((key) => [key, Model.of({ name: key })] as const)
    for (const [key, model] of models) last.set(key, model)
    expect(models.map(([key]) => last.get(key)?.name)).toEqual([undefined, 'b', 'c'])
    last.set('b', models[1]?.[1] ?? Model.empty)
    last.set('d', models[0]?.[1] ?? Model.empty)
    expect(['b', 'c', 'd'].map((key) => last.get(key)?.name)).toEqual(['b', undefined, 'a'])
  })
})
