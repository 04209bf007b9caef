/** A piece of SQL, and the line that it begins on. */
export interface Piece {
  readonly text: string
  readonly line: number
}

/** What stands apart in SQL: comments, texts and names in quotes of every sort, signs, and words between them. */
interface Token {
  readonly sort: 'comment' | 'quoted' | 'sign' | 'words'
  readonly from: number
  readonly to: number
}

/** What begins a statement that makes or alters something. */
const MAKES = /^(?:CREATE|ALTER)\b/i
const HEAD = 16

/** The statements of a dump that make or alter something, each with its line; all others, such as rows of data, are passed over. O(text) */
export const makingStatements = (sql: string): readonly Piece[] => piecesOf(sql, ';', 1, (head) => MAKES.test(head))

/** SQL in pieces that a sign stands between, outside of quotes, comments and brackets; comments are left out, and what is not wanted by how it begins. O(text) */
export function piecesOf(
  sql: string,
  sign: ';' | ',',
  from = 1,
  wants: (head: string) => boolean = () => true,
): readonly Piece[] {
  const pieces: Piece[] = []
  let parts: string[] = []
  let begins = from
  let depth = 0
  let [line, counted] = [from, 0]
  let isWanted = true
  const lineAt = (at: number): number => {
    for (let next = sql.indexOf('\n', counted); next >= 0 && next < at; next = sql.indexOf('\n', next + 1)) {
      line++
      counted = next + 1
    }
    return line
  }
  const end = () => {
    if (parts.length > 0 && isWanted) pieces.push({ text: parts.join('').trim(), line: begins })
    parts = []
    isWanted = true
  }
  for (const { sort, from: at, to } of tokensOf(sql)) {
    const first = sql[at]
    if (sort === 'sign' && first === sign && (sign === ';' || depth === 0)) {
      end()
      continue
    }
    if (sort === 'sign' && first === '(') depth++
    if (sort === 'sign' && first === ')') depth--
    if (sort === 'comment') {
      if (parts.length > 0 && isWanted) parts.push(' ')
    } else if (parts.length > 0) {
      if (isWanted) parts.push(sql.slice(at, to))
    } else if (sort !== 'words' || !isBlank(sql, at, to)) {
      const begin = sort === 'words' ? firstLetter(sql, at) : at
      begins = lineAt(begin)
      parts.push(sql.slice(begin, to))
      isWanted = wants(sql.slice(begin, begin + HEAD))
    }
  }
  end()
  return pieces
}

/** What stands between the first bracket and the one that closes it. O(text) */
export function bracketed(piece: Piece): Piece | undefined {
  let depth = 0
  let begin: number | undefined
  for (const { sort, from, to } of tokensOf(piece.text)) {
    if (sort !== 'sign') continue
    if (piece.text[from] === '(' && depth++ === 0) begin = to
    if (piece.text[from] === ')' && --depth === 0 && begin !== undefined)
      return { text: piece.text.slice(begin, from), line: piece.line + linesIn(piece.text, begin) }
  }
  return undefined
}

/** How deep brackets lie within each other. O(text) */
export function depthOf(text: string): number {
  let [depth, deepest] = [0, 0]
  for (const { sort, from } of tokensOf(text)) {
    if (sort !== 'sign') continue
    if (text[from] === '(') deepest = Math.max(deepest, ++depth)
    if (text[from] === ')') depth--
  }
  return deepest
}

function* tokensOf(sql: string): Generator<Token> {
  for (let from = 0; from < sql.length;) {
    const token = tokenAt(sql, from)
    yield token
    from = token.to
  }
}

const SIGNS = /[-#/'"`;,()]/g

function tokenAt(sql: string, from: number): Token {
  const first = sql[from] ?? ''
  const comment = (end: number, more: number): Token => ({
    sort: 'comment',
    from,
    to: end < 0 ? sql.length : end + more,
  })
  if (first === '#' || sql.startsWith('--', from)) return comment(sql.indexOf('\n', from), 0)
  if (sql.startsWith('/*', from)) return comment(sql.indexOf('*/', from + 2), 2)
  if (first === "'" || first === '"' || first === '`')
    return { sort: 'quoted', from, to: endOfQuoted(sql, from, first) }
  if (first === ';' || first === ',' || first === '(' || first === ')') return { sort: 'sign', from, to: from + 1 }
  // A lone dash or slash is a word as any other.
  SIGNS.lastIndex = from + 1
  const next = SIGNS.exec(sql)?.index ?? sql.length
  return { sort: 'words', from, to: next }
}

/** Behind the quote that ends what begins at `from`: two of them are one, and but for names a backslash takes the next letter along. */
function endOfQuoted(sql: string, from: number, quote: string): number {
  for (let at = from + 1; at < sql.length; at++) {
    if (sql[at] === '\\' && quote !== '`') at++
    else if (sql[at] === quote) {
      if (sql[at + 1] !== quote) return at + 1
      at++
    }
  }
  return sql.length
}

function firstLetter(text: string, from: number): number {
  let at = from
  while (at < text.length && /\s/.test(text[at] ?? '')) at++
  return at
}
const isBlank = (text: string, from: number, to: number): boolean => firstLetter(text, from) >= to

function linesIn(text: string, to: number): number {
  let lines = 0
  for (let at = text.indexOf('\n'); at >= 0 && at < to; at = text.indexOf('\n', at + 1)) lines++
  return lines
}
