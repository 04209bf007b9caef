import type { Cable, Device } from '../../structure'
import type { Area, Box } from './boxes'

/** Devices that hang on one other by one cable each, in the same box: they stand beneath one another at one rail. */
export interface Block {
  readonly hub: Device
  readonly leaves: readonly { readonly device: Device; readonly cable: Cable }[]
}

/** So many make a block, and from so many on it has two columns. */
const LEAST = 3
const TWO_COLUMNS = 7
const GAP = { down: 7, rail: 9, edge: 6 } as const

/** O(devices + cables) */
export function blocksIn(boxes: readonly Box[], cables: readonly Cable[]): Block[] {
  const boxOf = new Map(boxes.flatMap((box) => box.devices.map((device) => [device, box] as const)))
  const at = new Map<Device, Cable[]>()
  for (const cable of cables)
    for (const { device } of [cable.a, cable.b]) {
      const list = at.get(device) ?? []
      at.set(device, list)
      list.push(cable)
    }
  const other = ({ a, b }: Cable, device: Device) => (a.device === device ? b.device : a.device)
  const byHub = new Map<Device, { device: Device; cable: Cable }[]>()
  for (const { devices } of boxes)
    for (const device of devices) {
      const [cable, more] = at.get(device) ?? []
      if (!cable || more) continue
      const hub = other(cable, device)
      if (boxOf.get(hub) !== boxOf.get(device) || (at.get(hub)?.length ?? 0) < 2) continue
      const list = byHub.get(hub) ?? []
      byHub.set(hub, list)
      list.push({ device, cable })
    }
  return [...byHub].filter(([, leaves]) => leaves.length >= LEAST).map(([hub, leaves]) => ({ hub, leaves }))
}

export interface BlockSize {
  readonly width: number
  readonly height: number
}

/** The room that a block needs, with cards of a size and a tap from the rail to each. */
export function blockSize({ leaves }: Block, card: BlockSize, tap: number): BlockSize {
  const columns = leaves.length >= TWO_COLUMNS ? 2 : 1
  const rows = Math.ceil(leaves.length / columns)
  return {
    width: columns * (card.width + tap) + GAP.rail + 2 * GAP.edge,
    height: rows * (card.height + GAP.down) - GAP.down + 2 * GAP.rail + 2,
  }
}

export interface BlockPlaces {
  readonly cards: readonly Area[]
  /** From where the block is reached to each card: first what all share, then the tap. */
  readonly ways: readonly { readonly shared: readonly Point[]; readonly own: readonly Point[] }[]
}

interface Point {
  readonly x: number
  readonly y: number
}

/** Cards at the rail; of one column the rail runs on the side where the block is reached, of two between them. */
export function placeBlock(block: Block, area: Area, card: BlockSize, tap: number, entry: Point): BlockPlaces {
  const isTwo = block.leaves.length >= TWO_COLUMNS
  const rows = Math.ceil(block.leaves.length / (isTwo ? 2 : 1))
  const fromLeft = entry.x < area.x + area.width / 2 + 0.5
  const top = area.y + GAP.rail + 1
  const rail = isTwo ? area.x + area.width / 2 : fromLeft ? area.x + GAP.edge : area.x + area.width - GAP.edge
  const isFromSide = Math.abs(entry.x - area.x) < 0.5 || Math.abs(entry.x - area.x - area.width) < 0.5
  const cards = block.leaves.map((_, at): Area => {
    const left = isTwo ? at >= rows : !fromLeft
    const row = isTwo ? at % rows : at
    const x = left ? rail - tap - card.width : rail + tap
    return { x, y: top + row * (card.height + GAP.down), width: card.width, height: card.height }
  })
  // Reached from a side the rail of one column is met where the line comes in; else it is met by its end.
  const isDirect = isFromSide && !isTwo
  const isAbove = isDirect ? entry.y < area.y + area.height / 2 : entry.y <= area.y + area.height / 2
  const meet = isDirect ? entry.y : isAbove ? area.y + 4 : area.y + area.height - 4
  const lead: Point[] = isDirect
    ? [entry, { x: rail, y: entry.y }]
    : isFromSide
      ? [
          entry,
          { x: fromLeft ? area.x + 3 : area.x + area.width - 3, y: entry.y },
          { x: fromLeft ? area.x + 3 : area.x + area.width - 3, y: meet },
          { x: rail, y: meet },
        ]
      : [entry, { x: entry.x, y: meet }, { x: rail, y: meet }]
  const ways = cards.map((one) => {
    const y = one.y + one.height / 2
    const side = one.x < rail ? one.x + one.width : one.x
    return {
      shared: [...lead, { x: rail, y }],
      own: [
        { x: rail, y },
        { x: side, y },
      ],
    }
  })
  return { cards, ways }
}
