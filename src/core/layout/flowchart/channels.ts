import { nth } from '../../graph'
import { join } from '../../model'
import type { Grid, Piece, Route } from './grid'
import type { Ports } from './ports'
import { tracksOf } from './tracks'

/** Where the lines that share a channel lie in it. */
export interface Channels {
  /** The track of a piece, from 0; 0 for one that lies in no channel. */
  readonly trackOf: (piece: Piece) => number
  /** How many tracks a channel has, by its position. */
  readonly upright: (at: number) => number
  readonly lying: (at: number) => number
}

interface Place {
  readonly edge: number
  readonly index: number
}

/** Where a piece ends, more exactly than the grid knows: by the place on a node, or by the track that it leads to. */
type EndAt = (place: Place, end: 'from' | 'to') => number

/** First the upright channels, whose lines end at places on nodes; then the lying ones, whose lines end on upright tracks. O(pieces · log pieces) */
export function channelsOf(routes: readonly Route[], ports: Ports, grid: Grid): Channels {
  const middles = new Set(grid.middle)
  const [upright, lying] = [new Map<number, Place[]>(), new Map<number, Place[]>()]
  routes.forEach(({ pieces }, edge) =>
    pieces.forEach((piece, index) => {
      if (piece.along && !middles.has(piece.at)) join(lying, piece.at, { edge, index })
      if (!piece.along && piece.at % 4 === 0) join(upright, piece.at, { edge, index })
    }),
  )
  const tracks = new Map<Piece, number>()
  const pieceAt = (edge: number, index: number): Piece | undefined => nth(routes, edge).pieces[index]
  const uprightCounts = assign(upright, routes, tracks, ({ edge, index }, end) => {
    const { pieces } = nth(routes, edge)
    const isFirst = end === 'from' && index === 1
    const isLast = end === 'to' && index === pieces.length - 2
    const offset = isFirst ? nth(ports.out, edge) : isLast ? nth(ports.in, edge) : 0
    return nth(pieces, index)[end] + offset / 1000
  })
  const lyingCounts = assign(lying, routes, tracks, ({ edge, index }, end) => {
    const neighbour = pieceAt(edge, end === 'from' ? index - 1 : index + 1)
    const at = nth(nth(routes, edge).pieces, index)[end]
    return neighbour && at % 4 === 0 ? at + ((tracks.get(neighbour) ?? 0) + 1) / 1000 : at
  })
  return {
    trackOf: (piece) => tracks.get(piece) ?? 0,
    upright: (at) => uprightCounts.get(at) ?? 0,
    lying: (at) => lyingCounts.get(at) ?? 0,
  }
}

/** Gives every piece of some channels its track, and answers how many each channel has. */
function assign(
  channels: ReadonlyMap<number, readonly Place[]>,
  routes: readonly Route[],
  tracks: Map<Piece, number>,
  endAt: EndAt,
): ReadonlyMap<number, number> {
  const sideOf = (end: number | undefined, at: number) => (end === undefined ? 0 : Math.sign(end - at))
  return new Map(
    [...channels].map(([at, places]) => {
      const { track, count } = tracksOf(
        places.map((place) => {
          const { pieces } = nth(routes, place.edge)
          return {
            from: endAt(place, 'from'),
            to: endAt(place, 'to'),
            fromSide: sideOf(pieces[place.index - 1]?.from, at),
            toSide: sideOf(pieces[place.index + 1]?.to, at),
          }
        }),
      )
      places.forEach(({ edge, index }, i) => tracks.set(nth(nth(routes, edge).pieces, index), nth(track, i)))
      return [at, count] as const
    }),
  )
}
