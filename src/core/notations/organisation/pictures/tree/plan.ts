import type { Id } from '../../../../model'
import { walk, type Post, type Structure } from '../../structure'

/** A position to be drawn. Parents stand before their children in a plan, children in drawing order. */
export interface PlanNode {
  readonly id: Id
  readonly post: Post
  readonly parent: number
  /** A head has 1. */
  readonly depth: number
  readonly assistant: boolean
  readonly children: readonly number[]
  readonly assistants: readonly number[]
  /** Positions below that are not drawn. */
  readonly hidden: number
}

export interface PlanChoices {
  /** The branch drawn; absent: all heads. */
  readonly root?: Id
  /** Levels drawn; Infinity for all. */
  readonly levels: number
  /** Positions whose branches are folded away by hand. */
  readonly folded: ReadonlySet<Id>
}

/** What of an organisation is drawn. O(positions), no recursion. */
export function planTree(structure: Structure, choices: PlanChoices): PlanNode[] {
  const roots = choices.root !== undefined && structure.posts.has(choices.root) ? [choices.root] : structure.heads
  const sizes = choices.levels === Infinity && choices.folded.size === 0 ? undefined : branchSizes(structure)
  const nodes: (PlanNode & { children: number[]; assistants: number[] })[] = []
  const open: { id: Id; parent: number; assistant: boolean; depth: number }[] = []
  for (const id of [...roots].reverse()) open.push({ id, parent: -1, assistant: false, depth: 1 })
  for (let next = open.pop(); next; next = open.pop()) {
    const { id, parent, assistant, depth } = next
    const post = structure.posts.get(id)
    if (!post) continue
    const index = nodes.length
    const shown = depth < choices.levels && !choices.folded.has(id)
    const hidden = shown ? 0 : (sizes?.get(id) ?? 1) - 1
    nodes.push({ id, post, parent, depth, assistant, children: [], assistants: [], hidden })
    const above = nodes[parent]
    if (above) (assistant ? above.assistants : above.children).push(index)
    if (!shown) continue
    const { reports, assistants } = post
    for (let i = reports.length - 1; i >= 0; i--) stack(reports[i], false, index, depth + 1)
    for (let i = assistants.length - 1; i >= 0; i--) stack(assistants[i], true, index, depth + 1)
  }
  return nodes

  function stack(id: Id | undefined, assistant: boolean, parent: number, depth: number): void {
    if (id !== undefined) open.push({ id, parent, assistant, depth })
  }
}

/** Positions in each branch, itself included. */
function branchSizes(structure: Structure): Map<Id, number> {
  const order = walk(structure).map(({ id }) => id)
  const sizes = new Map<Id, number>()
  for (const id of order.reverse()) {
    const post = structure.posts.get(id)
    let size = 1
    for (const child of post?.reports ?? []) size += sizes.get(child) ?? 0
    for (const child of post?.assistants ?? []) size += sizes.get(child) ?? 0
    sizes.set(id, size)
  }
  return sizes
}

export type Leaves = 'auto' | 'row' | 'column' | 'two columns'

const MOST_IN_A_ROW_UNDER_A_HEAD = 6

/** How a manager's reports stand: in a row, on a stem in a column, or on both sides of a stem. */
export const STAND = { row: 0, column: 1, pairs: 2 } as const

/**
 * How each manager's reports stand. A position's own choice comes first; by choice only leaves stand in pairs.
 * With 'auto', whole branches hang from the depth `hangFrom` on; with 0, on both sides of each head's stem.
 */
export function columnsOf(plan: readonly PlanNode[], leaves: Leaves, hangFrom: number): Uint8Array {
  return Uint8Array.from(plan, (node) =>
    inPairs(plan, node, leaves, hangFrom)
      ? STAND.pairs
      : inColumn(plan, node, leaves, hangFrom)
        ? STAND.column
        : STAND.row,
  )
}

function inPairs(plan: readonly PlanNode[], node: PlanNode, leaves: Leaves, hangFrom: number): boolean {
  const own = node.post.position.fields['layout']
  if (own === undefined && leaves === 'auto' && hangFrom === 0 && node.depth === 1) return node.children.length > 1
  const wanted = own === undefined ? leaves === 'two columns' : own === 'two columns'
  return wanted && !node.assistant && node.children.length > 1 && hasOnlyLeaves(plan, node)
}

const hasOnlyLeaves = (plan: readonly PlanNode[], node: PlanNode): boolean =>
  node.children.every((child) => {
    const below = plan[child]
    return below !== undefined && below.children.length + below.assistants.length === 0
  })

function inColumn(plan: readonly PlanNode[], node: PlanNode, leaves: Leaves, hangFrom: number): boolean {
  if (node.assistant) return true
  if (node.children.length === 0) return false
  const own = node.post.position.fields['layout']
  if (own === 'row' || own === 'column') return own === 'column'
  if (leaves === 'row') return false
  if (leaves === 'auto' && node.depth >= hangFrom) return true
  const onlyLeaves = node.children.every((child) => plan[child]?.children.length === 0)
  const smallTeam = node.depth === 1 && node.children.length <= MOST_IN_A_ROW_UNDER_A_HEAD
  return onlyLeaves && !(leaves === 'auto' && smallTeam)
}
