import type { Told } from '../../core/notation'

/** How a difference is shown, by a sign and in words. */
export const TOLD: Readonly<Record<Told['what'], readonly [sign: string, words: string]>> = {
  new: ['+', 'is new'],
  gone: ['−', 'is gone'],
  changed: ['~', 'is otherwise'],
}
