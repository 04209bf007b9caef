import { describe, expect, it } from 'vitest'
import '../../src/core/maps/withLand'
import '../../src/core/scene/withIcons'
import { checkTouched } from '../../src/core/file'
import { apply, ModelError, same, type Id, type Step } from '../../src/core/model'
import { drawn, partsOf } from '../../src/core/notation'
import { registry } from '../../src/core/notations'
import { themeFor, toSvg, freeSize, paperOf } from '../../src/core/scene'
import { marramSoundFerries } from '../../src/demo'
import { DAY } from '../facts'

/** Names that every object of the language answers to: they are words as any other. */
const WORDS = ['constructor', '__proto__', 'toString', 'hasOwnProperty', 'valueOf']

describe('words that the language knows', () => {
  const demo = marramSoundFerries()
  it.each(WORDS)('“%s” stands where a text may stand, and nothing takes it for anything else', (word) => {
    let taken = 0
    for (const view of demo.views.values()) {
      const parts = partsOf(registry, 'view', view) ?? {}
      const paths = ['look', 'options', 'scope'].flatMap((part) => (parts[part] ?? []).map(({ id }) => `${part}.${id}`))
      const keyed = demo.entities.keys().next().value as Id
      for (const path of [...paths, `look.emphasis ${keyed}`]) {
        const steps: Step[] = [{ do: 'set-view', id: view.id, path, value: word }]
        try {
          const { model } = apply(demo, { label: 'x', steps })
          checkTouched(model, steps, registry)
          const own = model.views.get(view.id) ?? view
          const scene = drawn(registry, model, own, DAY)
          if (scene) expect(toSvg(scene, { theme: themeFor(model.settings, own.look), title: 'x' })).toContain('<svg')
          taken++
        } catch (error) {
          const isSaid = error instanceof ModelError || (error instanceof Error && error.name === 'StepsError')
          expect([view.id, path, isSaid ? 'said' : String(error)]).toEqual([view.id, path, 'said'])
        }
      }
    }
    expect(taken).toBeGreaterThan(word === '__proto__' ? 0 : 5)
  })
  it('are no papers', () => {
    for (const word of WORDS) expect([paperOf({ paper: word }), freeSize(word)]).toEqual([undefined, undefined])
  })
})

describe('what is the same', () => {
  it.each<[unknown, unknown, boolean]>([
    [{ a: undefined }, { b: 1 }, false],
    [{}, [], false],
    [[], {}, false],
    [{ a: 1 }, { a: 1 }, true],
    [{ toString: 1 }, { a: 1 }, false],
    [[1, [2]], [1, [2]], true],
    [{ a: [] }, { a: {} }, false],
    [null, {}, false],
  ])('%j and %j: %s', (one, other, is) => {
    expect([same(one, other), same(other, one)]).toEqual([is, is])
  })
})
