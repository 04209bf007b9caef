import { disjointWays, nth } from '../../../../graph'
import { middleOfWay, type Point } from '../../../../layout'
import type { Day, Id, Model, View } from '../../../../model'
import { spacingOf, type Picture } from '../../../../notation'
import { aroundPoints, kit, textWidth, type Item, type Link, type Mark, type Scene } from '../../../../scene'
import { addressText } from '../../addresses'
import { isOverloaded, lostBy, usualOf, type Carried } from '../../carried'
import { zones as gestures } from '../../gestures'
import { speedText } from '../../speed'
import { capacityOf, netShown, type Cable, type Device, type Net } from '../../structure'
import { passesAt, topologyOf } from '../../topology'
import { waysOf } from '../../ways'
import { CARD, cardMarks, widthFor } from '../device'
import type { Measures } from './plan'
import type { Area, Box, CableWay } from './boxes'
import { coarsenessFor, groundMarks, tabWidth } from './ground'
import { straightWays } from './straight'
import { legendMarks } from './legend'
import { cableMarks, type CableLook } from './lines'
import { arranged } from './manners'

export const zones: Picture = {
  ...gestures,
  draw,
  needs: [
    'zone.network',
    'zone.trust',
    'device.network',
    'device.zone',
    'device.type',
    'device.addresses',
    'device.critical',
    'port beside',
    'port name',
    'port.device',
    'port.addresses',
    'cable.capacity',
    'traffic beside',
    'traffic.direction',
  ],
}

const SPREAD = { tight: 0.4, normal: 0.75, airy: 1.3 } as const
const LABEL = 9.5

export interface Choices {
  readonly boxes: 'zone' | 'site'
  readonly straight: boolean
  readonly ports: boolean
  readonly addresses: boolean
  readonly flows: boolean
  readonly speeds: boolean
  readonly legend: boolean
}

const choicesOf = ({ options }: Pick<View, 'options'>): Choices => ({
  boxes: options['boxes'] === 'site' ? 'site' : 'zone',
  straight: options['lines'] === 'straight',
  ports: options['ports'] !== false,
  addresses: options['addresses'] !== false,
  flows: options['flows'] !== false,
  speeds: options['speeds'] === true,
  legend: options['legend'] !== false,
})

const layouts = new WeakMap<Net, Map<string, ReturnType<typeof arranged>>>()
/** Of one network the layouts of so many views are remembered. */
const MOST_LAYOUTS = 4

/** Where everything stands: found once for the facts and what the view says about it, so that taking something down moves nothing. */
function layoutOf(net: Net, { boxes, speeds }: ReturnType<typeof choicesOf>, measures: Measures) {
  const known = layouts.get(net) ?? new Map<string, ReturnType<typeof arranged>>()
  layouts.set(net, known)
  const key = JSON.stringify([boxes, speeds, measures])
  const found =
    known.get(key) ??
    arranged(net, boxes, topologyOf(net).cables, measures, (cable) => {
      const words = speeds ? speedWords(cable) : ''
      return words === '' ? undefined : { u: Math.ceil(textWidth(words, LABEL, 'mono400')), v: 12 }
    })
  const [oldest] = known.keys()
  if (known.size >= MOST_LAYOUTS && oldest !== undefined && !known.has(key)) known.delete(oldest)
  known.set(key, found)
  return found
}

/** O(layout). */
function draw(model: Model, view: View, day: Day): Scene {
  const net = netShown(model, view, day)
  const choices = choicesOf(view)
  const topology = topologyOf(net)
  const { cables } = topology
  const { devices } = net
  const lineOf = (device: Device) => (choices.addresses ? addressLine(device) : '')
  const card = {
    width: Math.max(CARD.least, ...devices.map((device) => widthFor(device.name, lineOf(device)))),
    height: choices.addresses ? CARD.height : 34,
  }
  const names = Math.max(0, ...cables.flatMap(({ a, b }) => [portWidth(a.name), portWidth(b.name)]))
  const { boxes, laid } = layoutOf(net, choices, {
    card,
    stub: choices.ports ? Math.min(54, Math.ceil(8 + names)) : 6,
    above: choices.ports ? 10 : 2,
    tap: choices.ports ? Math.ceil(2 * names + 20) : 26,
    spacing: SPREAD[spacingOf(view)],
    named: choices.ports,
  })
  const loss = lostBy(net, idsIn(view.options['down']))
  const isAnyDown = loss.down.nodes.size + loss.down.edges.size > 0
  const carried = isAnyDown ? loss.carried : usualOf(topology)
  const shown = waysShown(net, view)
  const cutOff = new Set(loss.cutOff)
  const down = new Set([...loss.down.nodes].map((node) => nth(net.devices, node)))
  const straight = choices.straight ? straightWays(laid.ways, laid.devices) : undefined
  const links = cables.map((cable, at): Link => {
    const bent = laid.ways.get(cable) ?? { shared: [], own: [] }
    const way = straight?.get(cable) ?? bent
    const isDown = loss.down.edges.has(at) || down.has(cable.a.device) || down.has(cable.b.device)
    const look: CableLook = {
      capacity: capacityOf(cable),
      state: isDown ? 'down' : cutOff.has(cable.a.device) && cutOff.has(cable.b.device) ? 'cut off' : 'up',
      isOver: isOverloaded(cable, carried.get(cable)),
      ...(choices.flows ? arrowsOf(carried.get(cable)) : { onward: false, back: false }),
      ports: choices.ports ? [cable.a.name, cable.b.name] : undefined,
      named: bent,
      way: shown?.ways.get(cable),
      isCut: shown?.cutCables.has(cable) === true,
    }
    const label = choices.straight ? undefined : laid.labels.get(cable)
    const isFromHub = bent.shared.length === 0 || isLeafLast(cable, bent.own, laid.devices)
    return {
      id: cable.id,
      source: cable.a.device.id,
      target: cable.b.device.id,
      bounds: aroundPoints(way.own.length > 0 ? [...way.shared, ...way.own] : [{ x: 0, y: 0 }], 16),
      marks: [
        ...cableMarks(way, isFromHub ? look : turned(look)),
        ...(label ? [labelMark(speedWords(cable), label)] : []),
      ],
    }
  })
  const cableItems = cables.map((cable, at) =>
    cableItem(cable, nth(links, at), carried.get(cable), straight?.get(cable) ?? laid.ways.get(cable)),
  )
  const deviceItems = devices.map((device): Item => {
    const box = laid.devices.get(device) ?? { x: 0, y: 0, ...card }
    const state = down.has(device) ? 'down' : cutOff.has(device) ? 'cut off' : 'up'
    return deviceItem(device, lineOf(device), box, state, shown?.cutDevices.has(device) === true)
  })
  const grounds = boxes.map((box, at) => ({ box, area: nth(laid.boxes, at), ...namesOf(model, net, box, choices) }))
  const coarseness = coarsenessFor(laid.width, laid.height)
  const legend = choices.legend
    ? legendMarks(
        {
          zones: choices.boxes === 'zone' ? net.zones : [],
          cables,
          devices,
          flows: choices.flows,
          ways: shown !== undefined,
        },
        2,
        laid.height + 16,
        Math.max(laid.width, 560),
      )
    : { marks: [], height: 0 }
  return {
    bounds: {
      x: -14,
      y: -10,
      width: (legend.height > 0 ? Math.max(laid.width, 560) : laid.width) + 28,
      height: laid.height + 20 + legend.height,
    },
    backdrop: [
      ...grounds.flatMap(({ area, trust, name, note }) => groundMarks(area, trust, name, note, coarseness)),
      ...legend.marks,
    ],
    items: [
      ...grounds.flatMap(({ box, area, name }) => (box.key === '' ? [] : [groundItem(box.key as Id, area, name)])),
      ...cableItems,
      ...deviceItems,
    ],
    links,
    headline: headlineOf(net, loss.down.nodes.size + loss.down.edges.size, loss.cutOff.length),
    summary: `A network of ${count(net.devices.length, 'device')} in ${count(boxes.length, choices.boxes)}${boxes.length > 0 ? ': ' : ''}${grounds.map(({ name }) => name).join(', ')}.`,
  }
}

const idsIn = (value: unknown): ReadonlySet<string> => new Set(Array.isArray(value) ? (value as readonly string[]) : [])
const count = (number: number, word: string): string =>
  `${number.toLocaleString('en')} ${word}${number === 1 ? '' : 's'}`

function headlineOf(net: Net, down: number, cutOff: number): string {
  const all = `${count(net.devices.length, 'device')}, ${count(net.cables.length, 'cable')}`
  return down === 0 ? all : `${all}, ${down} down: ${cutOff} cut off`
}

/** The first address of a device, and how many more it has. */
function addressLine({ addresses }: Device): string {
  const [first, ...more] = addresses
  return first ? `${addressText(first.address)}${more.length > 0 ? ` +${more.length}` : ''}` : ''
}

const portWidth = (name: string): number => textWidth(name.slice(0, 8), LABEL, 'mono400')
const speedWords = (cable: Cable): string => {
  const capacity = capacityOf(cable)
  return capacity === undefined ? '' : speedText(capacity)
}
const arrowsOf = (carried: Carried | undefined) => ({ onward: carried?.onward === true, back: carried?.back === true })

const labelMark = (words: string, { x, y }: Area): Mark =>
  kit.text(x, y + 9, words, { fill: 'ink-quiet', 'font-family': 'mono', 'font-size': LABEL })

/** Whether the way of a cable on a rail, which leads from the hub, ends at its second port. */
const isLeafLast = (cable: Cable, own: readonly Point[], placed: ReadonlyMap<Device, Area>): boolean => {
  const [end, area] = [own.at(-1), placed.get(cable.b.device)]
  return (
    end !== undefined &&
    area !== undefined &&
    (end.x === area.x || end.x === area.x + area.width) &&
    end.y === area.y + area.height / 2
  )
}

/** The same seen from the other end. */
const turned = (look: CableLook): CableLook => ({
  ...look,
  onward: look.back,
  back: look.onward,
  ports: look.ports && [look.ports[1], look.ports[0]],
})

/** The ways between two devices that a view asks for: the shortest, those disjoint from it, and what separates the two. */
function waysShown(net: Net, view: View) {
  const [from, to] = (Array.isArray(view.options['ways']) ? (view.options['ways'] as readonly Id[]) : []).map((id) =>
    net.byId.get(id),
  )
  if (!from || !to || from === to) return undefined
  const topology = topologyOf(net)
  const [a, b] = [topology.index.get(from.id) ?? 0, topology.index.get(to.id) ?? 0]
  const { ways, cut } = disjointWays(topology.incidence, a, b, passesAt(topology))
  const found = new Map<Cable, 'shortest' | 'other'>()
  for (const way of ways) for (const edge of way) found.set(nth(topology.cables, edge), 'other')
  for (const cable of waysOf(topology).between(from, to)?.cables ?? []) found.set(cable, 'shortest')
  return {
    ways: found,
    cutDevices: new Set(cut.nodes.map((node) => nth(net.devices, node))),
    cutCables: new Set(cut.edges.map((edge) => nth(topology.cables, edge))),
  }
}

function deviceItem(device: Device, line: string, box: Area, state: 'up' | 'down' | 'cut off', isCut: boolean): Item {
  const { width, height } = box
  const said = [device.type ?? 'device', line, device.critical ? 'critical' : '', state === 'up' ? '' : state]
  return {
    id: device.id,
    facts: [device.id],
    label: `${device.name}, ${said.filter(Boolean).join(', ')}`,
    box,
    marks: [
      ...cardMarks({ name: device.name, line, type: device.type, critical: device.critical, state, width, height }),
      ...(isCut
        ? [
            kit.rect(
              { x: -4, y: -4, width: width + 8, height: height + 8 },
              { rx: 5, fill: 'none', stroke: 'ink', 'stroke-width': 2, 'stroke-dasharray': '6 3' },
            ),
          ]
        : []),
    ],
    texts: [{ part: 'name', label: 'Host', value: device.name, box: { x: 22, y: 2, width: width - 26, height: 20 } }],
    handles: [
      { id: 'cable', box: { x: width - 4, y: height / 2 - 5, width: 8, height: 10 }, pulls: 'line' },
      { id: 'flow', box: { x: width / 2 - 5, y: height - 4, width: 10, height: 8 }, pulls: 'line' },
    ],
    ...(device.zone ? { parent: device.zone.id } : {}),
  }
}

const HOLD = 10

/** A place on a cable where it can be selected and its findings stand: in the middle of the longest stretch that is its own. */
function cableItem(cable: Cable, { id, bounds }: Link, carried: Carried | undefined, way: CableWay | undefined): Item {
  const { a, b } = cable
  const capacity = capacityOf(cable)
  const load = carried && carried.load > 0 ? `, ${carried.load} Mbit/s` : ''
  const middle = middleOfWay(way?.own ?? []) ?? { x: bounds.x + bounds.width / 2, y: bounds.y + bounds.height / 2 }
  return {
    id,
    facts: [cable.id],
    label: `cable ${a.device.name} ${a.name} to ${b.device.name} ${b.name}${capacity === undefined ? '' : `, ${speedText(capacity)}`}${load}`,
    box: { x: middle.x - HOLD / 2, y: middle.y - HOLD / 2, width: HOLD, height: HOLD },
    marks: [],
    texts: [],
    parent: a.device.id,
  }
}

function namesOf(model: Model, net: Net, { key }: Box, { boxes }: Choices) {
  if (key === '') return { name: boxes === 'zone' ? 'In no zone' : 'At no site', note: '', trust: 'unstated' as const }
  if (boxes === 'site')
    return { name: model.entities.get(key as Id)?.name ?? key, note: '', trust: 'unstated' as const }
  const zone = net.zones.find(({ id }) => id === key)
  const trust = zone?.trust
  return {
    name: zone?.name ?? key,
    note: trust === undefined ? '' : trust === 'none' ? 'no trust' : trust,
    trust: trust ?? ('unstated' as const),
  }
}

/** The item of a box: its tab, where it is taken and named. */
const groundItem = (id: Id, area: Area, name: string): Item => ({
  id,
  facts: [id],
  label: `zone ${name}`,
  box: { x: area.x, y: area.y - 16, width: area.width, height: area.height + 16 },
  marks: [],
  ground: true,
  texts: [
    {
      part: 'name',
      label: 'Zone',
      value: name,
      box: { x: 4, y: 0, width: Math.max(90, tabWidth(name, '') - 8), height: 18 },
    },
  ],
})
