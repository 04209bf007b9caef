import type { Model } from './model'

/**
 * The models that something was computed for last, by a key, as long as somebody else needs them: what was computed is kept by
 * model in a `WeakMap`, so that nothing here keeps facts that are gone.
 */
export class LastModels {
  readonly #models = new Map<string, WeakRef<Model>>()
  constructor(private readonly most: number) {}

  get(key: string): Model | undefined {
    return this.#models.get(key)?.deref()
  }

  set(key: string, model: Model): void {
    this.#models.delete(key)
    this.#models.set(key, new WeakRef(model))
    const [oldest] = this.#models.keys()
    if (this.#models.size > this.most && oldest !== undefined) this.#models.delete(oldest)
  }
}
