/** How deep lists and objects may lie within each other, wherever text from outside becomes values: what goes through values one within another then ends. */
export const MOST_DEEP = 100
/** Keys of one object: each fact of a workspace may be pinned in a view, and nothing has more parts than that. */
const MOST_IN_ONE = 100_000

/**
 * A JSON text (RFC 8259) as a value, bounded before it is one: making objects is what takes long, and what lies too deep ends whoever goes through it. O(text)
 * @throws SyntaxError in words, for what is no JSON and for what passes a bound
 */
export function parseJson(text: string): unknown {
  const fault = faultOf(text)
  if (fault !== undefined) throw new SyntaxError(fault)
  return JSON.parse(text)
}

/** What of a JSON text is deeper or more crowded than is taken. */
function faultOf(text: string): string | undefined {
  // What is open, as the number of keys so far; a list is counted as less than nothing.
  const open: number[] = []
  let keys = -Infinity
  for (let at = 0; at < text.length; at++) {
    const code = text.charCodeAt(at)
    if (code === QUOTE) at = endOfString(text, at)
    else if (code === COMMA) {
      if (++keys > MOST_IN_ONE) return `an object has more than ${MOST_IN_ONE} keys`
    } else if (code === OBJECT || code === LIST) {
      if (open.length >= MOST_DEEP) return `its lists and objects lie more than ${MOST_DEEP} deep within each other`
      open.push(keys)
      keys = code === OBJECT ? 1 : -Infinity
    } else if (code === OBJECT_END || code === LIST_END) keys = open.pop() ?? -Infinity
  }
  return undefined
}

const [QUOTE, COMMA, OBJECT, OBJECT_END, LIST, LIST_END] = [0x22, 0x2c, 0x7b, 0x7d, 0x5b, 0x5d]
const BACKSLASH = 0x5c

/** Where the string that begins at `start` ends; the end of the text where it does not. */
function endOfString(text: string, start: number): number {
  for (let end = text.indexOf('"', start + 1); end !== -1; end = text.indexOf('"', end + 1)) {
    let slashes = 0
    while (text.charCodeAt(end - 1 - slashes) === BACKSLASH) slashes++
    if (slashes % 2 === 0) return end
  }
  return text.length
}
