import { shifted } from '../core/graph'

/** Numbers from 0 to 1 that belong to a seed, one for each place. */
export const rolled =
  (seed: number) =>
  (at: number): number =>
    shifted(shifted(shifted((seed * 2_654_435_761 + at * 40_503 + 1) >>> 0))) / 2 ** 32
