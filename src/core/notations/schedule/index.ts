import type { Day, Id, Model } from '../../model'
import { reckonedBy, type Notation } from '../../notation'
import { runs } from './datedActions'
import { datedColumns, planWith } from './datedColumns'
import { taskTable } from './formats/taskTable'
import { iCalendarExport } from './formats/writeICalendar'
import { handling } from './handling'
import { measuresOf, numbers } from './numbers'
import { bars } from './pictures/bars'
import { month } from './pictures/month'
import { network } from './pictures/network'
import { timeline } from './pictures/timeline'
import { dayWords, planShown } from './plan'
import { rules } from './rules'
import { starters } from './starters'

/** What is done when, on any day. */
export const schedule: Notation = {
  ...handling,
  pictures: [bars, timeline, network, month],
  actions: handling.actions.map((action) => ({ ...action, run: runs[action.id] ?? action.run })),
  registers: handling.registers.map((one) => ({ ...one, columns: reckonedBy(datedColumns, one.columns) })),
  ties: (model, entity) => reckonedBy(datedColumns, handling.ties(model, entity)),
  describe,
  rules,
  numbers,
  measures: (model, day, selected, view) => measuresOf(model, planShown(model, view, day), day, selected),
  imports: [taskTable],
  files: [
    {
      id: 'icalendar',
      title: 'iCalendar',
      extensions: ['.ics', '.ical'],
      load: () => import('./formats/readICalendar'),
    },
  ],
  exports: [iCalendarExport],
  starters,
}

function describe(model: Model, id: Id, day: Day): string | undefined {
  const stated = handling.describe(model, id, day)
  const work = planWith(model, id, day).byId.get(id)
  if (!work || stated === undefined) return stated
  const [kind = '', ...rest] = stated.split(' · ')
  const ends = `${work.kind === 'milestone' ? 'on' : 'until'} ${dayWords(work, 'finish')}`
  return [kind, ...(work.critical ? ['critical'] : []), ...rest, ends].join(' · ')
}
