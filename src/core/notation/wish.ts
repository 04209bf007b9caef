import type { Change, Day, Id, Model, View } from '../model'
import type { Box } from '../scene'

/** Someone's wish to change the facts, and what it needs to be carried out. The core has no clock and no dice: both are handed in. */
export interface Wish {
  readonly model: Model
  readonly view: View
  readonly day: Day
  readonly selection: readonly Id[]
  /** The other fact of a gesture or of a pick: the manager dropped on. */
  readonly target?: Id
  /** Only what was pointed at is meant, without what hangs on it. */
  readonly alone?: boolean
  readonly newId: () => Id
}

/** The change that fulfils a wish, or why it is refused, in words. */
export type Outcome = Done | Refusal
export interface Done {
  readonly change: Change
  /** Selected afterwards. */
  readonly select?: Id
  /** The view shown afterwards. */
  readonly view?: Id
  /** The part of the selected item to be typed into afterwards. */
  readonly edit?: string
  /** The change reaches further than what was pointed at: show it as facts before it is made. */
  readonly spreads?: readonly string[]
  /** What follows from it besides, as facts: shown while a drop is being thought over. */
  readonly along?: readonly string[]
  /** Where what is pulled would lie, in the scene. */
  readonly ghosts?: readonly Box[]
}
export interface Refusal {
  readonly refused: string
}
export const isRefusal = (outcome: Outcome): outcome is Refusal => 'refused' in outcome
