import { whoAsks, type Asking } from '../threads/asking'
import { Gone } from './errors'

/** Something that is being made, and who waits for it. */
interface Making<T> {
  readonly made: Promise<T>
  readonly end: AbortController
  waiting: number
}

/**
 * What was made for one is there for others: each thing is made once however many ask for it at once, and kept while there is room. What
 * could not be made is not kept. Nobody who has gone is waited for: what nobody waits for any more is not begun, and what has begun is kept.
 */
export class Kept<T> {
  readonly #made = new Map<string, { readonly value: T; readonly size: number }>()
  readonly #making = new Map<string, Making<T>>()
  #size = 0

  constructor(
    /** In what `sizeOf` counts. */
    private readonly most: number,
    private readonly sizeOf: (value: T) => number,
  ) {}

  /** @throws whatever making it throws; Gone where whoever asks has gone */
  async of(key: string, make: (who: Asking) => Promise<T>): Promise<T> {
    const known = this.#made.get(key)
    if (known) {
      this.#made.delete(key)
      this.#made.set(key, known)
      return known.value
    }
    const who = whoAsks()
    const making = this.#making.get(key) ?? this.#begin(key, who, make)
    making.waiting++
    return waited(making.made, who.signal).finally(() => {
      making.waiting--
      if (making.waiting === 0) making.end.abort()
    })
  }

  #begin(key: string, who: Asking, make: (who: Asking) => Promise<T>): Making<T> {
    const end = new AbortController()
    const made = make({ ...who, signal: end.signal })
    const making: Making<T> = { made, end, waiting: 0 }
    this.#making.set(key, making)
    made.then(
      (value) => {
        this.#forget(key, making)
        this.#keep(key, value)
      },
      () => this.#forget(key, making),
    )
    return making
  }

  #forget(key: string, making: Making<T>): void {
    if (this.#making.get(key) === making) this.#making.delete(key)
  }

  #keep(key: string, value: T): void {
    const size = this.sizeOf(value)
    if (size > this.most / 4) return
    this.#size -= this.#made.get(key)?.size ?? 0
    this.#made.delete(key)
    this.#made.set(key, { value, size })
    this.#size += size
    for (const [oldest, { size: its }] of this.#made) {
      if (this.#size <= this.most) return
      this.#made.delete(oldest)
      this.#size -= its
    }
  }
}

/** @throws Gone when the signal says so first */
function waited<T>(made: Promise<T>, signal: AbortSignal | undefined): Promise<T> {
  if (!signal) return made
  return new Promise((tell, refuse) => {
    const leave = () => refuse(new Gone())
    if (signal.aborted) return leave()
    signal.addEventListener('abort', leave, { once: true })
    made.then(tell, refuse).finally(() => signal.removeEventListener('abort', leave))
  })
}
