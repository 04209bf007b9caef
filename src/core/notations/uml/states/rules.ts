import { freeId, type Day, type Id, type Model } from '../../../model'
import {
  addEntity,
  fix,
  verdictOf,
  type Verdict,
  removeEntity,
  removeRelation,
  setField,
  setRelation,
  tie,
  tiesAt,
  type Found,
  type Moment,
  type Rule,
} from '../../../notation'
import { cyclicComponents } from '../../../graph'
import { eventName } from '../syntax/transition'
import { lastOrder } from './edits'
import { allActive, isOver, runsIn, wayTo, whereActive, type Happening, type Runs, type Standing } from './runs'
import {
  isPassing,
  isState,
  machinesOn,
  vertexWords,
  type Machine,
  type Region,
  type Transition,
  type Vertex,
} from './structure'

const inMachines =
  (find: (machine: Machine, model: Model, day: Day) => readonly Found[]): Rule['check'] =>
  (model, day) =>
    [...machinesOn(model, day).values()].flatMap((machine) => find(machine, model, day))

/** Regions that are entered at their border: those of the machine itself, and those of states that something leads to, or of whose regions another one is entered. */
function enteredRegions(machine: Machine): readonly Region[] {
  const inner = machine.vertices.flatMap((one) => {
    if (one.regions.length === 0) return []
    if (one.into.length > 0) return one.regions
    const isMet = (region: Region): boolean =>
      region.vertices.some((each) => each.into.some(({ source }) => !within(source, one)) || each.regions.some(isMet))
    const met = one.regions.filter(isMet)
    return met.length > 0 ? one.regions.filter((region) => !met.includes(region)) : []
  })
  return [...machine.regions, ...inner]
}

function within(one: Vertex, outer: Vertex): boolean {
  for (let at: Vertex | undefined = one; at; at = at.region.owner) if (at === outer) return true
  return false
}

const regionWords = (machine: Machine, { entity, owner }: Region): string =>
  entity ? `“${entity.name}”` : owner ? `“${owner.name}”` : `“${machine.name}”`

export const noInitial: Rule = {
  id: 'uml/state-no-initial',
  severity: 'error',
  title: 'No state to begin in',
  why: 'Where states are entered as a whole, one initial pseudostate says which of them comes first, and one unconditional transition leads away from it.',
  source: 'UML 2.5.1, 14.2.3.7 and 14.5.6 (initial_vertex)',
  check: inMachines((machine, model) =>
    enteredRegions(machine).flatMap((region): Found[] => {
      const states = region.vertices
      if (states.length === 0) return []
      const initials = states.filter(({ form }) => form === 'initial')
      const [initial, second] = initials
      const where = regionWords(machine, region)
      if (!initial) {
        const [first] = states.filter(isState)
        return [
          {
            message: `Nothing says which state of ${where} comes first.`,
            subjects: [region.entity?.id ?? region.owner?.id ?? machine.id, ...(first ? [first.id] : [])],
            fixes: first ? [fix(`Begin with “${first.name}”`, ...beginWith(model, machine, region, first))] : [],
          },
        ]
      }
      const found: Found[] = []
      if (second)
        found.push({
          message: `${where} has ${initials.length} beginnings.`,
          subjects: initials.map(({ id }) => id),
          fixes: [fix('Leave the first', ...initials.slice(1).flatMap(({ id }) => gone(model, id)))],
        })
      if (initial.out.length !== 1)
        found.push({
          message:
            initial.out.length === 0
              ? `From the beginning of ${where} nothing leads on.`
              : `From the beginning of ${where} ${initial.out.length} ways lead on: it must be one.`,
          subjects: [initial.id, ...initial.out.map(({ id }) => id)],
          fixes:
            initial.out.slice(1).length > 0
              ? [fix('Leave the first', ...initial.out.slice(1).map(({ id }) => removeRelation(id)))]
              : [],
        })
      for (const one of initial.out.slice(0, 1))
        if (one.triggers.length > 0 || one.guard !== undefined)
          found.push({
            message: `The way from the beginning of ${where} waits for “${one.text}”: it is taken at once, whatever holds.`,
            subjects: [one.id, initial.id],
            fixes: [
              fix(
                'Take it at once',
                setRelation(one.id, 'fields.trigger', null),
                setRelation(one.id, 'fields.guard', null),
              ),
            ],
          })
      return found
    }),
  ),
}

const gone = (model: Model, id: Id) => [...tiesAt(model, id).map((one) => removeRelation(one.id)), removeEntity(id)]

/** Steps that put an initial pseudostate before a state. */
function beginWith(model: Model, machine: Machine, region: Region, first: Vertex) {
  const id = freeId(model.entities, `${first.id.slice(0, 40)}-initial`)
  const holder = region.entity?.id ?? region.owner?.id
  return [
    addEntity({
      id,
      kind: 'state',
      name: 'initial',
      fields: {
        form: 'initial',
        machine: machine.id,
        ...(holder === undefined ? {} : { within: holder }),
        order: lastOrder(model) + 1,
      },
    }),
    tie(freeId(model.relations, `${id}-leads`), 'transition', id, first.id),
  ]
}

export const unreachable: Rule = {
  id: 'uml/state-unreachable',
  severity: 'error',
  title: 'A state that is never entered',
  why: 'From the beginning nothing that can happen leads there, whichever conditions hold.',
  source: 'UML 2.5.1, 14.2.3.9 (run to completion)',
  check: inMachines((machine) => {
    const runs = runsIn(machine)
    if (runs.standings.length === 0 || runs.isCut) return []
    const known = whereActive(runs)
    return machine.vertices.flatMap((one): Found[] => {
      // What stands in a state that is never entered is not told again.
      if (known.has(one.id) || (one.region.owner && !known.has(one.region.owner.id))) return []
      // A choice behind a state that is never entered neither.
      if (
        isPassing(one) &&
        one.form !== 'initial' &&
        one.into.length > 0 &&
        one.into.every(({ source }) => !known.has(source.id))
      )
        return []
      return [
        {
          message: `${capital(vertexWords(one))} is never entered: ${reason(one, known)}`,
          subjects: [one.id, ...one.into.map(({ id }) => id)],
          fixes:
            one.into.length === 0 && one.out.length === 0 && one.regions.length === 0
              ? [fix('Remove it', removeEntity(one.id))]
              : [],
          trace: [
            ...waves(machine, runs),
            { at: [one.id], words: `Nothing more can happen that leads to ${vertexWords(one)}.` },
          ],
        },
      ]
    })
  }),
}

const capital = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1)

function reason(one: Vertex, known: ReadonlyMap<Id, unknown>): string {
  const [first] = one.into
  if (!first) return 'nothing leads there.'
  const unmet = one.into.filter(({ source }) => !known.has(source.id))
  if (one.form === 'join')
    return `what meets there is never there together (${one.into.map(({ source }) => vertexWords(source)).join(', ')}).`
  return unmet.length === one.into.length
    ? `only ${unmet.map(({ source }) => vertexWords(source)).join(', ')} ${unmet.length === 1 ? 'leads' : 'lead'} there, and ${unmet.length === 1 ? 'that is' : 'those are'} never entered either.`
    : `what leads there never comes about.`
}

/** What is entered step by step from the beginning: everything that so many happenings can lead to. */
function waves(machine: Machine, { standings, before }: Runs): Moment[] {
  const far: number[] = []
  const found = new Set<Vertex>()
  const moments: { at: Vertex[] }[] = []
  standings.forEach((one, at) => {
    const from = before[at]
    const distance = from === undefined ? 0 : (far[from.at] ?? 0) + 1
    far.push(distance)
    for (const vertex of allActive(one))
      if (!found.has(vertex)) {
        found.add(vertex)
        ;(moments[distance] ??= { at: [] }).at.push(vertex)
      }
  })
  return moments
    .filter((moment) => moment !== undefined)
    .slice(0, MOST_MOMENTS)
    .map(({ at }, index) => ({
      at: at.map(({ id }) => id),
      words:
        index === 0
          ? `“${machine.name}” begins.`
          : `Then ${at.map(vertexWords).slice(0, 6).join(', ')}${at.length > 6 ? ' and more' : ''} can be entered.`,
    }))
}

const MOST_MOMENTS = 40

export const trap: Rule = {
  id: 'uml/state-trap',
  severity: 'error',
  title: 'A state that nobody can leave',
  why: 'Once it is entered nothing leads out of it, and it is not the end: whatever is in it stays there for ever.',
  source: 'UML 2.5.1, 14.2.3.4 and 14.2.3.6 (final states)',
  check: inMachines((machine) => {
    const runs = runsIn(machine)
    if (runs.standings.length === 0 || runs.isCut) return []
    const left = leftIn(runs)
    const where = whereActive(runs)
    const dead = machine.vertices.filter(
      (one) =>
        where.has(one.id) &&
        !left.has(one) &&
        one.form !== 'final' &&
        one.form !== 'terminate' &&
        // A state in which the machine goes on, or another region of what it stands in, is none that holds it.
        one.regions.length === 0,
    )
    const alone = dead.map((one): Found => {
      const at = where.get(one.id)?.[0] ?? 0
      return {
        message: isPassing(one)
          ? `${capital(vertexWords(one))} leads nowhere: what comes there stays for ever.`
          : `“${one.name}” is entered and never left: nothing leads out of it, and it is not the end.`,
        subjects: [one.id, ...one.into.map(({ id }) => id)],
        fixes:
          isState(one) && one.out.length === 0 && one.internal.length === 0
            ? [fix('It is the end', setField(one.id, 'form', 'final'))]
            : [],
        trace: [...played(runs, at), { at: [one.id], words: `Nothing leads out of ${vertexWords(one)}.` }],
      }
    })
    return [...alone, ...endless(machine, runs, new Set(dead))]
  }),
}

/** Every vertex that some happening leaves. */
function leftIn({ standings, happenings }: Runs): ReadonlySet<Vertex> {
  const left = new Set<Vertex>()
  happenings.forEach((list, at) => {
    const from = standings[at]
    if (!from) return
    for (const { to, taken } of list) {
      const after = allActive(to)
      for (const one of allActive(from))
        if (!after.has(one) || taken.some(({ source }) => source === one)) left.add(one)
    }
  })
  return left
}

/** Where a machine has an end: states that are gone through in a circle from which it is not come to. */
function endless(machine: Machine, runs: Runs, dead: ReadonlySet<Vertex>): Found[] {
  if (!machine.vertices.some(({ form, region }) => form === 'terminate' || (form === 'final' && !region.owner)))
    return []
  const { standings, happenings } = runs
  const index = new Map(standings.map(({ key }, at) => [key, at]))
  const next = (at: number) => (happenings[at] ?? []).flatMap(({ to }) => index.get(to.key) ?? [])
  const before = standings.map((): number[] => [])
  standings.forEach((_, at) => {
    for (const to of next(at)) before[to]?.push(at)
  })
  const hopeful = new Set(standings.flatMap((one, at) => (isOver(one) ? [at] : [])))
  if (hopeful.size === 0) return []
  for (const at of hopeful) for (const from of before[at] ?? []) hopeful.add(from)
  const rest = standings.flatMap((_, at) => (hopeful.has(at) ? [] : [at]))
  return cyclicComponents(rest, (at) => next(at).filter((to) => !hopeful.has(to))).flatMap((circle): Found[] => {
    const inside = new Set(circle)
    // Only circles that are not left any more.
    if (circle.some((at) => next(at).some((to) => !inside.has(to)))) return []
    const states = [...new Set(circle.flatMap((at) => [...(standings[at]?.active ?? [])]))].filter(isState)
    const [first] = [...circle].sort((a, b) => a - b)
    if (first === undefined || states.length === 0 || states.some((one) => dead.has(one))) return []
    return [
      {
        message: `From ${states.map(vertexWords).slice(0, 4).join(', ')}${states.length > 4 ? ' …' : ''} on, “${machine.name}” never comes to its end.`,
        subjects: states.map(({ id }) => id),
        fixes: [],
        trace: [
          ...played(runs, first),
          { at: states.map(({ id }) => id), words: 'From here only this comes round again and again.' },
        ],
      },
    ]
  })
}

/** How a standing is come to, moment by moment. */
export function played(runs: Runs, at: number): Moment[] {
  const way = wayTo(runs, at)
  const first = runs.standings[0]
  return [
    ...(first ? [{ at: first.active.map(({ id }) => id), words: 'It begins.' }] : []),
    ...way.slice(-MOST_MOMENTS).map((one) => ({
      at: [...one.taken.map(({ id }) => id), ...one.to.active.map(({ id }) => id)],
      words: happeningWords(one),
    })),
  ]
}

export function happeningWords({
  taken,
  trigger,
  to,
}: Pick<Happening, 'taken' | 'trigger'> & { readonly to: Standing }): string {
  const into = to.active.map(vertexWords).join(' and ')
  const guards = taken.flatMap(({ guard }) => guard ?? [])
  const when = trigger === undefined ? 'It goes on' : `“${trigger}” happens`
  return `${when}${guards.length > 0 ? `, as ${guards.join(' and ')}` : ''}: now ${into === '' ? 'nothing more' : `in ${into}`}.`
}

export const nondeterministic: Rule = {
  id: 'uml/state-nondeterministic',
  severity: 'error',
  title: 'Two ways on one event',
  why: 'Where one event leads two ways from one state, their conditions must exclude each other: else nobody knows which is taken.',
  source: 'UML 2.5.1, 14.2.3.9.3 (conflicting transitions) and 14.2.3.7 (choice)',
  check: twoWays((words, verdict) =>
    verdict.are === 'together'
      ? `${words}${verdict.where === '' ? '' : `, and both may be taken: ${verdict.where}`}.`
      : undefined,
  ),
}

export const undecided: Rule = {
  id: 'uml/state-undecided',
  severity: 'warning',
  title: 'Two ways that may not exclude each other',
  why: 'Where one event leads two ways from one state, their conditions must exclude each other. These are words of which only people know whether they do.',
  source: 'UML 2.5.1, 14.2.3.9.3 (conflicting transitions)',
  check: twoWays((words, verdict, a, b) =>
    verdict.are === 'unknown' ? `${words}: nothing says that “${a}” and “${b}” exclude each other.` : undefined,
  ),
}

/** Looks at each two ways that one event leads from one state, with what is known of their conditions. */
function twoWays(judge: (words: string, verdict: Verdict, a: string, b: string) => string | undefined): Rule['check'] {
  return inMachines((machine) =>
    machine.vertices.flatMap((one): Found[] => {
      if (one.form === 'fork' || one.form === 'initial') return []
      const all = [...one.internal, ...one.out]
      return all.flatMap((b, at) =>
        all.slice(0, at).flatMap((a): Found[] => {
          const event = commonEvent(a, b)
          if (event === undefined || (a.target.form === 'join' && a.target === b.target)) return []
          const words = `On ${event === '' ? 'going on' : `“${event}”`} two ways lead from ${vertexWords(one)}, to ${vertexWords(a.target)} and to ${vertexWords(b.target)}`
          const message = judge(words, bothHold(a.guard, b.guard), a.guard ?? '', b.guard ?? '')
          if (message === undefined) return []
          return [
            {
              message,
              subjects: [one.id, a.id, b.id],
              fixes: [
                ...(a.guard !== undefined && a.guard !== 'else'
                  ? [fix(`To ${vertexWords(b.target)} else`, setRelation(b.id, 'fields.guard', 'else'))]
                  : []),
                fix(`Not to ${vertexWords(b.target)}`, removeRelation(b.id)),
              ],
            },
          ]
        }),
      )
    }),
  )
}

/** The event that two transitions both answer to; empty where both go on without one. */
function commonEvent(a: Transition, b: Transition): string | undefined {
  if (a.triggers.length === 0 && b.triggers.length === 0) return ''
  const names = new Set(a.triggers.map(eventName))
  return b.triggers.find((each) => names.has(eventName(each)))
}

const plainGuard = (text: string): string => text.trim().toLowerCase().replaceAll(/\s+/g, ' ')

/** When two guards hold at once; `else` holds where no other does, and no guard at all always. */
export function bothHold(a: string | undefined, b: string | undefined): Verdict {
  const [one, other] = [a, b].map((guard) => (guard === undefined ? undefined : plainGuard(guard)))
  if (one === 'else' || other === 'else')
    return one === other ? { are: 'together', where: 'both say else' } : { are: 'apart' }
  if (a === undefined || b === undefined) {
    const guard = a ?? b
    return { are: 'together', where: guard === undefined ? '' : `wherever “${guard}” holds` }
  }
  if (one === other) return { are: 'together', where: 'they ask the same' }
  const verdict = verdictOf(a, b)
  if (verdict.are !== 'together') return verdict
  return { are: 'together', where: verdict.where === '' ? 'both may hold' : `both hold where ${verdict.where}` }
}

export const finalWithOutgoing: Rule = {
  id: 'uml/final-with-outgoing',
  severity: 'error',
  title: 'Something leads away from an end',
  why: 'A final state has no transitions that leave it, no regions, and does nothing.',
  source: 'UML 2.5.1, 14.5.2 (no_outgoing_transitions, no_regions, no_entry_behavior)',
  check: inMachines((machine) =>
    machine.vertices.flatMap((one): Found[] => {
      if (one.form !== 'final') return []
      const found: Found[] = one.out.map((lead) => ({
        message: `From ${vertexWords(one)} something leads to ${vertexWords(lead.target)}: where it ends nothing goes on.`,
        subjects: [one.id, lead.id],
        fixes: [
          fix('Take the way away', removeRelation(lead.id)),
          fix('It is a state, not the end', setField(one.id, 'form', null)),
        ],
      }))
      const does = (['entry', 'do', 'exit'] as const).filter((field) => typeof one.entity.fields[field] === 'string')
      return does.length === 0
        ? found
        : [
            ...found,
            {
              message: `${capital(vertexWords(one))} is an end, and ends do nothing: it says ${does.join(' and ')}.`,
              subjects: [one.id],
              fixes: [fix('It does nothing', ...does.map((field) => setField(one.id, field, null)))],
            },
          ]
    }),
  ),
}

export const stateRules: readonly Rule[] = [
  noInitial,
  unreachable,
  trap,
  nondeterministic,
  undecided,
  finalWithOutgoing,
]
