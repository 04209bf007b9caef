import type { Id } from '../../../../model'
import type { Post, Structure } from '../../structure'

export type Arrangement = 'auto' | 'row' | 'column'

/** A position to be drawn. Parents stand before their children in a plan, children in drawing order. */
export interface PlanNode {
  readonly id: Id
  readonly post: Post
  readonly parent: number
  readonly assistant: boolean
  /** How the reports are set; a leaf's is 'row'. */
  readonly arrangement: 'row' | 'column'
  readonly children: number[]
  readonly assistants: number[]
  /** Positions below that are not drawn. */
  readonly hidden: number
}

export interface PlanChoices {
  /** The branch drawn; absent: all heads. */
  readonly root?: Id
  /** Levels drawn; Infinity for all. */
  readonly levels: number
  readonly leaves: Arrangement
  /** With 'auto', the depth from which on whole branches hang on their manager's stem; heads have depth 1. */
  readonly hangFrom: number
}

const MOST_IN_A_ROW_UNDER_A_HEAD = 6

/** What of an organisation is drawn, and how each manager's reports are set. O(positions), no recursion. */
export function planTree(structure: Structure, choices: PlanChoices): PlanNode[] {
  const roots = choices.root !== undefined && structure.posts.has(choices.root) ? [choices.root] : structure.heads
  const nodes: PlanNode[] = []
  const sizes = branchSizes(structure)
  const open = roots.map((id) => ({ id, parent: -1, assistant: false, depth: 1 })).reverse()
  for (let next = open.pop(); next; next = open.pop()) {
    const { id, parent, assistant, depth } = next
    const post = structure.posts.get(id)
    if (!post) continue
    const index = nodes.length
    const shown = depth < choices.levels
    nodes.push({
      id,
      post,
      parent,
      assistant,
      arrangement: shown && !assistant ? arrangementOf(structure, post, depth, choices) : assistant ? 'column' : 'row',
      children: [],
      assistants: [],
      hidden: shown ? 0 : (sizes.get(id) ?? 1) - 1,
    })
    nodes[parent]?.[assistant ? 'assistants' : 'children'].push(index)
    if (!shown) continue
    const below = [
      ...post.assistants.map((child) => ({ id: child, assistant: true })),
      ...post.reports.map((child) => ({ id: child, assistant: false })),
    ]
    open.push(...below.reverse().map((child) => ({ ...child, parent: index, depth: depth + 1 })))
  }
  return nodes
}

function arrangementOf(structure: Structure, post: Post, depth: number, choices: PlanChoices): 'row' | 'column' {
  const own = post.position.fields['layout']
  if (own === 'row' || own === 'column') return own
  if (choices.leaves === 'row' || post.reports.length === 0) return 'row'
  if (choices.leaves === 'auto' && depth >= choices.hangFrom) return 'column'
  const onlyLeaves = post.reports.every((id) => (structure.posts.get(id)?.reports.length ?? 0) === 0)
  if (!onlyLeaves) return 'row'
  const smallTeam = depth === 1 && post.reports.length <= MOST_IN_A_ROW_UNDER_A_HEAD
  return choices.leaves === 'auto' && smallTeam ? 'row' : 'column'
}

/** Positions in each branch, itself included. */
function branchSizes(structure: Structure): Map<Id, number> {
  const order: Id[] = []
  const open = [...structure.heads]
  for (let id = open.pop(); id !== undefined; id = open.pop()) {
    order.push(id)
    const post = structure.posts.get(id)
    if (post) open.push(...post.reports, ...post.assistants)
  }
  const sizes = new Map<Id, number>()
  for (const id of order.reverse()) {
    const post = structure.posts.get(id)
    const below = post ? [...post.reports, ...post.assistants] : []
    sizes.set(
      id,
      below.reduce((sum, child) => sum + (sizes.get(child) ?? 0), 1),
    )
  }
  return sizes
}
