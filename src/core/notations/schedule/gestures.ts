import { SPACING, type Field, type Gestures, type Option } from '../../notation'
import { UNITS } from './pictures/axis'
import { pullBar, writeBar } from './pictures/barGestures'
import { pullEvent, writeEvent } from './pictures/timelineGestures'

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
  pull: pullBar,
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
  pull: pullEvent,
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
