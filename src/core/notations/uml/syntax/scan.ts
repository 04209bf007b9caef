/** A text that is not what the grammar asks for: where it goes wrong, and why. */
export interface Fault {
  readonly refused: string
  /** Counted from 0. */
  readonly at: number
}

export const isFault = (read: object): read is Fault => 'refused' in read

const PAIRS: Readonly<Record<string, string>> = { '(': ')', '[': ']', '{': '}', '<': '>' }
const CLOSERS = new Set(Object.values(PAIRS))

/** Reads a text from left to right. What stands in quotation marks or in brackets is passed as a whole. */
export class Scanner {
  at = 0

  constructor(readonly text: string) {}

  get isDone(): boolean {
    this.skip()
    return this.at >= this.text.length
  }

  skip(): void {
    while (/\s/.test(this.text[this.at] ?? '')) this.at++
  }

  /** Takes a sign if it stands here. */
  take(sign: string): boolean {
    this.skip()
    if (!this.text.startsWith(sign, this.at)) return false
    this.at += sign.length
    return true
  }

  peek(): string {
    this.skip()
    return this.text[this.at] ?? ''
  }

  /** The text up to one of some signs that stands outside of quotation marks and brackets, or to the end. O(text) */
  until(signs: string): string {
    this.skip()
    const from = this.at
    const open: string[] = []
    for (; this.at < this.text.length; this.at++) {
      const sign = this.text[this.at] ?? ''
      if (open.length === 0 && signs.includes(sign)) break
      if (sign === '"' || sign === "'") {
        const end = this.text.indexOf(sign, this.at + 1)
        // An apostrophe that nothing closes is one.
        if (end > 0) this.at = end
      } else if (open.at(-1) === sign) open.pop()
      else if (PAIRS[sign] !== undefined && this.closes(PAIRS[sign])) open.push(PAIRS[sign])
    }
    return this.text.slice(from, this.at).trim()
  }

  /** Whether what opens here is closed again: a lone sign stands for itself. */
  private closes(closer: string): boolean {
    return this.text.indexOf(closer, this.at + 1) >= 0
  }

  /** What stands in brackets that open here; undefined where none do. */
  bracketed(opener: string): string | Fault | undefined {
    const from = this.at
    if (!this.take(opener)) return undefined
    const inner = this.until(PAIRS[opener] ?? '')
    if (!this.take(PAIRS[opener] ?? ''))
      return { refused: `“${opener}” is opened and not closed.`, at: from + this.text.slice(from).indexOf(opener) }
    return inner
  }
}

/** Parts between commas that stand outside of quotation marks and brackets. O(text) */
export function parted(text: string): string[] {
  if (text.trim() === '') return []
  const scanner = new Scanner(text)
  const parts: string[] = []
  for (;;) {
    parts.push(scanner.until(','))
    if (!scanner.take(',')) return parts
  }
}

/** Whether nothing in a text opens without closing, and the other way round. */
export function isBalanced(text: string): boolean {
  const open: string[] = []
  for (let at = 0; at < text.length; at++) {
    const sign = text[at] ?? ''
    if (sign === '"') {
      at = text.indexOf('"', at + 1)
      if (at < 0) return false
    } else if (PAIRS[sign] !== undefined && sign !== '<') open.push(PAIRS[sign])
    else if (CLOSERS.has(sign) && sign !== '>' && open.pop() !== sign) return false
  }
  return open.length === 0
}
