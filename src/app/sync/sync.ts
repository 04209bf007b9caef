import { trustedWorkspace } from '../../core/file'
import { apply, clashes, compose, ModelError, type Change, type Model } from '../../core/model'
import { ApiError, ask, type LoadedWorkspace, type SharedChange, type Sides } from './api'
import { wayFrom } from './astray'
import { listenTo } from './line'
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
  /** The server has read it and not made it; else it may have been made. */
  readonly isJudged: boolean
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
/** Whoever types on without a pause is heard by the others this often all the same. */
const MOST_HOLD_MS = 1500
const FETCH_AGAIN_MS = 1500
const FULL = 'This browser has no room to keep unsent changes: do not close the page until they are sent.'
/** So many of the last changes are known by their marks, and may be brought back when the server has lost them. */
const MOST_HEARD = 200
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
  /** The marks of states that this page has seen, by revision. */
  #lineages: Map<number, string>
  /** The last changes that the confirmed facts were made by. */
  #heard: SharedChange[] = []
  #pending: Pending[] = []
  /** Changes that lie on top of all others, are shown here alone, and are sent to nobody: what a proposal is made of. */
  #held: readonly Change[] | undefined
  #inFlight = false
  /** What cannot be made without the person’s word, the oldest first. Nothing is sent meanwhile, and all of it is kept. */
  #questions: ClashReport[] = []
  #failures = 0
  #trouble: string | undefined
  #timer: ReturnType<typeof setTimeout> | undefined
  #deafen: (() => void) | undefined
  #coalescing: string | undefined
  /** Since when changes wait for a pause. */
  #holding: number | undefined
  #fetching: Promise<void> | undefined
  #finding: Promise<void> | undefined
  #missing: ReturnType<typeof setTimeout> | undefined
  /** What others did that was heard of while a change of ours was on its way. */
  #meanwhile: SharedChange[] = []
  /** What this page made itself is no clash with what it makes on top of it: the server knows it by what nobody else knows. */
  readonly #writer = crypto.randomUUID()

  constructor(
    private readonly workspace: string,
    loaded: { readonly revision: number; readonly lineage: string; readonly model: Model },
    private readonly author: () => string,
    private readonly listener: SyncListener,
  ) {
    this.#confirmed = loaded.model
    this.#revision = loaded.revision
    this.#lineages = new Map([[loaded.revision, loaded.lineage]])
  }

  get revision(): number {
    return this.#revision
  }

  listen(): void {
    this.#deafen?.()
    const since = () => ({ revision: this.#revision, lineage: this.#lineages.get(this.#revision) ?? '' })
    this.#deafen = listenTo(this.workspace, since, {
      onChange: (change) => this.#hear(change),
      onTalk: this.listener.onTalk,
      onAstray: () => void this.#findWay(),
      onTrouble: () => this.#setTrouble('The database does not answer.'),
      onWell: () => this.#recover(),
      // A server that has no database says so after that.
      onOpen: () => {
        if (this.#trouble !== undefined) this.#recover()
      },
      onCut: () => this.#setTrouble(LOST),
    })
  }

  close(): void {
    this.#deafen?.()
    clearTimeout(this.#timer)
    clearTimeout(this.#missing)
  }

  /** Asks about what the server refused of an earlier page's changes. */
  askAbout(refused: readonly Refused[]): void {
    for (const { pending, error } of refused) {
      const { message, status, isJudged } = error
      const sides = { ours: pending.label, theirs: [], facts: [], revision: this.#revision }
      this.#ask(pending, error.isAstray ? { message, status, isJudged, sides } : error)
    }
  }

  /**
   * Takes a change that is on the screen already, made by who saw the facts as they were at the revision `seen`. Changes of one `coalesce` key that
   * follow each other are sent as one, until they have been on their way.
   */
  add(change: Change, coalesce?: string, takes?: string, seen = this.#revision): void {
    if (this.#held) {
      const before = this.#held.at(-1)
      const joins = before !== undefined && coalesce !== undefined && coalesce === this.#coalescing
      this.#held = joins ? [...this.#held.slice(0, -1), compose(before, change)] : [...this.#held, change]
      this.#coalescing = coalesce
      this.listener.onHeld(this.#held, [])
      return
    }
    const last = this.#pending.at(-1)
    if (coalesce !== undefined && coalesce === this.#coalescing && last && !last.sent)
      this.#pending[this.#pending.length - 1] = { ...last, ...compose(last, change) }
    else this.#pending.push(this.#pendingOf(change, Math.min(seen, this.#baseOf(change)), takes))
    this.#coalescing = coalesce
    this.#askOfAll()
    this.#save()
    this.#holding ??= performance.now()
    const left = this.#holding + MOST_HOLD_MS - performance.now()
    this.#schedule(coalesce === undefined ? 0 : Math.max(0, Math.min(HOLD_MS, left)))
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
    const base = sides?.revision ?? change.base
    // What was refused is another change from now on; what may have been made is sent as it was.
    const again = question.isJudged ? this.#pendingOf(change, base, change.takes) : change
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

  #pendingOf({ label, steps }: Change, base: number, takes: string | undefined): Pending {
    return {
      label,
      steps,
      id: crypto.randomUUID(),
      base,
      lineage: this.#lineages.get(base),
      writer: this.#writer,
      takes,
    }
  }

  #schedule(ms: number): void {
    this.#tell()
    if (this.#inFlight || this.#questions.length > 0 || this.#pending.length === 0) return
    clearTimeout(this.#timer)
    this.#timer = setTimeout(() => void this.#send(), ms)
  }

  async #send(): Promise<void> {
    const [next] = this.#pending
    if (!next || this.#inFlight || this.#questions.length > 0) return
    this.#holding = undefined
    // From now on the server may have it: what is typed on is another change.
    const first: Pending = { ...next, sent: true }
    this.#pending[0] = first
    this.#save()
    this.#inFlight = true
    this.#meanwhile = []
    this.#tell()
    try {
      const { revision, lineage } = await send(this.workspace, this.author(), first)
      this.#failures = 0
      this.#trouble = undefined
      if (revision === this.#revision + 1) this.#confirm({ ...first, revision, lineage, author: this.author(), at: '' })
      else if (revision > this.#revision) await this.#fetchMissing()
      // It was made before, and heard of.
      else if (this.#pending[0]?.id === first.id) this.#drop(first.id)
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      if (error.isAstray) await this.#findWay()
      else this.#fail(first, error)
    } finally {
      this.#inFlight = false
    }
    this.#schedule(this.#failures === 0 ? 0 : (RETRY_MS[Math.min(this.#failures - 1, RETRY_MS.length - 1)] ?? 4000))
  }

  #fail(pending: Pending, error: ApiError): void {
    // It was made, and heard of, before the word that it failed: then it has not.
    if (!this.#pending.some(({ id }) => id === pending.id)) return
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
      if (follows) whole = this.#pendingOf(compose(whole, later), whole.base, whole.takes)
      else others.push(later)
    }
    this.#pending = [...this.#pending.slice(0, at), whole, ...others]
    this.#coalescing = undefined
    return whole
  }

  /** What is typed on while a question waits to be read belongs to it, and the answer is to all of it. */
  #askOfAll(): void {
    const [question] = this.#questions
    // What may have been made stays as it was sent.
    if (!question?.isJudged) return
    const pending = this.#withFollowers(question.pending)
    if (pending === question.pending) return
    this.#questions[0] = { ...question, pending }
    this.listener.onClash(this.#questions[0])
  }

  #ask(pending: Pending, error: Pick<ApiError, 'message' | 'sides' | 'status' | 'isJudged'>): void {
    const { sides, message, isJudged } = error
    const question = { pending, sides, message, fits: error.status === 409, isJudged }
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
        const on = this.#lineages.get(this.#revision) ?? ''
        const path = `/api/workspaces/${this.workspace}/changes?since=${this.#revision}&on=${on}`
        const { changes } = await ask<{ changes: SharedChange[] }>(path)
        for (const change of changes) if (change.revision === this.#revision + 1) this.#confirm(change)
        if (changes.length < 1000) break
      }
      // What could not be sent, or kept, is trouble still.
      if (this.#failures === 0 && this.#trouble !== FULL) this.#setTrouble(undefined)
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      if (error.isAstray) return this.#findWay()
      this.#setTrouble(error.message)
      // What was missed is asked for until it is there.
      if (error.passing) this.#missing = setTimeout(() => void this.#fetchMissing(), FETCH_AGAIN_MS)
    }
  }

  /**
   * The server does not have the facts that this page knows: after a failure its last changes are undone, and others may have been made since. Reads what it
   * has; what was lost is brought back if the person says so, and what is not sent yet is asked about where it touches any of that.
   */
  #findWay(): Promise<void> {
    this.#finding ??= this.#findAll().finally(() => (this.#finding = undefined))
    return this.#finding
  }

  async #findAll(): Promise<void> {
    try {
      const path = `/api/workspaces/${this.workspace}`
      const { revision, lineage, workspace } = await ask<LoadedWorkspace>(path)
      const { entries } = await ask<{ entries: Omit<SharedChange, 'steps'>[] }>(`${path}/history`)
      const known = { lineages: this.#lineages, heard: this.#heard, pending: this.#pending }
      const { lost, free, doubtful } = wayFrom(known, entries)
      const onTop = (one: Pending): Pending => ({ ...one, base: revision, lineage })
      this.#confirmed = trustedWorkspace(workspace)
      this.#revision = revision
      this.#lineages = new Map([[revision, lineage]])
      this.#heard = []
      // What was asked before is judged by what there is now.
      this.#questions = this.#questions.map((question) => ({
        ...question,
        pending: onTop(question.pending),
        sides: question.sides && { ...question.sides, revision },
      }))
      this.#showAgain(free.map(onTop), undefined)
      const asks = (pending: Pending, message: string) => {
        const sides = { ours: pending.label, theirs: [], facts: [], revision }
        this.#ask(pending, { message, sides, status: 409, isJudged: true })
      }
      if (lost)
        asks(
          this.#pendingOf(lost, revision, undefined),
          'The server has lost its last changes by a failure. They are here still.',
        )
      for (const one of doubtful) asks(onTop(one), 'This was made on facts that the server has lost.')
      this.listen()
      this.#setTrouble(undefined)
    } catch (error) {
      if (!(error instanceof ApiError)) throw error
      this.#setTrouble(error.message)
      if (error.passing) this.#missing = setTimeout(() => void this.#findWay(), FETCH_AGAIN_MS)
    }
  }

  #confirm(change: SharedChange): void {
    this.#confirmed = apply(this.#confirmed, change).model
    this.#revision = change.revision
    this.#lineages.set(change.revision, change.lineage)
    this.#lineages.delete(change.revision - MOST_HEARD * 10)
    this.#heard = [...this.#heard.slice(1 - MOST_HEARD), change]
    // A question about what was made after all is none.
    const asked = this.#questions.findIndex(({ pending }) => pending.id === change.id)
    if (asked >= 0) {
      this.#questions.splice(asked, 1)
      this.listener.onClash(this.#questions[0])
      // What waited for the answer is sent.
      this.#schedule(0)
    }
    const at = this.#pending.findIndex(({ id }) => id === change.id)
    if (at >= 0) {
      // What failed has arrived after all.
      this.#failures = 0
      this.#trouble = undefined
    }
    if (at === 0) {
      this.#pending.shift()
      if (this.#pending.length === 0) this.#coalescing = undefined
      this.#save()
      this.#tell()
    } else if (at > 0) this.#drop(change.id)
    else {
      if (this.#inFlight) this.#meanwhile.push(change)
      this.#tellQuestions(change)
      this.#showAgain(this.#pending, change)
    }
  }

  /** What was made already waits no longer. */
  #drop(id: string): void {
    this.#showAgain(
      this.#pending.filter((one) => one.id !== id),
      undefined,
    )
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
        this.#ask(change, { message: error.message, sides, status: 400, isJudged: change.sent !== true })
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

  #setTrouble(message: string | undefined): void {
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
    const isKept = keep(this.workspace, [...asked, ...this.#pending])
    if (!isKept) this.#setTrouble(FULL)
    else if (this.#trouble === FULL) this.#setTrouble(undefined)
  }

  #tell(): void {
    const waiting = this.#pending.length
    const trouble = this.#trouble === undefined ? undefined : { message: this.#trouble, waiting }
    this.listener.onStanding(trouble ? 'waiting' : waiting > 0 ? 'saving' : 'saved', trouble)
  }
}
