import type { Id, View } from '../../model'
import type { Field } from '../../notation'

/** What a view of the organisation shows. */
export const scope: readonly Field[] = [
  { id: 'root', label: 'Beneath', type: 'reference', refers: ['position'] },
  { id: 'folded', label: 'Folded', type: 'flag', each: 'fact' },
]

/** The key of a view's scope under which a folded branch is kept. */
export const foldKey = (id: Id): string => `folded ${id}`

export const foldedIn = (view: View): ReadonlySet<Id> =>
  new Set(
    Object.entries(view.scope).flatMap(([key, on]) =>
      on === true && key.startsWith('folded ') ? [key.slice(7) as Id] : [],
    ),
  )
