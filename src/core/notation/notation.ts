import type { Change, Day, Entity, Id, Model, View } from '../model'
import type { Field, Kind, RelationKind } from './kind'
import type { TableImport } from './import'
import type { Rule } from './rule'
import type { Against, Turn } from './turn'
import type { Box, Scene } from '../scene'
import type { Outcome, Refusal, Wish } from './wish'

export interface Picks {
  readonly kinds: readonly string[]
  readonly prompt: string
  /** The facts that can be chosen, where they are not all of these kinds. */
  readonly offers?: readonly Id[]
}

export interface Action {
  readonly id: string
  readonly label: string
  /** The key that does it while an item is selected. */
  readonly key?: string
  /** Shown in the row of verbs under a selected item. */
  readonly verb?: boolean
  /** Offered where a view is empty, too. */
  readonly begins?: boolean
  /** Asks for another fact of these kinds before it runs; where it depends on the selection whether, a function says so. */
  readonly picks?: Picks | ((wish: Omit<Wish, 'newId'>) => Picks | undefined)
  /** Whether the action is offered for this selection. */
  readonly applies: (wish: Omit<Wish, 'newId'>) => boolean
  readonly run: (wish: Wish) => Outcome
}

/** A handle of the selected item, pulled as far as this, in px at 100 % from where it was taken. */
export interface Pull {
  readonly handle: string
  readonly by: { readonly x: number; readonly y: number }
  /** Where the pointer is in the scene. */
  readonly at: { readonly x: number; readonly y: number }
  /** The pulled item's box. */
  readonly box: Box
}

/** A choice of a view, and what it is until somebody chooses. */
export type Option = Field & { readonly initial?: string | number | boolean }

/** What an arrangement of lines is for. */
export interface Arrangement {
  readonly family: string
  /** How many parts it takes well. */
  readonly takes: readonly [number, number]
  /** Words by which it is searched, besides its title and what it is good for. */
  readonly words: string
}

/** How well an arrangement suits what a view shows, from 0 to 1, and why. */
export interface Suits {
  readonly score: number
  readonly why: string
}

/** What a person can choose and do in a picture. */
export interface Gestures {
  readonly id: string
  readonly title: string
  /** What it is good for, in a line. */
  readonly good: string
  /** Pictures of one family are arrangements of the same lines: they are chosen by a look at each. */
  readonly arranges?: Arrangement
  /** Kinds of entities that it draws by themselves. */
  readonly draws: readonly string[]
  /** Choices of the view, read from `view.options`. */
  readonly options: readonly Option[]
  /** What a person may put elsewhere than the picture would: pairs of `view.pins`, each in its own unit. */
  readonly pins?: readonly Field[]
  /** Dropping one item on another; with `alone`, only the item itself. */
  readonly drop?: (wish: Wish) => Outcome
  /** Pulling a handle of an item; `target` is what the pointer is over. The worker runs it, which drew the picture. */
  readonly pull?: (wish: Wish, pull: Pull) => Outcome
  /** Typing into a text of an item. */
  readonly write?: (wish: Wish, part: string, text: string) => Outcome
}

/** Of an action that takes more than what is stated: the page has the worker run what the notation has in its place. */
export const byWorker: Action['run'] = () => ({ refused: 'It is not ready yet. Try again.' })

/** Columns with what is reckoned in them, by their id. */
export const reckonedBy = (
  reads: Readonly<Record<string, Column['read']>>,
  columns: readonly Column[],
): readonly Column[] =>
  columns.map((column) => {
    const read = column.isReckoned && reads[column.id]
    return read ? { ...column, read } : column
  })

export interface Picture extends Gestures {
  /** The scene of a day. With what it is compared with it may draw that beneath; what differs is marked on any picture (`drawn`). */
  readonly draw: (model: Model, view: View, day: Day, against?: Against) => Scene
  /**
   * What it is drawn of besides the names of what it draws, whatever a view chooses: `device.rack`, `holds to`, `site name`, `port beside` (see `shownPortion`).
   * A picture that is handed out with its facts carries that; what is not said here is tried out, which takes longer.
   */
  readonly needs?: readonly string[]
  /** How well it suits what a view shows, where it is one of several arrangements of the same. O(lines) */
  readonly suits?: (model: Model, view: View, day: Day) => Suits
  /** What became of the facts that it draws, where more is known than their fields tell, which is given. */
  readonly turns?: (
    before: Against,
    after: Against,
    stated: ReadonlyMap<Id, readonly Turn[]>,
  ) => ReadonlyMap<Id, readonly Turn[]>
}

export interface Column {
  readonly id: string
  readonly label: string
  readonly type: 'text' | 'number' | 'day' | 'choice'
  readonly width: number
  readonly mono?: boolean
  /** What a cell says follows from more than what is stated: where `read` has nothing to say, the worker is asked. */
  readonly isReckoned?: true
  readonly read: (model: Model, row: Id, day: Day) => string | number | undefined
  /** Absent for a computed column. An empty text clears. */
  readonly write?: (wish: Wish, row: Id, text: string) => Outcome
  /** What the cell may hold, to be offered while typing. */
  readonly choices?: (model: Model, day: Day) => readonly string[]
  /** Whether what is shown tells that something is missing. */
  readonly wants?: (shown: string) => boolean
  /** The value part by part. */
  readonly chips?: (model: Model, row: Id, day: Day) => readonly Chip[]
}

/** A part of a cell that names a fact: it leads there, and can be taken off by itself. */
export interface Chip {
  readonly label: string
  /** The same with the name of the fact. */
  readonly title: string
  readonly fact: Id
  /** What taking it off changes. */
  readonly off: Change
}

/** A table of facts. */
export interface Register {
  readonly id: string
  readonly title: string
  readonly kind: string
  /** The pictures beside which it stands; every one of the notation unless they are named. */
  readonly pictures?: readonly string[]
  readonly columns: readonly Column[]
  readonly rows: (model: Model, view: View, day: Day) => readonly Id[]
  /** How many rows, where they are not the entities of its kind. */
  readonly count?: (model: Model, view: View, day: Day) => number
  readonly add: (wish: Wish) => Outcome
}

/** A sort of list that begins a workspace. */
export interface ListReading {
  /** Told apart from those of all notations. */
  readonly id: string
  /** What its lines are: “people”. */
  readonly word: string
  /** The title and the picture of the view that shows it, as long as it has no lines. */
  readonly title: string
  readonly picture: string
  /** A view of it shows all there is, and is called so. */
  readonly isWhole?: true
  /** From 0 to 1, how much lines look like it. O(lines). */
  readonly likeness: (lines: readonly string[]) => number
}

export interface OutlineLine {
  readonly id: Id
  readonly depth: number
  readonly text: string
}

/** An indented text that is the same facts. Edits answer with changes. */
export interface Outline {
  readonly hint: string
  /** Another hint for some views. */
  readonly hintFor?: (view: View) => string
  readonly lines: (model: Model, view: View, day: Day) => readonly OutlineLine[]
  /** All of it as a text that `paste` reads to the same facts, where lines alone do not say everything. */
  readonly text?: (model: Model, view: View, day: Day) => string
  readonly write: (wish: Wish, line: Id, text: string) => Outcome
  /** A new line below `line` on its level, or the first line. */
  readonly insert: (wish: Wish, line: Id | undefined, text: string) => Outcome
  readonly indent: (wish: Wish, line: Id) => Outcome
  readonly outdent: (wish: Wish, line: Id) => Outcome
  readonly move: (wish: Wish, line: Id, by: -1 | 1) => Outcome
  readonly remove: (wish: Wish, line: Id) => Outcome
  /** Lines of a typed or pasted list, after `line`. */
  readonly paste: (wish: Wish, line: Id | undefined, text: string) => Outcome
}

export type SheetRow = Readonly<Record<string, string | number | boolean | null>>

/** What a sheet may be asked besides: another day, how likely something is done by then, or two facts by their names. */
export interface Asking {
  readonly by?: Day
  readonly from?: string
  readonly to?: string
}

/** A table of numbers computed from the facts of a day. */
export interface NumberSheet {
  readonly id: string
  readonly title: string
  readonly columns: readonly { readonly id: string; readonly label: string; readonly unit: string | null }[]
  readonly rows: (model: Model, day: Day, asking?: Asking) => readonly SheetRow[]
  /** How it is drawn; a sheet without it is only a table. */
  readonly chart?: SheetChart
  /** The facts that a row counts. */
  readonly counted?: (model: Model, day: Day, row: SheetRow) => readonly Id[]
}

export interface SheetChart {
  readonly sort: 'bars' | 'line'
  /** The column that tells rows apart, on two days as well. */
  readonly key: string
  readonly label: string
  /** The columns that can be drawn, the usual one first. */
  readonly values: readonly string[]
}

/** A question that is asked in the margin about the facts that a view shows: what somebody fills in, and what follows from it in words. */
export interface Trial {
  readonly id: string
  readonly title: string
  readonly button: string
  readonly fields: readonly TrialField[]
  readonly ask: (model: Model, view: View, day: Day, values: Readonly<Record<string, string>>) => TrialAnswer | Refusal
}

export interface TrialField {
  readonly id: string
  readonly label: string
  readonly choices?: readonly string[]
  /** Kinds whose names are offered. */
  readonly names?: readonly string[]
}

export interface TrialAnswer {
  /** The answer, and what leads to it. */
  readonly words: string
  readonly lines: readonly string[]
  /** The facts that it speaks of, to be selected. */
  readonly facts: readonly Id[]
}

/** A figure in the margin. */
export interface Measure {
  readonly label: string
  readonly value: string
}

export interface Starter {
  readonly id: string
  readonly title: string
  readonly summary: string
  /** What somebody who looks for it may say, besides its title and summary. */
  readonly words: string
  /** What a new workspace of this starter holds. */
  readonly make: (newId: () => Id, day: Day) => Model
}

/** What a file would bring, as one change, with facts about it in words; `view` shows it. */
export interface ImportedFile {
  readonly change: Change
  readonly view?: Id
  readonly facts: readonly string[]
}

/** A file that is no table, read as a change. */
export interface FileImport {
  readonly id: string
  readonly title: string
  readonly extensions: readonly string[]
  /** It is no file that is chosen, but what another program answers that is asked. */
  readonly asked?: 'database'
  /** What reads it comes when a file is first read: the libraries for it are large. */
  readonly load: () => Promise<{ readonly read: (wish: Wish, text: string) => ImportedFile | Refusal }>
}

/** A file in an open format, written from the facts of a day. */
export interface FileExport {
  readonly id: string
  readonly title: string
  /** With its dot. */
  readonly extension: string
  readonly mediaType: string
  /** What writes it may come when it is first written: some need large libraries. */
  readonly write: (model: Model, view: View, day: Day) => string | Promise<string>
  /** What other programs subscribe to it as: it may be read at an address of its own, as the facts then are. */
  readonly feed?: string
}

/** How the facts of a notation are stated: all that the page has of it. */
export interface Handling {
  readonly id: string
  readonly title: string
  /** The chapter of the contents that its views stand in. */
  readonly chapter: string
  readonly entityKinds: readonly Kind[]
  readonly relationKinds: readonly RelationKind[]
  readonly pictures: readonly Gestures[]
  /** Which part of the facts a view shows: read from `view.scope`. */
  readonly scope: readonly Field[]
  readonly actions: readonly Action[]
  readonly registers: readonly Register[]
  readonly outline?: Outline
  /** Sorts of lists that it takes. */
  readonly lists: readonly ListReading[]
  /** A line about a fact, for the margin's head: “Osei Brandt · Ports · 9 reports”. */
  readonly describe: (model: Model, id: Id, day: Day) => string | undefined
  /** Ties of a fact that the margin shows among its fields, each editable like a cell. */
  readonly ties: (model: Model, entity: Entity) => readonly Column[]
  /** Loads what has to be there before these facts are read, such as a list of public holidays; undefined where nothing is missing. */
  readonly prepare?: (model: Model) => Promise<unknown> | undefined
  /** A new view of a typed or pasted list. */
  readonly view: (newId: () => Id, title: string) => View
  /** The scope of a view that is to show a fact with what hangs on it, where there are such views. */
  readonly branch?: (id: Id) => View['scope']
  /** The scope of a view that is to show nothing yet, where a scope of nothing in particular shows something. */
  readonly blank?: View['scope']
}

/** How facts are stated, and what is worked out of them. */
export interface Notation extends Handling {
  readonly pictures: readonly Picture[]
  readonly rules: readonly Rule[]
  readonly numbers: readonly NumberSheet[]
  readonly measures: (
    model: Model,
    day: Day,
    selected: Id | undefined,
    view: View,
  ) => { of: string; list: readonly Measure[] }
  /** Sorts of tables that it takes. */
  readonly imports: readonly TableImport[]
  /** Files of other sorts that it reads whole. */
  readonly files: readonly FileImport[]
  /** Files of other sorts that it writes. */
  readonly exports: readonly FileExport[]
  readonly starters: readonly Starter[]
  /** Questions that can be asked of it. */
  readonly trials?: readonly Trial[]
}
