import {
  addDays,
  covers,
  dayInWords,
  daysBetween,
  overlap,
  type Day,
  type Entity,
  type Id,
  type Model,
  type Relation,
  type Step,
} from '../../../model'
import { COMMON, fix, joinFix, judging, setRelation, thresholdOf, type Rule } from '../../../notation'
import { fteOf, structureOn, unitName } from '../structure'
import { quoted } from './phrases'

/** Rules about who holds what. */

/** How much of a full-time equivalent somebody gives to a position: as stated, else all that the position has. */
function shareOf(model: Model, holds: Relation): number {
  const stated = holds.fields['fte']
  const position = model.entities.get(holds.target)
  return typeof stated === 'number' ? stated : position ? fteOf(position) : 0
}

/** The days of a person’s tenure of a position: where person, position and relation are all in force. */
function tenure(model: Model, holds: Relation) {
  const [person, position] = [model.entities.get(holds.source), model.entities.get(holds.target)]
  const both = person && position && overlap(person, position)
  return both && overlap(both, holds)
}

/** O(tenures), and the square of the tenures of one person. */
const overAllocated = judging<Entity>(
  {
    id: 'org/over-allocated',
    severity: 'error',
    title: 'More than one full-time post',
    why: 'Nobody can give more than one full-time equivalent on a day.',
    source: COMMON,
  },
  (model) => model.ofKind('person'),
  (model, person, day) => {
    const tenures = model.leaving(person.id, 'holds').flatMap((holds) => {
      const period = tenure(model, holds)
      return period ? [{ holds, period, share: shareOf(model, holds) }] : []
    })
    // A sum can only rise where a tenure begins.
    for (const { period } of tenures) {
      const at = period.from
      const held = oncePerPost(
        tenures.filter(({ period: other }) => (at === undefined ? other.from === undefined : covers(other, at))),
      )
      const sum = held.reduce((total, { share }) => total + share, 0)
      if (sum <= 1 + 1e-9) continue
      const titles = held.map(({ holds }) => quoted(model, holds.target, day)).join(' and ')
      const latest = held.reduce((late, one) => ((one.period.from ?? '') > (late.period.from ?? '') ? one : late))
      const begins = latest.period.from
      const earlier = held.filter((one) => one !== latest && (one.period.from ?? '') < (begins ?? ''))
      return [
        {
          message: `“${person.name}” holds ${titles}, ${Number(sum.toFixed(2))} fte${at === undefined ? '' : ` from ${dayInWords(at)}`}.`,
          subjects: [person.id, ...held.map(({ holds }) => holds.target)],
          fixes:
            begins === undefined
              ? []
              : earlier.map(({ holds }) =>
                  fix(`Leave ${quoted(model, holds.target, day)} on ${dayInWords(addDays(begins, -1))}`, {
                    do: 'set-relation',
                    id: holds.id,
                    path: 'to',
                    value: addDays(begins, -1),
                  }),
                ),
        },
      ]
    }
    return []
  },
)

/** Somebody who acts in a post and is appointed to it holds it once. */
function oncePerPost<T extends { readonly holds: Relation; readonly share: number }>(tenures: readonly T[]): T[] {
  const most = new Map<Id, T>()
  for (const one of tenures) {
    const known = most.get(one.holds.target)
    if (!known || one.share > known.share) most.set(one.holds.target, one)
  }
  return [...most.values()]
}

/** O(positions). */
const doubleHolder = judging<Entity>(
  {
    id: 'org/double-holder',
    severity: 'warning',
    title: 'More holders than the post has room for',
    why: 'Together the holders give more than the position’s full-time equivalents; if they share it, say how.',
    source: COMMON,
  },
  (model) => model.ofKind('position'),
  (model, position, day) => {
    const holders = structureOn(model, day).posts.get(position.id)?.holders ?? []
    const sum = holders.reduce((total, { holds }) => total + shareOf(model, holds), 0)
    if (holders.length < 2 || sum <= fteOf(position) + 1e-9) return []
    const share = Number((fteOf(position) / holders.length).toFixed(2))
    const names = holders.map(({ person }) => `“${person.name}”`).join(' and ')
    return [
      {
        message: `${names} hold ${quoted(model, position.id, day)} with ${Number(sum.toFixed(2))} fte, and it has ${fteOf(position)}.`,
        subjects: [position.id, ...holders.map(({ person }) => person.id)],
        fixes: [
          fix(
            `Share it, ${share} fte each`,
            ...holders.map(({ holds }): Step => ({
              do: 'set-relation',
              id: holds.id,
              path: 'fields.fte',
              value: share,
            })),
          ),
        ],
      },
    ]
  },
)

/** O(people). */
export const duplicatePerson: Rule = {
  id: 'org/duplicate-person',
  severity: 'warning',
  title: 'Perhaps one person twice',
  why: 'Two people with one address, or with one name in one unit, are mostly one person who was entered twice.',
  source: COMMON,
  check: (model, day) => {
    const seen = new Map<string, Entity>()
    return model.ofKind('person').flatMap((person) => {
      const keys = identifying(model, person, day)
      const twin = keys.flatMap(({ key }) => seen.get(key) ?? [])[0]
      for (const { key } of keys) if (!seen.has(key)) seen.set(key, person)
      if (!twin) return []
      const how = keys.find(({ key }) => seen.get(key) === twin)?.how ?? 'a name'
      return {
        message: `“${twin.name}” and “${person.name}” have ${how} in common.`,
        subjects: [person.id, twin.id],
        fixes: [joinFix(model, twin, person)],
      }
    })
  },
}

function identifying(model: Model, person: Entity, day: Day): { key: string; how: string }[] {
  const email = person.fields['email']
  const units = new Set(
    model.leaving(person.id, 'holds').flatMap((holds) => {
      const position = covers(holds, day) ? model.entities.get(holds.target) : undefined
      return (position && unitName(model, position)) ?? []
    }),
  )
  return [
    ...(typeof email === 'string' ? [{ key: `@${email.toLowerCase()}`, how: `the address ${email}` }] : []),
    ...[...units].map((unit) => ({ key: `${unit}/${person.name.toLowerCase()}`, how: `a name and the unit ${unit}` })),
  ]
}

/** O(tenures). */
const actingTooLong: Rule = judging<Relation>(
  {
    id: 'org/acting-too-long',
    severity: 'note',
    title: 'Acting for long',
    why: 'Somebody who acts in a post for this long should be appointed to it, or it should be filled.',
    source: COMMON,
    threshold: { initial: 180, label: 'Longest acting, in days' },
  },
  (model) => model.relationsOfKind('holds'),
  (model, holds, day) => {
    const period = tenure(model, holds)
    if (holds.fields['acting'] !== true || holds.from === undefined || !period || !covers(period, day)) return []
    const days = daysBetween(holds.from, day)
    if (days <= thresholdOf(model, actingTooLong)) return []
    const who = model.entities.get(holds.source)?.name ?? holds.source
    return [
      {
        message: `“${who}” has been acting as ${quoted(model, holds.target, day)} since ${dayInWords(holds.from)}, ${days} days.`,
        subjects: [holds.target, holds.source, holds.id],
        fixes: [fix('Appoint for good', setRelation(holds.id, 'fields.acting', null))],
      },
    ]
  },
)

export const peopleRules: readonly Rule[] = [overAllocated, doubleHolder, actingTooLong]
