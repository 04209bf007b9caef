import { nth } from '../graph'
/**
 * A forest to be laid out, as parallel arrays: `parent[i]` is −1 for a root, and a parent stands before its children.
 * Children of a node keep the order of their indexes. Lengths in px.
 */
export interface TreeShape {
  readonly parent: Int32Array
  /** How far a node reaches to the left and to the right of its anchor, the point that is centred over its children. */
  readonly left: Float64Array
  readonly right: Float64Array
  readonly height: Float64Array
}

export interface TreeGaps {
  /** Least free width between neighbours. */
  readonly across: number
  /** Free height between a node and its children. */
  readonly down: number
}

export interface TreePlaces {
  /** The anchor's x of every node; the leftmost node's left edge is at 0. */
  readonly x: Float64Array
  /** The top of every node; roots are at 0. */
  readonly y: Float64Array
}

/**
 * Tidy drawing of a forest of boxes of any size: no two boxes nearer than the gaps, order kept, a parent centred over its
 * first and last child, equal subtrees drawn equally. O(nodes), no recursion, so depth is no limit.
 * Reingold & Tilford 1981; Buchheim, Jünger & Leipert 2002; for boxes of unequal height van der Ploeg,
 * "Drawing non-layered tidy trees in linear time", 2014, whose names the working arrays keep.
 */
export function tidyTree(shape: TreeShape, gaps: TreeGaps): TreePlaces {
  const count = shape.parent.length
  const root = count // a node without height above all roots, so that they are packed like siblings
  const tree = childLists(shape.parent, root)
  const width = new Float64Array(count + 1)
  const anchor = new Float64Array(count + 1)
  const top = new Float64Array(count + 1)
  const bottom = new Float64Array(count + 1)
  const half = gaps.across / 2
  for (let i = 0; i < count; i++) {
    const up = nth(shape.parent, i)
    anchor[i] = nth(shape.left, i) + half
    width[i] = nth(anchor, i) + nth(shape.right, i) + half
    top[i] = up < 0 ? 0 : nth(bottom, up)
    bottom[i] = nth(top, i) + nth(shape.height, i) + gaps.down
  }
  const contours = new Contours(tree, width, anchor, bottom)
  for (let i = count - 1; i >= 0; i--) contours.join(i)
  contours.join(root)
  return { x: contours.absolute(shape.parent, root, half), y: top.slice(0, count) }
}

interface ChildLists {
  /** Children of node i are `child[start[i]] … child[start[i + 1] - 1]`. */
  readonly start: Int32Array
  readonly child: Int32Array
}

function childLists(parent: Int32Array, root: number): ChildLists {
  const start = new Int32Array(root + 2)
  const ownerOf = (i: number) => (nth(parent, i) < 0 ? root : nth(parent, i))
  for (let i = 0; i < root; i++) start[ownerOf(i) + 1] = nth(start, ownerOf(i) + 1) + 1
  for (let i = 0; i <= root; i++) start[i + 1] = nth(start, i + 1) + nth(start, i)
  const fill = start.slice()
  const child = new Int32Array(root)
  for (let i = 0; i < root; i++) {
    const owner = ownerOf(i)
    child[nth(fill, owner)] = i
    fill[owner] = nth(fill, owner) + 1
  }
  return { start, child }
}

/** Indexes are in range by construction; the fallback only satisfies the type. */

/** The lowest siblings seen from the right, to know which sibling a contour belongs to. */
interface Lowest {
  readonly y: number
  readonly index: number
  readonly next: Lowest | undefined
}

/** The state of the walk. `prelim` is a node's left edge in its parent's frame, `mod` moves the node with its subtree. */
class Contours {
  private readonly prelim: Float64Array
  private readonly mod: Float64Array
  private readonly shift: Float64Array
  private readonly change: Float64Array
  /** Threads continue a contour past a leaf; −1 where there is none. */
  private readonly leftThread: Int32Array
  private readonly rightThread: Int32Array
  /** The lowest nodes on the left and right of a subtree, and their offsets from its root. */
  private readonly leftmost: Int32Array
  private readonly rightmost: Int32Array
  private readonly leftmostMod: Float64Array
  private readonly rightmostMod: Float64Array

  constructor(
    private readonly tree: ChildLists,
    private readonly width: Float64Array,
    private readonly anchor: Float64Array,
    private readonly bottom: Float64Array,
  ) {
    const size = width.length
    this.prelim = new Float64Array(size)
    this.mod = new Float64Array(size)
    this.shift = new Float64Array(size)
    this.change = new Float64Array(size)
    this.leftThread = new Int32Array(size).fill(-1)
    this.rightThread = new Int32Array(size).fill(-1)
    this.leftmost = new Int32Array(size)
    this.rightmost = new Int32Array(size)
    this.leftmostMod = new Float64Array(size)
    this.rightmostMod = new Float64Array(size)
  }

  /** Moves a node's children apart, each already joined, and centres the node over them. */
  join(node: number): void {
    const { start, child } = this.tree
    const first = nth(start, node)
    const end = nth(start, node + 1)
    if (first === end) {
      this.leftmost[node] = node
      this.rightmost[node] = node
      return
    }
    let lowest: Lowest = { y: nth(this.bottom, nth(this.leftmost, nth(child, first))), index: first, next: undefined }
    for (let i = first + 1; i < end; i++) {
      const lowY = nth(this.bottom, nth(this.rightmost, nth(child, i)))
      this.separate(first, i, lowest)
      lowest = lowered(lowY, i, lowest)
    }
    const a = nth(child, first)
    const b = nth(child, end - 1)
    const middle = (this.anchorOf(a) + this.anchorOf(b)) / 2
    this.prelim[node] = middle - nth(this.anchor, node)
    this.leftmost[node] = nth(this.leftmost, a)
    this.leftmostMod[node] = nth(this.leftmostMod, a)
    this.rightmost[node] = nth(this.rightmost, b)
    this.rightmostMod[node] = nth(this.rightmostMod, b)
  }

  /** Anchors in the frame of the whole drawing, from the top down; the leftmost edge, without its half gap, at 0. */
  absolute(parent: Int32Array, root: number, halfGap: number): Float64Array {
    const sum = new Float64Array(root + 1)
    const x = new Float64Array(root)
    this.spread(root)
    sum[root] = nth(this.mod, root)
    let least = Infinity
    for (let i = 0; i < root; i++) {
      const up = nth(parent, i) < 0 ? root : nth(parent, i)
      this.spread(i)
      sum[i] = nth(sum, up) + nth(this.mod, i)
      const edge = nth(sum, i) + nth(this.prelim, i)
      x[i] = edge + nth(this.anchor, i)
      least = Math.min(least, edge)
    }
    for (let i = 0; i < root; i++) x[i] = nth(x, i) - least - halfGap
    return x
  }

  private anchorOf(node: number): number {
    return nth(this.prelim, node) + nth(this.mod, node) + nth(this.anchor, node)
  }

  /** Moves child `i` right until its left contour clears the right contour of all children before it. */
  private separate(first: number, i: number, lowest: Lowest): void {
    const { child } = this.tree
    let low: Lowest | undefined = lowest
    let right = nth(child, i - 1)
    let rightMod = nth(this.mod, right)
    let left = nth(child, i)
    let leftMod = nth(this.mod, left)
    let touched = false
    while (right >= 0 && left >= 0) {
      while (low?.next && nth(this.bottom, right) > low.y) low = low.next
      const distance = rightMod + nth(this.prelim, right) + nth(this.width, right) - (leftMod + nth(this.prelim, left))
      // The first meeting also pulls a child closer whose subtree happens to start far to the right.
      if (distance > 0 || !touched) {
        leftMod += distance
        this.move(i, low?.index ?? i - 1, distance)
        touched = true
      }
      const rightBottom = nth(this.bottom, right)
      const leftBottom = nth(this.bottom, left)
      if (rightBottom <= leftBottom) {
        right = this.nextRight(right)
        if (right >= 0) rightMod += nth(this.mod, right)
      }
      if (rightBottom >= leftBottom) {
        left = this.nextLeft(left)
        if (left >= 0) leftMod += nth(this.mod, left)
      }
    }
    if (right < 0 && left >= 0) this.threadLeft(first, i, left, leftMod)
    else if (right >= 0 && left < 0) this.threadRight(i, right, rightMod)
  }

  private move(i: number, from: number, distance: number): void {
    const { child } = this.tree
    const node = nth(child, i)
    this.mod[node] = nth(this.mod, node) + distance
    this.leftmostMod[node] = nth(this.leftmostMod, node) + distance
    this.rightmostMod[node] = nth(this.rightmostMod, node) + distance
    if (from === i - 1) return
    // Children between the two that touch take an even share of the distance.
    const share = distance / (i - from)
    const next = nth(child, from + 1)
    this.shift[next] = nth(this.shift, next) + share
    this.shift[node] = nth(this.shift, node) - share
    this.change[node] = nth(this.change, node) - (distance - share)
  }

  private spread(node: number): void {
    const { start, child } = this.tree
    let step = 0
    let sum = 0
    for (let i = nth(start, node); i < nth(start, node + 1); i++) {
      const c = nth(child, i)
      step += nth(this.shift, c)
      sum += step + nth(this.change, c)
      this.mod[c] = nth(this.mod, c) + sum
    }
  }

  private nextLeft(node: number): number {
    const { start, child } = this.tree
    return nth(start, node) === nth(start, node + 1) ? nth(this.leftThread, node) : nth(child, nth(start, node))
  }

  private nextRight(node: number): number {
    const { start, child } = this.tree
    return nth(start, node) === nth(start, node + 1)
      ? nth(this.rightThread, node)
      : nth(child, nth(start, node + 1) - 1)
  }

  private threadLeft(first: number, i: number, to: number, toMod: number): void {
    const { child } = this.tree
    const eldest = nth(child, first)
    const node = nth(child, i)
    const from = nth(this.leftmost, eldest)
    this.leftThread[from] = to
    const offset = toMod - nth(this.mod, to) - nth(this.leftmostMod, eldest)
    this.mod[from] = nth(this.mod, from) + offset
    this.prelim[from] = nth(this.prelim, from) - offset
    this.leftmost[eldest] = nth(this.leftmost, node)
    this.leftmostMod[eldest] = nth(this.leftmostMod, node)
  }

  private threadRight(i: number, to: number, toMod: number): void {
    const { child } = this.tree
    const node = nth(child, i)
    const before = nth(child, i - 1)
    const from = nth(this.rightmost, node)
    this.rightThread[from] = to
    const offset = toMod - nth(this.mod, to) - nth(this.rightmostMod, node)
    this.mod[from] = nth(this.mod, from) + offset
    this.prelim[from] = nth(this.prelim, from) - offset
    this.rightmost[node] = nth(this.rightmost, before)
    this.rightmostMod[node] = nth(this.rightmostMod, before)
  }
}

function lowered(y: number, index: number, lowest: Lowest): Lowest {
  let below: Lowest | undefined = lowest
  while (below && y >= below.y) below = below.next
  return { y, index, next: below }
}
