/** What is looked for by words: a title and a line say what it is, `words` what else somebody may call it. */
export interface Sought {
  readonly title: string
  readonly summary: string
  readonly words: string
}

/** What a word that is met in each of them is worth. */
const WORTH = { title: 10, words: 9, summary: 4 } as const
/** A part of a word, and a word with a slip of the finger in it, as shares of the word itself. */
const PART = 0.8
const SLIP = 0.6
/** Words are this long before a slip, and before two of them, are let pass. */
const LONG = { one: 4, two: 8 } as const
/** What is typed is looked at no further. */
const MOST_WORDS = 8
const MOST_TYPED = 400

const wordsOf = (text: string): readonly string[] =>
  text
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter((word) => word !== '')

/** Those of a list that fit some words, the best first; all of them, as they stand, for no words. O(list × words) */
export function bestFirst<T extends Sought>(list: readonly T[], query: string): readonly T[] {
  const asked = wordsOf(query.slice(0, MOST_TYPED)).slice(0, MOST_WORDS)
  if (asked.length === 0) return list
  return list
    .map((one, at) => ({ one, at, worth: worthOf(one, asked) }))
    .filter(({ worth }) => worth > 0)
    .sort((a, b) => b.worth - a.worth || a.at - b.at)
    .map(({ one }) => one)
}

/** Nothing where one of the words is not met at all. */
function worthOf({ title, summary, words }: Sought, asked: readonly string[]): number {
  const fields = [
    { list: wordsOf(title), worth: WORTH.title },
    { list: wordsOf(words), worth: WORTH.words },
    { list: wordsOf(summary), worth: WORTH.summary },
  ]
  const found = asked.map((word) =>
    Math.max(...fields.map(({ list, worth }) => worth * Math.max(0, ...list.map((other) => nearness(word, other))))),
  )
  return found.every((one) => one > 0) ? found.reduce((sum, one) => sum + one, 0) : 0
}

/** From 0 to 1, how much a word that was typed is another one. */
function nearness(typed: string, word: string): number {
  if (typed === word) return 1
  if (word.startsWith(typed) || (word.length >= LONG.one && typed.startsWith(word)))
    return PART + (1 - PART) * (Math.min(typed.length, word.length) / Math.max(typed.length, word.length)) * 0.9
  const slips = typed.length >= LONG.two ? 2 : typed.length >= LONG.one ? 1 : 0
  return slips > 0 && slipsBetween(typed, word, slips) <= slips ? SLIP : 0
}

/** Letters left out, put in, exchanged or swapped with the next (Damerau 1964, optimal string alignment); more than `most` counts as many. */
function slipsBetween(a: string, b: string, most: number): number {
  if (Math.abs(a.length - b.length) > most) return Infinity
  let [before, last]: [number[], number[]] = [[], Array.from({ length: b.length + 1 }, (_, at) => at)]
  for (let i = 1; i <= a.length; i++) {
    const row = [i]
    for (let j = 1; j <= b.length; j++) {
      const same = a[i - 1] === b[j - 1]
      const swapped = i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1]
      row.push(
        Math.min(
          (row[j - 1] ?? 0) + 1,
          (last[j] ?? 0) + 1,
          (last[j - 1] ?? 0) + (same ? 0 : 1),
          swapped ? (before[j - 2] ?? 0) + 1 : Infinity,
        ),
      )
    }
    ;[before, last] = [last, row]
  }
  return last[b.length] ?? Infinity
}
