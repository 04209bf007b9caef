import type { TableImport, TableReader } from './import'
import type { FileExport, FileImport, NumberSheet, Starter, Trial } from './notation'
import type { Registry } from './registry'
import type { Rule } from './rule'

/** What the page knows of workings that it does not have: names, columns, endings. Plain data. */
export interface Offers {
  readonly rules: Readonly<Record<string, OfferedRule>>
  readonly notations: Readonly<Record<string, Offer>>
}

export interface OfferedRule extends Omit<Rule, 'check' | 'each' | 'reads'> {
  /** The chapter of the notation whose rule it is; absent for one about any fact. */
  readonly chapter?: string
}

/** What a notation counts, takes and writes. */
export interface Offer {
  readonly numbers: readonly OfferedSheet[]
  readonly imports: readonly OfferedImport[]
  readonly files: readonly Omit<FileImport, 'load'>[]
  readonly exports: readonly Omit<FileExport, 'write'>[]
  readonly starters: readonly Omit<Starter, 'make'>[]
  readonly trials: readonly Omit<Trial, 'ask'>[]
}

export interface OfferedSheet extends Omit<NumberSheet, 'rows' | 'counted'> {
  /** Whether a row leads to the facts that it counts. */
  readonly leads: boolean
}

export interface OfferedImport extends Omit<TableImport, 'plan' | 'readers'> {
  readonly readers: readonly Omit<TableReader, 'read' | 'recognises'>[]
}

/** O(rules + notations). */
export const offersOf = (registry: Registry): Offers => ({
  rules: Object.fromEntries(
    [...registry.rules].map(([id, { check: _, each: __, reads: ___, ...told }]): [string, OfferedRule] => {
      const chapter = registry.notations.find(({ rules }) => rules.some((rule) => rule.id === id))?.chapter
      return [id, chapter === undefined ? told : { ...told, chapter }]
    }),
  ),
  notations: Object.fromEntries(
    registry.notations.map(({ id, numbers, imports, files, exports, starters, trials = [] }): [string, Offer] => [
      id,
      {
        numbers: numbers.map(({ rows: _, counted, ...told }) => ({ ...told, leads: counted !== undefined })),
        imports: imports.map(({ plan: _, readers, ...told }) => ({
          ...told,
          readers: readers.map(({ read: __, recognises: ___, ...reader }) => reader),
        })),
        files: files.map(({ load: _, ...told }) => told),
        exports: exports.map(({ write: _, ...told }) => told),
        starters: starters.map(({ make: _, ...told }) => told),
        trials: trials.map(({ ask: _, ...told }) => told),
      },
    ]),
  ),
})
