import type { Acceptance, FieldValue } from './facts'

/** What a `set` step writes; null clears. */
export type StepValue = FieldValue | readonly [number, number] | Acceptance | null

/** A step that does not fit the facts it meets. */
export class ModelError extends Error {
  override readonly name = 'ModelError'
  constructor(
    message: string,
    readonly code: 'missing' | 'exists' | 'bad-path',
    /** Index of the offending step within its change. */
    readonly step?: number,
  ) {
    super(message)
  }
}
