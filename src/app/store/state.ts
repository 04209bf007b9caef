import { create } from 'zustand'
import { useShallow } from 'zustand/react/shallow'
import { asId, Model, type Change, type Day, type Id, type View } from '../../core/model'
import type { Done, Finding, Moment, Offers } from '../../core/notation'
import type { Point, Scene, Sight } from '../../core/scene'
import type { BroughtBack, Judged } from '../../worker/contract'
import type { Notes } from '../../worker/reading'
import { today } from '../clock'
import type { ClashReport, Standing, Trouble } from '../sync/sync'

/** A line that appears for a few seconds, with something to do about it where there is. */
export interface Notice {
  readonly id: number
  readonly text: string
  readonly tone: 'plain' | 'refusal'
}

/** Another fact is being chosen, for an action that needs one. */
export interface Choosing {
  readonly prompt: string
  readonly kinds: readonly string[]
  readonly take: (id: Id) => void
  /** The facts that can be chosen, where they are not all of these kinds. */
  readonly offers?: ReadonlySet<Id>
}

/** A change that reaches further than what was pointed at, shown before it is made. */
interface Confirmation {
  readonly done: Done
}

export interface Editing {
  readonly item: Id
  readonly part: string
  /** What was typed before the item was there to be typed into. */
  readonly ahead?: string | undefined
}

/** Somebody’s proposal that is looked at: the picture shows what it would change, and nothing is changed. */
export interface Looking {
  readonly thread: string
  readonly by: string
  readonly change: Change
  /** What it would come to, once that is worked out. */
  readonly judged: Judged | undefined
}

export type Panel = 'outline' | string

export interface State {
  readonly id: string
  readonly model: Model
  readonly day: Day
  /** A second day: the picture then shows what differs between the two. */
  readonly compared: Day | undefined
  /** The revision that the picture is compared with, in words. */
  readonly against: { readonly revision: number; readonly words: string } | undefined
  readonly viewId: Id | undefined
  /** Another picture of the view, looked at before it is taken. */
  readonly trying: string | undefined
  readonly selection: readonly Id[]
  /** The text of the selected item that is being typed into. */
  readonly editing: Editing | undefined
  readonly scene: Scene | undefined
  /** The facts have changed since the picture was drawn. */
  readonly isBehind: boolean
  /** Why there is no picture, in words. */
  readonly failure: string | undefined
  readonly findings: readonly Finding[]
  /** What the worker can do besides drawing, as it tells once it is there. */
  readonly offers: Offers | undefined
  /** What stands beside the page about what is shown and selected; of a moment ago while the facts change. */
  readonly notes: Notes | undefined
  readonly standing: Standing
  readonly trouble: Trouble | undefined
  readonly clash: ClashReport | undefined
  readonly undoable: readonly Change[]
  readonly redoable: readonly Change[]
  /** Counts up whenever a change was taken back or made again. */
  readonly turned: number
  readonly notice: Notice | undefined
  readonly pick: Choosing | undefined
  readonly confirmation: Confirmation | undefined
  /** A file that is being read, and what ends that. */
  readonly reading: { readonly name: string; readonly stop: () => void } | undefined
  readonly panel: Panel
  /** The notation of a view that is being chosen. */
  readonly choosing: string | undefined
  readonly dialog:
    | 'new-view'
    | 'themes'
    | 'proof'
    | 'keys'
    | 'hand-out'
    | 'brought-back'
    | 'go-to'
    | 'limits'
    | 'history'
    | 'bring-in'
    | 'directory'
    | 'database'
    | undefined
  /** A picture that was dropped, of a view that is here: what it shows, and what is otherwise now. */
  readonly returned: (BroughtBack & { readonly text: string; readonly name: string }) | undefined
  readonly proof: Sight | undefined
  /** What is being given a place on the sheet: a note for readers, or what is about to be said. */
  readonly placing: string | undefined
  /** The place of the picture that is about to be spoken of. */
  readonly pointed: Point | undefined
  /** Of what something is about to be said, as `speak` names it. */
  readonly speaking: string | undefined
  /** How much has happened to the comments, as the server counts it. */
  readonly talk: number
  /** What was changed and is kept aside for a proposal. */
  readonly proposing: readonly Change[] | undefined
  /** A proposal that is looked at. */
  readonly looking: Looking | undefined
  /** The row of emphases is shown, and where what is chosen in it is to hold. */
  readonly emphasising: 'view' | 'everywhere' | undefined
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
  trying: undefined,
  returned: undefined,
  selection: [],
  editing: undefined,
  scene: undefined,
  isBehind: true,
  failure: undefined,
  findings: [],
  offers: undefined,
  notes: undefined,
  standing: 'saved',
  trouble: undefined,
  clash: undefined,
  undoable: [],
  redoable: [],
  turned: 0,
  notice: undefined,
  pick: undefined,
  confirmation: undefined,
  reading: undefined,
  panel: 'outline',
  choosing: undefined,
  dialog: undefined,
  proof: undefined,
  placing: undefined,
  pointed: undefined,
  speaking: undefined,
  talk: -1,
  proposing: undefined,
  looking: undefined,
  emphasising: undefined,
  playing: undefined,
  toFindings: 0,
  reveal: 0,
}))

/** Some parts of the state: a component is drawn again only when one of these changes. */
export const useParts = <K extends keyof State>(...keys: readonly K[]): Pick<State, K> =>
  useWorkspace(useShallow((state) => Object.fromEntries(keys.map((key) => [key, state[key]])) as Pick<State, K>))

export const newId = (): Id => asId(crypto.randomUUID())

export function currentView(
  { model, viewId }: Pick<State, 'model' | 'viewId'> = useWorkspace.getState(),
): View | undefined {
  return viewId === undefined ? undefined : model.views.get(viewId)
}

let notices = 0
export function notify(text: string, tone: Notice['tone'] = 'plain'): void {
  useWorkspace.setState({ notice: { id: ++notices, text, tone } })
}
