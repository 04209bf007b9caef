import { apply, ModelError, type Id, type Model, type Step, type View } from '../../core/model'
import { isRefusal, notationOf, ownTitle, titleAfter, type Outcome } from '../../core/notation'
import { handlings } from '../../core/notations/handling'
import { useWorkspace, type State } from './state'

/** What a view is called that shows nothing yet. */
export const NEW_VIEW = 'New view'

/** What views have been called after their lines, as long as the page is open: they are called anew while nobody has called them anything else. */
const given = new Map<Id, ReadonlySet<string>>()
const MOST_GIVEN = 50

/** What a view would be called after its lines; undefined where it has none. O(lines) */
function calledAfter(model: Model, view: View): string | undefined {
  const notation = notationOf(handlings, view)
  if (!notation) return undefined
  const shown = titleAfter(notation, model, view, useWorkspace.getState().day)
  const others = [...model.views.values()].filter(({ id }) => id !== view.id)
  return shown === undefined ? undefined : ownTitle(others, shown, notation, view.picture)
}

const shownIn = ({ viewId }: State, model: Model): View | undefined =>
  viewId === undefined ? undefined : model.views.get(viewId)

const give = (id: Id, title: string): void =>
  void given.set(id, new Set([...(given.get(id) ?? []), title].slice(-MOST_GIVEN)))

/** What tells how many more there are was made of lines. */
const COUNTS = / and [\d,]+ more\b/

// A view that says of its lines just what is true was called after them, when it was begun from a list or an earlier time.
useWorkspace.subscribe((state, before) => {
  if (state.viewId === before.viewId) return
  const view = shownIn(state, state.model)
  if (view && COUNTS.test(view.title) && calledAfter(state.model, view) === view.title) give(view.id, view.title)
})

/** What calls the view shown after its lines, where nobody has called it anything: nothing where it has no lines. O(lines) */
export function naming(model: Model): readonly Step[] {
  const view = shownIn(useWorkspace.getState(), model)
  if (!view || (view.title !== NEW_VIEW && !given.get(view.id)?.has(view.title))) return []
  const value = calledAfter(model, view)
  if (value === undefined || value === view.title) return []
  give(view.id, value)
  return [{ do: 'set-view', id: view.id, path: 'title', value }]
}

/** What is done with lines, and the view called after them. */
export function andNaming(outcome: Outcome): Outcome {
  if (isRefusal(outcome)) return outcome
  const { change } = outcome
  try {
    const steps = naming(apply(useWorkspace.getState().model, change).model)
    return steps.length === 0 ? outcome : { ...outcome, change: { ...change, steps: [...change.steps, ...steps] } }
  } catch (error) {
    // What cannot be made is said where it is made.
    if (!(error instanceof ModelError)) throw error
    return outcome
  }
}
