import type { Day } from './day'
import type { Id } from './ids'

/** What a field can hold. Text is plain, never markup. Fields without a value are absent. */
export type FieldValue = string | number | boolean | readonly string[]
export type Fields = Readonly<Record<string, FieldValue>>

/** A thing that is: a person, a position, a step, a device. */
export interface Entity {
  readonly id: Id
  readonly kind: string
  readonly name: string
  readonly fields: Fields
  readonly from?: Day
  readonly to?: Day
}

/** A directed tie between two entities: `source` reports to `target`, `source` holds `target`. */
export interface Relation {
  readonly id: Id
  readonly kind: string
  readonly source: Id
  readonly target: Id
  readonly fields: Fields
  readonly from?: Day
  readonly to?: Day
}

/** One picture of the facts, as somebody chose it. `order` is its place among the views of its chapter. */
export interface View {
  readonly id: Id
  readonly notation: string
  readonly picture: string
  readonly title: string
  readonly caption?: string
  readonly alt?: string
  readonly order: number
  /** What is shown, for example `{ root: 'p1' }`: read by the picture. */
  readonly scope: Fields
  /** How it is shown: read by the picture. */
  readonly options: Fields
  /** Manual nudges by fact, in px from the computed place. */
  readonly pins: Readonly<Record<string, readonly [number, number]>>
  readonly look: Fields
}

/** A finding that somebody has looked at and lets stand, with the reason, and until when. */
export interface Acceptance {
  readonly reason: string
  readonly until?: Day
}

/** The workspace's own choices. A threshold belongs to the rule of that id, an acceptance to a finding by its key. */
export interface Settings {
  readonly thresholds: Readonly<Record<string, number>>
  readonly accepted: Readonly<Record<string, Acceptance>>
  /** How views look that say nothing of their own: `theme`, `tone`. */
  readonly look?: Readonly<Record<string, string>>
  /** Themes of one’s own, by id: a title, house colours, and what else is said of them. */
  readonly themes?: Readonly<Record<string, readonly string[]>>
}
