/** Models that a thread keeps by it. */
export const MOST_KNOWN = 4
