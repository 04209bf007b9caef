import type { Change, Id } from '../model'
import type { Wish } from './notation'

/** A column that a table may have, and the headings by which it is known, in lower case. */
export interface ImportColumn {
  readonly id: string
  readonly label: string
  readonly headings: readonly string[]
}

/** A row of a table, its cells by the column they were mapped to. `number` is its line in the table, the heading being 1. */
export interface ImportRow {
  readonly number: number
  readonly cells: Readonly<Record<string, string>>
}

export interface RowFault {
  readonly row: number
  readonly column: string
  readonly message: string
}

/** What bringing a table in would do. Nothing is written until its change is made. */
export interface ImportPlan {
  /** Empty steps when the facts are as the table says already. */
  readonly change: Change
  readonly faults: readonly RowFault[]
  readonly added: readonly string[]
  readonly altered: readonly string[]
  /** What an earlier import brought and this table does not have. */
  readonly gone: readonly { readonly id: Id; readonly name: string }[]
}

export interface ImportOptions {
  /** Rows with a fault are left out, instead of stopping the import. */
  readonly leaveOutFaulty: boolean
  /** What the table no longer has ends on the day shown. */
  readonly endGone: boolean
}

/** A sort of table that a notation takes: which columns it knows, and what a table would change. */
export interface TableImport {
  readonly id: string
  readonly title: string
  readonly columns: readonly ImportColumn[]
  readonly plan: (wish: Wish, rows: readonly ImportRow[], options: ImportOptions) => ImportPlan
}
