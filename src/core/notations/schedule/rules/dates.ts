import { isReckonable, isReckoned, LONGEST_IN_WORDS, readMoment, startOf } from '../../../calendar'
import { fixAs, clip, COMMON, setField, type Found, type Rule } from '../../../notation'
import { dayName, unreadable } from '../calendars'
import { named } from '../edits'
import { dayWords, inWords, inDays, instantOf, momentText, textOf } from '../plan'
import { clearing, eachLeaf, finding, inEach, leaves } from './found'

export const endsBeforeStart: Rule = {
  id: 'sch/ends-before-start',
  severity: 'error',
  title: 'It ends before it starts',
  why: 'Two stated dates contradict each other.',
  source: COMMON,
  check: (model, day) => {
    const pairs = [
      ['start', 'finish'],
      ['actualStart', 'actualFinish'],
    ] as const
    const works = eachLeaf(model, day, (work) =>
      pairs.flatMap(([a, b]) => {
        const [from, to] = [textOf(work.entity, a), textOf(work.entity, b)]
        if (from === undefined || to === undefined || from <= to || (to.length === 10 && from.startsWith(to))) return []
        return [
          finding(work, `${named(work)} ends on ${inWords(to)}, before it starts on ${inWords(from)}.`, [
            clearing(work, 'Clear its end', b),
          ]),
        ]
      }),
    )
    const eras = model.ofKind('era').flatMap((era): Found[] => {
      const [when, until] = [textOf(era, 'when'), textOf(era, 'until')]
      if (when === undefined || until === undefined || compareWhen(when, until) <= 0) return []
      return [
        {
          message: `“${era.name}” ends in ${until}, before it begins in ${when}.`,
          subjects: [era.id],
          fixes: [fixAs('Clear its end', `Clear the end of “${era.name}”`, setField(era.id, 'until', null))],
        },
      ]
    })
    return [...works, ...eras]
  },
}

/** Dates of any precision in the order of their years, those before our era first. */
function compareWhen(a: string, b: string): number {
  const year = (text: string) => Number(/^-?\d+/.exec(text)?.[0] ?? 0)
  const rest = (text: string) => text.replace(/^-?\d+/, '')
  return year(a) - year(b) || (rest(a) && rest(b) ? rest(a).localeCompare(rest(b)) : 0)
}

export const negativeFloat: Rule = {
  id: 'sch/negative-float',
  severity: 'error',
  title: 'It cannot be done in time',
  why: 'A timing that is set leaves less time than the work before it takes: with these durations and links it cannot be met.',
  source: 'DCMA 14-point assessment, check 7',
  check: (model, day) =>
    inEach(model, day, (plan) => {
      // The work that states the timing is named; what leads to it has the same float.
      const late = leaves(plan).filter(
        ({ totalFloat, entity }) => totalFloat < 0 && textOf(entity, 'actualFinish') === undefined,
      )
      return late
        .filter(({ entity }) => textOf(entity, 'on') !== undefined)
        .map((work) =>
          finding(
            work,
            `${named(work)} is set to “${textOf(work.entity, 'constraint')} ${inWords(textOf(work.entity, 'on') ?? '')}”; that is ${-inDays(work.totalFloat, work.time)} working days too early.`,
            [clearing(work, 'Let it be computed', 'constraint', 'on')],
          ),
        )
    }),
}

const DURATIONS = ['duration', 'work', 'least', 'likely', 'most', 'remaining'] as const
const MOMENTS = ['start', 'finish', 'on', 'deadline', 'actualStart', 'actualFinish'] as const

export const beyondHorizon: Rule = {
  id: 'sch/too-far',
  severity: 'error',
  title: 'Too far away to be reckoned with',
  why: 'Plans are reckoned day by day from 1900 to 2199. What lies beyond counts as the end of that time, so its dates are not what is stated.',
  source: COMMON,
  check: (model, day) =>
    eachLeaf(model, day, (work) => {
      const { entity } = work
      const long = DURATIONS.find((field) => !isReckonable(textOf(entity, field) ?? ''))
      const far = MOMENTS.find((field) => {
        const moment = readMoment(textOf(entity, field) ?? '')
        return moment !== undefined && !isReckoned(moment.day)
      })
      const field = long ?? far
      if (field === undefined) return []
      const said = textOf(entity, field) ?? ''
      return [
        finding(
          work,
          long === undefined
            ? `${named(work)} names the date ${inWords(said)}, which lies beyond the years 1900 to 2199.`
            : `${named(work)} takes ${said}, more than ${LONGEST_IN_WORDS}.`,
          [clearing(work, 'Clear it', field)],
        ),
      ]
    }),
}

export const deadlineMissed: Rule = {
  id: 'sch/deadline-missed',
  severity: 'error',
  title: 'A deadline is missed',
  why: 'By its computed dates it is done after the day that was promised.',
  source: COMMON,
  check: (model, day) =>
    eachLeaf(model, day, (work) => {
      const deadline = instantOf(textOf(work.entity, 'deadline'), work.time, 'finish')
      if (deadline === undefined || work.finish <= deadline) return []
      const late = inDays(work.time.between(deadline, work.finish), work.time)
      return [
        finding(
          work,
          `${named(work)} ends on ${dayWords(work, 'finish')}, ${late} working days after its deadline, ${inWords(textOf(work.entity, 'deadline') ?? '')}.`,
        ),
      ]
    }),
}

const CALENDAR_WORDS: Readonly<Record<string, string>> = {
  weekdays: 'the working days',
  hours: 'the working hours',
  region: 'the region',
  exceptions: 'the other day',
}

export const calendarUnreadable: Rule = {
  id: 'sch/calendar-unreadable',
  severity: 'error',
  title: 'A calendar states what cannot be read',
  why: 'Every date that is reckoned by this calendar is reckoned without it.',
  source: COMMON,
  check: (model) =>
    model.ofKind('calendar').flatMap((calendar) =>
      unreadable(calendar).map(({ field, text, counts }): Found => {
        const value = calendar.fields[field]
        const rest = Array.isArray(value) && field === 'exceptions' ? value.filter((one) => one !== text) : []
        return {
          message: `In “${calendar.name}” ${CALENDAR_WORDS[field] ?? field} “${clip(text)}” cannot be read; it counts ${counts}.`,
          subjects: [calendar.id],
          fixes: [
            fixAs(
              'Clear it',
              `Clear ${CALENDAR_WORDS[field] ?? field} of “${calendar.name}”`,
              setField(calendar.id, field, rest.length > 0 ? rest : null),
            ),
          ],
        }
      }),
    ),
}

export const nonWorkingDay: Rule = {
  id: 'sch/non-working-day',
  severity: 'warning',
  title: 'A date is not a working day',
  why: 'Work cannot start or end on a day on which nobody works; the dates move on to the next day that does.',
  source: COMMON,
  check: (model, day) =>
    eachLeaf(model, day, (work, plan) =>
      (['on', 'start', 'finish', 'deadline'] as const).flatMap((field) => {
        const text = textOf(work.entity, field)
        const moment = text === undefined ? undefined : readMoment(text)
        if (!moment || text === undefined) return []
        const number = startOf(moment.day) / 1440
        if (work.time.worksOn(number)) return []
        const next = momentText(work.time.opening(startOf(moment.day)), work.time, 'start')
        const name = dayName(plan.calendar, number)
        return [
          finding(
            work,
            `${named(work)} has the date ${inWords(text)}, ${name ? `which is ${name}` : 'on which nobody works'}.`,
            [
              fixAs(
                `Take ${inWords(next.slice(0, 10))}`,
                `Move a date of “${work.entity.name}”`,
                setField(work.id, field, next.slice(0, 10)),
              ),
            ],
          ),
        ]
      }),
    ),
}
