import ICAL from 'ical.js'
import { addDays, asDay, type Entity, type Id, type Step } from '../../../model'
import type { FileImport, ImportedFile, Refusal, Wish } from '../../../notation'
import { addEntity, newWork, planFor, planIn, setEntity, setField } from '../edits'

/** Entries of a calendar as tasks with the dates they have there. The same entries read again change what they brought before. */
export const iCalendarImport: FileImport = {
  id: 'icalendar',
  title: 'iCalendar',
  extensions: ['.ics', '.ical'],
  read,
}

interface Entry {
  readonly id: Id
  readonly name: string
  readonly start: string
  readonly finish: string
  readonly milestone: boolean
}

/** O(entries). */
function read(wish: Wish, text: string): ImportedFile | Refusal {
  const found = entriesOf(text)
  if ('refused' in found) return found
  const { entries, left } = found
  if (entries.length === 0) return { refused: 'There is no entry with a date in it.' }
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
      steps.push(addEntity(newWork(id, kind, name, made.plan, undefined, plan.roots.length + i + 1, fields)))
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
    ...(left > 0 ? [`${left} entries have no date, or repeat: they are left out.`] : []),
    ...entries
      .slice(0, 8)
      .map(({ name, start, finish }) => `${start}${finish === start ? '' : ` to ${finish}`}: ${name}`),
  ]
  return {
    change: { label: `Bring in ${entries.length} entries of a calendar`, steps: added + altered === 0 ? [] : steps },
    facts,
  }
}

function entriesOf(text: string): { entries: Entry[]; left: number } | Refusal {
  let calendar
  try {
    calendar = new ICAL.Component(ICAL.parse(text) as unknown[])
  } catch (error) {
    return {
      refused: `This is no calendar: ${error instanceof Error ? error.message.slice(0, 120) : 'it cannot be read'}.`,
    }
  }
  const entries = new Map<Id, Entry>()
  let left = 0
  for (const part of [...calendar.getAllSubcomponents('vevent'), ...calendar.getAllSubcomponents('vtodo')]) {
    const start = timeOf(part, 'dtstart') ?? timeOf(part, 'due')
    const repeats = part.getFirstProperty('rrule') !== null
    if (start === undefined || repeats) {
      left++
      continue
    }
    const end = timeOf(part, 'dtend') ?? timeOf(part, 'due')
    // The end of an entry of whole days is the day after its last.
    const finish = end === undefined || end <= start ? start : end.length === 10 ? addDays(asDay(end), -1) : end
    const uid = String(part.getFirstPropertyValue('uid') ?? `${start}-${entries.size}`)
    const id = idOf(uid)
    const name =
      String(part.getFirstPropertyValue('summary') ?? 'Entry')
        .trim()
        .slice(0, 400) || 'Entry'
    entries.set(id, {
      id,
      name,
      start,
      finish,
      milestone: part.name === 'vtodo' || String(part.getFirstPropertyValue('transp')) === 'TRANSPARENT',
    })
  }
  return { entries: [...entries.values()], left }
}

/** An entry that was written here keeps its identity; any other gets one from its own. */
const idOf = (uid: string): Id =>
  (uid.endsWith('@skivel') ? uid.slice(0, -7) : `ical-${uid.replace(/[^\w.-]+/g, '-')}`).slice(0, 64) as Id

function timeOf(part: ICAL.Component, name: string): string | undefined {
  const value = part.getFirstPropertyValue(name)
  if (!(value instanceof ICAL.Time)) return undefined
  const two = (number: number) => String(number).padStart(2, '0')
  const day = `${String(value.year).padStart(4, '0')}-${two(value.month)}-${two(value.day)}`
  return value.isDate ? day : `${day}T${two(value.hour)}:${two(value.minute)}`
}
