import type { Drawing, MapShape, Place } from './landList'

export type { MapShape, Place }

/** Where the outlines come from: said wherever they are drawn. */
export const LAND_SOURCE = 'Natural Earth, public domain'

let drawing: Drawing | undefined

/** From now on maps are drawn with these outlines. */
export function provideLand(provided: Drawing): void {
  drawing = provided
}

/** Loads the outlines that are shipped with what projects them, unless they are there; undefined when they are. */
export const loadLand = (): Promise<unknown> | undefined =>
  drawing ? undefined : import('./landList').then(({ shipped }) => provideLand(shipped))

/** A map that fits some places: a region in Mercator’s projection, or the whole world where they are far apart. Without the outlines places lie by their degrees alone. O(points of the outlines). */
export function mapOf(places: readonly Place[], width: number, height: number): MapShape {
  return drawing ? drawing(places, width, height) : plain(places, width, height)
}

const EDGE = 0.12

function plain(places: readonly Place[], width: number, height: number): MapShape {
  const spread = (values: readonly number[]) => {
    const [least, most] = [Math.min(...values), Math.max(...values)]
    return (value: number) => (most > least ? EDGE + ((value - least) / (most - least)) * (1 - 2 * EDGE) : 0.5)
  }
  const [x, y] = [spread(places.map(({ longitude }) => longitude)), spread(places.map(({ latitude }) => -latitude))]
  return {
    width,
    height,
    at: places.map(({ latitude, longitude }) => ({ x: x(longitude) * width, y: y(-latitude) * height })),
    land: '',
    grid: '',
  }
}
