/** How a work may follow another: its start or its finish after the start or the finish of the one before. */
export const LINK_TYPES = ['FS', 'SS', 'FF', 'SF'] as const
export type LinkType = (typeof LINK_TYPES)[number]

/** What binds a work to a day. */
export const CONSTRAINTS = [
  'as soon as possible',
  'start no earlier',
  'finish no later',
  'must start',
  'must finish',
] as const
export type Constraint = (typeof CONSTRAINTS)[number]

/** What an axis of time may be divided into. */
export const UNITS = ['hours', 'days', 'weeks', 'months', 'quarters', 'years', 'decades', 'centuries'] as const
export type Unit = (typeof UNITS)[number]

/** `to` follows `from`, both by index, with so many working minutes between. */
export interface Precedence {
  readonly from: number
  readonly to: number
  readonly type: LinkType
  readonly lag: number
}
