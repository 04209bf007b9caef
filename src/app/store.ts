import { proxy, type Remote } from 'comlink'
import { create } from 'zustand'
import { useShallow } from 'zustand/react/shallow'
import { trustedWorkspace, viewsInOrder, writeWorkspace } from '../core/file'
import {
  apply,
  asId,
  compose,
  cut,
  Model,
  ModelError,
  wordsOf,
  writableWithin,
  type Change,
  type Day,
  type Id,
  type View,
} from '../core/model'
import {
  isRefusal,
  prepared,
  type Done,
  type Finding,
  type Moment,
  type ImportOptions,
  type ImportPlan,
  type ImportedFile,
  type ImportRow,
  type Outcome,
  type Refusal,
  type SheetRow,
  type Table,
  type Wish,
} from '../core/notation'
import { registry } from '../core/notations'
import type { Scene } from '../core/scene'
import type { ChosenFile, Engine } from '../worker/engine'
import { nextList, nextScene } from '../worker/delta'
import type { Asked, Notes } from '../worker/reading'
import { today } from './clock'
import { startEngine, startStoppable } from './engine'
import { ask, type LoadedWorkspace } from './sync/api'
import { sendLeftOver } from './sync/outbox'
import { Sync, type ClashReport, type Standing, type Trouble } from './sync/sync'

/** A line that appears for a few seconds, with something to do about it where there is. */
export interface Notice {
  readonly id: number
  readonly text: string
  readonly tone: 'plain' | 'refusal'
}

/** Another fact is being chosen, for an action that needs one. */
interface Choosing {
  readonly prompt: string
  readonly kinds: readonly string[]
  readonly take: (id: Id) => void
}

/** A change that reaches further than what was pointed at, shown before it is made. */
interface Confirmation {
  readonly done: Done
}

interface Editing {
  readonly item: Id
  readonly part: string
  /** What was typed before the item was there to be typed into. */
  readonly ahead?: string | undefined
}

export type Panel = 'outline' | string

interface State {
  readonly id: string
  readonly model: Model
  readonly day: Day
  /** A second day: the picture then shows what differs between the two. */
  readonly compared: Day | undefined
  /** The revision that the picture is compared with, in words. */
  readonly against: { readonly revision: number; readonly words: string } | undefined
  readonly viewId: Id | undefined
  readonly selection: readonly Id[]
  /** The text of the selected item that is being typed into. */
  readonly editing: Editing | undefined
  readonly scene: Scene | undefined
  /** Why there is no picture, in words. */
  readonly failure: string | undefined
  readonly findings: readonly Finding[]
  /** What stands beside the page about what is shown and selected; of a moment ago while the facts change. */
  readonly notes: Notes | undefined
  readonly standing: Standing
  readonly trouble: Trouble | undefined
  readonly clash: ClashReport | undefined
  readonly undoable: readonly Change[]
  readonly redoable: readonly Change[]
  readonly notice: Notice | undefined
  readonly pick: Choosing | undefined
  readonly confirmation: Confirmation | undefined
  /** A file that is being read, and what ends that. */
  readonly reading: { readonly name: string; readonly stop: () => void } | undefined
  readonly panel: Panel
  readonly dialog: 'keys' | 'hand-out' | 'go-to' | 'limits' | 'history' | 'bring-in' | 'directory' | undefined
  readonly proof: boolean
  /** A finding’s way to its fault, shown moment by moment. */
  readonly playing: { readonly moments: readonly Moment[]; readonly at: number } | undefined
  /** Counts up to ask the margin to take the keyboard to its findings. */
  readonly toFindings: number
  /** Counts up to ask the sheet to bring the selection into view. */
  readonly reveal: number
}

export const useWorkspace = create<State>()(() => ({
  id: '',
  model: Model.empty,
  day: today(),
  compared: undefined,
  against: undefined,
  viewId: undefined,
  selection: [],
  editing: undefined,
  scene: undefined,
  failure: undefined,
  findings: [],
  notes: undefined,
  standing: 'saved',
  trouble: undefined,
  clash: undefined,
  undoable: [],
  redoable: [],
  notice: undefined,
  pick: undefined,
  confirmation: undefined,
  reading: undefined,
  panel: 'outline',
  dialog: undefined,
  proof: false,
  playing: undefined,
  toFindings: 0,
  reveal: 0,
}))

/** Some parts of the state: a component is drawn again only when one of these changes. */
export const useParts = <K extends keyof State>(...keys: readonly K[]): Pick<State, K> =>
  useWorkspace(useShallow((state) => Object.fromEntries(keys.map((key) => [key, state[key]])) as Pick<State, K>))

const set = useWorkspace.setState
const get = useWorkspace.getState

let engine: Remote<Engine> | undefined
let sync: Sync | undefined
let lastCoalesce: { key: string; at: number } | undefined

const MOST_UNDO = 500
const COALESCE_MS = 1500

/** Opens a workspace: what was left unsent is sent first, then the facts are read. @throws ApiError */
export async function openWorkspace(id: string): Promise<void> {
  // The thread loads its program while the facts are on their way.
  engine ??= startEngine()
  const author = authorName()
  const refused = await sendLeftOver(id, author)
  const { revision, workspace } = await ask<LoadedWorkspace>(`/api/workspaces/${id}`)
  const model = trustedWorkspace(workspace)
  await engine.load(workspace)
  sync?.close()
  sync = new Sync(id, { revision, model }, author, { onFacts, onStanding, onClash: (clash) => set({ clash }) })
  const { hash } = window.location
  const wanted = new URLSearchParams(hash.slice(1)).get('view')
  const views = viewsInOrder(model)
  const view = views.find((one) => one.id === wanted) ?? views[0]
  set({ id, model, viewId: view?.id, selection: [], undoable: [], redoable: [] })
  sync.listen()
  sync.askAbout(refused)
  prepareFor(model)
  redraw()
}

function onFacts(model: Model, news: Change | undefined, rebased: boolean): void {
  set({ model })
  prepareFor(model)
  if (rebased || !news) void engine?.load(writeWorkspace(model))
  else void engine?.apply([news])
  const { selection, viewId } = get()
  const still = selection.filter((id) => model.entities.has(id))
  if (still.length < selection.length) set({ selection: still })
  if (viewId === undefined || !model.views.has(viewId)) set({ viewId: viewsInOrder(model)[0]?.id })
  redraw()
}

const onStanding = (standing: Standing, trouble: Trouble | undefined) => {
  const { waiting = 0, message } = trouble ?? {}
  const before = get()
  if (before.standing === standing && before.trouble?.message === message && (before.trouble?.waiting ?? 0) === waiting)
    return
  set({ standing, trouble })
}

/** What the worker told last: its deltas follow each other, so each one is taken. */
let drawn: Scene | undefined
let found: readonly Finding[] = []
let drawing = false
let outdated = false
let checking: ReturnType<typeof setTimeout> | undefined
let checkTook = 0
const CHECK_AFTER_MS = 80
const CHECK_LATEST_MS = 1500

/** Has everything that is shown computed anew. One picture is drawn at a time: of those asked for meanwhile only the newest. */
function redraw(): void {
  outdated = true
  if (!drawing) void draw()
  // The picture comes first; while somebody types on, the rules wait for a pause, a longer one where they take long.
  clearTimeout(checking)
  checking = setTimeout(() => void check(), Math.min(CHECK_LATEST_MS, Math.max(CHECK_AFTER_MS, 1.5 * checkTook)))
}

/** What is shown now, as it is asked for; undefined while there is nothing to show. */
function asked(wants: Asked['wants']): Asked | undefined {
  const { viewId, day, compared, selection } = get()
  return viewId === undefined ? undefined : { view: viewId, day, compared, selection, wants }
}

/** Whether an answer is still to the question: the same view on the same days. */
const isStill = ({ view, day, compared }: Asked): boolean => {
  const now = get()
  return now.viewId === view && now.day === day && now.compared === compared
}

async function draw(): Promise<void> {
  drawing = true
  try {
    while (outdated && engine) {
      outdated = false
      const question = asked({ scene: true })
      if (!question) {
        set({ scene: undefined, failure: undefined })
        continue
      }
      try {
        const { scene } = await engine.read(question)
        if (scene) drawn = nextScene(drawn, scene)
        if (isStill(question)) set({ scene: scene && drawn, failure: undefined })
      } catch (error) {
        if (isStill(question)) set({ scene: undefined, failure: wordsOf(error) })
      }
    }
  } finally {
    drawing = false
  }
}

let checks = 0
async function check(): Promise<void> {
  const request = ++checks
  const began = performance.now()
  const question = asked({ findings: true, notes: true })
  const reading = question && (await engine?.read(question))
  checkTook = performance.now() - began
  if (!question || !reading?.findings) return
  found = nextList(found, reading.findings)
  if (request === checks && get().day === question.day) set({ findings: found, notes: reading.notes })
}

/** Has the notes beside the page told anew, as something else is selected. */
async function note(): Promise<void> {
  const question = asked({ notes: true })
  const reading = question && (await engine?.read(question))
  if (question && reading?.notes && isStill(question) && get().selection === question.selection)
    set({ findings: found, notes: reading.notes })
}
useWorkspace.subscribe(({ selection }, before) => {
  if (selection !== before.selection) void note()
})

/** Makes a change: on the screen at once, in the worker and on the server as soon as they can. Answers whether it could be made. */
export function make(wanted: Change, coalesce?: string): boolean {
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
  const [last] = undoable.slice(-1)
  const undo =
    joins && last
      ? [...undoable.slice(0, -1), noteLeft(applied.model, compose(applied.inverse, last))]
      : [...undoable.slice(1 - MOST_UNDO), noteLeft(applied.model, applied.inverse)]
  set({ model: applied.model, undoable: undo, redoable: [] })
  prepareFor(applied.model)
  send(change, joins ? coalesce : undefined)
  return true
}

/** Loads what the facts ask for; what the page has reckoned without it is reckoned anew. */
function prepareFor(model: Model): void {
  void prepared(registry.notations, model)?.then(() => set({ model: get().model.with({}) }))
}

function send(change: Change, coalesce?: string): void {
  void engine?.apply([change])
  sync?.add(change, coalesce)
  redraw()
}

/** Takes the last change back, or makes it again. It is a change like any other. */
function turnBack(from: 'undoable' | 'redoable', to: 'undoable' | 'redoable', word: string): void {
  const state = get()
  const change = state[from].at(-1)
  if (!change) return notify(`There is nothing to ${word.toLowerCase()}.`)
  lastCoalesce = undefined
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
    set({ selection })
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
  leftBehind.set(back, setsOf(apply(model, back).inverse))
  return back
}

const isOvertaken = (change: Change, inverse: Change): boolean => {
  const left = leftBehind.get(change)
  return left !== undefined && left !== setsOf(inverse)
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

export const newId = (): Id => asId(crypto.randomUUID())

export function currentView({ model, viewId }: Pick<State, 'model' | 'viewId'> = get()): View | undefined {
  return viewId === undefined ? undefined : model.views.get(viewId)
}

/** The errors that a change would add, computed off the main thread. */
export const errorsOf = async (change: Change): Promise<Finding[]> => (await engine?.newErrors(change, get().day)) ?? []

interface Planning {
  readonly result: Promise<{ plan: ImportPlan; errors: Finding[] } | undefined>
  /** Ends it at once, wherever it is. */
  readonly stop: () => void
}

export interface Reading<T> {
  readonly result: Promise<T | Refusal>
  /** Ends it at once, wherever it is. */
  readonly stop: () => void
}

/** How long a file may be read for. */
const READING_MS = 30_000
const MOST_BYTES = 30_000_000

/** Reads a chosen file in a thread of its own, which is ended when it takes too long. */
function reading<T>(
  file: File,
  read: (reader: Remote<Engine>, view: Id, chosen: ChosenFile) => Promise<T | Refusal>,
): Reading<T> {
  const { viewId, model } = get()
  const stopped = startStoppable()
  let timer: ReturnType<typeof setTimeout> | undefined
  let tooLong: (refusal: Refusal) => void = () => undefined
  const end = (refused: string) => {
    stopped.stop()
    tooLong({ refused })
  }
  const work = async (): Promise<T | Refusal> => {
    if (viewId === undefined) return { refused: 'There is no view to bring anything into.' }
    if (file.size > MOST_BYTES) return { refused: `“${file.name}” is larger than 30 MB. Bring it in in parts.` }
    await stopped.engine.load(writeWorkspace(model))
    return read(stopped.engine, viewId, { name: file.name, bytes: await file.arrayBuffer() })
  }
  const late = new Promise<Refusal>((resolve) => {
    tooLong = resolve
    timer = setTimeout(() => end(`“${file.name}” takes longer than 30 seconds to read, and was stopped.`), READING_MS)
  })
  const result = Promise.race([work(), late])
    .catch((error: unknown): Refusal => ({ refused: `“${file.name}” could not be read: ${wordsOf(error)}.` }))
    .finally(() => {
      clearTimeout(timer)
      stopped.stop()
    })
  return { result, stop: () => end('Reading was stopped. Nothing was changed.') }
}

/** A file as a table of a sort that the view’s notation takes. */
export const readTableFile = (sort: string, file: File): Reading<Table> =>
  reading(file, async (reader, view, chosen) => await reader.readTable(view, sort, chosen))

/** A file that is read as a whole: what it would bring. */
export const readWholeFile = (sort: string, file: File): Reading<ImportedFile> =>
  reading(file, async (reader, view, chosen) => await reader.readFile(view, get().day, sort, chosen))

/** What bringing rows of a table in would do, computed in a thread of its own, so that it can be stopped at any moment. */
export function planImport(
  sort: string,
  rows: readonly ImportRow[],
  options: ImportOptions,
  onPhase: (phase: string) => void,
): Planning {
  const { viewId: view, day, model } = get()
  if (view === undefined) return { result: Promise.resolve(undefined), stop: () => undefined }
  const { engine: planner, stop } = startStoppable()
  const work = async () => {
    await planner.load(writeWorkspace(model))
    return planner.planImport({ view, day, sort, rows, options }, proxy(onPhase))
  }
  const result = work().finally(stop)
  return { result, stop }
}

/** Compares the picture with the facts of a revision, until told otherwise. */
export async function compareWithRevision(against: State['against'], workspace: unknown): Promise<void> {
  await engine?.against(workspace)
  set({ against, compared: undefined })
  redraw()
}

/** A sheet of numbers on a day, computed off the main thread. */
export const numbersOn = async (path: string, day: Day): Promise<readonly SheetRow[]> =>
  (await engine?.numbers(path, day)) ?? []

/** The facts that a row of a sheet counts. */
export const countedBy = async (path: string, day: Day, row: SheetRow): Promise<readonly Id[]> =>
  (await engine?.counted(path, day, row)) ?? []

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

export function showView(viewId: Id): void {
  if (viewId === get().viewId) return
  window.history.replaceState(null, '', `#view=${encodeURIComponent(viewId)}`)
  set({ viewId, editing: undefined, scene: undefined, playing: undefined })
  redraw()
}

/** Shows how something comes about, from its first moment on; without moments it ends. */
export function play(moments: readonly Moment[] | undefined, at = 0): void {
  set({ playing: moments && moments.length > 0 ? { moments, at } : undefined, editing: undefined })
}

let notices = 0
export function notify(text: string, tone: Notice['tone'] = 'plain'): void {
  set({ notice: { id: ++notices, text, tone } })
}

export function settleClash(choice: 'send' | 'drop'): void {
  if (get().clash) sync?.settle(choice)
}

/** Who is written into the history until there are accounts: a name kept in this browser. */
function authorName(): string {
  const known = localStorage.getItem('skivel:author')
  const name = known ?? `Guest ${1000 + Math.floor(Math.random() * 9000)}`
  if (!known) localStorage.setItem('skivel:author', name)
  return name
}
