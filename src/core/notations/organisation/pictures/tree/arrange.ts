import { nth } from '../../../../graph'
import { tidyTree } from '../../../../layout'
import type { Spacing } from '../../../../notation'
import { STAND, type Leaves, type PlanNode } from './plan'

export interface CardSize {
  readonly width: number
  readonly height: number
}

/** How a card is tied to the one above: not at all, down from a bar, sideways from a stem, or, where the tree grows to the right, from the card's side. */
export const TIE = { none: 0, bar: 1, stem: 2, side: 3 } as const

/** Where the cards of a plan stand, by index: their top left corners, their ties, and the x of the stem beside a card that hangs on one. */
export interface Places {
  readonly x: Float64Array
  readonly y: Float64Array
  readonly tie: Uint8Array
  readonly stemX: Float64Array
}

export const GAP = {
  /** From a stem to its cards. */
  indent: 14,
  /** From a manager's left edge to the stem below. */
  stem: 8,
  /** From the stem to an assistant. */
  arm: 20,
} as const

/** What the spacing of a view sets. */
interface Gaps {
  /** Between neighbours in a row. */
  readonly across: number
  /** Between a card and the row below. */
  readonly down: number
  /** Between cards on one stem. */
  readonly stacked: number
  /** From a manager to the first card on the stem, or to the first assistant. */
  readonly first: number
}
const GAPS: Readonly<Record<Spacing, Gaps>> = {
  tight: { across: 16, down: 34, stacked: 6, first: 15 },
  normal: { across: 26, down: 44, stacked: 10, first: 20 },
  airy: { across: 44, down: 62, stacked: 18, first: 28 },
}

/** What the tidy tree lays out: a card with its assistants, or with all that hangs on its stem, or leaves on one stem. */
interface Block {
  readonly parent: number
  readonly nodes: readonly number[]
  readonly sort: 'card' | 'hanging' | 'run'
  readonly left: number
  readonly right: number
  readonly height: number
}

/** How much room a node takes with everything that would hang on its stem. */
interface Stacks {
  readonly width: Float64Array
  readonly height: Float64Array
}

/** Places all cards of a plan, heads at the top. `columns` as `columnsOf` gives it. O(nodes). */
export function arrangeTree(
  plan: readonly PlanNode[],
  sizes: readonly CardSize[],
  columns: Uint8Array,
  leaves: Leaves,
  spacing: Spacing,
): Places {
  const gaps = GAPS[spacing]
  const stacks = measureStacks(plan, sizes, gaps)
  const blocks = cutIntoBlocks(plan, sizes, stacks, columns, leaves, gaps)
  const laid = tidyTree(
    {
      parent: Int32Array.from(blocks, (block) => block.parent),
      left: Float64Array.from(blocks, (block) => block.left),
      right: Float64Array.from(blocks, (block) => block.right),
      height: Float64Array.from(blocks, (block) => block.height),
    },
    { across: gaps.across, down: gaps.down },
  )
  const cards = new Hanging(plan, sizes, stacks, gaps)
  blocks.forEach((block, index) => {
    // Whole pixels keep hairlines sharp; widths are even, so half of one is whole too.
    const x = Math.round(nth(laid.x, index))
    const y = nth(laid.y, index)
    if (block.sort === 'run') {
      cards.stackDown(block.nodes, x, y)
      return
    }
    const node = nth(block.nodes, 0)
    cards.put(node, x - nth(sizes, node).width / 2, y, block.parent < 0 ? TIE.none : TIE.bar, x)
    if (block.sort === 'hanging') cards.hang(node)
    else cards.beside(x, besideOf(plan, node, columns), y + nth(sizes, node).height + gaps.first)
  })
  return cards
}

/** The places while they are filled in, from each block's card down. */
class Hanging implements Places {
  readonly x: Float64Array
  readonly y: Float64Array
  readonly tie: Uint8Array
  readonly stemX: Float64Array

  constructor(
    private readonly plan: readonly PlanNode[],
    private readonly sizes: readonly CardSize[],
    private readonly stacks: Stacks,
    private readonly gaps: Gaps,
  ) {
    this.x = new Float64Array(plan.length)
    this.y = new Float64Array(plan.length)
    this.tie = new Uint8Array(plan.length)
    this.stemX = new Float64Array(plan.length)
  }

  put(node: number, x: number, y: number, tie: number, stemX: number): void {
    this.x[node] = x
    this.y[node] = y
    this.tie[node] = tie
    this.stemX[node] = stemX
  }

  /** Cards one under the other on a stem; answers where the next one would begin. */
  stackDown(nodes: readonly number[], stemX: number, top: number): number {
    let y = top
    for (const node of nodes) {
      const indent = this.plan[node]?.assistant ? GAP.indent + GAP.arm : GAP.indent
      this.put(node, stemX + indent, y, TIE.stem, stemX)
      y += nth(this.stacks.height, node) + this.gaps.stacked
    }
    return y
  }

  /** Everything below a hanging card, from the top down. */
  hang(top: number): void {
    const open = [top]
    for (let node = open.pop(); node !== undefined; node = open.pop()) {
      const { assistants, children } = this.plan[node] ?? { assistants: [], children: [] }
      if (assistants.length + children.length === 0) continue
      const stemX = nth(this.x, node) + GAP.stem
      const y = nth(this.y, node) + nth(this.sizes, node).height + this.gaps.first
      this.stackDown(children, stemX, this.stackDown(assistants, stemX, y))
      for (const child of assistants) open.push(child)
      for (const child of children) open.push(child)
    }
  }

  /** Pairs on both sides of a stem, row by row, each card with whatever hangs on it. */
  beside(stemX: number, pairs: readonly Pair[], top: number): void {
    let y = top
    for (const { right, left, arm } of pairs) {
      for (const [card, side] of [
        [right, 1],
        [left, -1],
      ] as const) {
        if (card === undefined) continue
        const width = nth(this.stacks.width, card)
        this.put(card, side > 0 ? stemX + arm : stemX - arm - width, y, TIE.stem, stemX)
        this.hang(card)
      }
      y += this.heightOf({ right, left, arm }) + this.gaps.stacked
    }
  }

  private heightOf({ right, left }: Pair): number {
    return Math.max(...[right, left].map((card) => (card === undefined ? 0 : nth(this.stacks.height, card))))
  }
}

/** What stands on the two sides of a stem at one height, and how far from it. */
interface Pair {
  readonly left: number | undefined
  readonly right: number | undefined
  readonly arm: number
}

/** Children stand after parents in a plan, so the sums are made from its end. */
function measureStacks(plan: readonly PlanNode[], sizes: readonly CardSize[], gaps: Gaps): Stacks {
  const width = Float64Array.from(sizes, (size) => size.width)
  const height = Float64Array.from(sizes, (size) => size.height)
  for (let node = plan.length - 1; node > 0; node--) {
    const { parent, assistant } = nth(plan, node)
    if (parent < 0) continue
    const above = plan[parent]
    const first = above?.assistants[0] ?? above?.children[0]
    const indent = GAP.stem + GAP.indent + (assistant ? GAP.arm : 0)
    width[parent] = Math.max(nth(width, parent), indent + nth(width, node))
    height[parent] = nth(height, parent) + (node === first ? gaps.first : gaps.stacked) + nth(height, node)
  }
  return { width, height }
}

function cutIntoBlocks(
  plan: readonly PlanNode[],
  sizes: readonly CardSize[],
  stacks: Stacks,
  columns: Uint8Array,
  leaves: Leaves,
  gaps: Gaps,
): Block[] {
  const blocks: Block[] = []
  const open: { nodes: readonly number[]; parent: number }[] = []
  for (let node = plan.length - 1; node >= 0; node--)
    if (plan[node]?.parent === -1) open.push({ nodes: [node], parent: -1 })
  for (let next = open.pop(); next; next = open.pop()) {
    const { nodes, parent } = next
    const index = blocks.length
    const node = nth(nodes, 0)
    if (nodes.length > 1) {
      const height = nodes.reduce((sum, leaf) => sum + nth(sizes, leaf).height + gaps.stacked, -gaps.stacked)
      const width = nodes.reduce((most, leaf) => Math.max(most, nth(sizes, leaf).width), 0)
      blocks.push({ parent, nodes, sort: 'run', left: 2, right: GAP.indent + width, height })
      continue
    }
    const { width, height } = sizes[node] ?? { width: 0, height: 0 }
    if (columns[node] === STAND.column) {
      const right = Math.max(width, nth(stacks.width, node)) - width / 2
      blocks.push({ parent, nodes, sort: 'hanging', left: width / 2, right, height: stacks.height[node] ?? height })
      continue
    }
    const pairs = besideOf(plan, node, columns)
    blocks.push({ parent, nodes, sort: 'card', ...cardExtent(pairs, { width, height }, stacks, gaps) })
    if (columns[node] === STAND.pairs) continue
    const children = plan[node]?.children ?? []
    const groups = leaves === 'row' ? children.map((child) => [child]) : runs(plan, children)
    for (let i = groups.length - 1; i >= 0; i--) open.push({ nodes: groups[i] ?? [], parent: index })
  }
  return blocks
}

/** A card and what stands beside its stem around the anchor, the middle of the card. */
function cardExtent(pairs: readonly Pair[], { width, height }: CardSize, stacks: Stacks, gaps: Gaps) {
  const extent = { left: width / 2, right: width / 2, height }
  pairs.forEach(({ left, right, arm }, row) => {
    const reach = (card: number | undefined) => (card === undefined ? 0 : arm + nth(stacks.width, card))
    extent.right = Math.max(extent.right, reach(right))
    extent.left = Math.max(extent.left, reach(left))
    const tallest = Math.max(...[left, right].map((card) => (card === undefined ? 0 : nth(stacks.height, card))))
    extent.height += (row === 0 ? gaps.first : gaps.stacked) + tallest
  })
  return extent
}

/** Assistants, the first to the right of the stem and the second to the left; then reports in two columns, read from the left. */
function besideOf(plan: readonly PlanNode[], node: number, columns: Uint8Array): Pair[] {
  const { assistants, children } = plan[node] ?? { assistants: [], children: [] }
  const reports = columns[node] === STAND.pairs ? children : []
  return [
    ...twoByTwo(assistants).map(([right, left]): Pair => ({ right, left, arm: GAP.arm })),
    ...twoByTwo(reports).map(([left, right]): Pair => ({ left, right, arm: GAP.indent })),
  ]
}

const twoByTwo = (list: readonly number[]): number[][] =>
  Array.from({ length: Math.ceil(list.length / 2) }, (_, row) => list.slice(2 * row, 2 * row + 2))

/** Neighbouring leaves among a manager's reports share a stem where there are other managers beside them; order is kept. */
function runs(plan: readonly PlanNode[], children: readonly number[]): number[][] {
  const isLeaf = (child: number) => {
    const node = plan[child]
    return node !== undefined && node.children.length === 0 && node.assistants.length === 0 && node.hidden === 0
  }
  if (children.every(isLeaf)) return children.map((child) => [child])
  const groups: number[][] = []
  for (const child of children) {
    const last = groups.at(-1)
    const lastLeaf = last?.[0]
    if (isLeaf(child) && last && lastLeaf !== undefined && isLeaf(lastLeaf)) last.push(child)
    else groups.push([child])
  }
  return groups
}

/** Places all cards of a plan so that the tree grows to the right, assistants first among their manager's reports. O(nodes). */
export function arrangeSideways(plan: readonly PlanNode[], sizes: readonly CardSize[], spacing: Spacing): Places {
  // The tidy tree keeps children in the order of their indexes, and assistants stand after reports in a plan.
  const order: number[] = []
  const open = plan.flatMap(({ parent }, index) => (parent < 0 ? [index] : [])).reverse()
  for (let node = open.pop(); node !== undefined; node = open.pop()) {
    order.push(node)
    const { assistants, children } = plan[node] ?? { assistants: [], children: [] }
    open.push(...[...assistants, ...children].reverse())
  }
  const place = new Int32Array(plan.length)
  order.forEach((node, index) => (place[node] = index))
  const half = (node: number) => nth(sizes, node).height / 2
  const laid = tidyTree(
    {
      parent: Int32Array.from(order, (node) => {
        const parent = nth(plan, node).parent
        return parent < 0 ? -1 : nth(place, parent)
      }),
      left: Float64Array.from(order, half),
      right: Float64Array.from(order, half),
      height: Float64Array.from(order, (node) => nth(sizes, node).width),
    },
    { across: GAPS[spacing].stacked + 2, down: GAPS[spacing].down },
  )
  return {
    x: Float64Array.from(plan, (_, node) => nth(laid.y, nth(place, node))),
    y: Float64Array.from(plan, (_, node) => Math.round(nth(laid.x, nth(place, node)) - half(node))),
    tie: Uint8Array.from(plan, ({ parent }) => (parent < 0 ? TIE.none : TIE.side)),
    stemX: new Float64Array(plan.length),
  }
}
