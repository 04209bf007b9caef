import { join } from 'node:path'
import { Worker } from 'node:worker_threads'
import type { Model } from '../../core/model'
import { TooLong } from '../services/errors'
import { MOST_KNOWN } from './limits'
import { errorOf, packed, type Job, type Reply } from './parcel'
import type { Waiting } from './queue'

/** How long a thread may load its program, on a machine that is busy. It counts for no task. */
const LOADS_MS = 60_000
const MEMORY_MB = 1024

export interface Facts {
  readonly id: string
  /** What tells the facts of one reading from those of another: the revision, and what it stands on. */
  readonly revision: number
  readonly lineage?: string
  readonly model: Model
}

export interface Errand extends Waiting {
  readonly job: Omit<Job, 'facts'>
  readonly facts: Facts | undefined
  readonly limit: number
  readonly tell: (done: unknown) => void
  readonly refuse: (error: Error) => void
}

/** One thread: what it knows, and what it is doing. */
export class Hand {
  readonly #worker: Worker
  readonly #known = new Set<string>()
  #ready = false
  #ended = false
  #errand: Errand | undefined
  #timer: ReturnType<typeof setTimeout> | undefined

  constructor(
    private readonly onFree: () => void,
    private readonly onEnd: (failure: Error | undefined) => void,
  ) {
    const root = process.env['SKIVEL_ROOT'] ?? process.cwd()
    this.#worker = new Worker(join(root, 'src', 'server', 'threads', 'entry.mjs'), {
      resourceLimits: { maxOldGenerationSizeMb: MEMORY_MB },
    })
    this.#worker.unref()
    this.#worker.on('message', (reply: Reply | 'ready') => this.#hear(reply))
    this.#worker.on('messageerror', (error) =>
      this.#hear({ failure: { sort: 'failed', message: error.message, faults: [] } }),
    )
    this.#worker.on('error', (error: Error & { code?: string }) => {
      const memory = error.code === 'ERR_WORKER_OUT_OF_MEMORY'
      if (!memory) console.error('A worker failed:', error)
      this.#end(memory ? new TooLong('This needs more memory than there is for it, and was stopped.') : error)
    })
    this.#worker.on('exit', () => this.#end(new Error('a thread ended')))
    this.#endAfter(LOADS_MS, () => new Error('a thread did not begin'))
  }

  get isFree(): boolean {
    return this.#ready && !this.#ended && this.#errand === undefined
  }

  /** What it is doing now. */
  get errand(): Errand | undefined {
    return this.#errand
  }

  /** Begins an errand. What cannot be handed over is refused, and the thread is free for the next one. */
  take(errand: Errand): void {
    try {
      this.#hand(errand)
    } catch (error) {
      errand.refuse(error instanceof Error ? error : new Error(String(error)))
      return
    }
    this.#errand = errand
    this.#worker.ref()
    const seconds = Math.round(errand.limit / 1000)
    this.#endAfter(
      errand.limit,
      () => new TooLong(`This takes longer than ${seconds} seconds, and was stopped. Nothing else is affected.`),
    )
  }

  /** The facts travel along only where the thread does not know them yet. @throws DataCloneError, RangeError for what cannot travel */
  #hand({ job, facts }: Errand): void {
    if (!facts) return this.#worker.postMessage(job)
    const key = `${facts.id}@${facts.revision}@${facts.lineage ?? ''}`
    const knows = this.#known.has(key)
    this.#worker.postMessage({ ...job, facts: knows ? { key } : { key, parcel: packed(facts.model) } } satisfies Job)
    // The thread counts in the same way which facts it used last.
    this.#known.delete(key)
    this.#known.add(key)
    const [oldest] = this.#known
    if (this.#known.size > MOST_KNOWN && oldest !== undefined) this.#known.delete(oldest)
  }

  #hear(reply: Reply | 'ready'): void {
    clearTimeout(this.#timer)
    if (reply === 'ready') {
      this.#ready = true
      return this.onFree()
    }
    const errand = this.#errand
    this.#errand = undefined
    this.#worker.unref()
    if ('done' in reply) errand?.tell(reply.done)
    else errand?.refuse(errorOf(reply.failure))
    this.onFree()
  }

  #endAfter(ms: number, why: () => Error): void {
    clearTimeout(this.#timer)
    this.#timer = setTimeout(() => {
      void this.#worker.terminate()
      this.#end(why())
    }, ms)
    this.#timer.unref()
  }

  /** The thread is gone, and its errand with it. */
  #end(error: Error): void {
    if (this.#ended) return
    this.#ended = true
    clearTimeout(this.#timer)
    const errand = this.#errand
    this.#errand = undefined
    errand?.refuse(error)
    this.onEnd(this.#ready ? undefined : error)
  }
}
