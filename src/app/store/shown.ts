import { viewsInOrder } from '../../core/file'
import type { Day, Id, Model, View } from '../../core/model'
import type { Moment } from '../../core/notation'
import { redraw, tellAgainst } from './asking'
import { fold } from './folds'
import { useWorkspace, type State } from './state'

const set = useWorkspace.setState
const get = useWorkspace.getState

/** Compares the picture with the facts of a revision, until told otherwise. */
export async function compareWithRevision(against: State['against'], workspace: unknown): Promise<void> {
  await tellAgainst(workspace)
  set({ against, compared: undefined })
  redraw()
}

export function select(ids: readonly Id[], options: { readonly reveal?: boolean } = {}): void {
  const { selection, reveal } = get()
  const same = ids.length === selection.length && ids.every((id, index) => id === selection[index])
  if (!same) set({ selection: ids, editing: undefined })
  if (options.reveal) set({ reveal: reveal + 1 })
}

export function showDay(day: Day): void {
  if (day === get().day) return
  set({ day, editing: undefined })
  redraw()
}

export function compareWith(compared: Day | undefined): void {
  if (compared === get().compared) return
  set({ compared, editing: undefined })
  redraw()
}

/** Shows a view, which the address then names: the browser leads back to the one before. */
export function showView(viewId: Id): void {
  if (viewId === get().viewId) return
  window.history.pushState(null, '', `#view=${encodeURIComponent(viewId)}`)
  turnTo(viewId)
}

/** Shows what the address names, as it was changed by hand or by going back; what it names is asked of the views that there are. */
export function followAddress(): void {
  const { model, viewId } = get()
  const view = viewAt(model)
  if (view && view.id !== viewId) turnTo(view.id)
}

/** The view that the address names; the first one where it names none. */
export function viewAt(model: Model): View | undefined {
  const wanted = new URLSearchParams(window.location.hash.slice(1)).get('view')
  const views = viewsInOrder(model)
  return views.find(({ id }) => id === wanted) ?? views[0]
}

/** Views in the order in which they were shown, the last one last. */
let shown: readonly Id[] = []
const MOST_SHOWN = 50

/** A view that is gone, as by taking its making back or by somebody else, gives way to the one shown before it. */
useWorkspace.subscribe(({ model, viewId }, before) => {
  if (model === before.model || viewId === undefined || model.views.has(viewId)) return
  const next = shown.findLast((id) => model.views.has(id)) ?? viewsInOrder(model)[0]?.id
  if (next === undefined) return
  window.history.replaceState(null, '', `#view=${encodeURIComponent(next)}`)
  turnTo(next)
})

/** What was selected in the view before, until the picture of this one is there. */
let brought: Pick<State, 'selection' | 'reveal'> | undefined

function turnTo(viewId: Id): void {
  const { viewId: before, selection, reveal } = get()
  brought = { selection, reveal }
  if (before !== undefined) shown = [...shown.filter((id) => id !== before), before].slice(-MOST_SHOWN)
  set({ viewId, trying: undefined, editing: undefined, scene: undefined, playing: undefined })
  redraw()
}

/** What was selected before and is not drawn now is let go: it would hide what is found in this view. */
useWorkspace.subscribe(({ scene, selection, reveal }) => {
  if (!scene || !brought) return
  const { selection: earlier, reveal: at } = brought
  brought = undefined
  if (selection !== earlier || reveal !== at) return
  const drawn = new Set(scene.items.flatMap(({ id, facts }) => [id, ...facts]))
  if (selection.some((id) => !drawn.has(id))) set({ selection: selection.filter((id) => drawn.has(id)) })
})

/** Shows the view as another picture, until told otherwise: nothing is changed by it. */
export function tryPicture(trying: string | undefined): void {
  if (trying === get().trying) return
  set({ trying, editing: undefined })
  redraw()
}

/** Takes the keyboard to the findings in the margin. */
export function toFindings(): void {
  fold('margin', false)
  set(({ toFindings: count }) => ({ toFindings: count + 1 }))
}

/** Shows how something comes about, from its first moment on; without moments it ends. */
export function play(moments: readonly Moment[] | undefined, at = 0): void {
  set({ playing: moments && moments.length > 0 ? { moments, at } : undefined, editing: undefined })
}
