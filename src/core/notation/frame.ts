import { dayInWords, isAsset, type Day, type Id, type Model, type View } from '../model'
import type { Ground, LegendPart, ReaderNote } from '../scene'
import { framed, grounded, onPaper, themeFor, type Scene } from '../scene'
import { STRENGTH } from './kind'
import type { Maps } from './registry'
import { numberOf } from './stated'

/** A note of a view, as it is stated. */
export interface ViewNote {
  readonly id: string
  readonly order: number
  readonly words: string
  /** What it is about: a fact, a place of the picture in px, or nothing in particular. */
  readonly fact?: Id
  readonly at?: { readonly x: number; readonly y: number }
}

/** A view has no more notes than this. */
export const MOST_NOTES = 99

const PLACE = /^@(-?\d{1,6}),(-?\d{1,6})$/

/** The notes of a view in their order. O(what its look says) */
export const notesIn = ({ look }: View): readonly ViewNote[] =>
  Object.entries(look)
    .flatMap(([key, value]): ViewNote[] => {
      if (!key.startsWith('note ') || !Array.isArray(value)) return []
      const [order, words = '', about = ''] = value as readonly string[]
      const [, x, y] = PLACE.exec(about) ?? []
      const place = x === undefined ? undefined : { x: Number(x), y: Number(y) }
      return [
        {
          id: key.slice('note '.length),
          order: Number(order) || 0,
          words,
          ...(place ? { at: place } : about === '' ? {} : { fact: about as Id }),
        },
      ]
    })
    .sort((a, b) => a.order - b.order || (a.id < b.id ? -1 : 1))
    .slice(0, MOST_NOTES)

/** How a note is stated. */
export const noteWords = ({ order, words, fact, at }: Omit<ViewNote, 'id'>): readonly string[] => [
  String(order),
  words,
  ...(at ? [`@${Math.round(at.x)},${Math.round(at.y)}`] : fact === undefined ? [] : [fact]),
]

/** A picture with what its view wants around it and behind it, on its paper. */
export function inFrame(
  scene: Scene,
  model: Model,
  view: View,
  day: Day,
  { legend, maps }: { readonly legend: readonly LegendPart[]; readonly maps?: Maps | undefined },
): Scene {
  const { look } = view
  const source = typeof look['source'] === 'string' ? look['source'].trim() : ''
  const mark = look['house'] === true ? model.settings.look?.['mark'] : undefined
  const foot = [
    [source && `Source: ${source}`, look['asOf'] === true && `Facts as of ${dayInWords(day)}`]
      .filter(Boolean)
      .join(' · '),
    look['ground'] === 'map' && maps ? `Map: ${maps.source}` : '',
  ].filter((line) => line !== '')
  const notes = notesIn(view).map(({ words, fact, at }, index): ReaderNote => ({
    number: index + 1,
    words,
    ...(fact === undefined ? {} : { fact }),
    ...(at ? { at } : {}),
  }))
  const drawn = framed(scene, {
    legend,
    foot,
    notes,
    ...(look['ground'] === 'tint' ? { ground: 'plate' } : {}),
    ...(look['heading'] === true ? { heading: view.title, type: themeFor(model.settings, look).type } : {}),
    ...(mark !== undefined && isAsset(mark) ? { mark } : {}),
  })
  return grounded(onPaper({ ...drawn, picture: scene.bounds }, look), groundIn(model, view, maps))
}

/** How strongly what is behind a picture shows, from 0 to 1. */
export const strengthOf = ({ look }: View): number =>
  (typeof look['strength'] === 'number' ? look['strength'] : STRENGTH) / 100

function groundIn(model: Model, view: View, maps: Maps | undefined): Ground | undefined {
  const { look } = view
  switch (look['ground']) {
    case 'tint':
    case 'ruled':
    case 'dotted':
      return { sort: look['ground'] }
    case 'picture':
      return typeof look['picture'] === 'string' && isAsset(look['picture'])
        ? { sort: 'picture', asset: look['picture'], strength: strengthOf(view) }
        : undefined
    case 'map': {
      if (!maps) return undefined
      const places = regionOf(model, view)
      // A land is a surface of one colour: it may show more than a picture.
      return {
        sort: 'map',
        land: ({ width, height }) => maps.land(places, width, height),
        strength: typeof look['strength'] === 'number' ? strengthOf(view) : 1,
      }
    }
    default:
      return undefined
  }
}

const CORNER = /(-?\d{1,2}(?:\.\d+)?)\s+(-?\d{1,3}(?:\.\d+)?)/
const REGION = new RegExp(`^\\s*${CORNER.source}\\s*[,;–to ]+\\s*${CORNER.source}\\s*$`, 'i')

/** Two corners in degrees, latitude first, `55 8, 60 15`; undefined for any other text. */
export function readRegion(
  text: string,
): readonly { readonly latitude: number; readonly longitude: number }[] | undefined {
  const [a, b, c, d] = (REGION.exec(text) ?? []).slice(1).map(Number)
  if (a === undefined || b === undefined || c === undefined || d === undefined) return undefined
  const isPlace = (latitude: number, longitude: number) => Math.abs(latitude) <= 85 && Math.abs(longitude) <= 180
  return isPlace(a, b) && isPlace(c, d)
    ? [
        { latitude: a, longitude: b },
        { latitude: c, longitude: d },
      ]
    : undefined
}

/** The region that a view names, else that around all sites, else the world. */
function regionOf(model: Model, { look }: View) {
  const named = typeof look['region'] === 'string' ? readRegion(look['region']) : undefined
  if (named) return named
  const sites = model.ofKind('site').flatMap((site) => {
    const [latitude, longitude] = [numberOf(site, 'latitude'), numberOf(site, 'longitude')]
    return latitude === undefined || longitude === undefined ? [] : [{ latitude, longitude }]
  })
  return sites.length > 0
    ? sites
    : [
        { latitude: 70, longitude: -170 },
        { latitude: -55, longitude: 170 },
      ]
}
