/** Boxes within boxes: what each holds, in its order, and the room that it needs for itself. Lengths in px. */
export interface PackShape<N> {
  readonly inner: (node: N) => readonly N[]
  /** The least that a box is, with the height of what stands above those within it. */
  readonly least: (node: N) => { readonly width: number; readonly head: number }
  /** Free space between a box and those within it, and between these. */
  readonly pad: number
  readonly gap: number
  /** Width to height that a row of boxes aims at. */
  readonly ratio: number
}

/** A box in its place, after the one that holds it. */
export interface Packed<N> {
  readonly node: N
  readonly parent: N | undefined
  readonly depth: number
  readonly box: { readonly x: number; readonly y: number; readonly width: number; readonly height: number }
}

interface Rows {
  readonly at: readonly { readonly x: number; readonly y: number }[]
  readonly width: number
  readonly height: number
}

interface Measured<N> {
  readonly node: N
  readonly width: number
  readonly height: number
  readonly head: number
  readonly inner: readonly Measured<N>[]
  readonly rows: Rows
}

/**
 * Boxes in boxes without overlap, each within its own: those of one box stand in rows, in their order, broken where the whole comes
 * nearest to the ratio aimed at (shelf packing in a given order; the break is tried after each of the first 60 boxes). The same shape
 * always gives the same places. O(boxes × those beside them).
 */
export function packed<N>(
  tops: readonly N[],
  shape: PackShape<N>,
): { places: Packed<N>[]; width: number; height: number } {
  const measured = tops.map((node) => measure(node, shape))
  const rows = inBestRows(measured, shape)
  const places: Packed<N>[] = []
  const place = (list: readonly Measured<N>[], { at }: Rows, x: number, y: number, depth: number, parent?: N): void =>
    list.forEach(({ node, width, height, head, inner, rows: within }, i) => {
      const box = { x: x + (at[i]?.x ?? 0), y: y + (at[i]?.y ?? 0), width, height }
      places.push({ node, parent, depth, box })
      place(inner, within, box.x + shape.pad, box.y + head, depth + 1, node)
    })
  place(measured, rows, 0, 0, 0)
  return { places, width: rows.width, height: rows.height }
}

function measure<N>(node: N, shape: PackShape<N>): Measured<N> {
  const inner = shape.inner(node).map((one) => measure(one, shape))
  const rows = inBestRows(inner, shape)
  const { width, head } = shape.least(node)
  return {
    node,
    width: Math.ceil(Math.max(width, rows.width > 0 ? rows.width + 2 * shape.pad : 0)),
    height: head + (rows.height > 0 ? rows.height + shape.pad : 0),
    head,
    inner,
    rows,
  }
}

interface Size {
  readonly width: number
  readonly height: number
}

/** How many boxes of one row are tried for a break. */
const MOST_TRIED = 60

function inBestRows(boxes: readonly Size[], { gap, ratio }: Pick<PackShape<never>, 'gap' | 'ratio'>): Rows {
  if (boxes.length === 0) return { at: [], width: 0, height: 0 }
  const misfit = ({ width, height }: Rows) => Math.abs(Math.log(width / height / ratio))
  let best = inRows(boxes, Infinity, gap)
  let most = 0
  for (const { width } of boxes.slice(0, MOST_TRIED)) {
    most += width + gap
    const tried = inRows(boxes, most, gap)
    if (misfit(tried) < misfit(best)) best = tried
  }
  return best
}

function inRows(boxes: readonly Size[], most: number, gap: number): Rows {
  let [x, y, row, width] = [0, 0, 0, 0]
  const at = boxes.map((box) => {
    if (x > 0 && x + box.width > most) {
      y += row + gap
      x = row = 0
    }
    const place = { x, y }
    width = Math.max(width, x + box.width)
    row = Math.max(row, box.height)
    x += box.width + gap
    return place
  })
  return { at, width, height: y + row }
}
