import type { Id } from '../../model'
import {
  changed,
  setEntity,
  SPACING,
  tooLongName,
  type Gestures,
  type Option,
  type Outcome,
  type Pull,
  type Wish,
} from '../../notation'
import { cableTo, flowTo, intoRack, standAt } from './actions'
import { netIn } from './edits'
import { outline, intoZone } from './outline'

const shown = 'Shown'
/** What is taken out of order in a view, and between which two devices ways are looked for: a question, no fact. */
export const DOWN: Option = { id: 'down', label: 'Taken down', type: 'list', hidden: true }
export const WAYS: Option = { id: 'ways', label: 'Ways between', type: 'list', hidden: true }

/** Devices in their zones, from the least trusted to the most, with their cables. */
export const zones: Gestures = {
  id: 'zones',
  title: 'Zones',
  good: 'What is joined to what, across which borders, and what is lost when something fails',
  draws: ['device', 'zone', 'port', 'subnet', 'filter', 'network'],
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
  write: writeDevice,
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

/** A device’s name is written alone; its second line as it stands in the outline. */
function writeDevice(wish: Wish, part: string, text: string): Outcome {
  const [id] = wish.selection
  const entity = id === undefined ? undefined : wish.model.entities.get(id)
  if (!entity) return { refused: 'This cannot be written here.' }
  const name = text.trim()
  if (name === '') return { refused: 'It needs a name.' }
  if (part === 'line') return outline.write(wish, entity.id, text)
  return (
    tooLongName(name) ?? changed(`Rename “${entity.name}” to “${name}”`, [setEntity(entity.id as Id, 'name', name)])
  )
}
