import { apply, ModelError, type Change, type Model } from '../../core/model'
import { ApiError, ask, type SharedChange, type Sides } from './api'
import { keep, type Pending } from './outbox'

/** How the page stands with the server. */
export type Standing = 'saved' | 'saving' | 'waiting'

export interface Trouble {
  readonly message: string
  readonly waiting: number
}

export interface ClashReport {
  readonly pending: Pending
  readonly sides: Sides | undefined
  readonly message: string
  /** Whether it can still be made on top of what the others did. */
  readonly fits: boolean
}

export interface SyncListener {
  /** The facts have changed from outside. `news` alone leads to them, unless changes of our own lie on top of it (`rebased`). */
  readonly onFacts: (model: Model, news: SharedChange | undefined, rebased: boolean) => void
  readonly onStanding: (standing: Standing, trouble: Trouble | undefined) => void
  readonly onClash: (clash: ClashReport) => void
}

const LOST = 'The server does not answer.'
const HOLD_MS = 350
const LISTEN_AGAIN_MS = 1500
const RETRY_MS = [500, 1000, 2000, 4000]

/**
 * Keeps a workspace in step with the server: changes made here are shown at once and sent one after another; those of others
 * are put beneath the ones not yet confirmed. Nothing that is on the screen is dropped without the person saying so.
 */
export class Sync {
  #confirmed: Model
  #revision: number
  #pending: Pending[] = []
  #inFlight = false
  #blocked = false
  #failures = 0
  #trouble: string | undefined
  #timer: ReturnType<typeof setTimeout> | undefined
  #again: ReturnType<typeof setTimeout> | undefined
  #events: EventSource | undefined
  #coalescing: string | undefined
  #fetching: Promise<void> | undefined

  constructor(
    private readonly workspace: string,
    loaded: { readonly revision: number; readonly model: Model },
    private readonly author: string,
    private readonly listener: SyncListener,
  ) {
    this.#confirmed = loaded.model
    this.#revision = loaded.revision
  }

  get revision(): number {
    return this.#revision
  }

  listen(): void {
    const events = new EventSource(`/api/workspaces/${this.workspace}/events?since=${this.#revision}`)
    this.#events = events
    events.addEventListener('change', (event) =>
      this.#hear(JSON.parse((event as MessageEvent<string>).data) as SharedChange),
    )
    events.addEventListener('trouble', () => this.#setTrouble('The database does not answer.'))
    events.addEventListener('well', () => this.#recover())
    events.addEventListener('open', () => {
      if (this.#trouble === LOST) this.#recover()
    })
    events.addEventListener('error', () => {
      this.#setTrouble(LOST)
      // Refused with a status, a browser does not try again by itself.
      if (events.readyState === EventSource.CLOSED) this.#again = setTimeout(() => this.listen(), LISTEN_AGAIN_MS)
    })
  }

  close(): void {
    this.#events?.close()
    clearTimeout(this.#timer)
    clearTimeout(this.#again)
  }

  /** Takes a change that is on the screen already. Changes of one `coalesce` key that follow each other are sent as one. */
  add(change: Change, join: (earlier: Change, later: Change) => Change, coalesce?: string): void {
    const last = this.#pending.at(-1)
    const lastIsFree = last !== undefined && !(this.#inFlight && this.#pending.length === 1)
    if (coalesce !== undefined && coalesce === this.#coalescing && lastIsFree)
      this.#pending[this.#pending.length - 1] = { ...join(last, change), id: last.id }
    else this.#pending.push({ ...change, id: crypto.randomUUID() })
    this.#coalescing = coalesce
    this.#save()
    this.#schedule(coalesce === undefined ? 0 : HOLD_MS)
  }

  /** After a clash: sends the change once more on top of what the others did, or drops it. */
  settle(change: Pending, choice: 'send' | 'drop'): void {
    this.#blocked = false
    const others = this.#pending.filter(({ id }) => id !== change.id)
    this.#showAgain(choice === 'drop' ? others : [change, ...others], undefined)
    this.#schedule(0)
  }

  #schedule(ms: number): void {
    this.#tell()
    if (this.#inFlight || this.#blocked || this.#pending.length === 0) return
    clearTimeout(this.#timer)
    this.#timer = setTimeout(() => void this.#send(), ms)
  }

  async #send(): Promise<void> {
    const [first] = this.#pending
    if (!first || this.#inFlight || this.#blocked) return
    this.#inFlight = true
    this.#tell()
    try {
      const { revision } = await ask<{ revision: number }>(`/api/workspaces/${this.workspace}/changes`, {
        method: 'POST',
        body: {
          id: first.id,
          base: this.#revision,
          label: first.label.slice(0, 1000),
          author: this.author,
          steps: first.steps,
        },
      })
      this.#failures = 0
      this.#trouble = undefined
      if (revision === this.#revision + 1) this.#confirm({ ...first, revision, author: this.author, at: '' })
      else if (revision > this.#revision) await this.#fetchMissing()
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      this.#fail(first, error)
    } finally {
      this.#inFlight = false
    }
    this.#schedule(this.#failures === 0 ? 0 : (RETRY_MS[Math.min(this.#failures - 1, RETRY_MS.length - 1)] ?? 4000))
  }

  #fail(pending: Pending, error: ApiError): void {
    if (error.passing) {
      this.#failures++
      this.#setTrouble(error.message)
      return
    }
    this.#blocked = true
    this.listener.onClash({ pending, sides: error.sides, message: error.message, fits: error.status === 409 })
    if (error.status === 409) void this.#fetchMissing()
  }

  /** A change heard of. Those heard already are passed over; after a gap the missing ones are fetched. */
  #hear(change: SharedChange): void {
    if (change.revision <= this.#revision) return
    if (change.revision > this.#revision + 1) void this.#fetchMissing()
    else this.#confirm(change)
  }

  #fetchMissing(): Promise<void> {
    this.#fetching ??= this.#fetchAll().finally(() => (this.#fetching = undefined))
    return this.#fetching
  }

  async #fetchAll(): Promise<void> {
    try {
      for (;;) {
        const path = `/api/workspaces/${this.workspace}/changes?since=${this.#revision}`
        const { changes } = await ask<{ changes: SharedChange[] }>(path)
        for (const change of changes) if (change.revision === this.#revision + 1) this.#confirm(change)
        if (changes.length < 1000) return
      }
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      this.#setTrouble(error.message)
    }
  }

  #confirm(change: SharedChange): void {
    const ours = this.#pending[0]?.id === change.id
    this.#confirmed = apply(this.#confirmed, change).model
    this.#revision = change.revision
    if (ours) {
      this.#pending.shift()
      if (this.#pending.length === 0) this.#coalescing = undefined
      this.#save()
      this.#tell()
    } else this.#showAgain(this.#pending, change)
  }

  /** Shows the confirmed facts with the pending changes on top of them. One that does not fit any more is reported, and kept aside. */
  #showAgain(pending: readonly Pending[], news: SharedChange | undefined): void {
    let model = this.#confirmed
    const fitting: Pending[] = []
    for (const change of pending) {
      try {
        model = apply(model, change).model
        fitting.push(change)
      } catch (error) {
        if (!(error instanceof ModelError)) throw error
        const theirs = news ? [{ label: news.label, author: news.author, at: news.at }] : []
        const sides = { ours: change.label, theirs, facts: [], revision: this.#revision }
        this.listener.onClash({ pending: change, sides, message: error.message, fits: false })
      }
    }
    this.#pending = fitting
    this.#save()
    this.listener.onFacts(model, news, pending.length > 0 || news === undefined)
    this.#tell()
  }

  #setTrouble(message: string): void {
    this.#trouble = message
    this.#tell()
  }

  #recover(): void {
    this.#trouble = undefined
    this.#failures = 0
    void this.#fetchMissing()
    this.#schedule(0)
  }

  #save(): void {
    if (!keep(this.workspace, { base: this.#revision, pending: this.#pending }))
      this.#setTrouble('This browser has no room to keep unsent changes: do not close the page until they are sent.')
  }

  #tell(): void {
    const waiting = this.#pending.length
    const trouble = this.#trouble === undefined ? undefined : { message: this.#trouble, waiting }
    this.listener.onStanding(trouble ? 'waiting' : waiting > 0 ? 'saving' : 'saved', trouble)
  }
}
