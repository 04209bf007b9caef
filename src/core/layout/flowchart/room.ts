/** How far apart things stand, in px, at a spacing of 1. */
export const PAD = {
  arrow: 13,
  edge: 16,
  passing: 3,
  pools: 26,
  name: 4,
  corner: 5,
}

/** What grows and shrinks with the spacing, and never below what keeps lines and arrowheads apart. */
export interface Room {
  /** From one line of a channel to the next. */
  readonly step: number
  readonly channel: number
  readonly beside: number
  readonly least: number
  readonly row: number
  readonly outer: number
  readonly inner: number
}

export const roomAt = (spacing = 1): Room => ({
  step: Math.min(12, Math.max(6, Math.round(9 * spacing))),
  channel: Math.max(5, Math.round(8 * spacing)),
  beside: Math.max(5, Math.round(6 * spacing)),
  least: Math.max(20, Math.round(30 * spacing)),
  row: Math.max(12, Math.round(22 * spacing)),
  outer: Math.max(7, Math.round(10 * spacing)),
  inner: Math.max(8, Math.round(14 * spacing)),
})
