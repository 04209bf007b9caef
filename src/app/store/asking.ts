import type { Remote } from 'comlink'
import { writeWorkspace } from '../../core/file'
import { Model, wordsOf, type Change, type Day, type Id, type View } from '../../core/model'
import {
  prepared,
  type Finding,
  type Outcome,
  type Pull,
  type Refusal,
  type SheetRow,
  type TrialAnswer,
  type Wish,
} from '../../core/notation'
import { handlings } from '../../core/notations/handling'
import type { Scene } from '../../core/scene'
import { nextList, nextScene } from '../../worker/delta'
import type {
  Arranged,
  BroughtBack,
  BroughtText,
  Carried,
  Engine,
  Judged,
  NewView,
  Nudge,
  Portion,
  Reckoned,
  Suiting,
  Wanted,
} from '../../worker/contract'
import type { Asked } from '../../worker/reading'
import { startEngine } from '../engine'
import { useWorkspace } from './state'

const set = useWorkspace.setState
const get = useWorkspace.getState

const NOT_READY: Refusal = { refused: 'It is not ready yet. Try again.' }

let engine: Remote<Engine> | undefined

/** The engine, which loads its program from now on. */
export const beginEngine = (): Remote<Engine> => (engine ??= begun(startEngine()))

const begun = (started: Remote<Engine>): Remote<Engine> => {
  void started.offers().then((offers) => set({ offers }))
  return started
}

/** Tells the engine of facts or of changes to them; nothing before it has begun. */
export const tellFacts = (model: Model): void => void engine?.load(writeWorkspace(model))
export const tellChange = (change: Change): void => void engine?.apply([change])
export const tellAgainst = async (workspace: unknown): Promise<void> => await engine?.against(workspace)

/** Tells the engine of a change that is looked at, or that none is. */
export const tellProposal = async (change: Change | undefined): Promise<void> => await engine?.propose(change)
/** What a change would come to, worked out off the main thread. */
export const judgedBy = async (change: Change, day: Day): Promise<Judged> =>
  (await engine?.judge(change, day)) ?? NOT_READY

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
export function redraw(): void {
  outdated = true
  set({ isBehind: true })
  if (!drawing) void draw()
  // The picture comes first; while somebody types on, the rules wait for a pause, a longer one where they take long.
  clearTimeout(checking)
  checking = setTimeout(() => void check(), Math.min(CHECK_LATEST_MS, Math.max(CHECK_AFTER_MS, 1.5 * checkTook)))
}

/** What is shown now, as it is asked for; undefined while there is nothing to show. */
function asked(wants: Asked['wants']): Asked | undefined {
  const { viewId, day, compared, selection, trying } = get()
  const other = trying === undefined ? {} : { picture: trying }
  return viewId === undefined ? undefined : { view: viewId, ...other, day, compared, selection, wants }
}

/** Whether an answer is still to the question: the same view on the same days. */
const isStill = ({ view, picture, day, compared }: Asked): boolean => {
  const now = get()
  return now.viewId === view && now.trying === picture && now.day === day && now.compared === compared
}

async function draw(): Promise<void> {
  drawing = true
  try {
    while (outdated && engine) {
      outdated = false
      const question = asked({ scene: true })
      if (!question) {
        set({ scene: undefined, isBehind: false, failure: undefined })
        continue
      }
      try {
        const { scene } = await engine.read(question)
        if (scene) drawn = nextScene(drawn, scene)
        if (isStill(question)) set({ scene: scene && drawn, isBehind: outdated, failure: undefined })
      } catch (error) {
        if (isStill(question)) set({ scene: undefined, isBehind: outdated, failure: wordsOf(error) })
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
  if (request !== checks || get().day !== question.day) return
  if (get().selection === question.selection) return set({ findings: found, notes: reading.notes })
  // Something else has been selected meanwhile: of that these notes say nothing.
  await note()
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

/** Loads what the facts ask for; what the page has reckoned without it is reckoned anew. */
export function prepareFor(model: Model): void {
  void prepared(handlings.notations, model)?.then(() => set({ model: get().model.with({}) }))
}

/** A wish without the facts, which the worker has; for the picture that is looked at. */
function wanted({ view, day, selection, target, alone }: Wish): Wanted {
  const { trying } = get()
  return {
    view: view.id,
    day,
    selection,
    ...(trying === undefined ? {} : { picture: trying }),
    ...(target === undefined ? {} : { target }),
    ...(alone === undefined ? {} : { alone }),
  }
}

/** What an action would change that takes more than what is stated. */
export const actedBy = async (action: string, wish: Wish): Promise<Outcome> =>
  (await engine?.act(action, wanted(wish))) ?? NOT_READY

export const pulledBy = async (pull: Pull, wish: Wish): Promise<Outcome> =>
  (await engine?.pull(pull, wanted(wish))) ?? NOT_READY

export const nudgedBy = async (nudge: Nudge, wish: Wish): Promise<Outcome | undefined> =>
  engine ? await engine.nudge(nudge, wanted(wish)) : NOT_READY

/** What a register says that is reckoned. */
export const reckonedOf = async (register: string, view: Id, day: Day): Promise<Reckoned | undefined> =>
  await engine?.reckoned(register, view, day)

/** A register with its heading, cell by cell. @throws Error while nothing can be asked */
export async function cellsOf(
  register: string,
  view: Id,
  day: Day,
): Promise<readonly (readonly (string | number)[])[]> {
  if (!engine) throw new Error(NOT_READY.refused)
  return await engine.cells(register, view, day)
}

/** The errors that a change would add, computed off the main thread. */
export const errorsOf = async (change: Change): Promise<Finding[]> => (await engine?.newErrors(change, get().day)) ?? []

/** A sheet of numbers on a day, computed off the main thread. */
export const numbersOn = async (path: string, day: Day): Promise<readonly SheetRow[]> =>
  (await engine?.numbers(path, day)) ?? []

/** What a view answers to one of its questions. */
export const answerTo = async (
  view: Id,
  trial: string,
  values: Readonly<Record<string, string>>,
): Promise<TrialAnswer | Refusal> => (await engine?.ask(view, trial, get().day, values)) ?? NOT_READY

/** The facts that a row of a sheet counts. */
export const countedBy = async (path: string, day: Day, row: SheetRow): Promise<readonly Id[]> =>
  (await engine?.counted(path, day, row)) ?? []

/** What mending findings of one rule would come to, computed off the main thread. */
export const mendingOf = async (rule: string, keys: readonly string[]): Promise<Outcome> =>
  (await engine?.mendAll(rule, keys, get().day)) ?? { refused: 'It is not known yet what would mend them.' }

/** A view of facts that are not those of the page, drawn off the main thread; its first view unless another is named. */
export const drawnOf = async (workspace: unknown, view: Id | undefined, day: Day): Promise<Scene | undefined> =>
  await engine?.drawOther(workspace, view, day)

/** How the facts would look in a view that is not there yet. */
export const previewOf = async (view: NewView): Promise<Scene | undefined> => await engine?.preview(view, get().day)

/** How well each arrangement suits a view, the best first. */
export const suitingOf = async (view: Id): Promise<readonly Suiting[]> => (await engine?.suiting(view, get().day)) ?? []

/** A view in other arrangements, drawn off the main thread. */
export const arrangedAs = async (view: Id, pictures: readonly string[]): Promise<readonly Arranged[]> =>
  (await engine?.arranged(view, pictures, get().day)) ?? []

/** A view in other sizes of type, drawn off the main thread. */
export const themedAs = async (view: Id, type: number): Promise<Scene | undefined> =>
  await engine?.themed(view, type, get().day)

/** What is shown, in another look, drawn off the main thread. */
export const drawnIn = async (look: View['look']): Promise<Scene | undefined> => {
  const shown = asked({})
  return shown && (await engine?.drawnIn(shown, look))
}

/** The facts that a picture of a view may carry. */
export const carriedOf = async (
  views: readonly Id[],
  pictures?: Readonly<Record<string, string>>,
): Promise<Carried | undefined> => await engine?.carried(views, get().day, pictures)

/** How the facts that a picture brings back stand to those here; undefined where they are of somewhere else. */
export const broughtBackBy = async (text: string): Promise<BroughtBack | Refusal | undefined> =>
  engine ? await engine.broughtBack(text, get().day) : NOT_READY

/** What a starter would add. */
export const startedWith = async (notation: string, starter: string): Promise<Outcome> =>
  (await engine?.addStarter(notation, starter, get().day)) ?? NOT_READY

/** Facts as the text of a workspace file, made off the main thread. */
export const portionOf = async (
  view: Id | undefined,
  ids: readonly Id[],
  pictures?: Readonly<Record<string, string>>,
): Promise<Portion | undefined> => await engine?.portion(view, ids, get().day, pictures)

/** What the text of facts would bring. */
export const broughtBy = async (text: string): Promise<BroughtText | Refusal> =>
  (await engine?.bring(text)) ?? NOT_READY

/** What beginning once more with the facts of a view would add. */
export const repeating = async (view: Id): Promise<Outcome> => (await engine?.repeat(view, get().day)) ?? NOT_READY

/** A file in a format that the notation of a view writes, as text, made off the main thread. */
export const writtenAs = async (view: Id, format: string, day: Day): Promise<string | undefined> =>
  await engine?.write(view, format, day)
