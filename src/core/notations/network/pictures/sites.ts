import { numberOf } from '../../../notation'
import { placeLabels } from '../../../layout'
import { LAND_SOURCE, mapOf } from '../../../maps'
import { counted, type Day, type Entity, type Id, type Model, type View } from '../../../model'
import type { Picture } from '../../../notation'
import { aroundPoints, kit, textWidth, type Item, type Link, type Mark, type Scene } from '../../../scene'
import { sites as gestures } from '../gestures'
import { speedText } from '../speed'
import { capacityOf, netShown, type Cable, type Device, type Net } from '../structure'
import { weightOf } from './zones/lines'

export const sites: Picture = {
  ...gestures,
  draw,
  needs: [
    'site.latitude',
    'site.longitude',
    'located-at beside',
    'device beside',
    'device beyond',
    'device.network',
    'device.rack',
    'device.critical',
    'device from',
    'device to',
    'rack beside',
    'rack beyond',
    'rack.site',
    'port beside',
    'port beyond',
    'port.device',
    'cable beside',
    'cable beyond',
    'cable.capacity',
  ],
}

const WIDTH = 860
const MARGIN = 20
const HEIGHT = { least: 380, most: 500 } as const
const LABEL = { name: 12, note: 10.5, line: 14 } as const
const MARKER = 7

interface Placed {
  readonly site: Entity
  readonly devices: readonly Device[]
  readonly latitude: number
  readonly longitude: number
}

/** O(devices + cables + points of the outlines + sites²). */
function draw(model: Model, view: View, day: Day): Scene {
  const net = netShown(model, view, day)
  const members = new Map<Entity, Device[]>()
  for (const device of net.devices)
    if (device.site) members.set(device.site, [...(members.get(device.site) ?? []), device])
  const placed: Placed[] = []
  const unplaced: Entity[] = []
  for (const [site, devices] of members) {
    const [latitude, longitude] = [numberOf(site, 'latitude'), numberOf(site, 'longitude')]
    if (latitude === undefined || longitude === undefined) unplaced.push(site)
    else placed.push({ site, devices, latitude, longitude })
  }
  const height = heightFor(placed)
  const map = mapOf(placed, WIDTH, height)
  const at = new Map(placed.map(({ site }, index) => [site.id, map.at[index] ?? { x: 0, y: 0 }]))
  const down = new Set(Array.isArray(view.options['down']) ? (view.options['down'] as readonly string[]) : [])
  const joined = linksBetween(net, at)
  const isArc = view.options['arcs'] !== 'lines'
  const arcs = joined.map(({ a, b }) => arcOf(at.get(a) ?? { x: 0, y: 0 }, at.get(b) ?? { x: 0, y: 0 }, isArc))
  const words = joined.map(({ cables }) => capacityWords(cables))
  const shows = view.options['capacity'] !== false
  // Texts of places and of links take turns for their room: none meets another one.
  const labels = placeLabels([
    ...placed.map(({ site, devices }) => {
      const lines = [textWidth(site.name, LABEL.name, 'text700'), textWidth(noteOf(devices), LABEL.note, 'text400')]
      return {
        ...(at.get(site.id) ?? { x: 0, y: 0 }),
        width: Math.ceil(Math.max(...lines)) + 4,
        height: 2 * LABEL.line + 2,
        radius: MARKER,
      }
    }),
    ...(shows
      ? words.map((text, index) => ({
          ...(arcs[index]?.middle ?? { x: 0, y: 0 }),
          width: Math.ceil(textWidth(text, LABEL.note, 'mono400')) + 4,
          height: LABEL.line,
          radius: 2,
        }))
      : []),
  ])
  const shift = ({ x, y }: { x: number; y: number }) => ({ x: x + MARGIN, y: y + MARGIN })
  const items = placed.map(({ site, devices }, index): Item => {
    const point = shift(at.get(site.id) ?? { x: 0, y: 0 })
    const label = labels[index]
    return siteItem(site, devices, point, label && { ...shift(label), isFar: label.isFar }, down.has(site.id))
  })
  const links = joined.map(({ a, b, cables }, index): Link => {
    const arc = arcs[index]
    const label = shows ? labels[placed.length + index] : undefined
    const capacity = cables.reduce((sum, cable) => sum + (capacityOf(cable) ?? 0), 0)
    const isDown = down.has(a) || down.has(b) || cables.every(({ id }) => down.has(id))
    const place = label && shift(label)
    return {
      id: `${a} ${b}` as Id,
      source: a,
      target: b,
      bounds: aroundPoints(
        [...(arc?.hull ?? []).map(shift), ...(place ? [place, { x: place.x + 80, y: place.y + LABEL.line }] : [])],
        8,
      ),
      marks: [
        kit.path(arc ? arc.path(MARGIN) : '', {
          fill: 'none',
          stroke: isDown ? 'error' : 'ink-quiet',
          'stroke-width': weightOf(capacity) * 0.8,
          ...(isDown ? { 'stroke-dasharray': '2 4' } : {}),
        }),
        ...(place
          ? [
              kit.rect(
                {
                  x: place.x,
                  y: place.y,
                  width: Math.ceil(textWidth(words[index] ?? '', LABEL.note, 'mono400')) + 4,
                  height: LABEL.line,
                },
                { rx: 2, fill: 'sheet', stroke: 'none', 'fill-opacity': 0.82 },
              ),
              kit.text(place.x + 2, place.y + 10.5, words[index] ?? '', {
                fill: 'ink',
                'font-family': 'mono',
                'font-size': LABEL.note,
              }),
            ]
          : []),
      ],
    }
  })
  const beneath = unplacedItems(unplaced, members, MARGIN, MARGIN + height + 30)
  const below = beneath.items.length > 0 ? beneath.height : 0
  return {
    bounds: { x: 0, y: 0, width: WIDTH + 2 * MARGIN, height: height + 2 * MARGIN + below },
    backdrop: [...ground(map, height, view.options['grid'] !== false), ...beneath.marks],
    items: [...items, ...beneath.items],
    links,
    headline: `${counted(placed.length + unplaced.length, 'site')}, ${joined.length} joined`,
    summary: `A map of ${placed.map(({ site }) => site.name).join(', ') || 'no site yet'}.`,
  }
}

/** A map as high as its places ask for. */
function heightFor(placed: readonly Placed[]): number {
  if (placed.length === 0) return HEIGHT.least
  const lats = placed.map(({ latitude }) => latitude)
  const lons = placed.map(({ longitude }) => longitude)
  const middle = ((Math.min(...lats) + Math.max(...lats)) / 2) * (Math.PI / 180)
  const across = Math.max(0.6, Math.max(...lons) - Math.min(...lons)) * Math.cos(middle)
  const up = Math.max(0.6, Math.max(...lats) - Math.min(...lats))
  return Math.round(Math.min(HEIGHT.most, Math.max(HEIGHT.least, (WIDTH * up) / across)))
}

function ground(map: ReturnType<typeof mapOf>, height: number, showGrid: boolean): Mark[] {
  const moved = (d: string) =>
    kit.group([kit.path(shifted(d), { fill: 'none', stroke: 'hairline', 'stroke-width': 0.8 })], {})
  return [
    kit.rect({ x: MARGIN, y: MARGIN, width: WIDTH, height }, { fill: 'sheet', stroke: 'outline' }),
    ...(showGrid && map.grid !== '' ? [moved(map.grid)] : []),
    ...(map.land === '' ? [] : [kit.path(shifted(map.land), { fill: 'head', stroke: 'outline', 'stroke-width': 0.9 })]),
    kit.rect({ x: MARGIN, y: MARGIN, width: WIDTH, height }, { fill: 'none', stroke: 'outline' }),
    kit.text(
      MARGIN + WIDTH,
      MARGIN + height + 13,
      map.land === '' ? 'outlines not loaded' : `Outlines: ${LAND_SOURCE}`,
      {
        fill: 'ink-quiet',
        'font-size': 9,
        'text-anchor': 'end',
      },
    ),
  ]
}

/** Path data of absolute points, moved by the margin. */
const shifted = (d: string): string =>
  d.replace(
    /(-?\d+(?:\.\d+)?),(-?\d+(?:\.\d+)?)/g,
    (_, x: string, y: string) => `${tidy(Number(x) + MARGIN)} ${tidy(Number(y) + MARGIN)}`,
  )
const tidy = (value: number): number => Math.round(value * 10) / 10

interface Joined {
  readonly a: Id
  readonly b: Id
  readonly cables: readonly Cable[]
}

/** Cables between different sites, by the pairs of these. */
function linksBetween(net: Net, at: ReadonlyMap<Id, unknown>): Joined[] {
  const pairs = new Map<string, { a: Id; b: Id; cables: Cable[] }>()
  for (const cable of net.cables) {
    const [one, other] = [cable.a.device.site?.id, cable.b.device.site?.id]
    if (one === undefined || other === undefined || one === other || !at.has(one) || !at.has(other)) continue
    const [a, b] = one < other ? [one, other] : [other, one]
    const known = pairs.get(`${a} ${b}`) ?? { a, b, cables: [] }
    pairs.set(`${a} ${b}`, known)
    known.cables.push(cable)
  }
  return [...pairs.values()]
}

function capacityWords(cables: readonly Cable[]): string {
  const stated = cables.flatMap((cable) => capacityOf(cable) ?? [])
  const sum = stated.reduce((total, one) => total + one, 0)
  const many = cables.length === 1 ? '' : `${cables.length} × `
  if (stated.length === 0) return cables.length === 1 ? 'not stated' : `${cables.length} cables`
  return stated.length === cables.length && stated.every((one) => one === stated[0]) && cables.length > 1
    ? `${many}${speedText(stated[0] ?? 0)} = ${speedText(sum)}`
    : speedText(sum)
}

interface Point {
  readonly x: number
  readonly y: number
}

/** A bow between two places, or a straight line. */
function arcOf(a: Point, b: Point, isArc: boolean): { path: (by: number) => string; middle: Point; hull: Point[] } {
  const length = Math.hypot(b.x - a.x, b.y - a.y) || 1
  const bow = isArc ? Math.min(70, length * 0.18) : 0
  // Bows bend upwards, whichever end comes first.
  const [nx, ny] = [(b.y - a.y) / length, -(b.x - a.x) / length]
  const up = ny > 0 || (ny === 0 && nx > 0) ? -1 : 1
  const control = { x: (a.x + b.x) / 2 + nx * up * bow * 2, y: (a.y + b.y) / 2 + ny * up * bow * 2 }
  const middle = { x: (a.x + b.x) / 4 + control.x / 2, y: (a.y + b.y) / 4 + control.y / 2 }
  return {
    path: (by) =>
      bow === 0
        ? `M${tidy(a.x + by)} ${tidy(a.y + by)}L${tidy(b.x + by)} ${tidy(b.y + by)}`
        : `M${tidy(a.x + by)} ${tidy(a.y + by)}Q${tidy(control.x + by)} ${tidy(control.y + by)} ${tidy(b.x + by)} ${tidy(b.y + by)}`,
    middle,
    hull: [a, b, control],
  }
}

const noteOf = (devices: readonly Device[]): string => {
  const critical = devices.filter((device) => device.critical).length
  return `${devices.length} ${devices.length === 1 ? 'device' : 'devices'}${critical > 0 ? `, ${critical} critical` : ''}`
}

function siteItem(
  site: Entity,
  devices: readonly Device[],
  { x, y }: Point,
  label: (Point & { isFar: boolean }) | undefined,
  isDown: boolean,
): Item {
  const r = MARKER
  const box = { x: x - r, y: y - r, width: 2 * r, height: 2 * r }
  const marks: Mark[] = [
    kit.circle(r, r, r - 1, { fill: isDown ? 'error' : 'sheet', stroke: isDown ? 'error' : 'ink', 'stroke-width': 2 }),
    kit.circle(r, r, 2.4, { fill: isDown ? 'sheet' : 'ink', stroke: 'none' }),
  ]
  if (label) {
    const [lx, ly] = [label.x - box.x, label.y - box.y]
    const width =
      Math.max(textWidth(site.name, LABEL.name, 'text700'), textWidth(noteOf(devices), LABEL.note, 'text400')) + 4
    if (label.isFar)
      marks.unshift(
        kit.path(`M${r} ${r}L${tidy(lx + width / 2)} ${tidy(ly + LABEL.line)}`, {
          fill: 'none',
          stroke: 'ink-quiet',
          'stroke-width': 0.8,
        }),
      )
    marks.push(
      kit.rect(
        { x: lx, y: ly, width, height: 2 * LABEL.line + 2 },
        { rx: 2, fill: 'sheet', stroke: 'none', 'fill-opacity': 0.82 },
      ),
      kit.text(lx + 2, ly + 12, site.name, {
        fill: 'ink',
        'font-size': LABEL.name,
        'font-weight': 700,
        ...(isDown ? { 'text-decoration': 'line-through' as const } : {}),
      }),
      kit.text(lx + 2, ly + 12 + LABEL.line, isDown ? `down, ${noteOf(devices)}` : noteOf(devices), {
        fill: 'ink-quiet',
        'font-size': LABEL.note,
      }),
    )
  }
  return {
    id: site.id,
    facts: [site.id],
    label: `site ${site.name}, ${noteOf(devices)}${isDown ? ', down' : ''}`,
    box,
    marks,
    texts: label
      ? [
          {
            part: 'name',
            label: 'Site',
            value: site.name,
            box: { x: label.x - box.x - 2, y: label.y - box.y - 2, width: 140, height: 20 },
          },
        ]
      : [],
  }
}

/** Sites that have no place on the map, beneath it. */
function unplacedItems(
  unplaced: readonly Entity[],
  members: ReadonlyMap<Entity, readonly Device[]>,
  left: number,
  top: number,
) {
  if (unplaced.length === 0) return { items: [], marks: [], height: 0 }
  const items = unplaced.map((site, at): Item => {
    const note = noteOf(members.get(site) ?? [])
    return {
      id: site.id,
      facts: [site.id],
      label: `site ${site.name}, ${note}, without a place on the map`,
      box: { x: left + (at % 5) * 200, y: top + 14 + Math.floor(at / 5) * 50, width: 188, height: 40 },
      marks: [
        kit.rect(
          { x: 0.5, y: 0.5, width: 187, height: 39 },
          { rx: 3, fill: 'plate', stroke: 'outline', 'stroke-dasharray': '4 3' },
        ),
        kit.text(10, 17, site.name, { fill: 'ink', 'font-size': LABEL.name, 'font-weight': 700 }),
        kit.text(10, 31, note, { fill: 'ink-quiet', 'font-size': LABEL.note }),
      ],
      texts: [{ part: 'name', label: 'Site', value: site.name, box: { x: 4, y: 2, width: 180, height: 20 } }],
    }
  })
  const marks = [
    kit.text(left, top + 4, 'Without a place on the map: state latitude and longitude', {
      fill: 'ink-quiet',
      'font-size': 11,
    }),
  ]
  return { items, marks, height: 24 + Math.ceil(unplaced.length / 5) * 50 + 20 }
}
