import type { Model } from './model'

/** What is computed of a model under a key, computed once, and let go with the model. */
export class Recall<T> {
  readonly #known = new WeakMap<Model, Map<string, T>>()

  /** What is known, else what `compute` answers. */
  of(model: Model, key: string, compute: () => T): T {
    const known = this.#known.get(model) ?? new Map<string, T>()
    this.#known.set(model, known)
    const found = known.get(key) ?? compute()
    known.set(key, found)
    return found
  }

  peek(model: Model, key: string): T | undefined {
    return this.#known.get(model)?.get(key)
  }
}

/** The same of what the facts alone tell: it is known as well when only views or settings have changed since. */
export class FactRecall<T> {
  readonly #known = new WeakMap<Model['entities'], WeakMap<Model['relations'], Map<string, T>>>()

  of({ entities, relations }: Model, key: string, compute: () => T): T {
    const byRelations = this.#known.get(entities) ?? new WeakMap<Model['relations'], Map<string, T>>()
    this.#known.set(entities, byRelations)
    const known = byRelations.get(relations) ?? new Map<string, T>()
    byRelations.set(relations, known)
    const found = known.get(key) ?? compute()
    known.set(key, found)
    return found
  }
}

/**
 * The same where most changes leave most of what was computed as it was: `onto` makes it anew from the model it was computed for
 * last, or answers undefined. That model is held weakly, so that nothing here keeps facts that are gone.
 */
export class Succession<T> {
  readonly #recall = new Recall<T>()
  readonly #last = new Map<string, WeakRef<Model>>()
  /** @param most how many keys are gone on from. */
  constructor(private readonly most: number) {}

  of(model: Model, key: string, onto: (earlier: Model, known: T) => T | undefined, compute: () => T): T {
    const found = this.#recall.of(model, key, () => {
      const earlier = this.#last.get(key)?.deref()
      const known = earlier && this.#recall.peek(earlier, key)
      return (known === undefined || earlier === undefined ? undefined : onto(earlier, known)) ?? compute()
    })
    this.#last.delete(key)
    this.#last.set(key, new WeakRef(model))
    const [oldest] = this.#last.keys()
    if (this.#last.size > this.most && oldest !== undefined) this.#last.delete(oldest)
    return found
  }
}
