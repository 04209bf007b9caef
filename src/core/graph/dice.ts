/** The next state of a 32-bit generator, never 0 after one that is not (xorshift; Marsaglia 2003). */
export function shifted(state: number): number {
  let x = state ^ (state << 13)
  x >>>= 0
  x ^= x >>> 17
  x ^= x << 5
  return x >>> 0
}

/** Numbers from 0 to 1 that follow from a seed; `salt` makes others of the same one. */
export function dice(seed: number, salt = 1): () => number {
  let x = (seed * 2_654_435_761 + salt) >>> 0 || 1
  return () => (x = shifted(x)) / 2 ** 32
}
