import type { Tally as Counts } from '../../core/findings/findings'

export interface Entry {
  readonly id: string
  readonly name: string
  readonly revision: number
  readonly changedAt: string
  readonly chapters: readonly string[]
  /** Absent where the facts could not be checked; `trouble` says why. */
  readonly tally?: Counts
  readonly trouble?: string
  /** It has changed since it was looked at, or was never: that is being done. */
  readonly isLookedAt?: true
}
