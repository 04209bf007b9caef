import { describe, expect, it } from 'vitest'
import { findingsOf } from '../../src/core/findings'
import { registry } from '../../src/core/notations'
import { DAY, numbering } from '../facts'

describe.each(registry.notations.map((notation) => [notation.id, notation] as const))(
  'the starters of %s',
  (_, { starters, pictures, outline }) => {
    it.each(starters.map((starter) => [starter.title, starter] as const))(
      '“%s” begins without an error, with nothing that is used nowhere, and is drawn',
      (title, starter) => {
        const model = starter.make(numbering('s'), DAY)
        const [view] = [...model.views.values()]
        expect(view?.title).toBe(title)
        const found = findingsOf(registry, model, DAY).filter(
          ({ rule, severity }) => severity === 'error' || rule === 'x/unused',
        )
        expect(found.map(({ message }) => message)).toEqual([])
        if (!view) return
        const picture = pictures.find(({ id }) => id === view.picture)
        expect(picture?.draw(model, view, DAY).items.length).toBeGreaterThan(2)
        expect(outline?.lines(model, view, DAY).length).toBeGreaterThan(2)
      },
    )
  },
)
