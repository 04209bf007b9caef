import { apply, ModelError, type Id, type Model, type Step } from '../../core/model'
import { isRefusal, notationOf, ownTitle, titleAfter, type Outcome } from '../../core/notation'
import { handlings } from '../../core/notations/handling'
import { useWorkspace } from './state'

/** What a view is called that shows nothing yet. */
export const NEW_VIEW = 'New view'

/** What views have been called after their lines, as long as the page is open: they are called anew while nobody has called them anything else. */
const given = new Map<Id, ReadonlySet<string>>()
const MOST_GIVEN = 50

/** What calls the view shown after its lines, where nobody has called it anything: nothing where it has no lines. O(lines) */
export function naming(model: Model): readonly Step[] {
  const { viewId, day } = useWorkspace.getState()
  const view = viewId === undefined ? undefined : model.views.get(viewId)
  const notation = view && notationOf(handlings, view)
  if (!notation || (view.title !== NEW_VIEW && !given.get(view.id)?.has(view.title))) return []
  const others = [...model.views.values()].filter(({ id }) => id !== view.id)
  const shown = titleAfter(notation, model, view, day)
  const value = shown === undefined ? undefined : ownTitle(others, shown, notation, view.picture)
  if (value === undefined || value === view.title) return []
  given.set(view.id, new Set([...(given.get(view.id) ?? []), value].slice(-MOST_GIVEN)))
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
