/** What a mark's colour is for; a theme says which colour that is. Categories 1 to 8 have an edge (strong) and a fill (wash), 0 is none of them. */
export type Role =
  | 'none'
  | 'sheet'
  | 'plate'
  | 'head'
  | 'ink'
  | 'ink-quiet'
  | 'line'
  | 'outline'
  | 'hairline'
  | 'warning'
  | 'error'
  | 'action'
  | 'wash'
  | 'bar'
  | 'bar-strong'
  | 'bar-done'
  | `edge-${number}`
  | `fill-${number}`

export const CATEGORIES = 8
