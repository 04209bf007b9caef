import { isoDay } from '../../calendar'
import { Recall, type Day, type Entity, type Id, type Model } from '../../model'
import type { NumberSheet, SheetRow } from '../../notation'
import { plansOn, textOf, unitsOf, type Work } from './plan'
import { isoWeek } from './pictures/axis'

export const WEEK = 7 * 1440

/** What falls into one week of one person, over all plans. */
export interface WeekLoad {
  readonly who: Entity
  readonly week: number
  /** Minutes of work that fall into the week, and those that one person has in it. */
  minutes: number
  readonly full: number
  readonly tasks: Set<Id>
}

const mondayOf = (at: number): number => {
  const day = Math.floor(at / 1440)
  return (day - ((((day + 3) % 7) + 7) % 7)) * 1440
}

const memory = new Recall<WeekLoad[]>()

/** Work of each person by week: the shares of their tasks over the hours of the plan’s calendar. O(assignments · weeks), remembered per model and day. */
export const loadsOf = (model: Model, day: Day): readonly WeekLoad[] =>
  memory.of(model, day, () => reckoned(model, day))

function reckoned(model: Model, day: Day): WeekLoad[] {
  const loads = new Map<string, WeekLoad>()
  for (const plan of plansOn(model, day))
    for (const work of plan.list) {
      if (work.kind !== 'task' || textOf(work.entity, 'actualFinish') !== undefined) continue
      for (const tie of model.reaching(work.id, 'assigned')) {
        const who = model.entities.get(tie.source)
        if (who) addTo(loads, who, work, unitsOf(tie), plan.status)
      }
    }
  return [...loads.values()].sort(
    (a, b) => a.who.name.localeCompare(b.who.name) || a.who.id.localeCompare(b.who.id) || a.week - b.week,
  )
}

function addTo(loads: Map<string, WeekLoad>, who: Entity, work: Work, units: number, status: number | undefined): void {
  const from = Math.max(work.start, status ?? work.start)
  for (let week = mondayOf(from); week < work.finish; week += WEEK) {
    const minutes = work.time.between(Math.max(week, from), Math.min(week + WEEK, work.finish)) * units
    if (minutes <= 0) continue
    const key = `${who.id} ${week}`
    const known = loads.get(key) ?? {
      who,
      week,
      minutes: 0,
      full: Math.max(1, work.time.between(week, week + WEEK)),
      tasks: new Set<Id>(),
    }
    known.minutes += minutes
    known.tasks.add(work.id)
    loads.set(key, known)
  }
}

const idOf = ({ who, week }: WeekLoad): string => `${who.id} ${isoDay(week)}`

/** The load of each person, week by week: 100 % is all the hours that the calendar has in that week. */
export const load: NumberSheet = {
  id: 'load',
  title: 'Load',
  columns: [
    { id: 'id', label: 'Id', unit: null },
    { id: 'label', label: 'Who and when', unit: null },
    { id: 'who', label: 'Who', unit: null },
    { id: 'week', label: 'Week from', unit: null },
    { id: 'load', label: 'Load', unit: '%' },
    { id: 'hours', label: 'Work', unit: 'h' },
    { id: 'tasks', label: 'Tasks', unit: null },
  ],
  rows: (model, day) =>
    loadsOf(model, day).map((one): SheetRow => ({
      id: idOf(one),
      label: `${one.who.name}, w${isoWeek(one.week)}`,
      who: one.who.name,
      week: isoDay(one.week),
      load: Math.round((one.minutes / one.full) * 100),
      hours: Math.round(one.minutes / 6) / 10,
      tasks: one.tasks.size,
    })),
  counted: (model, day, row) => {
    const found = loadsOf(model, day).find((one) => idOf(one) === row['id'])
    return found ? [...found.tasks] : []
  },
  chart: { sort: 'bars', key: 'id', label: 'label', values: ['load', 'hours'] },
}
