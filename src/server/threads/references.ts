/** A reference of a table to another, as a database tells it. */
export interface ToldReference {
  readonly columns: readonly string[]
  readonly to: string
  readonly toColumns: readonly string[]
  readonly cascades: boolean
}

/** The references that a `CREATE TABLE` of MariaDB's own states, each on a line of its own. What is written otherwise is passed over. O(text) */
export const referencesIn = (statement: string): readonly ToldReference[] =>
  statement.split('\n').flatMap((line) => referenceIn(line) ?? [])

/** CONSTRAINT `name` FOREIGN KEY (`a`, `b`) REFERENCES `table` (`c`, `d`) ON DELETE CASCADE */
function referenceIn(line: string): ToldReference | undefined {
  const reader = new Reader(line)
  if (!reader.passes('CONSTRAINT') || reader.name() === undefined) return undefined
  if (!reader.passes('FOREIGN') || !reader.passes('KEY')) return undefined
  const columns = reader.names()
  const to = reader.passes('REFERENCES') ? reader.name() : undefined
  const toColumns = to === undefined ? undefined : reader.names()
  if (!columns || to === undefined || !toColumns) return undefined
  return { columns, to, toColumns, cascades: reader.rest.includes('ON DELETE CASCADE') }
}

/** Goes through a line once, from its beginning on. */
class Reader {
  #at = 0
  constructor(private readonly line: string) {}

  get rest(): string {
    return this.line.slice(this.#at)
  }

  passes(word: string): boolean {
    while (this.line[this.#at] === ' ') this.#at++
    if (!this.line.startsWith(word, this.#at)) return false
    this.#at += word.length
    return true
  }

  /** A name in backticks, in which two stand for one. */
  name(): string | undefined {
    if (!this.passes('`')) return undefined
    let name = ''
    for (;;) {
      const end = this.line.indexOf('`', this.#at)
      if (end < 0) return undefined
      name += this.line.slice(this.#at, end)
      this.#at = end + 1
      if (this.line[this.#at] !== '`') return name
      name += '`'
      this.#at++
    }
  }

  /** Names in brackets. */
  names(): readonly string[] | undefined {
    if (!this.passes('(')) return undefined
    const names: string[] = []
    do {
      const name = this.name()
      if (name === undefined) return undefined
      names.push(name)
    } while (this.passes(','))
    return this.passes(')') ? names : undefined
  }
}
