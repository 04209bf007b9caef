import type { Picture } from '../../../notation'
import { arrangements } from '../gestures'
import { converging, diverging, orbit, spokes } from './around'
import { concepts } from './concepts'
import { drawnBy } from './draw'
import { frames, largeSmall, strip } from './images'
import { cards, checklist, columns, compare, pictureCards, rows } from './lists'
import { grid, placed, quadrants } from './matrices'
import { nested, overlap, setsRow } from './overlaps'
import { pyramid, pyramidBeside, pyramidTurned } from './pyramids'
import { arcs, ring, segments, wheel } from './rings'
import type { Arrange } from './shape'
import { arrows, bending, chain, funnel, gates, stairsDown, stairsUp } from './steps'
import { suiting } from './suits'
import { bigNumber, scale, share, sum } from './sums'
import { indented, treeAcross, treeDown } from './trees'

/** How each arrangement is laid out. */
export const ARRANGES: Readonly<Record<string, Arrange>> = {
  rows,
  columns,
  cards,
  'picture-cards': pictureCards,
  compare,
  checklist,
  arrows,
  'stairs-up': stairsUp,
  'stairs-down': stairsDown,
  chain,
  bending,
  funnel,
  gates,
  ring,
  arcs,
  segments,
  wheel,
  'tree-down': treeDown,
  'tree-across': treeAcross,
  indented,
  pyramid,
  'pyramid-turned': pyramidTurned,
  'pyramid-beside': pyramidBeside,
  quadrants,
  grid,
  placed,
  spokes,
  orbit,
  converging,
  diverging,
  overlap,
  nested,
  'sets-row': setsRow,
  'large-small': largeSmall,
  strip,
  frames,
  sum,
  scale,
  'big-number': bigNumber,
  share,
}

const arranged: readonly Picture[] = arrangements.map((gestures) => {
  const arrange = ARRANGES[gestures.id]
  if (!arrange) throw new RangeError(`nothing draws “${gestures.id}”`)
  const { takes = [1, 9] } = gestures.arranges ?? {}
  return {
    ...gestures,
    needs: ['part.figure', 'part.under'],
    draw: drawnBy(arrange),
    suits: suiting(gestures.id, takes),
  }
})

export const pictures: readonly Picture[] = [...arranged, concepts]
