import type { Id, View } from '../../model'

/** The key of a view's scope under which a folded branch is kept. */
export const foldKey = (id: Id): string => `folded ${id}`

export const foldedIn = (view: View): ReadonlySet<Id> =>
  new Set(
    Object.entries(view.scope).flatMap(([key, on]) =>
      on === true && key.startsWith('folded ') ? [key.slice(7) as Id] : [],
    ),
  )
