import { containerOf, type Field, type Kind, type RelationKind } from '../../notation'
import { CONSTRAINTS, LINK_TYPES } from './terms'

/** A plan holds tasks, milestones and groups, and the events of a timeline. */
export const plans = containerOf('plan', 'Plan')
export const plan = plans.field
const group: Field = { id: 'group', label: 'Group', type: 'reference', refers: ['group'], place: true, hidden: true }
const order: Field = { id: 'order', label: 'Order', type: 'number', hidden: true }
/** Minutes of a day are seldom stated; where they are, a moment may hold them. */
const moment = (id: string, label: string): Field => ({ id, label, type: 'moment' })
const duration = (id: string, label: string): Field => ({ id, label, type: 'duration' })
const constraint: readonly Field[] = [
  { id: 'constraint', label: 'Timing', type: 'choice', choices: CONSTRAINTS },
  moment('on', 'Timing’s day'),
]
const progress: readonly Field[] = [moment('actualStart', 'Begun on'), moment('actualFinish', 'Done on')]

const WEIGHTS = ['main', 'minor'] as const

export const entityKinds: readonly Kind[] = [
  {
    id: 'plan',
    title: 'Plan',
    plural: 'Plans',
    fields: [
      moment('start', 'Starts on'),
      moment('status', 'Status on'),
      { id: 'calendar', label: 'Calendar', type: 'reference', refers: ['calendar'] },
    ],
  },
  { id: 'group', title: 'Group', plural: 'Groups', fields: [group, plan, order] },
  {
    id: 'task',
    title: 'Task',
    plural: 'Tasks',
    fields: [
      duration('duration', 'Duration'),
      duration('work', 'Work'),
      duration('least', 'At least'),
      duration('likely', 'Likely'),
      duration('most', 'At most'),
      { id: 'percent', label: 'Done', type: 'number', unit: '%', min: 0, max: 100 },
      ...progress,
      duration('remaining', 'Left'),
      moment('deadline', 'Deadline'),
      ...constraint,
      { id: 'fixed', label: 'Dates fixed', type: 'flag' },
      moment('start', 'Fixed start'),
      moment('finish', 'Fixed finish'),
      { id: 'category', label: 'Colour group', type: 'text' },
      { id: 'calendar', label: 'Calendar', type: 'reference', refers: ['calendar'] },
      group,
      plan,
      order,
    ],
  },
  {
    id: 'milestone',
    title: 'Milestone',
    plural: 'Milestones',
    fields: [...progress, moment('deadline', 'Deadline'), ...constraint, group, plan, order],
  },
  {
    id: 'calendar',
    title: 'Calendar',
    plural: 'Calendars',
    fields: [
      { id: 'weekdays', label: 'Weekdays', type: 'list' },
      { id: 'hours', label: 'Hours', type: 'text' },
      { id: 'region', label: 'Holidays of', type: 'text' },
      { id: 'exceptions', label: 'Other days', type: 'list' },
    ],
  },
  {
    id: 'baseline',
    title: 'Baseline',
    plural: 'Baselines',
    fields: [{ id: 'taken', label: 'Taken on', type: 'day' }, plan],
  },
  {
    id: 'event',
    title: 'Event',
    plural: 'Events',
    fields: [
      { id: 'when', label: 'When', type: 'when' },
      { id: 'weight', label: 'Weight', type: 'choice', choices: WEIGHTS },
      { id: 'band', label: 'Band', type: 'text' },
      { id: 'photo', label: 'Picture', type: 'image' },
      plan,
      order,
    ],
  },
  {
    id: 'era',
    title: 'Era',
    plural: 'Eras',
    fields: [
      { id: 'when', label: 'Begins', type: 'when' },
      { id: 'until', label: 'Ends', type: 'when' },
      { id: 'weight', label: 'Weight', type: 'choice', choices: WEIGHTS },
      { id: 'band', label: 'Band', type: 'text' },
      plan,
      order,
    ],
  },
]

const WORK = ['task', 'milestone', 'group']

export const relationKinds: readonly RelationKind[] = [
  {
    id: 'precedes',
    title: 'comes before',
    sources: WORK,
    targets: WORK,
    fields: [
      { id: 'type', label: 'Kind', type: 'choice', choices: LINK_TYPES },
      { id: 'lag', label: 'Lag', type: 'duration' },
    ],
  },
  {
    id: 'assigned',
    title: 'works on',
    answers: { until: 'actualFinish' },
    sources: ['person', 'role', 'position'],
    targets: ['task', 'milestone'],
    fields: [{ id: 'units', label: 'Share', type: 'number', min: 0, max: 100 }],
  },
  {
    id: 'baselined',
    title: 'holds the dates of',
    sources: ['baseline'],
    targets: ['task', 'milestone'],
    fields: [moment('start', 'Start'), moment('finish', 'Finish')],
  },
  {
    id: 'affects',
    title: 'affects',
    sources: ['task', 'milestone'],
    targets: ['person', 'position', 'role', 'unit', 'system', 'site', 'document', 'process', 'step'],
    fields: [],
  },
]
