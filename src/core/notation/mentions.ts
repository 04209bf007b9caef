import { Recall, type Entity, type Model } from '../model'

/** As much of a text is looked at: nobody calls more people than that at once. */
const MOST = 20
/** Signs that no address has, control characters among them. */
const ADDRESS = /^[^\s@<>(),;:"\\[\]\p{Cc}]{1,64}@[^\s@<>(),;:"\\[\]\p{Cc}]{1,189}$/u

/** An address to which a letter can be sent; undefined for any other text. */
export const mailAddress = (text: unknown): string | undefined =>
  typeof text === 'string' && ADDRESS.test(text) ? text : undefined

const people = new Recall<ReadonlyMap<string, Entity>>()

/** Everybody of whom the facts say an address, by name in small letters. Of several with one name the first. O(facts), once for a model */
export const reachable = (model: Model): ReadonlyMap<string, Entity> =>
  people.of(model, 'reachable', () => reachableIn(model))

function reachableIn(model: Model): ReadonlyMap<string, Entity> {
  const found = new Map<string, Entity>()
  for (const one of model.entities.values()) {
    const name = one.name.toLowerCase()
    if (mailAddress(one.fields['email']) !== undefined && !found.has(name)) found.set(name, one)
  }
  return found
}

/**
 * Who is called in a text by `@` and their name, whatever its case; the longest name that fits. Each once, in the order of the text.
 * O(facts + text)
 */
export function mentionedIn(model: Model, words: string): readonly Entity[] {
  const starts = [...words.matchAll(/(?<![\p{L}\p{N}@.])@(?=[\p{L}\p{N}])/gu)].slice(0, MOST)
  if (starts.length === 0) return []
  const known = reachable(model)
  const longest = Math.max(0, ...[...known.keys()].map((name) => name.length))
  const called = starts.flatMap(({ index }) => {
    for (let length = Math.min(longest, words.length - index - 1); length > 0; length--) {
      const one = known.get(words.slice(index + 1, index + 1 + length).toLowerCase())
      if (one && !/^[\p{L}\p{N}]/u.test(words.slice(index + 1 + length))) return [one]
    }
    return []
  })
  return [...new Set(called)]
}
