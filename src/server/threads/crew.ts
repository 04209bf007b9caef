import { join } from 'node:path'
import { Worker } from 'node:worker_threads'
import type { Model } from '../../core/model'
import { TooLong } from '../services/errors'
import { errorOf, packed, unpacked, type Job, type Parcel, type Reply } from './parcel'
import type { Tasks } from './tasks'
import { MOST_KNOWN } from './limits'

/** How long a task may take, from when it begins. */
const LIMIT_MS = Number(process.env['SKIVEL_LIMIT_MS'] ?? 20_000)
/** How long a thread may load its program, on a machine that is busy. It counts for no task. */
const LOADS_MS = 60_000
const MEMORY_MB = 1024
const HANDS = 2
/** Tasks that may wait for a free hand. */
const MOST_WAITING = 200

interface Facts {
  readonly id: string
  readonly revision: number
  readonly model: Model
}

interface Errand {
  readonly job: Omit<Job, 'facts'>
  readonly facts: Facts | undefined
  readonly limit: number
  readonly tell: (done: unknown) => void
  readonly refuse: (error: Error) => void
}

/** One thread: what it knows, and what it is doing. */
class Hand {
  readonly #worker: Worker
  readonly #known = new Set<string>()
  #ready = false
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
    this.#worker.on('error', (error: Error & { code?: string }) => {
      const memory = error.code === 'ERR_WORKER_OUT_OF_MEMORY'
      if (!memory) console.error('A worker failed:', error)
      this.#end(memory ? new TooLong('This needs more memory than there is for it, and was stopped.') : error)
    })
    this.#endAfter(LOADS_MS, () => new Error('a thread did not begin'))
  }

  get isFree(): boolean {
    return this.#ready && this.#errand === undefined
  }

  take(errand: Errand): void {
    this.#errand = errand
    this.#worker.ref()
    const seconds = Math.round(errand.limit / 1000)
    this.#endAfter(
      errand.limit,
      () => new TooLong(`This takes longer than ${seconds} seconds, and was stopped. Nothing else is affected.`),
    )
    const { job, facts } = errand
    if (!facts) return this.#worker.postMessage(job)
    const key = `${facts.id}@${facts.revision}`
    const knows = this.#known.delete(key)
    this.#known.add(key)
    const [oldest] = this.#known
    if (this.#known.size > MOST_KNOWN && oldest !== undefined) this.#known.delete(oldest)
    this.#worker.postMessage({ ...job, facts: knows ? { key } : { key, parcel: packed(facts.model) } } satisfies Job)
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
    this.#timer = setTimeout(() => {
      void this.#worker.terminate()
      this.#end(why())
    }, ms)
    this.#timer.unref()
  }

  /** The thread is gone, and its errand with it. */
  #end(error: Error): void {
    clearTimeout(this.#timer)
    const errand = this.#errand
    this.#errand = undefined
    errand?.refuse(error)
    this.onEnd(this.#ready ? undefined : error)
  }
}

let hands: Hand[] = []
const waiting: Errand[] = []

/** Has the threads ready before they are needed: loading their program takes a moment. */
export function call(): void {
  while (hands.length < HANDS) {
    const hand: Hand = new Hand(next, (failure) => {
      hands = hands.filter((one) => one !== hand)
      // A thread that cannot begin at all would not begin the next time either: those that wait are told.
      if (failure) for (const errand of waiting.splice(0)) errand.refuse(failure)
      next()
    })
    hands.push(hand)
  }
}

function next(): void {
  if (waiting.length > 0) call()
  for (const hand of hands) {
    if (!hand.isFree) continue
    const errand = waiting.shift()
    if (!errand) return
    hand.take(errand)
  }
}

type Wish<T extends keyof Tasks> = Parameters<Tasks[T]>[1]
type Answer<T extends keyof Tasks> = Awaited<ReturnType<Tasks[T]>>

/**
 * Has a task carried out in a thread of its own, within a limit of time and memory.
 * @throws TooLong where it is stopped or too much is waiting; whatever the task throws in words; Error when it fails.
 */
export async function carryOut<T extends keyof Tasks>(
  task: T,
  wish: Wish<T>,
  facts?: Facts,
  limit = LIMIT_MS,
): Promise<Answer<T>> {
  if (waiting.length >= MOST_WAITING) throw new TooLong('Too much is asked for at once. Please try again in a moment.')
  const done = await new Promise<unknown>((tell, refuse) => {
    waiting.push({ job: { task, wish }, facts, limit, tell, refuse })
    next()
  })
  if (typeof done === 'object' && done !== null && 'model' in done)
    return { ...done, model: unpacked(done.model as Parcel) } as Answer<T>
  return done as Answer<T>
}
