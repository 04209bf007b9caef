import type { Day, Model } from '../../core/model'
import type { ReaderPage } from '../draw/reader'
import type { ReaderRow } from '../repositories/readers'
import { Joined } from './joined'
import { Kept } from './kept'

export interface Snapshot {
  readonly id: string
  readonly revision: number
  /** The mark of this state: another of the same revision has another one. */
  readonly lineage: string
  readonly model: Model
}

/** What is to be read at an address, told apart without reading a fact. */
export interface AskedPage {
  readonly row: ReaderRow
  readonly day: Day
  /** The same for what reads the same: a state of the facts on a day, and which view is asked for. */
  readonly key: string
}

/** A page to read as it is sent: written and packed once, however many read it. */
export interface SentPage {
  readonly status: number
  readonly headers: Readonly<Record<string, string>>
  readonly body: Buffer
}

/** Facts of all that is remembered; one workspace that has more is remembered alone. */
const MOST_FACTS = 120_000
/** Characters of what readers were answered. */
const MOST_READ = 8_000_000
/** Bytes of pages as they are sent. */
const MOST_SENT = 24_000_000

/** What a server has seen of workspaces lately. All of it can be read or computed again from the database, and none of it outlives its revision. */
export class Memory {
  readonly #snapshots = new Recent<Snapshot>(
    MOST_FACTS,
    ({ model }) => model.entities.size + model.relations.size + model.views.size + 1,
  )
  /** Views as readers have read them, and as feeds tell them: each drawn once for a revision and a day. */
  readonly pages = new Kept<ReaderPage>(MOST_READ, ({ svg }) => svg.length + 2000)
  readonly lookUps = new Joined<AskedPage>()
  /** The pages around them, as they are sent; one that is no page is not kept. */
  readonly sent = new Kept<SentPage>(MOST_SENT, ({ status, body }) => (status === 200 ? body.length + 2000 : Infinity))
  readonly feeds = new Kept<string>(MOST_READ / 4, ({ length }) => length)

  snapshot({ id, revision, lineage }: Pick<Snapshot, 'id' | 'revision' | 'lineage'>): Snapshot | undefined {
    const known = this.#snapshots.get(id)
    return known?.revision === revision && known.lineage === lineage ? known : undefined
  }

  remember(snapshot: Snapshot): void {
    this.#snapshots.set(snapshot.id, snapshot)
  }

  forget(id: string): void {
    this.#snapshots.delete(id)
  }
}

/** A map that keeps the entries used last, as far as they fit; that set last it keeps however large it is. */
class Recent<T> {
  readonly #entries = new Map<string, T>()
  #size = 0
  constructor(
    private readonly most: number,
    private readonly sizeOf: (entry: T) => number,
  ) {}

  get(id: string): T | undefined {
    const entry = this.#entries.get(id)
    if (entry === undefined) return undefined
    this.#entries.delete(id)
    this.#entries.set(id, entry)
    return entry
  }

  set(id: string, entry: T): void {
    this.delete(id)
    this.#entries.set(id, entry)
    this.#size += this.sizeOf(entry)
    for (const oldest of this.#entries.keys()) {
      if (this.#size <= this.most || oldest === id) return
      this.delete(oldest)
    }
  }

  delete(id: string): void {
    const entry = this.#entries.get(id)
    if (entry === undefined) return
    this.#entries.delete(id)
    this.#size -= this.sizeOf(entry)
  }
}
