import type { Entity, Id, Model, Relation, Step } from '../../model'
import {
  addEntity,
  addRelation,
  changed,
  GONE,
  removal,
  setField,
  setView,
  tie,
  type Action,
  type Outcome,
  type Wish,
  numberOf,
  textOf,
} from '../../notation'
import { inNet, lastOrder, netFor, netIn, portEntity, removeDevice, removeTie, removeZone, Scribe } from './edits'
import { networks } from './kinds'
import { freePortName, NEW_DEVICE, outline } from './outline'
import { type Device, type Net, type Port } from './structure'

type Selecting = Omit<Wish, 'newId'>
const NOTHING = { refused: 'Select a device first.' }

const one = (wish: Selecting): Device | undefined => {
  const [id] = wish.selection
  return id === undefined ? undefined : netIn(wish).byId.get(id)
}
const isDevice = (wish: Selecting): boolean => one(wish) !== undefined
const fact = ({ model, selection: [id] }: Selecting): Entity | Relation | undefined =>
  id === undefined ? undefined : (model.entities.get(id) ?? model.relations.get(id))
const isOf =
  (...kinds: readonly string[]) =>
  (wish: Selecting): boolean =>
    kinds.includes(fact(wish)?.kind ?? '')

const calledIn = (model: Model, id: Id): string => `“${model.entities.get(id)?.name ?? id}”`

/** A free port of a device that fits another one, made where there is none, with the step that makes it. */
function freePort(wish: Wish, net: Net, device: Device, fits: Port | undefined): { id: Id; steps: Step[] } {
  const free = device.ports.find((port) => port.cables.length === 0 && isFit(port, fits))
  if (free) return { id: free.id, steps: [] }
  const id = wish.newId()
  const order = lastOrder(device.ports.map(({ entity }) => entity)) + 1
  return { id, steps: [addEntity(portEntity(id, freePortName(net, device.id), device.id, order))] }
}

/** Whether two ports can be joined: of one medium and one speed, as far as they say. */
export function isFit(a: Port, b: Port | undefined): boolean {
  if (!b || a === b) return a !== b
  const [media, speeds] = [
    [textOf(a.entity, 'medium'), textOf(b.entity, 'medium')],
    [numberOf(a.entity, 'speed'), numberOf(b.entity, 'speed')],
  ]
  const differ = (pair: readonly unknown[]) => pair[0] !== undefined && pair[1] !== undefined && pair[0] !== pair[1]
  return !differ(media) && !differ(speeds)
}

/** A new device in the zone of the selected one, cabled to it at a free port. */
function next(wish: Wish): Outcome {
  const from = one(wish)
  if (!from) return NOTHING
  const net = netIn(wish)
  const id = wish.newId()
  const port = wish.newId()
  const own = freePort(wish, net, from, undefined)
  const order = lastOrder(net.devices.map(({ entity }) => entity)) + 1
  const fields = { ...inNet(net.id), ...(from.zone ? { zone: from.zone.id } : {}), order }
  return changed(
    `Add a device at “${from.name}”`,
    [
      ...own.steps,
      addEntity({ id, kind: 'device', name: freeName(net), fields }),
      addEntity(portEntity(port, 'p1', id, 1)),
      tie(wish.newId(), 'cable', own.id, port),
    ],
    { select: id, edit: 'name' },
  )
}

function freeName(net: Net): string {
  const names = new Set(net.devices.map(({ name }) => name))
  let count = 1
  while (names.has(count === 1 ? NEW_DEVICE : `${NEW_DEVICE}-${count}`)) count++
  return count === 1 ? NEW_DEVICE : `${NEW_DEVICE}-${count}`
}

function addDevice(wish: Wish): Outcome {
  const made = netFor(wish)
  const net = netIn(wish)
  const id = wish.newId()
  const selected = fact(wish)
  const zone = selected?.kind === 'zone' ? selected.id : one(wish)?.zone?.id
  const order = lastOrder(net.devices.map(({ entity }) => entity)) + 1
  const fields = { ...inNet(made.id), ...(zone === undefined ? {} : { zone }), order }
  return changed('Add a device', [...made.steps, addEntity({ id, kind: 'device', name: freeName(net), fields })], {
    select: id,
    edit: 'name',
  })
}

function addZone(wish: Wish): Outcome {
  const made = netFor(wish)
  const id = wish.newId()
  const order = lastOrder(netIn(wish).zones.map(({ entity }) => entity)) + 1
  const fields = { trust: 'medium', ...inNet(made.id), order }
  return changed('Add a zone', [...made.steps, addEntity({ id, kind: 'zone', name: 'New zone', fields })], {
    select: id,
    edit: 'name',
  })
}

/** Joins two devices by free ports that fit each other; a port that is named itself is taken. */
export function cableTo(wish: Wish, from: Id, target: Id): Outcome {
  const net = netIn(wish)
  const port = net.ports.get(target)
  const [a, b] = [net.byId.get(from), port?.device ?? net.byId.get(target)]
  if (!a || !b) return GONE
  if (a === b) return { refused: 'A device is not cabled to itself.' }
  if (port && port.cables.length > 0) return { refused: `Port “${port.name}” of “${b.name}” has a cable already.` }
  const pair = port ? undefined : fitting(a, b)
  const end = port
    ? { id: port.id, steps: [] }
    : pair
      ? { id: pair[1].id, steps: [] }
      : freePort(wish, net, b, undefined)
  const begin = pair ? { id: pair[0].id, steps: [] } : freePort(wish, net, a, port)
  const name = (id: Id, steps: readonly Step[]) => {
    const [made] = steps
    return made?.do === 'add-entity' ? made.entity.name : (wish.model.entities.get(id)?.name ?? '')
  }
  const id = wish.newId()
  return changed(
    `Cable “${a.name}” ${name(begin.id, begin.steps)} to “${b.name}” ${name(end.id, end.steps)}`,
    [...begin.steps, ...end.steps, tie(id, 'cable', begin.id, end.id)],
    { select: id },
  )
}

/** The first two free ports that fit each other. */
function fitting(a: Device, b: Device): readonly [Port, Port] | undefined {
  const free = ({ ports }: Device) => ports.filter(({ cables }) => cables.length === 0)
  for (const one of free(a)) for (const other of free(b)) if (isFit(one, other)) return [one, other]
  return undefined
}

export function flowTo({ model, newId }: Wish, from: Id, to: Id): Outcome {
  if (from === to) return { refused: 'A device sends nothing to itself.' }
  if (model.leaving(from, 'traffic').some(({ target }) => target === to))
    return { refused: `${calledIn(model, from)} sends to ${calledIn(model, to)} already.` }
  const id = newId()
  return changed(
    `${calledIn(model, from)} sends to ${calledIn(model, to)}`,
    [addRelation({ id, kind: 'traffic', source: from, target: to, fields: { direction: 'one way' } })],
    { select: id },
  )
}

export function intoRack(wish: Wish, devices: readonly Id[], rack: Id): Outcome {
  const called = calledIn(wish.model, rack)
  return changed(
    `Put ${devices.length === 1 && devices[0] ? calledIn(wish.model, devices[0]) : `${devices.length} devices`} into ${called}`,
    devices.map((id) => setField(id, 'rack', rack)),
  )
}

export function standAt(wish: Wish, devices: readonly Id[], site: Id): Outcome {
  const scribe = new Scribe(wish, netIn(wish), undefined, false)
  for (const id of devices) scribe.standsAt(id, site)
  const who = devices.length === 1 && devices[0] ? calledIn(wish.model, devices[0]) : `${devices.length} devices`
  return changed(`${who} ${devices.length === 1 ? 'stands' : 'stand'} at ${calledIn(wish.model, site)}`, scribe.steps)
}

/** What a view takes to be out of order. */
export const downIn = ({ options }: Pick<Wish['view'], 'options'>): readonly Id[] =>
  Array.isArray(options['down']) ? (options['down'] as readonly Id[]) : []

/** Takes devices, cables or a whole site out of order in this view, or brings them back. No fact is changed. */
function takeDown(wish: Wish): Outcome {
  const { model, view, selection } = wish
  const down = new Set(downIn(view))
  const here = selection.filter((id) => ['device', 'cable', 'site'].includes(kindOf(model, id)))
  if (here.length === 0) return NOTHING
  const isDown = here.every((id) => down.has(id))
  for (const id of here)
    if (isDown) down.delete(id)
    else down.add(id)
  const [first] = here
  const who = here.length === 1 && first !== undefined ? nameOf(model, first) : `${here.length} of it`
  return changed(`${isDown ? 'Bring back' : 'Take down'} ${who} in “${view.title}”`, [
    setView(view.id, 'options.down', down.size === 0 ? null : [...down]),
  ])
}

const kindOf = (model: Model, id: Id): string => (model.entities.get(id) ?? model.relations.get(id))?.kind ?? ''

function nameOf(model: Model, id: Id): string {
  const relation = model.relations.get(id)
  if (!relation) return calledIn(model, id)
  const device = (port: Id) => {
    const of = model.entities.get(port)?.fields['device']
    return typeof of === 'string' ? calledIn(model, of as Id) : calledIn(model, port)
  }
  return `the cable from ${device(relation.source)} to ${device(relation.target)}`
}

/** Shows the ways from the selected device to another one in this view; asked again for the same they are hidden. */
function showWays(wish: Wish): Outcome {
  const { model, view, target } = wish
  const from = one(wish)
  if (!from || target === undefined) return NOTHING
  if (from.id === target) return changed(`Hide the ways in “${view.title}”`, [setView(view.id, 'options.ways', null)])
  return changed(`Show the ways from “${from.name}” to ${calledIn(model, target)} in “${view.title}”`, [
    setView(view.id, 'options.ways', [from.id, target]),
  ])
}

function remove(wish: Wish): Outcome {
  const { model, selection } = wish
  const steps: Step[] = []
  for (const id of selection) {
    const relation = model.relations.get(id)
    const entity = model.entities.get(id)
    if (relation) steps.push(...removeTie(model, relation))
    else if (entity?.kind === 'device') steps.push(...removeDevice(model, id))
    else if (entity?.kind === 'zone') steps.push(...removeZone(model, id))
    else if (entity) steps.push(...removal(model, id))
  }
  const [first] = selection
  if (first === undefined) return NOTHING
  const who = selection.length === 1 ? nameOf(model, first) : `${selection.length} of the network`
  return changed(`Remove ${who}`, once(steps))
}

/** What is taken away with two things is taken away once. */
function once(steps: readonly Step[]): Step[] {
  const gone = new Set<Id>()
  return steps.filter((step) => {
    if (step.do !== 'remove-entity' && step.do !== 'remove-relation') return true
    const known = gone.has(step.id)
    gone.add(step.id)
    return !known
  })
}

const line =
  (run: (wish: Wish, id: Id) => Outcome) =>
  (wish: Wish): Outcome => {
    const [id] = wish.selection
    return id === undefined ? NOTHING : run(wish, id)
  }

export const actions: readonly Action[] = [
  { id: 'next', label: 'Next', key: 'n', verb: true, applies: isDevice, run: next },
  {
    id: 'cable',
    label: 'Cable to…',
    key: 'l',
    verb: true,
    picks: (wish) => ({
      kinds: ['device', 'port'],
      prompt: `Cable “${one(wish)?.name ?? ''}” to which device, or to which free port?`,
      offers: offered(wish),
    }),
    applies: isDevice,
    run: (wish) => {
      const from = one(wish)
      return from && wish.target !== undefined ? cableTo(wish, from.id, wish.target) : NOTHING
    },
  },
  {
    id: 'flow',
    label: 'Sends to…',
    key: 'f',
    picks: { kinds: ['device'], prompt: 'Sends to which device?' },
    applies: isDevice,
    run: (wish) => {
      const from = one(wish)
      return from && wish.target !== undefined ? flowTo(wish, from.id, wish.target) : NOTHING
    },
  },
  {
    id: 'down',
    label: 'Take down or bring back',
    key: 'x',
    verb: true,
    applies: isOf('device', 'cable', 'site'),
    run: takeDown,
  },
  {
    id: 'ways',
    label: 'Ways from here…',
    key: 'w',
    verb: true,
    picks: { kinds: ['device'], prompt: 'Ways to which device? To itself: none.' },
    applies: isDevice,
    run: showWays,
  },
  {
    id: 'all-up',
    label: 'Bring everything back',
    applies: ({ view }) => downIn(view).length > 0,
    run: ({ view }) => changed(`Bring everything back in “${view.title}”`, [setView(view.id, 'options.down', null)]),
  },
  {
    id: 'no-ways',
    label: 'Hide the ways',
    applies: ({ view }) => view.options['ways'] !== undefined,
    run: ({ view }) => changed(`Hide the ways in “${view.title}”`, [setView(view.id, 'options.ways', null)]),
  },
  { id: 'device', label: 'Add a device', begins: true, applies: () => true, run: addDevice },
  { id: 'zone', label: 'Add a zone', begins: true, applies: () => true, run: addZone },
  {
    id: 'out',
    label: 'Take it out of its zone',
    applies: (wish) => one(wish)?.zone !== undefined,
    run: line(outline.outdent),
  },
  {
    id: 'up',
    label: 'Earlier in its zone',
    key: 'Alt+ArrowUp',
    applies: isOf('device', 'zone', 'filter', 'subnet'),
    run: line((wish, id) => outline.move(wish, id, -1)),
  },
  {
    id: 'later',
    label: 'Later in its zone',
    key: 'Alt+ArrowDown',
    applies: isOf('device', 'zone', 'filter', 'subnet'),
    run: line((wish, id) => outline.move(wish, id, 1)),
  },
  networks.show,
  {
    id: 'remove',
    label: 'Remove',
    key: 'Delete',
    applies: isOf('device', 'zone', 'cable', 'traffic', 'port', 'subnet', 'filter', 'rack', 'hosts'),
    run: remove,
  },
]

/** The other devices of the network, and their free ports that fit one of the selected device. */
function offered(wish: Selecting): readonly Id[] {
  const from = one(wish)
  const net = netIn(wish)
  const own = from?.ports.filter(({ cables }) => cables.length === 0) ?? []
  return net.devices.flatMap((device) =>
    device === from
      ? []
      : [
          device.id,
          ...device.ports
            .filter((port) => port.cables.length === 0 && (own.length === 0 || own.some((mine) => isFit(mine, port))))
            .map(({ id }) => id),
        ],
  )
}
