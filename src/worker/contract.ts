import type { Change, Day, Id, View } from '../core/model'
import type {
  Along,
  Brought,
  Done,
  Finding,
  ImportedFile,
  ImportOptions,
  ImportPlan,
  ListWay,
  Offers,
  Outcome,
  Pull,
  Refusal,
  SheetRow,
  Suits,
  Table,
  Told,
  TrialAnswer,
  Wish,
} from '../core/notation'
import type { Understood } from '../core/tabular'
import type { Point, Scene } from '../core/scene'
import type { Asked, Reading } from './reading'

/** The core off the main thread. It keeps its own copy of the facts, so that only changes travel. */
export interface Engine {
  /** Takes a workspace as its file's JSON, as the server or the page says it. */
  load: (workspace: unknown) => void
  /** Applies changes in order. @throws ModelError */
  apply: (changes: readonly Change[]) => void
  /** What the page shows: what has changed of the picture and of the findings since they were last read, and the notes beside them. */
  read: (asked: Asked) => Promise<Reading>
  /** What an action would change, of the notation of the view. */
  act: (action: string, wanted: Wanted) => Promise<Outcome>
  /** What pulling a handle of the selected item would change. */
  pull: (pull: Pull, wanted: Wanted) => Promise<Outcome>
  /** What pulling it as little as changes anything would; undefined where nothing does. */
  nudge: (nudge: Nudge, wanted: Wanted) => Promise<Outcome | undefined>
  /** What the columns of a register say that are reckoned. */
  reckoned: (register: string, view: Id, day: Day) => Promise<Reckoned | undefined>
  /** A register with its heading, cell by cell. */
  cells: (register: string, view: Id, day: Day) => Promise<readonly (readonly (string | number)[])[]>
  /** What can be asked of it besides pictures and findings. */
  offers: () => Offers
  /** A typed list drawn as SVG, or why it cannot be; undefined for an empty one. Read as what it looks like unless it is said. */
  drawList: (list: string, day: Day, as?: string) => DrawnList | Refusal | undefined
  /** A view of other facts, as their file's JSON: its first unless another is named. */
  drawOther: (workspace: unknown, view: Id | undefined, day: Day) => Promise<Scene | undefined>
  /** How the facts would look in a new view: of one picture, or as a starter begins them; undefined where that is too much to be previewed. */
  preview: (asked: NewView, day: Day) => Promise<Scene | undefined>
  /** How well each arrangement suits what a view shows, the best first. */
  suiting: (view: Id, day: Day) => readonly Suiting[]
  /** A view in other arrangements, each as SVG, or why it cannot be drawn. */
  arranged: (view: Id, pictures: readonly string[], day: Day) => readonly Arranged[]
  /** A view in the sizes of type that a theme has; undefined for what is not there or too large to be previewed. */
  themed: (view: Id, type: number, day: Day) => Scene | undefined
  /** What the page shows, in another look: on a paper, or on none. */
  drawnIn: (asked: Asked, look: View['look']) => Promise<Scene | undefined>
  /** The facts that pictures of some views may carry; with the pictures that are handed in. */
  carried: (views: readonly Id[], day: Day, pictures?: Readonly<Record<string, string>>) => Carried
  /** The text of a workspace file that a picture carries, or that a file is; undefined where it carries none. */
  factsIn: (file: ChosenFile) => string | undefined | Refusal
  /** How the facts that a picture brings back stand to those here; undefined where they are of somewhere else. */
  broughtBack: (text: string, day: Day) => BroughtBack | Refusal | undefined
  /** What a starter adds to the facts, and the view that shows it. */
  addStarter: (notation: string, starter: string, day: Day) => Done | Refusal
  /** The facts that a view draws, or some, with all that they name, as the text of a workspace file; with the pictures that are handed in. */
  portion: (view: Id | undefined, ids: readonly Id[], day: Day, pictures?: Readonly<Record<string, string>>) => Portion
  /** What a workspace file’s text adds to the facts. */
  bring: (text: string) => BroughtText | Refusal
  /** What beginning once more with the facts of a view adds. */
  repeat: (view: Id, day: Day) => Done | Refusal
  /** A file of one of the formats that the notation of a view writes. */
  write: (view: Id, format: string, day: Day) => Promise<string | undefined>
  /** An earlier state of the facts, as its file's JSON, that pictures are compared with from now on; without one they are not. */
  against: (workspace: unknown) => void
  /** A change that pictures are drawn with from now on, compared with the facts without it; without one they are not. */
  propose: (change: Change | undefined) => void
  /** What a change would come to on a day, or why it can no longer be made. */
  judge: (change: Change, day: Day) => Promise<Judged>
  /** A sheet of numbers on a day, by `notation/sheet`. */
  numbers: (path: string, day: Day) => Promise<readonly SheetRow[]>
  /** The facts that a row of a sheet counts. */
  counted: (path: string, day: Day, row: SheetRow) => Promise<readonly Id[]>
  /** What a view answers to one of its questions. */
  ask: (view: Id, trial: string, day: Day, values: Readonly<Record<string, string>>) => Promise<TrialAnswer | Refusal>
  /** The errors that a change would add. */
  newErrors: (change: Change, day: Day) => Promise<Finding[]>
  /** What mending these findings of a rule, known by their keys, would come to. */
  mendAll: (rule: string, keys: readonly string[], day: Day) => Promise<Done | Refusal>
  /** Takes a file as the table to be brought in, for the sort of table that the view’s notation takes. */
  readTable: (view: Id, sort: string, file: ChosenFile) => Promise<TableSketch | Refusal>
  /** Takes a table that is one already. */
  takeTable: (view: Id, sort: string, table: Table) => TableSketch | Refusal
  /** How the columns of the table taken are read, each as what it is mapped to. */
  understand: (columns: MappedColumns) => readonly (Understood | undefined)[]
  /** What bringing the table taken in would do, with the errors that it would add. */
  planImport: (
    request: ImportRequest,
    onPhase?: (phase: string) => void,
  ) => Promise<{ plan: ImportPlan; errors: Finding[] } | undefined>
  /** A file that is read as a whole, such as a process or a calendar. */
  readFile: (view: Id, day: Day, sort: string, file: ChosenFile) => Promise<ImportedFile | Refusal>
}

/** A wish as it travels: the worker has the facts. */
export interface Wanted extends Pick<Wish, 'day' | 'selection' | 'target' | 'alone'> {
  readonly view: Id
  /** Another picture than the view’s own, where that is looked at. */
  readonly picture?: string
}

/** A handle that is pulled by a key: from where, and to the left or to the right. */
export interface Nudge extends Pick<Pull, 'handle' | 'box'> {
  readonly from: Point
  readonly towards: -1 | 1
}

/** What the reckoned columns of a register say, each by its id, row by row. */
export interface Reckoned {
  readonly rows: readonly Id[]
  readonly columns: Readonly<Record<string, readonly (string | number | undefined)[]>>
}

/** A part of the facts as a text. */
export interface Portion {
  readonly text: string
  readonly facts: number
  /** The pictures that it names. */
  readonly pictures: readonly string[]
}

/** Facts as the text of a workspace file, and how many of which kinds they are. */
export interface Carried {
  readonly text: string
  readonly pictures: readonly string[]
  /** What they are, by name. */
  readonly along: readonly Along[]
}

/** A picture of a view here, with what is otherwise now. */
export interface BroughtBack {
  readonly view: Id
  readonly title: string
  readonly told: readonly Told[]
}

/** What a change would change, which errors it would add, and which it would mend. */
export type Judged =
  { readonly told: readonly Told[]; readonly added: readonly Finding[]; readonly mended: readonly Finding[] } | Refusal

/** What a text brings, and the pictures that it brings along. */
export interface BroughtText extends Brought {
  readonly pictures: Readonly<Record<string, string>>
}

/** A view that somebody might make: one that is there again, a picture of the facts, or a starter. */
export interface NewView {
  readonly view?: string
  readonly notation: string
  readonly picture?: string
  readonly starter?: string
}

/** An arrangement, how well it suits, from 0 to 1, and why. */
export interface Suiting extends Suits {
  readonly picture: string
}

export interface Arranged {
  readonly picture: string
  readonly svg?: string
  readonly failure?: string
}

/** A list as it was read and drawn, and all that it may be read as. */
export interface DrawnList {
  readonly svg: string
  readonly as: string
  readonly ways: readonly ListWay[]
}

/** A file as it was chosen: nothing of it is trusted, and reading it may be stopped at any moment. */
export interface ChosenFile {
  readonly name: string
  readonly bytes: ArrayBuffer
}

/** As much of a table as is shown of it, and what its columns seem to be. */
export interface TableSketch {
  readonly heading: readonly string[]
  readonly rows: readonly (readonly string[])[]
  readonly count: number
  readonly notes: readonly string[]
  readonly mapping: readonly (string | undefined)[]
}

/** What each column of a table is, and in which way somebody wants its cells to be read. */
export interface MappedColumns {
  readonly mapping: readonly (string | undefined)[]
  readonly ways: readonly (string | undefined)[]
}

export interface ImportRequest extends MappedColumns {
  readonly view: Id
  readonly day: Day
  readonly options: ImportOptions
}
