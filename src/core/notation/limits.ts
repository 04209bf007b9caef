/** What a workspace takes. Beyond it a change is refused in words, so that a slip of the clipboard costs nothing. */
export const LIMITS = {
  /** Characters of a name, a title or a short text. */
  name: 400,
  /** Characters of a note. */
  note: 20_000,
  /** Characters of one paste or typed list. */
  paste: 2_000_000,
  /** Characters of one line of a list or an outline. */
  line: 4_000,
  /** Lines of one paste or typed list. */
  lines: 20_000,
} as const
