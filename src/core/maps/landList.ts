import type { GeoPermissibleObjects } from 'd3-geo'
import { feature } from 'topojson-client'
import type { Topology } from 'topojson-specification'
import coarse from 'world-atlas/land-110m.json' with { type: 'json' }
import fine from 'world-atlas/land-50m.json' with { type: 'json' }

/** Outlines of land, the coarser and the finer ones. */
export interface Land {
  readonly coarse: GeoPermissibleObjects
  readonly fine: GeoPermissibleObjects
}

const landIn = (file: unknown): Land['fine'] => {
  const topology = file as Topology
  const { land } = topology.objects
  if (!land) throw new RangeError('no land in the outlines')
  return feature(topology, land)
}

/** The outlines that are shipped: large, so that they are only loaded for a map. */
export const shipped: Land = { coarse: landIn(coarse), fine: landIn(fine) }
