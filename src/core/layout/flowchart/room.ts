/** How far apart things stand, in px. */
export const STEP = 9
export const PAD = {
  channel: 8,
  arrow: 13,
  beside: 6,
  least: 30,
  edge: 16,
  row: 22,
  passing: 3,
  pools: 26,
  name: 4,
  corner: 5,
}
