import { civilOf, readWhen } from '../../../calendar'
import { addDays, asDay, type Day, type Model, type View } from '../../../model'
import type { FileExport } from '../../../notation'
import { workerWords } from '../edits'
import { momentText, planShown, type Work } from '../plan'
import { eventsIn } from '../registers'

/** A plan as a calendar: an entry for each task and milestone, by RFC 5545. The clock is the plan's own, so times have no zone. */
export const iCalendarExport = {
  id: 'plan',
  title: 'iCalendar',
  extension: '.ics',
  mediaType: 'text/calendar',
  write: writeICalendar,
  feed: 'Calendar',
} satisfies FileExport

/** O(tasks). */
export function writeICalendar(model: Model, view: View, day: Day): string {
  const plan = planShown(model, view, day)
  const stamp = `${day.replace(/-/g, '')}T000000Z`
  const lines = [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    'PRODID:-//Skivel//Plan//EN',
    'CALSCALE:GREGORIAN',
    // How often a subscribed program may look again (RFC 7986, 5.7).
    'REFRESH-INTERVAL;VALUE=DURATION:PT1H',
    `X-WR-CALNAME:${escaped(plan.plan?.name ?? view.title)}`,
    ...plan.list.filter(({ kind }) => kind !== 'group').flatMap((work) => entry(model, work, stamp)),
    ...(plan.list.length > 0
      ? []
      : eventsIn(model).flatMap((event) => {
          const when = readWhen(String(event.fields['when']))
          if (!when || when.precision === 'year' || when.precision === 'month') return []
          const { year, month, day: date } = civilOf(Math.floor(when.from / 1440))
          if (year < 1) return []
          const first = `${String(year).padStart(4, '0')}${two(month)}${two(date)}`
          return [
            'BEGIN:VEVENT',
            `UID:${event.id}@skivel`,
            `DTSTAMP:${stamp}`,
            `DTSTART;VALUE=DATE:${first}`,
            `SUMMARY:${escaped(event.name)}`,
            'END:VEVENT',
          ]
        })),
    'END:VCALENDAR',
  ]
  return lines.map(folded).join('\r\n') + '\r\n'
}

const two = (value: number): string => String(value).padStart(2, '0')

function entry(model: Model, work: Work, stamp: string): string[] {
  const { entity, time, kind } = work
  const start = momentText(work.start, time, kind === 'milestone' ? 'finish' : 'start')
  const begin = start.length > 10 && momentText(work.finish, time, 'finish').length === 10 ? start.slice(0, 10) : start
  const finish = momentText(work.finish, time, 'finish')
  const groups: string[] = []
  for (let at = work.parent; at; at = at.parent) groups.unshift(at.entity.name)
  const who = workerWords(model, work.id)
  const about = [who && `Who: ${who}`, work.critical ? 'On the critical path' : '', entity.fields['note']]
    .filter((one): one is string => typeof one === 'string' && one !== '')
    .join('\n')
  return [
    'BEGIN:VEVENT',
    `UID:${entity.id}@skivel`,
    `DTSTAMP:${stamp}`,
    stamped('DTSTART', begin),
    // An end lies after its beginning (RFC 5545, 3.8.2.2): what takes no time has none.
    ...(kind === 'milestone' || endOf(begin, finish) <= begin ? [] : [stamped('DTEND', endOf(begin, finish))]),
    `SUMMARY:${escaped(entity.name)}`,
    ...(groups.length > 0 ? [`CATEGORIES:${groups.map(escaped).join(',')}`] : []),
    ...(about === '' ? [] : [`DESCRIPTION:${escaped(about)}`]),
    ...(kind === 'milestone' ? ['TRANSP:TRANSPARENT'] : []),
    'END:VEVENT',
  ]
}

/** The end of an entry of whole days is the day after its last. */
const endOf = (start: string, finish: string): string =>
  start.length > 10 && finish.length > 10 ? finish : addDays(asDay(finish.slice(0, 10)), 1)

const stamped = (name: string, moment: string): string =>
  moment.length === 10 ? `${name};VALUE=DATE:${moment.replace(/-/g, '')}` : `${name}:${moment.replace(/[-:]/g, '')}00`

/** RFC 5545, 3.3.11. */
const escaped = (text: string): string =>
  text
    .replace(/\\/g, '\\\\')
    .replace(/[;,]/g, (sign) => `\\${sign}`)
    .replace(/\r\n|\r|\n/g, '\\n')
    .replace(/[\u0000-\u0008\u000b-\u001f]/g, '')

const bytes = new TextEncoder()

/** Lines of more than 75 octets are folded, between characters (RFC 5545, 3.1). */
function folded(line: string): string {
  if (bytes.encode(line).length <= 75) return line
  const parts: string[] = []
  let part = ''
  let length = 0
  for (const letter of line) {
    const size = bytes.encode(letter).length
    if (length + size > (parts.length === 0 ? 75 : 74)) {
      parts.push(part)
      part = ''
      length = 0
    }
    part += letter
    length += size
  }
  return [...parts, part].join('\r\n ')
}
