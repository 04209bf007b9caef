import { nth } from '../../graph'
import { join } from '../../model'
import type { Grid, Piece, Route } from './grid'
import type { Ports } from './ports'
import type { FlowShape } from './shape'
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
export function channelsOf(shape: FlowShape, routes: readonly Route[], ports: Ports, grid: Grid): Channels {
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
  const uprightCounts = assign(together(upright, shape), routes, tracks, ({ edge, index }, end) => {
    const { pieces } = nth(routes, edge)
    const isFirst = end === 'from' && index === 1
    const isLast = end === 'to' && index === pieces.length - 2
    const offset = isFirst ? nth(ports.out, edge) : isLast ? nth(ports.in, edge) : 0
    return nth(pieces, index)[end] + offset / 1000
  })
  const lyingCounts = assign(apart(lying), routes, tracks, ({ edge, index }, end) => {
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

/** Pieces that share a track, by channel: each by itself. */
const apart = (channels: ReadonlyMap<number, readonly Place[]>): Shared =>
  new Map([...channels].map(([at, places]) => [at, places.map((place) => [place])]))

/** The same, where lines that leave a node as one turn as one. */
function together(channels: ReadonlyMap<number, readonly Place[]>, { edges }: FlowShape): Shared {
  if (!edges.some(({ joins }) => joins !== undefined)) return apart(channels)
  return new Map(
    [...channels].map(([at, places]) => {
      const groups = new Map<string, Place[]>()
      for (const place of places) {
        const { from, joins } = nth(edges, place.edge)
        join(
          groups,
          joins === undefined || place.index !== 1 ? `${place.edge} ${place.index}` : `of ${from} ${joins}`,
          place,
        )
      }
      return [at, [...groups.values()]]
    }),
  )
}

type Shared = ReadonlyMap<number, readonly (readonly Place[])[]>

/** Gives every piece of some channels its track, and answers how many each channel has. */
function assign(
  channels: Shared,
  routes: readonly Route[],
  tracks: Map<Piece, number>,
  endAt: EndAt,
): ReadonlyMap<number, number> {
  const sideOf = (end: number | undefined, at: number) => (end === undefined ? 0 : Math.sign(end - at))
  return new Map(
    [...channels].map(([at, groups]) => {
      const { track, count } = tracksOf(
        groups.map((places) =>
          places.flatMap((place) => {
            const { pieces } = nth(routes, place.edge)
            return [
              { at: endAt(place, 'from'), side: sideOf(pieces[place.index - 1]?.from, at) },
              { at: endAt(place, 'to'), side: sideOf(pieces[place.index + 1]?.to, at) },
            ]
          }),
        ),
      )
      groups.forEach((places, i) => {
        for (const { edge, index } of places) tracks.set(nth(nth(routes, edge).pieces, index), nth(track, i))
      })
      return [at, count] as const
    }),
  )
}
