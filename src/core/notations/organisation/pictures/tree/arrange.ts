import { tidyTree } from '../../../../layout'
import type { PlanNode } from './plan'

export interface CardSize {
  readonly width: number
  readonly height: number
}

/** Where a card stands, and the line that ties it to the one above: how it leaves, and from which height. */
export interface Placed extends CardSize {
  readonly x: number
  readonly y: number
  /** 'bus': down from a bar above; 'stem': sideways from a stem; 'none': a head. */
  readonly tie: 'bus' | 'stem' | 'none'
  /** The x of the stem beside a card, where it hangs on one. */
  readonly stemX: number
}

export const GAP = {
  /** Between neighbours in a row. */
  across: 26,
  /** Between a card and the row below. */
  down: 44,
  /** Between cards on one stem. */
  stacked: 10,
  /** From a stem to its cards. */
  indent: 14,
  /** From a manager's left edge to the stem below. */
  stem: 8,
  /** From a manager to the first card on the stem, or to the first assistant. */
  first: 20,
  /** From the stem to an assistant. */
  arm: 20,
} as const

/** What the tidy tree lays out: a card with its assistants, or with all that hangs on its stem, or leaves on one stem. */
interface Block {
  readonly parent: number
  readonly nodes: readonly number[]
  readonly sort: 'card' | 'hanging' | 'run'
  readonly left: number
  readonly right: number
  readonly height: number
}

/** Places all cards of a plan: x and y of their top left corners, the leftmost near 0, the heads at 0. O(nodes). */
export function arrangeTree(
  plan: readonly PlanNode[],
  sizes: readonly CardSize[],
  leaves: 'auto' | 'row' | 'column',
): Placed[] {
  const sizeOf = (node: number): CardSize => sizes[node] ?? { width: 0, height: 0 }
  const stacks = measureStacks(plan, sizeOf)
  const blocks = cutIntoBlocks(plan, sizeOf, stacks, leaves)
  const places = tidyTree(
    {
      parent: Int32Array.from(blocks, (block) => block.parent),
      left: Float64Array.from(blocks, (block) => block.left),
      right: Float64Array.from(blocks, (block) => block.right),
      height: Float64Array.from(blocks, (block) => block.height),
    },
    { across: GAP.across, down: GAP.down },
  )
  const placed = new Array<Placed>(plan.length)
  blocks.forEach((block, index) => {
    // Whole pixels keep hairlines sharp; widths are even, so half of one is whole too.
    const x = Math.round(places.x[index] ?? 0)
    const y = places.y[index] ?? 0
    if (block.sort === 'run') stackDown(block.nodes, x, y)
    else {
      const node = block.nodes[0] ?? 0
      const { width } = sizeOf(node)
      put(node, x - width / 2, y, block.parent < 0 ? 'none' : 'bus', x)
      if (block.sort === 'hanging') hang(node)
      else beside(node, x)
    }
  })
  return placed

  function put(node: number, x: number, y: number, tie: Placed['tie'], stemX: number): void {
    placed[node] = { ...sizeOf(node), x, y, tie, stemX }
  }

  function stackDown(nodes: readonly number[], stemX: number, top: number): void {
    let y = top
    for (const node of nodes) {
      put(node, stemX + indentOf(node), y, 'stem', stemX)
      y += (stacks[node]?.height ?? 0) + GAP.stacked
    }
  }

  /** Everything below a hanging card, from the top down. */
  function hang(top: number): void {
    const open = [top]
    for (let node = open.pop(); node !== undefined; node = open.pop()) {
      const at = placed[node]
      if (!at) continue
      const below = belowOf(plan, node)
      stackDown(below, at.x + GAP.stem, at.y + at.height + GAP.first)
      open.push(...below)
    }
  }

  /** Assistants to the right and left of the stem, in turn, each with whatever hangs on it. */
  function beside(node: number, stemX: number): void {
    const at = placed[node]
    let y = (at?.y ?? 0) + (at?.height ?? 0) + GAP.first
    for (const pair of pairsOf(plan[node]?.assistants ?? [])) {
      pair.forEach((assistant, side) => {
        put(
          assistant,
          side === 0 ? stemX + GAP.arm : stemX - GAP.arm - (stacks[assistant]?.width ?? 0),
          y,
          'stem',
          stemX,
        )
        hang(assistant)
      })
      y += Math.max(...pair.map((assistant) => stacks[assistant]?.height ?? 0)) + GAP.stacked
    }
  }

  function indentOf(node: number): number {
    return plan[node]?.assistant ? GAP.indent + GAP.arm : GAP.indent
  }
}

const belowOf = (plan: readonly PlanNode[], node: number): readonly number[] => [
  ...(plan[node]?.assistants ?? []),
  ...(plan[node]?.children ?? []),
]

interface Stack {
  readonly width: number
  readonly height: number
}

/** How much room each node takes with everything that would hang on its stem. Children stand after parents, so from the end. */
function measureStacks(plan: readonly PlanNode[], sizeOf: (node: number) => CardSize): Stack[] {
  const stacks = new Array<Stack>(plan.length)
  for (let node = plan.length - 1; node >= 0; node--) {
    let { width, height } = sizeOf(node)
    belowOf(plan, node).forEach((child, index) => {
      const stack = stacks[child] ?? { width: 0, height: 0 }
      const indent = GAP.stem + GAP.indent + (plan[child]?.assistant ? GAP.arm : 0)
      width = Math.max(width, indent + stack.width)
      height += (index === 0 ? GAP.first : GAP.stacked) + stack.height
    })
    stacks[node] = { width, height }
  }
  return stacks
}

function cutIntoBlocks(
  plan: readonly PlanNode[],
  sizeOf: (node: number) => CardSize,
  stacks: readonly Stack[],
  leaves: 'auto' | 'row' | 'column',
): Block[] {
  const blocks: Block[] = []
  const open: { nodes: readonly number[]; parent: number }[] = plan
    .flatMap((node, index) => (node.parent < 0 ? { nodes: [index], parent: -1 } : []))
    .reverse()
  for (let next = open.pop(); next; next = open.pop()) {
    const { nodes, parent } = next
    const index = blocks.length
    const node = nodes[0] ?? 0
    if (nodes.length > 1) {
      const height = nodes.reduce((sum, leaf) => sum + sizeOf(leaf).height + GAP.stacked, -GAP.stacked)
      const width = Math.max(...nodes.map((leaf) => sizeOf(leaf).width))
      blocks.push({ parent, nodes, sort: 'run', left: 2, right: GAP.indent + width, height })
      continue
    }
    const { width, height } = sizeOf(node)
    if (plan[node]?.arrangement === 'column') {
      const stack = stacks[node] ?? { width, height }
      const right = Math.max(width, stack.width) - width / 2
      blocks.push({ parent, nodes, sort: 'hanging', left: width / 2, right, height: stack.height })
      continue
    }
    blocks.push({ parent, nodes, sort: 'card', ...cardExtent(plan, node, sizeOf, stacks) })
    const groups = leaves === 'row' ? (plan[node]?.children ?? []).map((child) => [child]) : runs(plan, node)
    open.push(...groups.map((group) => ({ nodes: group, parent: index })).reverse())
  }
  return blocks
}

/** A card and its assistants around the anchor, the middle of the card. */
function cardExtent(
  plan: readonly PlanNode[],
  node: number,
  sizeOf: (node: number) => CardSize,
  stacks: readonly Stack[],
) {
  const { width, height } = sizeOf(node)
  const extent = { left: width / 2, right: width / 2, height }
  pairsOf(plan[node]?.assistants ?? []).forEach((pair, row) => {
    const [right, left] = pair.map((assistant) => GAP.arm + (stacks[assistant]?.width ?? 0))
    extent.right = Math.max(extent.right, right ?? 0)
    extent.left = Math.max(extent.left, left ?? 0)
    extent.height +=
      (row === 0 ? GAP.first : GAP.stacked) + Math.max(...pair.map((assistant) => stacks[assistant]?.height ?? 0))
  })
  return extent
}

/** Assistants two by two: the first to the right of the stem, the second to the left. */
const pairsOf = (assistants: readonly number[]): number[][] =>
  Array.from({ length: Math.ceil(assistants.length / 2) }, (_, row) => assistants.slice(2 * row, 2 * row + 2))

/** Neighbouring leaves among a manager's reports share a stem where there are other managers beside them; order is kept. */
function runs(plan: readonly PlanNode[], node: number): number[][] {
  const children = plan[node]?.children ?? []
  const isLeaf = (child: number) =>
    (plan[child]?.children.length ?? 0) === 0 &&
    (plan[child]?.assistants.length ?? 0) === 0 &&
    plan[child]?.hidden === 0
  if (children.every(isLeaf)) return children.map((child) => [child])
  const groups: number[][] = []
  for (const child of children) {
    const last = groups.at(-1)
    const leaf = isLeaf(child)
    if (leaf && last && last.every(isLeaf)) last.push(child)
    else groups.push([child])
  }
  return groups
}
