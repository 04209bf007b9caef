import ICAL from 'ical.js'
import { isReckoned } from '../../../calendar'
import { counted, addDays, asDay, cut, wordsOf, type Entity, type Id, type Step } from '../../../model'
import { addEntity, setEntity, setField, type ImportedFile, type Refusal, type Wish } from '../../../notation'
import { newWork, planFor, planIn } from '../edits'

interface Entry {
  readonly id: Id
  readonly name: string
  readonly start: string
  readonly finish: string
  readonly milestone: boolean
}

/** Entries of a calendar as tasks with the dates they have there. The same entries read again change what they brought before. O(entries) */
export function read(wish: Wish, text: string): ImportedFile | Refusal {
  const found = entriesOf(text)
  if ('refused' in found) return found
  const { entries, notes } = found
  if (entries.length === 0) return { refused: ['There is no entry with a date in it.', ...notes].join(' ') }
  const made = planFor(wish)
  const plan = planIn(wish)
  const steps: Step[] = [...made.steps]
  let [added, altered] = [0, 0]
  entries.forEach(({ id, name, start, finish, milestone }, i) => {
    const known = wish.model.entities.get(id)
    if (!known) {
      added++
      const kind = milestone ? 'milestone' : 'task'
      const fields: Entity['fields'] = milestone
        ? { constraint: 'must start', on: start }
        : { fixed: true, start, finish }
      steps.push(addEntity(newWork(id, kind, name, made.id, undefined, plan.roots.length + i + 1, fields)))
      return
    }
    const before = steps.length
    if (known.name !== name) steps.push(setEntity(id, 'name', name))
    for (const [field, value] of known.kind === 'milestone'
      ? [['on', start]]
      : [
          ['start', start],
          ['finish', finish],
        ])
      if (field !== undefined && value !== undefined && known.fields[field] !== value)
        steps.push(setField(id, field, value))
    if (steps.length > before) altered++
  })
  const facts = [
    `${added} new, ${altered} changed, ${entries.length - added - altered} as they are.`,
    ...notes,
    ...entries
      .slice(0, 8)
      .map(({ name, start, finish }) => `${start}${finish === start ? '' : ` to ${finish}`}: ${name}`),
  ]
  return {
    change: {
      label: `Bring in ${counted(entries.length, 'entry', 'entries')} of a calendar`,
      steps: added + altered === 0 ? [] : steps,
    },
    facts,
  }
}

/** The calendars of a file, of which there may be several, one after another (RFC 5545, 3.4). */
function calendarsIn(text: string): readonly ICAL.Component[] | Refusal {
  try {
    const parsed: unknown = ICAL.parse(text)
    const list = Array.isArray(parsed) && Array.isArray(parsed[0]) ? (parsed as unknown[]) : [parsed]
    const sound = list.filter((one): one is unknown[] => Array.isArray(one) && typeof one[0] === 'string')
    if (sound.length === 0) return { refused: 'This is no calendar: there is nothing in it.' }
    return sound.map((one) => new ICAL.Component(one))
  } catch (error) {
    return { refused: `This is no calendar: ${wordsOf(error)}.` }
  }
}

function entriesOf(text: string): { entries: Entry[]; notes: string[] } | Refusal {
  const calendars = calendarsIn(text)
  if ('refused' in calendars) return calendars
  const entries = new Map<Id, Entry>()
  const left = { undated: 0, unreadable: 0, far: 0 }
  const zones = new Map<string, number>()
  for (const part of calendars.flatMap((one) => ['vevent', 'vtodo'].flatMap((sort) => one.getAllSubcomponents(sort))))
    try {
      const start = timeOf(part, 'dtstart') ?? timeOf(part, 'due')
      if (start === undefined || part.getFirstProperty('rrule') !== null) {
        left.undated++
        continue
      }
      const finish = finishOf(part, start.text)
      if ([start.text, finish].some((moment) => !isReckoned(asDay(moment.slice(0, 10))))) {
        left.far++
        continue
      }
      if (start.zone !== undefined) zones.set(start.zone, (zones.get(start.zone) ?? 0) + 1)
      const id = idOf(String(part.getFirstPropertyValue('uid') ?? `${start.text}-${entries.size}`))
      const name = cut(String(part.getFirstPropertyValue('summary') ?? '').trim(), 400) || 'Entry'
      const milestone = part.name === 'vtodo' || String(part.getFirstPropertyValue('transp')) === 'TRANSPARENT'
      entries.set(id, { id, name, start: start.text, finish, milestone })
    } catch {
      // A time that is none is the fault of this one entry: it is counted, and the others are read.
      left.unreadable++
    }
  const counted = (count: number, words: string) =>
    count === 0 ? [] : [`${count} entries ${words}: they are left out.`]
  return {
    entries: [...entries.values()],
    notes: [
      ...counted(left.undated, 'have no date, or repeat'),
      ...counted(left.unreadable, 'have a time that cannot be read'),
      ...counted(left.far, 'lie before 1900 or after 2199'),
      ...[...zones].map(
        ([zone, count]) =>
          `${count} entries are told in the time of ${zone}: their clock times are taken as they stand there.`,
      ),
    ],
  }
}

/** The last moment of an entry, by its end or its length. The end of an entry of whole days is the day after its last. */
function finishOf(part: ICAL.Component, start: string): string {
  const [begin, length] = [part.getFirstPropertyValue('dtstart'), part.getFirstPropertyValue('duration')]
  const end = timeOf(part, 'dtend') ?? timeOf(part, 'due') ?? lasting(begin, length)
  if (end === undefined || end.text <= start) return start
  return end.text.length === 10 ? addDays(asDay(end.text), -1) : end.text
}

function lasting(begin: unknown, length: unknown): Told | undefined {
  if (!(begin instanceof ICAL.Time) || !(length instanceof ICAL.Duration)) return undefined
  const end = begin.clone()
  end.addDuration(length)
  return told(end)
}

/** An entry that was written here keeps its identity; any other gets one from its own. */
const idOf = (uid: string): Id =>
  (uid.endsWith('@skivel') ? uid.slice(0, -7) : `ical-${uid.replace(/[^\w.-]+/g, '-')}`).slice(0, 64) as Id

interface Told {
  readonly text: string
  /** Where its clock stands; absent for one of no place. */
  readonly zone?: string
}

function timeOf(part: ICAL.Component, name: string): Told | undefined {
  const property = part.getFirstProperty(name)
  const value = property?.getFirstValue()
  if (!(value instanceof ICAL.Time)) return undefined
  const zone = value.isDate
    ? undefined
    : (property?.getFirstParameter('tzid') ?? (value.zone.tzid === 'UTC' ? 'UTC' : undefined))
  return { ...told(value), ...(zone ? { zone: String(zone) } : {}) }
}

/** @throws RangeError for what is no day of the calendar */
function told(value: ICAL.Time): Told {
  const two = (number: number) => String(number).padStart(2, '0')
  const day = asDay(`${String(value.year).padStart(4, '0')}-${two(value.month)}-${two(value.day)}`)
  return { text: value.isDate ? day : `${day}T${two(value.hour)}:${two(value.minute)}` }
}
