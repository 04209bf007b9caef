import { viewsInOrder } from '../core/file'
import type { Id, Step, View } from '../core/model'
import { notationOf, ownTitle, titleAfter, type Gestures, type Handling } from '../core/notation'
import { handlings } from '../core/notations/handling'
import { make } from './store/changes'
import { NEW_VIEW } from './store/naming'
import { showView } from './store/shown'
import { newId, notify, useWorkspace } from './store/state'

/** The views of a chapter in their order. */
export interface Chapter {
  readonly number: number
  readonly notation: Handling
  readonly views: readonly View[]
}

export function chaptersOf(views: readonly View[]): Chapter[] {
  return handlings.notations.map((notation, index) => ({
    number: index + 1,
    notation,
    views: views.filter((view) => view.notation === notation.id),
  }))
}

const setView = (id: Id, path: string, value: string | number | boolean | null): Step => ({
  do: 'set-view',
  id,
  path,
  value,
})

/** Asks which view of a notation is to be made: of what picture, of the facts that are there or with a starter. */
export function chooseView(notation: Handling): void {
  useWorkspace.setState({ dialog: 'new-view', choosing: notation.id })
}

/** A view of the facts that are there as one of the notation’s pictures; without a picture an empty one, that begins something of its own. */
export function addView(notation: Handling, picture?: Gestures): void {
  const { model, day } = useWorkspace.getState()
  const views = viewsInOrder(model)
  const made = {
    ...notation.view(newId, NEW_VIEW),
    order: (views.at(-1)?.order ?? 0) + 1,
    ...(picture ? { picture: picture.id } : notation.blank ? { scope: notation.blank } : {}),
  }
  const of = titleAfter(notation, model, made, day)
  const isUsual = picture === undefined || picture.id === notation.pictures[0]?.id
  const shown = of === undefined ? picture?.title : isUsual ? of : `${of}, ${picture.title.toLowerCase()}`
  const view = shown === undefined ? made : { ...made, title: ownTitle(views, shown, notation, made.picture) }
  if (make({ label: 'Add a view', steps: [{ do: 'add-view', view }] })) showView(view.id)
}

export function duplicateView(view: View): void {
  const { model } = useWorkspace.getState()
  const views = viewsInOrder(model)
  const next = views[views.findIndex(({ id }) => id === view.id) + 1]
  const order = next ? (view.order + next.order) / 2 : view.order + 1
  const copy = { ...view, id: newId(), title: `${view.title}, copy`, order }
  if (make({ label: `Duplicate “${view.title}”`, steps: [{ do: 'add-view', view: copy }] })) showView(copy.id)
}

export function renameView(view: View, title: string): void {
  const text = title.trim()
  if (text === '' || text === view.title) return
  if (text.length > 400) return notify('A title has 400 characters at most.', 'refusal')
  make({ label: `Rename “${view.title}” to “${text.slice(0, 60)}”`, steps: [setView(view.id, 'title', text)] })
}

export function moveView(view: View, by: -1 | 1): void {
  const views = viewsInOrder(useWorkspace.getState().model).filter(({ notation }) => notation === view.notation)
  const other = views[views.findIndex(({ id }) => id === view.id) + by]
  if (!other) return notify(by < 0 ? 'It is the first of its chapter.' : 'It is the last of its chapter.')
  const steps = [setView(view.id, 'order', other.order), setView(other.id, 'order', view.order)]
  make({ label: `Move “${view.title}” ${by < 0 ? 'up' : 'down'}`, steps })
}

/** The facts stay: a view is only a way of looking at them. */
export function removeView(view: View): void {
  const views = viewsInOrder(useWorkspace.getState().model)
  const at = views.findIndex(({ id }) => id === view.id)
  const next = views[at + 1] ?? views[at - 1]
  if (!make({ label: `Delete the view “${view.title}”`, steps: [{ do: 'remove-view', id: view.id }] })) return
  notify(`“${view.title}” is deleted. Its facts stay; Ctrl Z brings it back.`)
  if (next) showView(next.id)
}

export function setOption(view: View, option: string, label: string, value: string | boolean): void {
  const words = value === true ? 'on' : value === false ? 'off' : value
  make({ label: `${label}: ${words}`, steps: [setView(view.id, `options.${option}`, value)] })
}

export function setPicture(view: View, picture: Gestures): void {
  if (picture.id === view.picture) return
  make({
    label: `Show “${view.title}” as ${picture.title.toLowerCase()}`,
    steps: [setView(view.id, 'picture', picture.id)],
  })
}

export function setPaper(view: View, paper: string | null): void {
  make({ label: paper === null ? 'No paper' : `Paper: ${paper}`, steps: [setView(view.id, 'look.paper', paper)] })
}

export function setAcross(view: View, across: boolean): void {
  make({ label: across ? 'Paper across' : 'Paper upright', steps: [setView(view.id, 'look.across', across)] })
}

/** Whether the view shown is of a notation in which a fact can be shown with what hangs on it. */
export const hasBranches = (): boolean => {
  const { model, viewId } = useWorkspace.getState()
  const view = viewId === undefined ? undefined : model.views.get(viewId)
  return (view && notationOf(handlings, view)?.branch) !== undefined
}

/** A fact with what hangs on it as a view of its own, of a notation that has such views. */
export function viewOfBranch(root: Id): void {
  const { model, viewId } = useWorkspace.getState()
  const from = viewId === undefined ? undefined : model.views.get(viewId)
  const notation = from && notationOf(handlings, from)
  if (!from || !notation?.branch) return
  const title = model.entities.get(root)?.name ?? 'Branch'
  const order = (viewsInOrder(model).at(-1)?.order ?? 0) + 1
  const view = { ...from, id: newId(), title, order, scope: notation.branch(root) }
  if (make({ label: `Add a view of “${title}”`, steps: [{ do: 'add-view', view }] })) showView(view.id)
}
