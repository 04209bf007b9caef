/** Numbers from 0 to 1 that belong to a seed: the mixing step of a 32-bit generator (Marsaglia's xorshift, 2003). */
export const rolled =
  (seed: number) =>
  (at: number): number => {
    let x = (seed * 2_654_435_761 + at * 40_503 + 1) >>> 0
    for (let round = 0; round < 3; round++) {
      x ^= x << 13
      x >>>= 0
      x ^= x >>> 17
      x ^= x << 5
      x >>>= 0
    }
    return x / 2 ** 32
  }
