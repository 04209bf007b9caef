import type { Day, Model } from '../model'

/** What a picture is compared with: the same facts on another day, or the facts of an earlier revision. */
export interface Against {
  readonly model: Model
  readonly day: Day
}

/** A way in which a fact differs from what it was. */
export interface Turn {
  /** Reads without colour. */
  readonly sign: string
  /** How such turns are counted: “3 moved”. */
  readonly counted: string
  /** In words: “Lane was Crew”; empty where the sign says it all. */
  readonly words: string
}

/** The signs of what may become of a fact, whatever it is: characters that the fonts of pictures have. */
export const TURNS = {
  new: { sign: '+', counted: 'new', words: '' },
  gone: { sign: '−', counted: 'gone', words: '' },
  moved: { sign: '»', counted: 'moved', words: '' },
  changed: { sign: '≠', counted: 'changed', words: '' },
} as const satisfies Record<string, Turn>
