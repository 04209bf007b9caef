import { LIMITS, type ListLine } from '../../notation'

/** Lists of people as others write them: a name and a title, told apart by a comma, a colon, brackets, bars or columns. */

/** What `readLine` understands by itself. */
const DASHED = /\s(?:[—–]|--?)\s|^(?:[—–-])\s/
const MARKED = /\((?:assistant|acting)\)\s*$/i
const NAME_WORD = /^(?:\p{Lu}[\p{L}’'.-]*|d[aeiou]|v[ao]n|vom|zu|der|den|des|del|della|la|le|bin|al|ten|ter|y|e)$/u
const TITLE_WORD =
  /\b(?:chief|head|lead(?:er)?|manager|director|officer|president|chair(?:man|woman|person)?|clerk|assistant|engineer|planner|analyst|designer|developer|architect|accountant|supervisor|coordinator|specialist|technician|secretary|consultant|agent|operator|driver|master|controller|buyer|owner|intern|trainee|adviser|advisor|administrator|partner|founder|nurse|teacher|editor|scientist|foreman|superintendent|steward|dispatcher|c[efiot]o)\b/i

/** How a line may tell a name from a title. The two are its groups. */
const WAYS: readonly RegExp[] = [
  /^([^\t]+?)\s*\t+\s*([^\t]+?)\s*$/,
  /^([^|]+?)\s*\|\s*([^|]+?)\s*$/,
  /^([^;]+?)\s*;\s*([^;]+?)\s*$/,
  /^([^,]+?),\s+(.+)$/,
  /^([^:]+?):\s+(.+)$/,
  /^(.+?)\s+\(([^()]+)\)$/,
  /^(.+?)\s{2,}(.+)$/,
]
/** A name and a title with what stands between them have no more characters than that; what is longer is not looked at. */
const MOST_OF_PAIR = 2 * LIMITS.name + 20
/** A column heading of a pasted table says nothing about anybody. */
const HEADING = /^(?:full\s+)?name$/i
const TITLE_HEADING = /^(?:job\s+)?(?:title|role|position|function)$/i

/** Two to four words with capitals, as names are mostly written. */
export const looksLikeName = (text: string): boolean => {
  const words = text.trim().split(/\s+/)
  return words.length >= 2 && words.length <= 5 && words.every((word) => NAME_WORD.test(word)) && !TITLE_WORD.test(text)
}

const splitBy = (way: RegExp, text: string): readonly [string, string] | undefined => {
  if (text.length > MOST_OF_PAIR || DASHED.test(text) || MARKED.test(text) || text.includes('"')) return undefined
  const [, first, second] = way.exec(text) ?? []
  return first === undefined || second === undefined ? undefined : [first.trim(), second.trim()]
}

/** Whether a line is a name with a title beside it, however the two are told apart. */
export const isTitled = (text: string): boolean =>
  (DASHED.test(text) && !/\d{2,}|@|\?$/.test(text)) ||
  WAYS.some((way) => {
    const [first, second] = splitBy(way, text) ?? []
    return first !== undefined && second !== undefined && isPair(first, second)
  })

/** One of the two is a name, or the other is a title by its words. */
const isPair = (first: string, second: string): boolean =>
  (looksLikeName(first) && !/\d/.test(second)) || (looksLikeName(second) && TITLE_WORD.test(first))

/** Whether a line by itself would be taken as name and title in a list. Names that look so are written in quotation marks. */
export const mayBeTitled = (text: string): boolean => WAYS.some((way) => splitBy(way, text) !== undefined)

/**
 * A list with `Name — Title` on each line that tells the two apart as most lines of the list do, so that lines alike are read
 * alike; a heading goes. O(lines).
 */
export function titled(lines: readonly ListLine[]): readonly ListLine[] {
  const counted = WAYS.map((way) => {
    const pairs = lines.flatMap(({ text }) => [splitBy(way, text) ?? []].filter(({ length }) => length > 0))
    const sure = pairs.filter(([first = '', second = '']) => isPair(first, second)).length
    return { way, sure, count: pairs.length }
  })
  const best = counted.reduce((a, b) => (b.sure > a.sure ? b : a))
  // A sign that mostly tells something else apart tells nothing here.
  if (best.sure === 0 || 3 * best.sure < best.count) return lines
  const pairs = lines.map(({ text }) => splitBy(best.way, text))
  const turned = pairs.filter((pair) => pair && looksLikeName(pair[1]) && !looksLikeName(pair[0])).length
  const isTurned = 2 * turned > best.count
  return lines.flatMap((line, at): ListLine[] => {
    const pair = pairs[at]
    if (!pair) return [line]
    const [name, title] = isTurned ? [pair[1], pair[0]] : pair
    if (at === 0 && HEADING.test(name) && TITLE_HEADING.test(title)) return []
    return [{ ...line, text: `${name} — ${title}` }]
  })
}
