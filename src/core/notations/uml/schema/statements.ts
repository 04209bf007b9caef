/** A piece of SQL, and the line that it begins on. */
export interface Piece {
  readonly text: string
  readonly line: number
}

/** What stands apart in SQL: comments, texts and names in quotes of every sort, brackets. */
const TOKEN =
  /--[^\n]*|#[^\n]*|\/\*[\s\S]*?(?:\*\/|$)|'(?:[^'\\]+|''|\\[\s\S])*(?:'|$)|"(?:[^"\\]+|""|\\[\s\S])*(?:"|$)|`(?:[^`]+|``)*(?:`|$)|[^-#/'"`;,()]+|[\s\S]/g

/** SQL in pieces that a sign stands between, outside of quotes, comments and brackets; comments are left out. O(text) */
export function piecesOf(sql: string, sign: ';' | ',', from = 1): readonly Piece[] {
  const pieces: Piece[] = []
  let text = ''
  let begins = from
  let line = from
  let depth = 0
  const end = () => {
    if (text.trim() !== '') pieces.push({ text: text.trim(), line: begins })
    text = ''
  }
  for (const [token] of sql.matchAll(TOKEN)) {
    if (text.trim() === '' && token.trim() !== '') begins = line + lines(token.slice(0, token.search(/\S/)))
    if (token === '(') depth++
    if (token === ')') depth--
    if (token === sign && (sign === ';' || depth === 0)) end()
    else if (/^(?:--|#|\/\*)/.test(token)) text += ' '
    else text += token
    line += lines(token)
  }
  end()
  return pieces
}

const lines = (token: string): number => token.split('\n').length - 1

/** What stands between the first bracket and the one that closes it. */
export function bracketed(piece: Piece): Piece | undefined {
  let at = 0
  let depth = 0
  let from: number | undefined
  for (const [token] of piece.text.matchAll(TOKEN)) {
    if (token === '(' && depth++ === 0) from = at + 1
    if (token === ')' && --depth === 0 && from !== undefined)
      return { text: piece.text.slice(from, at), line: piece.line + lines(piece.text.slice(0, from)) }
    at += token.length
  }
  return undefined
}
