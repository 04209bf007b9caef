import { apply, clashes, compose, ModelError, type Change, type Model } from '../../core/model'
import { ApiError, ask, type SharedChange, type Sides } from './api'
import { keep, send, type Pending, type Refused } from './outbox'

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

interface SyncListener {
  /** The facts have changed from outside. `news` alone leads to them, unless changes of our own lie on top of it (`rebased`). */
  readonly onFacts: (model: Model, news: SharedChange | undefined, rebased: boolean) => void
  readonly onStanding: (standing: Standing, trouble: Trouble | undefined) => void
  /** The question that waits for an answer now, if any. */
  readonly onClash: (clash: ClashReport | undefined) => void
  /** What is kept aside has changed; with what fits the facts no longer, and is dropped. */
  readonly onHeld: (held: readonly Change[] | undefined, dropped: readonly Change[]) => void
  /** Something happened to the comments. */
  readonly onTalk: (talk: number) => void
}

const LOST = 'The server does not answer.'
const HOLD_MS = 350
const LISTEN_AGAIN_MS = 1500
const RETRY_MS = [500, 1000, 2000, 4000]
/** Failures of the server itself after which the person is asked. */
const PATIENCE = 5

/**
 * Keeps a workspace in step with the server: changes made here are shown at once and sent one after another; those of others
 * are put beneath the ones not yet confirmed. Nothing that is on the screen is dropped without the person saying so.
 */
export class Sync {
  #confirmed: Model
  #revision: number
  #pending: Pending[] = []
  /** Changes that lie on top of all others, are shown here alone, and are sent to nobody: what a proposal is made of. */
  #held: readonly Change[] | undefined
  #inFlight = false
  /** What cannot be made without the person’s word, the oldest first. Nothing is sent meanwhile, and all of it is kept. */
  #questions: ClashReport[] = []
  #failures = 0
  #trouble: string | undefined
  #timer: ReturnType<typeof setTimeout> | undefined
  #again: ReturnType<typeof setTimeout> | undefined
  #events: EventSource | undefined
  #coalescing: string | undefined
  #fetching: Promise<void> | undefined
  /** What others did that was heard of while a change of ours was on its way. */
  #meanwhile: SharedChange[] = []
  /** What this page made itself is no clash with what it makes on top of it: the server knows it by the writer. */
  readonly #writer = crypto.randomUUID().slice(0, 13)

  constructor(
    private readonly workspace: string,
    loaded: { readonly revision: number; readonly model: Model },
    private readonly author: () => string,
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
    events.addEventListener('talk', (event) => this.listener.onTalk(Number((event as MessageEvent<string>).data)))
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

  /** Asks about what the server refused of an earlier page's changes. */
  askAbout(refused: readonly Refused[]): void {
    for (const one of refused) this.#ask(one.pending, one.error)
  }

  /** Takes a change that is on the screen already. Changes of one `coalesce` key that follow each other are sent as one. */
  add(change: Change, coalesce?: string, takes?: string): void {
    if (this.#held) {
      const before = this.#held.at(-1)
      const joins = before !== undefined && coalesce !== undefined && coalesce === this.#coalescing
      this.#held = joins ? [...this.#held.slice(0, -1), compose(before, change)] : [...this.#held, change]
      this.#coalescing = coalesce
      this.listener.onHeld(this.#held, [])
      return
    }
    const last = this.#pending.at(-1)
    const lastIsFree = last !== undefined && !(this.#inFlight && this.#pending.length === 1)
    if (coalesce !== undefined && coalesce === this.#coalescing && lastIsFree)
      this.#pending[this.#pending.length - 1] = { ...compose(last, change), id: last.id, base: last.base }
    else this.#pending.push({ ...change, id: this.#newId(), base: this.#baseOf(change), takes })
    this.#coalescing = coalesce
    this.#askOfAll()
    this.#save()
    this.#schedule(coalesce === undefined ? 0 : HOLD_MS)
  }

  /** From now on changes are kept aside, after those that were before. */
  hold(changes: readonly Change[]): void {
    this.#held = changes
    this.#coalescing = undefined
    if (changes.length > 0) this.#showAgain(this.#pending, undefined)
    else this.listener.onHeld(changes, [])
  }

  /** Takes what was kept aside from the facts again. */
  release(): void {
    this.#held = undefined
    this.#coalescing = undefined
    this.listener.onHeld(undefined, [])
    this.#showAgain(this.#pending, undefined)
  }

  /** The facts without what is kept aside. */
  get shared(): Model {
    return this.#pending.reduce((model, change) => apply(model, change).model, this.#confirmed)
  }

  /** After a question: sends the change (once more), on top of what the others did that the question told of; or drops it. */
  settle(choice: 'send' | 'drop'): void {
    const question = this.#questions.shift()
    if (!question) return
    const { pending: change, sides } = question
    const others = this.#pending.filter(({ id }) => id !== change.id)
    const again = { ...change, base: sides?.revision ?? change.base }
    this.#failures = 0
    this.#showAgain(choice === 'drop' ? others : [again, ...others], undefined)
    this.listener.onClash(this.#questions[0])
    this.#schedule(0)
  }

  /** The revision that a change was made on: of what lies beneath it unconfirmed and is written again, the earlier one. */
  #baseOf(change: Change): number {
    const beneath = [...this.#questions.map(({ pending }) => pending), ...this.#pending]
    const again = beneath.filter(({ steps }) => clashes(steps, change.steps).length > 0)
    return Math.min(this.#revision, ...again.map(({ base }) => base))
  }

  #schedule(ms: number): void {
    this.#tell()
    if (this.#inFlight || this.#questions.length > 0 || this.#pending.length === 0) return
    clearTimeout(this.#timer)
    this.#timer = setTimeout(() => void this.#send(), ms)
  }

  async #send(): Promise<void> {
    const [first] = this.#pending
    if (!first || this.#inFlight || this.#questions.length > 0) return
    this.#inFlight = true
    this.#meanwhile = []
    this.#tell()
    try {
      const { revision } = await send(this.workspace, this.author(), first)
      this.#failures = 0
      this.#trouble = undefined
      if (revision === this.#revision + 1) this.#confirm({ ...first, revision, author: this.author(), at: '' })
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
    if (error.passing && !(error.status === 500 && this.#failures + 1 >= PATIENCE)) {
      this.#failures++
      this.#setTrouble(error.message)
      return
    }
    this.#trouble = undefined
    this.#ask(error.status === 409 ? this.#withFollowers(pending) : pending, error)
    // What was heard of before the answer came is newer than what the answer tells.
    for (const change of this.#meanwhile) this.#tellQuestions(change)
    if (error.status === 409) void this.#fetchMissing()
  }

  /** A change with those behind it that write the same facts again: what was typed in one go is one question. */
  #withFollowers(first: Pending): Pending {
    const at = this.#pending.findIndex(({ id }) => id === first.id)
    if (at < 0) return first
    let whole = first
    const others: Pending[] = []
    for (const later of this.#pending.slice(at + 1)) {
      const follows = clashes(whole.steps, later.steps).length > 0
      if (follows) whole = { ...compose(whole, later), id: this.#newId(), base: whole.base, takes: whole.takes }
      else others.push(later)
    }
    this.#pending = [...this.#pending.slice(0, at), whole, ...others]
    this.#coalescing = undefined
    return whole
  }

  /** What is typed on while a question waits to be read belongs to it, and the answer is to all of it. */
  #askOfAll(): void {
    const [question] = this.#questions
    if (!question) return
    const pending = this.#withFollowers(question.pending)
    if (pending === question.pending) return
    this.#questions[0] = { ...question, pending }
    this.listener.onClash(this.#questions[0])
  }

  #newId(): string {
    return `${this.#writer}.${crypto.randomUUID()}`
  }

  #ask(pending: Pending, error: Pick<ApiError, 'message' | 'sides' | 'status'>): void {
    const question = { pending, sides: error.sides, message: error.message, fits: error.status === 409 }
    const known = this.#questions.findIndex((one) => one.pending.id === pending.id)
    if (known < 0) this.#questions.push(question)
    else this.#questions[known] = question
    this.#save()
    this.listener.onClash(this.#questions[0])
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
    } else {
      if (this.#inFlight) this.#meanwhile.push(change)
      this.#tellQuestions(change)
      this.#showAgain(this.#pending, change)
    }
  }

  /** A question that is open tells of what others go on doing to the same facts: the answer is to all of it. */
  #tellQuestions(change: SharedChange): void {
    this.#questions = this.#questions.map((question) => {
      const { pending, sides } = question
      if (!sides || sides.revision >= change.revision) return question
      const { label, author, at } = change
      const theirs =
        clashes(pending.steps, change.steps).length > 0 ? [...sides.theirs, { label, author, at }] : sides.theirs
      return { ...question, sides: { ...sides, theirs, revision: change.revision } }
    })
    this.listener.onClash(this.#questions[0])
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
        this.#ask(change, { message: error.message, sides, status: 400 })
      }
    }
    this.#pending = fitting
    this.#save()
    model = this.#withHeld(model)
    this.listener.onFacts(model, news, pending.length > 0 || this.#held !== undefined || news === undefined)
    this.#tell()
  }

  #withHeld(model: Model): Model {
    if (!this.#held) return model
    const [fitting, dropped]: [Change[], Change[]] = [[], []]
    for (const change of this.#held)
      try {
        model = apply(model, change).model
        fitting.push(change)
      } catch (error) {
        if (!(error instanceof ModelError)) throw error
        dropped.push(change)
      }
    this.#held = fitting
    this.listener.onHeld(fitting, dropped)
    return model
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
    const sending = new Set(this.#pending.map(({ id }) => id))
    const asked = this.#questions.map(({ pending }) => pending).filter(({ id }) => !sending.has(id))
    if (!keep(this.workspace, [...asked, ...this.#pending]))
      this.#setTrouble('This browser has no room to keep unsent changes: do not close the page until they are sent.')
  }

  #tell(): void {
    const waiting = this.#pending.length
    const trouble = this.#trouble === undefined ? undefined : { message: this.#trouble, waiting }
    this.listener.onStanding(trouble ? 'waiting' : waiting > 0 ? 'saving' : 'saved', trouble)
  }
}
