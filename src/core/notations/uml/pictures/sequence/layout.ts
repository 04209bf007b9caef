import type { Id } from '../../../../model'
import { textWidth, wrap } from '../../../../scene'
import {
  blocksOf,
  type Call,
  type Fragment,
  type Interaction,
  type Lifeline,
  type Operand,
} from '../../sequences/structure'

/** Lifelines side by side, messages one beneath the other: UML 2.5.1, 17.8. */

export const HEAD = { least: 84, most: 150, line: 15, pad: 9, size: 12, actor: 34 } as const
export const TEXT = { size: 10.5, line: 13, most: 260, lines: 3 } as const
const ROW = 30
const SELF = { width: 34, drop: 16 } as const
export const BAR = 8
const FRAME = { tab: 18, guard: 16, foot: 14, margin: 12 } as const
const GAP = 30

export interface HeadPlace {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
  readonly lines: readonly string[]
}

export interface CallPlace {
  readonly y: number
  readonly from: number
  readonly to: number
  readonly lines: readonly string[]
  readonly isSelf: boolean
  /** Where what is said stands: its middle, and whether it crosses a lifeline there. */
  readonly middle: number
  readonly isAcross: boolean
  /** Where it arrives, where it is its own line: beneath for a message to oneself. */
  readonly endY: number
}

export interface FramePlace {
  readonly fragment: Fragment
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
  /** Where each operand begins. */
  readonly operands: readonly { readonly operand: Operand; readonly y: number; readonly height: number }[]
}

export interface BarPlace {
  readonly lifeline: Lifeline
  readonly x: number
  readonly from: number
  readonly to: number
}

export interface Laid {
  readonly heads: ReadonlyMap<Lifeline, HeadPlace>
  /** Where each lifeline begins and ends. */
  readonly spans: ReadonlyMap<
    Lifeline,
    { readonly x: number; readonly from: number; readonly to: number; readonly isEnded: boolean }
  >
  readonly calls: ReadonlyMap<Id, CallPlace>
  readonly frames: readonly FramePlace[]
  readonly bars: readonly BarPlace[]
  readonly width: number
  readonly height: number
}

const labelOf = (call: Call, numbers: ReadonlyMap<Id, number> | undefined): string => {
  const number = numbers?.get(call.id)
  const said =
    call.text !== '' ? call.text : call.sort === 'makes' ? '«create»' : call.sort === 'ends' ? '«destroy»' : ''
  return [number === undefined ? '' : `${number}:`, said].filter(Boolean).join(' ')
}

const widthOf = (lines: readonly string[]): number =>
  lines.length === 0 ? 0 : Math.ceil(Math.max(...lines.map((line) => textWidth(line, TEXT.size, 'text400'))))

/** O(messages × lifelines between their ends) */
export function layOut(sequence: Interaction, isNumbered: boolean, spacing: number): Laid {
  const { lifelines, calls } = sequence
  const numbers = isNumbered ? new Map(calls.map(({ id }, at) => [id, at + 1])) : undefined
  const said = new Map(
    calls.map((call) => [
      call.id,
      wrap(labelOf(call, numbers), TEXT.most, TEXT.size, 'text400', TEXT.lines).filter((line) => line !== ''),
    ]),
  )
  const heads = new Map(
    lifelines.map((one) => {
      const lines = wrap(one.name, HEAD.most - 2 * HEAD.pad, HEAD.size, 'text700', 3)
      const width = Math.max(
        HEAD.least,
        Math.ceil(Math.max(...lines.map((line) => textWidth(line, HEAD.size, 'text700')))) + 2 * HEAD.pad,
      )
      return [
        one,
        { lines, width, height: lines.length * HEAD.line + 2 * HEAD.pad - 4 + (one.isActor ? HEAD.actor : 0) },
      ]
    }),
  )
  const xs = columnsOf(sequence, said, (one) => heads.get(one)?.width ?? HEAD.least, spacing)
  const tall = Math.max(30, ...[...heads.values()].map(({ height }) => height))
  const rows = new Rows(sequence, xs, said, (one) => heads.get(one)?.width ?? HEAD.least, tall + 18 * spacing, spacing)
  const places = new Map<Lifeline, HeadPlace>()
  const spans = new Map<Lifeline, { x: number; from: number; to: number; isEnded: boolean }>()
  lifelines.forEach((one, at) => {
    const head = heads.get(one)
    const x = xs[at] ?? 0
    if (!head) return
    const made = rows.made.get(one)
    const middle = made === undefined ? tall - head.height / 2 : made
    places.set(one, {
      x: x - head.width / 2,
      y: middle - head.height / 2,
      width: head.width,
      height: head.height,
      lines: head.lines,
    })
    const ended = rows.ended.get(one)
    spans.set(one, { x, from: middle + head.height / 2, to: ended ?? rows.bottom, isEnded: ended !== undefined })
  })
  const right = lifelines.reduce((most, one, at) => Math.max(most, (xs[at] ?? 0) + (heads.get(one)?.width ?? 0) / 2), 0)
  return {
    heads: places,
    spans,
    calls: rows.calls,
    frames: rows.frames,
    bars: rows.bars(),
    width: Math.max(right, rows.right),
    height: rows.bottom,
  }
}

/** Middles of lifelines, so far apart that heads and what is said between them have room. */
function columnsOf(
  { lifelines, calls }: Interaction,
  said: ReadonlyMap<Id, readonly string[]>,
  headWidth: (one: Lifeline) => number,
  spacing: number,
): readonly number[] {
  const index = new Map(lifelines.map((one, at) => [one, at]))
  const gaps = lifelines.map((one, at) => {
    const next = lifelines[at + 1]
    return next ? (headWidth(one) + headWidth(next)) / 2 + GAP * spacing : 0
  })
  const asked = calls.map((call) => {
    const [a, b] = [index.get(call.from) ?? 0, index.get(call.to) ?? 0]
    const width =
      widthOf(said.get(call.id) ?? []) +
      (a === b ? SELF.width + 16 : 34) +
      (call.sort === 'makes' ? headWidth(call.to) / 2 : 0)
    return { from: Math.min(a, b), to: a === b ? a + 1 : Math.max(a, b), width }
  })
  for (const { from, to, width } of asked.sort((a, b) => a.to - a.from - (b.to - b.from))) {
    if (to >= lifelines.length) continue
    const room = gaps.slice(from, to).reduce((sum, gap) => sum + gap, 0)
    const more = (width - room) / (to - from)
    if (more > 0) for (let at = from; at < to; at++) gaps[at] = (gaps[at] ?? 0) + more
  }
  const xs: number[] = []
  lifelines.forEach((one, at) => xs.push(at === 0 ? headWidth(one) / 2 : (xs[at - 1] ?? 0) + (gaps[at - 1] ?? 0)))
  return xs
}

interface Open {
  readonly lifeline: Lifeline
  readonly by: Lifeline
  readonly from: number
  readonly depth: number
  readonly waits: boolean
  last: number
}

/** What happens, row by row. */
class Rows {
  readonly calls = new Map<Id, CallPlace>()
  readonly frames: FramePlace[] = []
  readonly made = new Map<Lifeline, number>()
  readonly ended = new Map<Lifeline, number>()
  right = 0
  #y: number
  readonly #index: ReadonlyMap<Lifeline, number>
  #open: Open[] = []
  readonly #bars: BarPlace[] = []

  constructor(
    sequence: Interaction,
    private readonly xs: readonly number[],
    private readonly said: ReadonlyMap<Id, readonly string[]>,
    private readonly headWidth: (one: Lifeline) => number,
    top: number,
    private readonly spacing: number,
  ) {
    this.#y = top
    this.#index = new Map(sequence.lifelines.map((one, at) => [one, at]))
    this.#put(sequence.list)
    this.#y += 22 * spacing
    for (const one of this.#open) this.#close(one)
    this.#open = []
  }

  get bottom(): number {
    return this.#y
  }

  bars(): readonly BarPlace[] {
    return this.#bars
  }

  #x = (one: Lifeline): number => this.xs[this.#index.get(one) ?? 0] ?? 0

  #put(list: readonly (Call | Operand)[]): { left: number; right: number } {
    const extent = { left: Infinity, right: -Infinity }
    const stretch = (left: number, right: number) => {
      extent.left = Math.min(extent.left, left)
      extent.right = Math.max(extent.right, right)
    }
    for (const block of blocksOf(list)) {
      if ('is' in block) {
        const { from, to } = this.#call(block)
        stretch(from, to)
      } else {
        const { left, right } = this.#frame(block)
        stretch(left, right)
      }
    }
    return extent
  }

  /** A message, and how far it reaches. */
  #call(call: Call): { from: number; to: number } {
    const lines = this.said.get(call.id) ?? []
    const [a, b] = [this.#x(call.from), this.#x(call.to)]
    const isSelf = call.from === call.to
    this.#y += (ROW - TEXT.line) * this.spacing + Math.max(1, lines.length) * TEXT.line
    const y = this.#y
    const endY = isSelf ? y + SELF.drop : y
    this.calls.set(call.id, { y, from: a, to: b, lines, isSelf, endY, ...this.#wordsAt(call, widthOf(lines)) })
    if (isSelf) this.#y += SELF.drop
    if (call.sort === 'makes' && !this.made.has(call.to)) {
      this.made.set(call.to, y)
      this.#y += 14
    }
    if (call.sort === 'ends') this.ended.set(call.to, y)
    this.#activate(call, endY)
    const half = call.sort === 'makes' ? this.headWidth(call.to) / 2 : 0
    const reach = isSelf ? a + SELF.width + widthOf(lines) + 10 : Math.max(a, b + half)
    this.right = Math.max(this.right, reach)
    return { from: Math.min(a, b - half), to: reach }
  }

  /** What is said stands beside the sender where it has room before the next lifeline, else in the middle. */
  #wordsAt(call: Call, width: number): { middle: number; isAcross: boolean } {
    const [a, b] = [this.#index.get(call.from) ?? 0, this.#index.get(call.to) ?? 0]
    const [from, to] = [this.xs[a] ?? 0, this.xs[b] ?? 0]
    const half = call.sort === 'makes' ? this.headWidth(call.to) / 2 : 0
    const end = to - Math.sign(b - a) * half
    if (Math.abs(a - b) < 2) return { middle: (from + end) / 2, isAcross: false }
    const next = this.xs[a + Math.sign(b - a)] ?? to
    const hasRoom = Math.abs(next - from) >= width + 2 * BAR + 8
    return { middle: hasRoom ? (from + next) / 2 : (from + end) / 2, isAcross: !hasRoom }
  }

  /** Who is at work: from when it is called until it answers, or until its caller goes on. */
  #activate(call: Call, y: number): void {
    const { from, to, sort } = call
    const touch = (one: Lifeline) => {
      for (const bar of this.#open) if (bar.lifeline === one) bar.last = y
    }
    if (sort === 'answers') {
      const at = this.#open.findLastIndex((bar) => bar.lifeline === from && bar.by === to)
      const bar = this.#open[at]
      if (bar) {
        bar.last = y
        this.#close(bar, y)
        this.#open.splice(at, 1)
      }
      touch(to)
      return
    }
    // Whoever goes on has got back what it waited for.
    for (let at = this.#open.length - 1; at >= 0; at--) {
      const bar = this.#open[at]
      const isBack = bar && bar.by === from && bar.lifeline !== from && (bar.waits || bar.lifeline === to)
      if (bar && isBack) {
        this.#close(bar)
        this.#open.splice(at, 1)
      }
    }
    touch(from)
    if (sort === 'ends') {
      for (let at = this.#open.length - 1; at >= 0; at--) {
        const bar = this.#open[at]
        if (bar?.lifeline !== to) continue
        this.#close(bar, y)
        this.#open.splice(at, 1)
      }
      return
    }
    if (sort === 'makes') return
    const depth = this.#open.filter((bar) => bar.lifeline === to).length
    this.#open.push({ lifeline: to, by: from, from: y, depth, waits: sort === 'asks', last: y })
  }

  #close(bar: Open, at = bar.last + 12): void {
    this.#bars.push({
      lifeline: bar.lifeline,
      x: this.#x(bar.lifeline) - BAR / 2 + (bar.depth * BAR) / 2,
      from: bar.from,
      to: Math.max(at, bar.from + 12),
    })
  }

  #frame(fragment: Fragment): { left: number; right: number } {
    this.#y += 14 * this.spacing
    const top = this.#y
    const operands: { operand: Operand; y: number; height: number }[] = []
    const extent = { left: Infinity, right: -Infinity }
    const before = [...this.#open]
    let still = before
    fragment.operands.forEach((operand, at) => {
      const begin = this.#y
      // Each way begins with what was at work before, and whatever it sets to work ends with it.
      if (fragment.operator !== 'par') this.#open = [...before]
      this.#y += at === 0 ? FRAME.tab : 0
      this.#y += FRAME.guard - (at === 0 ? 8 : 0)
      const { left, right } = this.#put(operand.list)
      extent.left = Math.min(extent.left, left)
      extent.right = Math.max(extent.right, right)
      if (fragment.operator !== 'par') {
        for (const bar of this.#open) if (!before.includes(bar)) this.#close(bar)
        still = still.filter((bar) => this.#open.includes(bar))
      }
      this.#y += FRAME.foot
      operands.push({ operand, y: begin, height: this.#y - begin })
    })
    if (fragment.operator !== 'par') this.#open = still
    if (extent.left === Infinity) {
      extent.left = this.xs[0] ?? 0
      extent.right = this.xs.at(-1) ?? 100
    }
    const left = extent.left - FRAME.margin - BAR
    const guards = fragment.operands.map(({ guard }) => textWidth(`[${guard}]`, TEXT.size, 'text400'))
    const right = Math.max(extent.right + FRAME.margin + BAR, left + 60 + Math.max(...guards))
    this.right = Math.max(this.right, right)
    this.frames.push({ fragment, x: left, y: top, width: right - left, height: this.#y - top, operands })
    return { left, right }
  }
}
