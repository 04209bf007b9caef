import type { Id } from '../../model'
import {
  changed,
  setEntity,
  setField,
  SPACING,
  tooLongName,
  type Gestures,
  type Option,
  type Outcome,
  type Pull,
  type Wish,
  numberOf,
} from '../../notation'
import { cableTo, flowTo, intoRack, standAt } from './actions'
import { netIn } from './edits'
import { intoZone } from './outline'

/** How high a unit of a rack is drawn, in px. */
export const UNIT_PX = 18

const shown = 'Shown'
/** What is taken out of order in a view, and between which two devices ways are looked for: a question, no fact. */
export const DOWN: Option = { id: 'down', label: 'Taken down', type: 'list', hidden: true }
export const WAYS: Option = { id: 'ways', label: 'Ways between', type: 'list', hidden: true }

/** What is on every picture of a network, or says what is true of what is. */
const NETWORKED = ['device', 'zone', 'port', 'subnet', 'filter', 'network', 'neighbours'] as const

/** Devices in their zones, from the least trusted to the most, with their cables. */
export const zones: Gestures = {
  id: 'zones',
  title: 'Zones',
  good: 'What is joined to what, across which borders, and what is lost when something fails',
  draws: NETWORKED,
  options: [
    { id: 'boxes', label: 'Grouped by', type: 'choice', choices: ['zone', 'site'], initial: 'zone' },
    { id: 'lines', label: 'Lines', type: 'choice', choices: ['right-angled', 'straight'], initial: 'right-angled' },
    SPACING,
    { id: 'ports', label: 'Port names', type: 'flag', initial: true, group: shown },
    { id: 'addresses', label: 'Addresses', type: 'flag', initial: true, group: shown },
    { id: 'flows', label: 'Flows', type: 'flag', initial: true, group: shown },
    { id: 'speeds', label: 'Speeds', type: 'flag', initial: false, group: shown },
    { id: 'legend', label: 'Legend', type: 'flag', initial: true, group: shown },
    DOWN,
    WAYS,
  ],
  drop: dropOn,
  pull: pullLine,
  write: writeName,
}

/** Subnets as strips to scale. */
export const addresses: Gestures = {
  id: 'addresses',
  title: 'Addresses',
  good: 'How full each subnet is, which addresses are taken, kept back and free',
  draws: NETWORKED,
  options: [
    { id: 'part', label: 'Part of it', type: 'text' },
    { id: 'members', label: 'Members', type: 'flag', initial: true, group: shown },
    { id: 'legend', label: 'Legend', type: 'flag', initial: true, group: shown },
  ],
  write: writeName,
}

/** Sites on a map, with what joins them. */
export const sites: Gestures = {
  id: 'sites',
  title: 'Sites',
  good: 'Where devices stand on the map, and how much goes between the places',
  draws: ['site', ...NETWORKED],
  options: [
    { id: 'arcs', label: 'Links', type: 'choice', choices: ['arcs', 'lines'], initial: 'arcs' },
    { id: 'capacity', label: 'Capacity', type: 'flag', initial: true, group: shown },
    { id: 'grid', label: 'Degrees', type: 'flag', initial: true, group: shown },
    DOWN,
  ],
  write: writeName,
}

/** Racks from the front. */
export const racks: Gestures = {
  id: 'racks',
  title: 'Racks',
  good: 'What stands in which unit of a rack, what is free, and how much power it takes',
  draws: ['rack', ...NETWORKED],
  options: [
    { id: 'watts', label: 'Watts', type: 'flag', initial: true, group: shown },
    { id: 'numbers', label: 'Unit numbers', type: 'flag', initial: true, group: shown },
    DOWN,
  ],
  drop: dropOn,
  pull: pullUnit,
  write: writeName,
}

/** Into a zone, a rack or a site. */
function dropOn(wish: Wish): Outcome {
  const { model, selection, target } = wish
  const devices = selection.filter((id) => model.entities.get(id)?.kind === 'device')
  const into = target === undefined ? undefined : model.entities.get(target)
  if (devices.length === 0) return { refused: 'Only devices can be moved.' }
  // A device dropped on another one goes where that one stands.
  const zone = into?.kind === 'device' ? netIn(wish).byId.get(into.id)?.zone?.entity : into
  if (zone?.kind === 'zone') return intoZone(wish, devices, zone.id)
  if (into?.kind === 'rack') return intoRack(wish, devices, into.id)
  if (into?.kind === 'site') return standAt(wish, devices, into.id)
  return { refused: 'Drop it into a zone, a site or a rack.' }
}

/** A line drawn from a device to another one: a cable from its right edge, a flow from its lower one. */
function pullLine(wish: Wish, { handle }: Pull): Outcome {
  const [from] = wish.selection
  if (from === undefined || wish.target === undefined || wish.model.entities.get(wish.target)?.kind !== 'device')
    return changed('', [])
  return handle === 'flow' ? flowTo(wish, from, wish.target) : cableTo(wish, from, wish.target)
}

/** A device pulled up or down its rack, or into another one at the same unit. */
function pullUnit(wish: Wish, { by }: Pull): Outcome {
  const { model, target } = wish
  const [id] = wish.selection
  const device = id === undefined ? undefined : model.entities.get(id)
  if (device?.kind !== 'device') return { refused: 'Only devices can be pulled.' }
  const over = target === undefined ? undefined : model.entities.get(target)
  const into = over?.kind === 'rack' ? over.id : over?.kind === 'device' ? over.fields['rack'] : undefined
  const rack = into === undefined || into === device.fields['rack'] ? undefined : into
  const now = numberOf(device, 'unit')
  const unit = Math.min(100, Math.max(1, (now ?? 1) - Math.round(by.y / UNIT_PX)))
  if (rack === undefined && unit === now) return changed('', [])
  const where = rack === undefined ? '' : ` of “${model.entities.get(rack as Id)?.name ?? ''}”`
  return changed(`Put “${device.name}” at unit ${unit}${where}`, [
    ...(rack === undefined ? [] : [setField(device.id, 'rack', rack)]),
    ...(unit === now ? [] : [setField(device.id, 'unit', unit)]),
  ])
}

/** The name of what is drawn. */
function writeName(wish: Wish, _part: string, text: string): Outcome {
  const [id] = wish.selection
  const entity = id === undefined ? undefined : wish.model.entities.get(id)
  const name = text.trim()
  if (!entity || name === '') return { refused: 'It needs a name.' }
  return tooLongName(name) ?? changed(`Rename “${entity.name}” to “${name}”`, [setEntity(entity.id, 'name', name)])
}
