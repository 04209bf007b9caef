import type { SheetRow } from '../../core/notation'

/** A row of a sheet on the day shown and, where two days are compared, on the other one. */
export interface Pair {
  readonly key: string
  readonly label: string
  readonly now: SheetRow | undefined
  readonly then: SheetRow | undefined
}
