import { apply, compose, cut, Model, ModelError, writableWithin, type Change } from '../../core/model'
import { isRefusal, type Done, type Outcome, type Wish } from '../../core/notation'
import { seenRevision } from '../sync/seen'
import { Sync } from '../sync/sync'
import { prepareFor, redraw, tellChange } from './asking'
import { showView } from './shown'
import { currentView, newId, notify, useWorkspace, type State } from './state'

const set = useWorkspace.setState
const get = useWorkspace.getState

let sync: Sync | undefined

/** Sends changes by another conversation with the server from now on. */
export function sendBy(next: Sync): void {
  sync?.close()
  sync = next
}

/** What the page had to take back before changes were kept aside: those take back nothing once they are released. */
let backBefore: Pick<State, 'undoable' | 'redoable'> | undefined

/** Keeps changes aside from now on: they are shown here, and told to nobody. */
export function hold(changes: readonly Change[]): void {
  const { undoable, redoable } = get()
  backBefore = { undoable, redoable }
  sync?.hold(changes)
}

/** Takes what was kept aside back from the page. */
export function release(): void {
  set({ ...backBefore, editing: undefined })
  sync?.release()
}

/** The facts without what is kept aside. */
export const shared = (): Model | undefined => sync?.shared

/** The change made last, as it was wanted. */
let lastMade: Change | undefined
let lastCoalesce: { key: string; at: number } | undefined

/** What is done next under a key is one step with what was done under it before, however long ago. */
export function goOn(key: string): void {
  if (lastCoalesce?.key === key) lastCoalesce = { key, at: performance.now() }
}

const MOST_UNDO = 500
const COALESCE_MS = 1500

/**
 * Makes a change: on the screen at once, in the worker and on the server as soon as they can. Answers whether it could be made.
 * Where it `takes` a proposal over, the server notes that in the same step.
 */
export function make(wanted: Change, coalesce?: string, takes?: string): boolean {
  if (wanted.steps.length === 0) return true
  const change = writableWithin(wanted)
  const { model, undoable } = get()
  let applied
  try {
    applied = apply(model, change)
  } catch (error) {
    if (!(error instanceof ModelError)) throw error
    notify(error.message, 'refusal')
    return false
  }
  const now = performance.now()
  const joins = coalesce !== undefined && lastCoalesce?.key === coalesce && now - lastCoalesce.at < COALESCE_MS
  lastCoalesce = coalesce === undefined ? undefined : { key: coalesce, at: now }
  lastMade = wanted
  const [last] = undoable.slice(-1)
  const undo =
    joins && last
      ? [...undoable.slice(0, -1), noteLeft(applied.model, compose(applied.inverse, last))]
      : [...undoable.slice(1 - MOST_UNDO), noteLeft(applied.model, applied.inverse)]
  // The worker draws while the page renders what it has by itself.
  tellChange(change)
  redraw()
  set({ model: applied.model, undoable: undo, redoable: [] })
  prepareFor(applied.model)
  sync?.add(change, joins ? coalesce : undefined, takes, seenRevision())
  return true
}

function send(change: Change, coalesce?: string): void {
  tellChange(change)
  sync?.add(change, coalesce)
  redraw()
}

/** Takes the last change back, or makes it again. It is a change like any other. */
function turnBack(from: 'undoable' | 'redoable', to: 'undoable' | 'redoable', word: string): void {
  const state = get()
  const change = state[from].at(-1)
  if (!change) return notify(`There is nothing to ${word.toLowerCase()}.`)
  lastCoalesce = undefined
  lastMade = undefined
  try {
    const { model, inverse } = apply(state.model, change)
    if (isOvertaken(change, inverse)) {
      set({ [from]: state[from].slice(0, -1) })
      return notify(
        `This can no longer be taken back: somebody else has changed the same since. ${change.label}`,
        'refusal',
      )
    }
    set({ model, [from]: state[from].slice(0, -1), [to]: [...state[to], noteLeft(model, inverse)], editing: undefined })
    const selection = state.selection.filter((id) => model.entities.has(id))
    set({ selection, turned: state.turned + 1 })
    send({ label: cut(`${word}: ${change.label}`, 1000), steps: change.steps })
    notify(`${word}: ${change.label}`)
  } catch (error) {
    if (!(error instanceof ModelError)) throw error
    set({ [from]: state[from].slice(0, -1) })
    notify(`This can no longer be taken back, because the facts have changed since: ${error.message}`, 'refusal')
  }
}
/** What each change left behind that can be taken back: where something else stands there now, somebody else has written it. */
const leftBehind = new WeakMap<Change, string>()

const setsOf = (change: Change): string =>
  JSON.stringify(change.steps.flatMap((step) => (step.do.startsWith('set-') ? [step] : [])))

/** Notes what stands now where a change would write if it is taken back. */
function noteLeft(model: Model, back: Change): Change {
  const writes = back.steps.some((step) => step.do.startsWith('set-'))
  leftBehind.set(back, setsOf(writes ? apply(model, back).inverse : back))
  return back
}

const isOvertaken = (change: Change, inverse: Change): boolean => {
  const left = leftBehind.get(change)
  return left !== undefined && left !== setsOf(inverse)
}

/**
 * Takes back the change that was made last, as if nobody had wanted it: it is not made again by “Redo”. Answers false where another one came after it.
 */
export function unmake(made: Change): boolean {
  const { model, undoable } = get()
  const back = undoable.at(-1)
  if (back === undefined || lastMade !== made) return false
  try {
    const change = { ...back, label: cut(`Undo: ${made.label}`, 1000) }
    set({ model: apply(model, change).model, undoable: undoable.slice(0, -1), editing: undefined })
    lastMade = undefined
    lastCoalesce = undefined
    send(change)
    return true
  } catch (error) {
    if (!(error instanceof ModelError)) throw error
    return false
  }
}

export const undo = (): void => turnBack('undoable', 'redoable', 'Undo')
export const redo = (): void => turnBack('redoable', 'undoable', 'Redo')

/** Does what an action answered: makes its change, asks first where it spreads, or says why not. */
export function carryOut(outcome: Outcome, coalesce?: string): boolean {
  if (isRefusal(outcome)) {
    notify(outcome.refused, 'refusal')
    return false
  }
  if (outcome.spreads) {
    set({ confirmation: { done: outcome } })
    return false
  }
  return finish(outcome, coalesce)
}

export function finish(done: Done, coalesce?: string): boolean {
  if (!make(done.change, coalesce)) return false
  if (done.view !== undefined) showView(done.view)
  if (done.select !== undefined) set({ selection: [done.select], reveal: get().reveal + 1 })
  if (done.select !== undefined && done.edit !== undefined) set({ editing: { item: done.select, part: done.edit } })
  return true
}

/** What an action needs to know, as things stand. Undefined without a view. */
export function wish(more: Partial<Wish> = {}): Wish | undefined {
  const { model, day, selection } = get()
  const view = currentView()
  return view && { model, view, day, selection, newId, ...more }
}

export function settleClash(choice: 'send' | 'drop'): void {
  if (get().clash) sync?.settle(choice)
}
