import { readWhen } from '../../calendar'
import {
  changed,
  setEntity,
  setField,
  SPACING,
  type Field,
  type Gestures,
  type Option,
  type Outcome,
  type Wish,
} from '../../notation'
import { named, planIn, readTypedDuration } from './edits'
import { UNITS } from './terms'

const shown = 'Shown'
const barOptions: readonly Option[] = [
  { id: 'unit', label: 'Axis', type: 'choice', choices: ['auto', ...UNITS], initial: 'auto' },
  { id: 'colour', label: 'Colour by', type: 'choice', choices: ['critical', 'colour group'], initial: 'critical' },
  SPACING,
  { id: 'links', label: 'Links', type: 'flag', initial: true, group: shown },
  { id: 'float', label: 'Float', type: 'flag', initial: true, group: shown },
  { id: 'baseline', label: 'Baseline', type: 'flag', initial: true, group: shown },
  { id: 'people', label: 'People', type: 'flag', initial: false, group: shown },
  { id: 'load', label: 'Load', type: 'flag', initial: true, group: shown },
]

/** Bars over time: the outline as a table at the left, the dates as they are computed at the right. */
export const bars: Gestures = {
  id: 'bars',
  title: 'Bars',
  good: 'Dates and what waits for what, with the load of each person',
  draws: ['task', 'milestone', 'group', 'plan'],
  options: barOptions,
  write: writeBar,
}

/** How far a callout is pulled out, above the line where it is less than nothing. */
const calloutPins: readonly Field[] = [{ id: '', label: 'Callout', unit: 'px', type: 'pair', each: 'fact' }]

const timelineOptions: readonly Option[] = [
  { id: 'unit', label: 'Axis', type: 'choice', choices: ['auto', ...UNITS], initial: 'auto' },
  { id: 'spacing', label: 'Distances', type: 'choice', choices: ['true', 'even'], initial: 'true' },
  { id: 'width', label: 'Text width', type: 'choice', choices: ['narrow', 'medium', 'wide'], initial: 'medium' },
  { id: 'bands', label: 'A line each band', type: 'flag', initial: false },
  { id: 'work', label: 'Milestones and groups', type: 'flag', initial: true },
]

/** Points and spans in time, told by callouts above and below the line. */
export const timeline: Gestures = {
  id: 'timeline',
  title: 'Timeline',
  good: 'Dated events and eras, to be told to others',
  draws: ['event', 'era', 'plan', 'milestone', 'group', 'task'],
  options: timelineOptions,
  pins: calloutPins,
  write: writeEvent,
}

/** What follows what, each task as a box with its early dates above, its late dates below, and its float between. */
export const network: Gestures = {
  id: 'network',
  title: 'Network',
  good: 'What depends on what, with early and late dates',
  draws: ['task', 'milestone', 'plan'],
  options: [{ id: 'runs', label: 'Runs', type: 'choice', choices: ['right', 'down'], initial: 'right' }, SPACING],
  write: writeBar,
}

/** The months of a plan as leaves of a wall calendar, each task across its days. */
export const month: Gestures = {
  id: 'month',
  title: 'Months',
  good: 'A plan on the leaves of a wall calendar',
  draws: ['task', 'milestone', 'plan'],
  options: [{ id: 'finished', label: 'What is done', type: 'flag', initial: true, group: 'Shown' }],
  write: writeBar,
}

/** Typing into a line of the table, or into a box. */
function writeBar(wish: Wish, part: string, text: string): Outcome {
  const [id] = wish.selection
  const work = id === undefined ? undefined : planIn(wish).byId.get(id)
  if (!work) return { refused: 'It is no longer there.' }
  if (part === 'name') {
    const name = text.trim()
    if (name === '') return { refused: 'A task needs a name.' }
    if (name.length > 400) return { refused: `A name has 400 characters at most, this one ${name.length}.` }
    return changed(`Rename ${named(work)}`, [setEntity(work.id, 'name', name)])
  }
  const read = readTypedDuration(text)
  if ('refused' in read) return read
  return changed(`${named(work)} takes ${read.duration}`, [setField(work.id, 'duration', read.duration)])
}

/** Typing into a callout: what happens, or when. */
function writeEvent(wish: Wish, part: string, text: string): Outcome {
  const [id] = wish.selection
  const entity = id === undefined ? undefined : wish.model.entities.get(id)
  if (!entity) return { refused: 'It is no longer there.' }
  const name = text.trim()
  if (part === 'when') {
    if (!readWhen(name))
      return { refused: `“${name.slice(0, 40)}” is not a date. Write it as 1887, 1887-05 or 1887-05-14.` }
    return changed(`Date of “${entity.name}”`, [setField(entity.id, 'when', name)])
  }
  if (name === '') return { refused: 'It needs a name.' }
  if (name.length > 400) return { refused: `A name has 400 characters at most, this one ${name.length}.` }
  return changed(`Rename ${named({ entity })}`, [setEntity(entity.id, 'name', name)])
}
