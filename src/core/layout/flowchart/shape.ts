/**
 * A flowchart to be laid out. The flow runs along u, lanes lie across it along v: for a chart that runs to the right u is x and v is y,
 * for one that runs down it is the other way round. Lengths in px. Nodes and edges are named by their index.
 */
export interface FlowShape {
  readonly nodes: readonly ShapeNode[]
  readonly edges: readonly ShapeEdge[]
  readonly lanes: readonly ShapeLane[]
  /** Nodes of which the second stands in a later column than the first, with no edge between them. */
  readonly after?: readonly (readonly [first: number, second: number])[]
  /** Whether to look longer for an order with fewer crossings. */
  readonly isThorough?: boolean
  /** Whether what hangs on the rest by one line is put in when the rest is in order: one more of it then moves little else. Where there are no lanes. */
  readonly isSteady?: boolean
  /** Whether what leads to several stands over their middle, not over the first of them. */
  readonly isCentred?: boolean
  /** What the search for ways with fewer crossings may cost, in places and lines looked at; some seconds unless it is said. */
  readonly mostLooked?: number
  /** How far apart things stand: 1 is usual, less is tighter, more is airier. */
  readonly spacing?: number
  /** How far apart lines leave one side of a node, in px: 10 unless more is said. */
  readonly apart?: number
}

export interface ShapeNode {
  readonly lane: number
  /** −1: in none. A later phase stands to the right of every earlier one. */
  readonly phase: number
  /** It stands no nearer to the beginning, or to that of its phase, than in this column. */
  readonly column?: number
  /** Half its extent along and across the flow. */
  readonly halfU: number
  readonly halfV: number
  /** How its sides run: a line meets a diamond's side the nearer to the middle, the farther it is from its corner. */
  readonly form: 'box' | 'diamond' | 'round'
  /** A name that stands outside the shape. */
  readonly name?: { readonly u: number; readonly v: number }
  /** Columns and rows by which a hand has moved it from the computed place. */
  readonly nudge?: readonly [columns: number, rows: number]
}

export interface ShapeEdge {
  readonly from: number
  /** A node, or −1 − lane for the border of a lane without nodes. */
  readonly to: number
  /** flow: decides the columns; message: crosses lanes; tie: belongs beside its step. */
  readonly sort: 'flow' | 'message' | 'tie'
  readonly label?: { readonly u: number; readonly v: number }
  /** Room across the flow behind each of its ends, for what is written beside them. */
  readonly beside?: { readonly out: number; readonly in: number }
  /** Lines of one number that leave one node leave it as one, and part where they go. */
  readonly joins?: number
}

interface ShapeLane {
  /** Lanes of one pool share its number. */
  readonly pool: number
  /** The least extent across the flow. */
  readonly least: number
}

export interface Spot {
  readonly u: number
  readonly v: number
}

export interface Area {
  readonly u: number
  readonly v: number
  readonly du: number
  readonly dv: number
}

/** A flowchart laid out; the first lane begins at v = 0, the first column at u = 0. */
export interface FlowPlaces {
  /** Middles of the nodes. */
  readonly nodes: readonly Spot[]
  readonly names: readonly (Area | undefined)[]
  /** The way of each edge from border to border. */
  readonly ways: readonly (readonly Spot[])[]
  readonly labels: readonly (Area | undefined)[]
  readonly lanes: readonly { readonly from: number; readonly to: number }[]
  /** Where each phase begins and ends along the flow; undefined for one without nodes. */
  readonly phases: readonly ({ readonly from: number; readonly to: number } | undefined)[]
  /** There were too many lines to look for the ways with the fewest crossings. */
  readonly plain: boolean
  /** Places and lines that were looked at: what it has cost. */
  readonly looked: number
  /** Where it can be cut along the flow, one place before each column but the first: there lines lead straight on, and nothing else is. */
  readonly cuts: readonly number[]
  readonly length: number
  readonly breadth: number
  readonly column: Int32Array
  readonly row: Int32Array
}
