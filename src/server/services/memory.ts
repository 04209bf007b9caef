import type { Tally } from '../../core/findings'
import type { Day, Model } from '../../core/model'

export interface Snapshot {
  readonly id: string
  readonly revision: number
  readonly model: Model
}

/** What was found in a workspace at a revision on a day. */
export interface Summary {
  readonly revision: number
  readonly day: Day
  readonly chapters: readonly string[]
  /** Absent where it could not be found out; `trouble` says why. */
  readonly tally?: Tally
  readonly trouble?: string
}

const MOST_SNAPSHOTS = 12
const MOST_SUMMARIES = 1000

/** What a server has seen of workspaces lately. All of it can be read or computed again from the database, and none of it outlives its revision. */
export class Memory {
  readonly #snapshots = new Recent<Snapshot>(MOST_SNAPSHOTS)
  readonly #summaries = new Recent<Summary>(MOST_SUMMARIES)

  snapshot(id: string, revision: number): Snapshot | undefined {
    const known = this.#snapshots.get(id)
    return known?.revision === revision ? known : undefined
  }

  remember(snapshot: Snapshot): void {
    this.#snapshots.set(snapshot.id, snapshot)
  }

  summary(id: string, revision: number, day: Day): Summary | undefined {
    const known = this.#summaries.get(id)
    return known?.revision === revision && known.day === day ? known : undefined
  }

  summarise(id: string, summary: Summary): void {
    this.#summaries.set(id, summary)
  }

  forget(id: string): void {
    this.#snapshots.delete(id)
    this.#summaries.delete(id)
  }
}

/** A map that keeps the entries set last. */
class Recent<T> {
  readonly #entries = new Map<string, T>()
  constructor(private readonly most: number) {}

  get(id: string): T | undefined {
    return this.#entries.get(id)
  }

  set(id: string, entry: T): void {
    this.#entries.delete(id)
    this.#entries.set(id, entry)
    const [oldest] = this.#entries.keys()
    if (this.#entries.size > this.most && oldest !== undefined) this.#entries.delete(oldest)
  }

  delete(id: string): void {
    this.#entries.delete(id)
  }
}
