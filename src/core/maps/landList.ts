import {
  geoGraticule,
  geoMercator,
  geoNaturalEarth1,
  geoPath,
  type GeoPermissibleObjects,
  type GeoProjection,
} from 'd3-geo'
import { feature } from 'topojson-client'
import type { Topology } from 'topojson-specification'
import coarse from 'world-atlas/land-110m.json' with { type: 'json' }
import fine from 'world-atlas/land-50m.json' with { type: 'json' }

/** Outlines of land, the coarser and the finer ones. */
interface Land {
  readonly coarse: GeoPermissibleObjects
  readonly fine: GeoPermissibleObjects
}

export type Drawing = (places: readonly Place[], width: number, height: number) => MapShape

export interface Place {
  /** In degrees: north and east are positive. */
  readonly latitude: number
  readonly longitude: number
}

export interface MapShape {
  readonly width: number
  readonly height: number
  /** Where each place lies, in px. */
  readonly at: readonly { readonly x: number; readonly y: number }[]
  /** Path data of the land within the map, of its grid of degrees; empty while the outlines are not there. */
  readonly land: string
  readonly grid: string
}

const landIn = (file: unknown): Land['fine'] => {
  const topology = file as Topology
  const { land } = topology.objects
  if (!land) throw new RangeError('no land in the outlines')
  return feature(topology, land)
}

/** The outlines that are shipped: large, so that they are only loaded for a map. */
const outlines: Land = { coarse: landIn(coarse), fine: landIn(fine) }

export const shipped: Drawing = (places, width, height) => drawn(outlines, places, width, height)

/** What is shown around places at least, in degrees, and how far beyond them in parts of their extent. */
const LEAST_DEGREES = 0.6
const BEYOND = 0.22
/** From so many degrees on the whole world is shown. */
const WORLD = 160

function drawn(land: Land, places: readonly Place[], width: number, height: number): MapShape {
  const box = boundsOf(places)
  const isWorld = box.east - box.west > WORLD
  const projection = isWorld
    ? geoNaturalEarth1().fitSize([width, height], { type: 'Sphere' })
    : fitted(geoMercator(), box, width, height)
  projection.clipExtent([
    [0, 0],
    [width, height],
  ])
  const path = geoPath(projection).digits(1)
  const span = Math.max(box.east - box.west, box.north - box.south)
  const step = isWorld ? 30 : ([10, 5, 2, 1, 0.5, 0.2, 0.1].find((one) => span / one >= 3) ?? 0.1)
  const graticule = geoGraticule().step([step, step])
  if (!isWorld)
    graticule.extent([
      [Math.max(-180, box.west - 2 * span), Math.max(-85, box.south - 2 * span)],
      [Math.min(180, box.east + 2 * span), Math.min(85, box.north + 2 * span)],
    ])
  return {
    width,
    height,
    at: places.map(({ latitude, longitude }) => {
      const [x, y] = projection([longitude, latitude]) ?? [0, 0]
      return { x, y }
    }),
    land: path(span > 60 ? land.coarse : land.fine) ?? '',
    grid: path(graticule()) ?? '',
  }
}

interface Bounds {
  readonly west: number
  readonly east: number
  readonly south: number
  readonly north: number
}

function boundsOf(places: readonly Place[]): Bounds {
  const [lons, lats] = [places.map(({ longitude }) => longitude), places.map(({ latitude }) => latitude)]
  const [west, east] = places.length === 0 ? [-180, 180] : [Math.min(...lons), Math.max(...lons)]
  const [south, north] = places.length === 0 ? [-60, 80] : [Math.min(...lats), Math.max(...lats)]
  const [x, y] = [
    Math.max(LEAST_DEGREES, east - west) * BEYOND + Math.max(0, LEAST_DEGREES - (east - west)) / 2,
    Math.max(LEAST_DEGREES, north - south) * BEYOND + Math.max(0, LEAST_DEGREES - (north - south)) / 2,
  ]
  return { west: west - x, east: east + x, south: Math.max(-84, south - y), north: Math.min(84, north + y) }
}

function fitted(
  projection: GeoProjection,
  { west, east, south, north }: Bounds,
  width: number,
  height: number,
): GeoProjection {
  return projection.fitSize([width, height], {
    type: 'MultiPoint',
    coordinates: [
      [west, south],
      [east, south],
      [west, north],
      [east, north],
    ],
  })
}
