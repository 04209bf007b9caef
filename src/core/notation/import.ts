import type { Change, FieldValue, Id } from '../model'
import { readEntry } from './entry'
import type { Field } from './kind'
import type { Refusal, Wish } from './wish'

/** Cells under a heading, as read from a file or the clipboard. */
export interface Table {
  readonly heading: readonly string[]
  readonly rows: readonly (readonly string[])[]
  /** What was left out while it was read, in words. */
  readonly notes?: readonly string[]
  /** Its cells come of a workbook, which knows numbers and days from words. */
  readonly typed?: true
}

/** A file of another open format, read into a table that then goes the way of all tables. */
export interface TableReader {
  readonly id: string
  readonly title: string
  /** File name extensions with their dot. */
  readonly extensions: readonly string[]
  /** It reads what another program answers that is asked: the staff directory, or the devices of the network. */
  readonly asked?: 'directory' | 'network'
  readonly read: (text: string) => Table | Refusal
  /** Whether a text whose name tells nothing looks like it. */
  readonly recognises?: (text: string) => boolean
}

/** A column that a table may have, and the headings by which it is known, in lower case. */
export interface ImportColumn {
  readonly id: string
  readonly label: string
  readonly headings: readonly string[]
  /** What its cells say, if they are no words; they are handed on as a field of that sort writes them. */
  readonly says?: 'day' | 'moment' | 'number' | 'flag' | 'person'
  /** Between which a number makes sense. */
  readonly range?: { readonly min?: number; readonly max?: number }
  /** Words for yes and no besides the usual, in lower case. */
  readonly words?: { readonly yes: readonly string[]; readonly no: readonly string[] }
  /** The column whose people it names, so that both are read alike. */
  readonly like?: string
}

/** A row of a table, its cells by the column they were mapped to. `number` is its line in the table, the heading being 1. */
export interface ImportRow {
  readonly number: number
  readonly cells: Readonly<Record<string, string>>
  /** Cells as they stood in the table, where they were read as something else. */
  readonly stood?: Readonly<Record<string, string>>
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
  /** Put before the identities of what is new, so that two sources do not take each other's for their own. */
  readonly source?: string
}

/** A sort of table that a notation takes: which columns it knows, and what a table would change. */
export interface TableImport {
  readonly id: string
  readonly title: string
  readonly columns: readonly ImportColumn[]
  /** Other formats that it reads besides tables. */
  readonly readers: readonly TableReader[]
  readonly plan: (wish: Wish, rows: readonly ImportRow[], options: ImportOptions) => ImportPlan
}

/** Says what is at fault with a column of a row. */
export type FaultAt = (row: number, column: string, message: string) => void

/** Rows as they were read, with what was at fault in all of them, and which of those read last still are. */
export interface ReadRows<T> {
  readonly read: T
  readonly faults: readonly RowFault[]
  readonly bad: ReadonlySet<number>
}

/** Reads rows; with faulty ones left out again until none of the others is at fault, for leaving one out may leave others without what they name. */
export function readRows<T>(
  rows: readonly ImportRow[],
  { leaveOutFaulty }: Pick<ImportOptions, 'leaveOutFaulty'>,
  read: (rows: readonly ImportRow[], fault: FaultAt) => T,
): ReadRows<T> {
  const faults: RowFault[] = []
  for (let kept = rows; ;) {
    const before = faults.length
    const answer = read(kept, (row, column, message) => void faults.push({ row, column, message }))
    const bad = new Set(faults.slice(before).map(({ row }) => row))
    if (bad.size === 0 || !leaveOutFaulty) return { read: answer, faults, bad }
    kept = kept.filter(({ number }) => !bad.has(number))
  }
}

/** A cell read as a field's value; what cannot be read is a fault, and an empty cell says nothing. */
export function readCell(
  field: Pick<Field, 'label' | 'type' | 'choices' | 'min' | 'max'>,
  text: string | undefined,
  fault: (column: string, message: string) => void,
): FieldValue | undefined {
  const entry = readEntry(field, text ?? '')
  if ('refused' in entry) return void fault(field.label, entry.refused)
  return (entry.value ?? undefined) as FieldValue | undefined
}

/** A text as a part of an identity. */
export const asKey = (text: string): string => text.toLowerCase().replace(/[^\w.-]+/g, '-')
