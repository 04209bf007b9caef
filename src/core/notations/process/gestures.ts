import type { Id } from '../../model'
import {
  changed,
  setEntity,
  SPACING,
  type Field,
  type Gestures,
  type Option,
  type Outcome,
  type Pull,
  type Wish,
} from '../../notation'
import { dropOn } from './drop'
import { writeText } from './edits'
import { FOREIGN_PLACES } from './foreignPlaces'
import { writePart } from './registers'
import { processShown } from './structure'

/** How far an element is put from its computed place. */
const NUDGE: Field = { id: '', label: 'Nudge', unit: 'columns, rows', type: 'pair', each: 'fact' }

const shapes: Option = {
  id: 'shapes',
  label: 'Shapes',
  type: 'choice',
  choices: ['BPMN', 'flowchart'],
  initial: 'BPMN',
}
const runs: Option = { id: 'runs', label: 'Runs', type: 'choice', choices: ['right', 'down'], initial: 'right' }
/** A long flow in strips beneath one another, as a page of that shape asks for; where it goes on, its lines carry letters. Only where it runs to the right. */
const strips: Option = {
  id: 'strips',
  label: 'Strips',
  type: 'choice',
  choices: ['one', 'landscape', 'portrait'],
  initial: 'one',
}
const places: Option = {
  id: 'places',
  label: 'Places',
  type: 'choice',
  choices: ['computed', 'as in the file'],
  initial: 'computed',
}
const shown = 'Shown'
const flags: readonly Option[] = [
  { id: 'phases', label: 'Phases', type: 'flag', initial: true, group: shown },
  { id: 'data', label: 'Data', type: 'flag', initial: true, group: shown },
  { id: 'numbers', label: 'Numbers', type: 'flag', initial: false, group: shown },
]

/** BPMN 2.0.2, 10.6.2: an exclusive gateway has its cross or has none, but all of a diagram alike. */
const crosses: Option = { id: 'crosses', label: 'Crosses in gateways', type: 'flag', initial: true, group: shown }

/** Who does what, in which order: lanes across, the flow along. */
export const lanes: Gestures = {
  id: 'lanes',
  title: 'Lanes',
  good: 'Who does what in which order, and where work changes hands',
  draws: ['step', 'event', 'gateway', 'lane', 'data', 'phase', 'pool', 'process'],
  options: [shapes, runs, strips, SPACING, places, ...flags, crosses],
  pins: [NUDGE, ...FOREIGN_PLACES],
  drop: dropOn,
  pull: pullLane,
  write: writeText,
}

/** The flow alone. */
export const flow: Gestures = {
  id: 'flow',
  title: 'Flow',
  good: 'The order alone, where it does not matter who does it',
  draws: ['step', 'event', 'gateway', 'data', 'process'],
  options: [shapes, runs, strips, SPACING, ...flags, crosses],
  pins: [NUDGE],
  drop: dropOn,
  write: writeText,
}

/** Who has which part in which step. Where nothing is stated, what the lanes say stands in brackets. */
export const raci: Gestures = {
  id: 'raci',
  title: 'Responsibilities',
  good: 'Who does it, answers for it, is asked and is told',
  draws: ['step', 'role'],
  options: [
    { id: 'roles', label: 'Roles', type: 'choice', choices: ['of this process', 'all'], initial: 'of this process' },
  ],
  write: writeRaci,
}

function pullLane(wish: Wish, { handle, by }: Pull): Outcome {
  const [id] = wish.selection
  const lane = id === undefined ? undefined : wish.model.entities.get(id)
  if (lane?.kind !== 'lane') return { refused: 'Only lanes can be pulled.' }
  const [what, breadth] = handle.split(' ')
  if (what === 'breadth') {
    const size = Math.max(
      60,
      Math.round((Number(breadth) + (wish.view.options['runs'] === 'down' ? by.x : by.y)) / 4) * 4,
    )
    const label = `Make “${lane.name}” at least ${size} px wide`
    return changed(label, [setEntity(lane.id, 'fields.height', size)])
  }
  const { lanes: all, nodes } = processShown(wish.model, wish.view, wish.day)
  const over = wish.target === undefined ? undefined : (nodes.get(wish.target)?.lane ?? wish.target)
  const to = all.findIndex((one) => one.id === over)
  if (to < 0 || over === lane.id) return changed('', [])
  const order = all.map((one) => one.id).filter((one) => one !== lane.id)
  order.splice(to, 0, lane.id)
  return changed(
    `Put lane “${lane.name}” where “${all[to]?.name}” is`,
    order.map((one, index) => setEntity(one, 'fields.order', index + 1)),
  )
}

function writeRaci(wish: Wish, part: string, text: string): Outcome {
  const [, role, step] = /^part (\S+) (\S+)$/.exec(part) ?? []
  if (role === undefined || step === undefined) return { refused: 'This cannot be written here.' }
  return writePart(wish, role as Id, step as Id, text.replace(/\s+/g, ''))
}
