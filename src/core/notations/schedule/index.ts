import type { Notation } from '../../notation'
import { taskTable } from './formats/taskTable'
import { iCalendarExport } from './formats/writeICalendar'
import { handling } from './handling'
import { measuresOf, numbers } from './numbers'
import { bars } from './pictures/bars'
import { month } from './pictures/month'
import { network } from './pictures/network'
import { timeline } from './pictures/timeline'
import { planShown } from './plan'
import { rules } from './rules'
import { starters } from './starters'

/** What is done when, on any day. */
export const schedule: Notation = {
  ...handling,
  pictures: [bars, timeline, network, month],
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
