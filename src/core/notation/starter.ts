import { apply, Model, type Day, type Id, type View } from '../model'
import type { Outline, Starter } from './notation'

/** A view that shows everything of its notation, as nobody has changed it yet. */
export const plainView =
  (notation: string, picture: string) =>
  (newId: () => Id, title: string): View => ({
    id: newId(),
    notation,
    picture,
    title,
    order: 1,
    scope: {},
    options: {},
    pins: {},
    look: {},
  })

/** Starters that are written as outlines. @throws RangeError from `make` for a list that the outline refuses. */
export const starterFrom =
  (outline: Outline, newView: (newId: () => Id, title: string) => View, scope: View['scope'] = {}) =>
  (id: string, title: string, summary: string, list: string, words = ''): Starter => ({
    id,
    title,
    summary,
    words,
    make: (newId: () => Id, day: Day) => {
      const view = { ...newView(newId, title), scope }
      const empty = Model.of({ name: title, views: [view] })
      const outcome = outline.paste({ model: empty, view, day, selection: [], newId }, undefined, list)
      if ('refused' in outcome) throw new RangeError(`starter “${id}”: ${outcome.refused}`)
      return apply(empty, outcome.change).model
    },
  })
