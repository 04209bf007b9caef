/**
 * Look-ups that many ask for at once: one that has not begun is for all who ask for the same meanwhile. Whoever asks is told what stood after they
 * asked, never what an earlier look-up saw.
 */
export class Joined<T> {
  readonly #running = new Map<string, Promise<unknown>>()
  readonly #next = new Map<string, Promise<T>>()

  /** @throws whatever looking throws, for all who joined */
  of(key: string, look: () => Promise<T>): Promise<T> {
    const next = this.#next.get(key)
    if (next) return next
    const running = this.#running.get(key)
    if (!running) return this.#begin(key, look)
    const after = running.then(() => {
      this.#next.delete(key)
      return this.#begin(key, look)
    })
    this.#next.set(key, after)
    return after
  }

  #begin(key: string, look: () => Promise<T>): Promise<T> {
    const looking = look()
    const ended = looking.then(
      () => undefined,
      () => undefined,
    )
    this.#running.set(key, ended)
    void ended.then(() => {
      if (this.#running.get(key) === ended) this.#running.delete(key)
    })
    return looking
  }
}
