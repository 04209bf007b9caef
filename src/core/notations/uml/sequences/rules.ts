import { freeId, type Day, type Id, type Model, type Step } from '../../../model'
import {
  addEntity,
  fix,
  removeEntity,
  setEntity,
  setField,
  type Found,
  type Moment,
  type Rule,
} from '../../../notation'
import { lastOrder, membersOf } from '../edits'
import { happeningsAt, runsIn, type Standing } from '../states/runs'
import { happeningWords } from '../states/rules'
import { machinesOn, type Machine } from '../states/structure'
import { ancestorsOf, type Classifier, type Operation } from '../structure'
import type { Parameter } from '../syntax/members'
import { eventName } from '../syntax/transition'
import {
  blocksOf,
  interactionsOn,
  messageOf,
  type Call,
  type Fragment,
  type Interaction,
  type Lifeline,
  type Operand,
} from './structure'

const inSequences =
  (find: (one: Interaction, model: Model, day: Day) => readonly Found[]): Rule['check'] =>
  (model, day) =>
    [...interactionsOn(model, day).values()].flatMap((one) => find(one, model, day))

const verb = ({ sort }: Call): string => sort

const callWords = (one: Call): string =>
  one.text === '' ? `“${one.from.name}” ${verb(one)} “${one.to.name}”` : `“${one.text}”`

/** All operations that an instance of a class has: its own, inherited ones, and those of its interfaces. */
function operationsOf(one: Classifier): readonly { readonly operation: Operation; readonly of: Classifier }[] {
  const line = [one, ...ancestorsOf(one)]
  const interfaces = line.flatMap(({ realises }) => realises.flatMap((each) => [each, ...ancestorsOf(each)]))
  return [...new Set([...line, ...interfaces])].flatMap((of) => of.operations.map((operation) => ({ operation, of })))
}

export const unknownOperation: Rule = {
  id: 'uml/message-unknown-operation',
  severity: 'warning',
  title: 'A message that nobody can take',
  why: 'A message calls an operation of the receiver’s class: one that is there, that the sender may see, and with as many arguments as it has parameters.',
  source: 'UML 2.5.1, 17.4.3 (signature_is_operation_request, arguments) and 7.4.4 (visibility)',
  check: inSequences((sequence, model, day) => {
    const stated = new Set<string>()
    return sequence.calls.flatMap((call): Found[] => {
      const of = call.to.class
      const { name, args } = messageOf(call.text)
      if (!of || name === '' || (call.sort !== 'asks' && call.sort !== 'tells')) return []
      // What is sent without waiting may be a signal that the receiver’s states take.
      if (call.sort === 'tells' && isTaken(model, day, of, name)) return []
      const all = operationsOf(of).filter(({ operation }) => operation.name.toLowerCase() === name.toLowerCase())
      if (all.length === 0) {
        const isNew = !stated.has(`${of.id} ${name.toLowerCase()}`)
        stated.add(`${of.id} ${name.toLowerCase()}`)
        return [
          {
            message: `“${call.from.name}” ${verb(call)} “${call.to.name}”: ${name}, but “${of.name}” has no such operation.`,
            subjects: [call.id, of.id, call.to.id],
            fixes:
              isNew && isName(name)
                ? [fix(`State it in “${of.name}”`, statedIn(model, of, name, args?.length ?? 0))]
                : [],
          },
        ]
      }
      const seen = all.filter(({ operation, of: owner }) => canSee(call.from.class, owner, operation))
      if (seen.length === 0) {
        const [hidden] = all
        if (!hidden) return []
        const { operation, of: owner } = hidden
        return [
          {
            message: `“${call.from.name}” ${verb(call)} “${call.to.name}”: ${name}, which is ${operation.visibility ?? 'not visible'} in “${owner.name}”.`,
            subjects: [call.id, operation.id, owner.id],
            fixes: [fix(`Make “${operation.name}” public`, setField(operation.id, 'visibility', 'public'))],
          },
        ]
      }
      if (args === undefined || seen.some(({ operation }) => takes(operation, args.length))) return []
      const [{ operation } = { operation: undefined }] = seen
      if (!operation) return []
      const wanted = givenTo(operation)
      return [
        {
          message: `“${call.text}” has ${args.length} ${args.length === 1 ? 'argument' : 'arguments'}; “${operation.text}” of “${of.name}” takes ${wanted.length}.`,
          subjects: [call.id, operation.id, of.id],
          fixes: [
            fix(
              'Give it what it takes',
              setEntity(
                call.id,
                'name',
                `${operation.name}(${wanted.map((each, at) => args[at] ?? each.name).join(', ')})`,
              ),
            ),
          ],
        },
      ]
    })
  }),
}

/** The parameters that a call gives values for: not what comes back (UML 2.5.1, 9.4.3). */
const givenTo = ({ parameters = [] }: Operation): readonly Parameter[] =>
  parameters.filter(({ direction }) => direction === 'in' || direction === 'inout')

/** Whether so many arguments suit an operation: those with a default may be left out. */
function takes(operation: Operation, count: number): boolean {
  if (operation.parameters === undefined) return true
  const given = givenTo(operation)
  return count <= given.length && count >= given.filter((one) => one.default === undefined).length
}

/** Whether the states that a class goes through take a signal of a name. O(transitions) */
function isTaken(model: Model, day: Day, of: Classifier, name: string): boolean {
  const machine = machineOf(of, [...machinesOn(model, day).values()])
  return (
    machine?.vertices.some(({ out, internal }) =>
      [...out, ...internal].some(({ triggers }) => triggers.some((one) => eventName(one) === eventName(name))),
    ) ?? false
  )
}

const isName = (text: string): boolean => /^[\p{L}_][\p{L}\p{N}_]*$/u.test(text)

/** Whether an instance of one class may call an operation of another one. */
function canSee(from: Classifier | undefined, owner: Classifier, { visibility }: Operation): boolean {
  if (visibility === undefined || visibility === 'public' || !from) return visibility !== 'private' || from === owner
  if (from === owner) return true
  if (visibility === 'protected') return ancestorsOf(from).includes(owner)
  return visibility === 'package' && from.package === owner.package
}

function statedIn(model: Model, of: Classifier, name: string, count: number): Step {
  const id = freeId(model.entities, `${of.id.slice(0, 40)}-${name.slice(0, 20)}`)
  const parameters = Array.from({ length: count }, (_, at) => `value${at + 1}`).join(', ')
  return addEntity({
    id,
    kind: 'operation',
    name,
    fields: {
      class: of.id,
      visibility: 'public',
      ...(parameters === '' ? {} : { parameters }),
      order: lastOrder(membersOf(model, of.id)) + 1,
    },
  })
}

/** What is true of lifelines while messages follow one another; of several ways only what is true of each goes on. */
function follow<T>(
  list: readonly (Call | Operand)[],
  start: T,
  step: (at: T, call: Call) => T,
  join: (ways: readonly T[], fragment: Fragment) => T,
  /** How it stands when what comes again begins anew; without it once is enough. */
  again?: (before: T, after: T) => T,
): T {
  let at = start
  for (const block of blocksOf(list)) {
    if ('is' in block) {
      at = step(at, block)
      continue
    }
    const before = at
    if (block.operator === 'par') for (const operand of block.operands) at = follow(operand.list, at, step, join, again)
    else {
      const ways = block.operands.map((operand) => follow(operand.list, before, step, join, again))
      if (again && block.operator === 'loop')
        block.operands.forEach((operand, nth) => {
          const after = ways[nth]
          if (after !== undefined) follow(operand.list, again(before, after), step, join, again)
        })
      at = join(block.operator === 'alt' ? ways : [before, ...ways], block)
    }
  }
  return at
}

const common = <T>(ways: readonly ReadonlySet<T>[]): ReadonlySet<T> => {
  const [first, ...others] = ways
  return new Set([...(first ?? [])].filter((one) => others.every((other) => other.has(one))))
}

export const afterDestroy: Rule = {
  id: 'uml/message-after-destroy',
  severity: 'error',
  title: 'A message to what is not there',
  why: 'What a sequence makes takes no part before, and what it ends takes no part afterwards.',
  source:
    'UML 2.5.1, 17.4.3 (creation) and 17.4.4.5 (DestructionOccurrenceSpecification no_occurrence_specifications_below)',
  check: inSequences((sequence) => {
    const found: Found[] = []
    const told = new Set<string>()
    const makers = new Map<Lifeline, Call>()
    for (const call of sequence.calls) if (call.sort === 'makes' && !makers.has(call.to)) makers.set(call.to, call)
    interface At {
      readonly gone: ReadonlySet<Lifeline>
      readonly made: ReadonlySet<Lifeline>
    }
    const step = ({ gone, made }: At, call: Call): At => {
      const isMade = call.sort === 'makes'
      for (const one of new Set([call.from, call.to])) {
        if (gone.has(one) && !(isMade && one === call.to)) tell(call, one, 'has been ended before')
        else if (isMade && one === call.to && made.has(one) && !gone.has(one)) tell(call, one, 'has been made before')
        else if (makers.has(one) && !made.has(one) && !(isMade && one === call.to))
          tell(call, one, 'is only made later')
      }
      return {
        gone: new Set(
          [...gone].filter((one) => !(isMade && one === call.to)).concat(call.sort === 'ends' ? [call.to] : []),
        ),
        made: isMade ? new Set([...made, call.to]) : made,
      }
    }
    const tell = (call: Call, one: Lifeline, why: string) => {
      if (told.has(`${call.id} ${one.id}`)) return
      told.add(`${call.id} ${one.id}`)
      const maker = makers.get(one)
      found.push({
        message: `${callWords(call)}: “${one.name}” ${why}.`,
        subjects: [call.id, one.id, ...(maker && why.includes('later') ? [maker.id] : [])],
        fixes: [fix('Take the message away', removeEntity(call.id))],
      })
    }
    // Made in one way of several: it may be there, so it is not said that it is not.
    follow<At>(
      sequence.list,
      { gone: new Set(), made: new Set() },
      step,
      (ways) => ({
        gone: common(ways.map(({ gone }) => gone)),
        made: new Set(ways.flatMap(({ made }) => [...made])),
      }),
      // Each turn of a loop makes what it makes anew; what it has ended is gone at the next.
      (before, after) => ({ gone: after.gone, made: before.made }),
    )
    return found
  }),
}

export const replyUnmatched: Rule = {
  id: 'uml/reply-unmatched',
  severity: 'warning',
  title: 'An answer that nobody asked for',
  why: 'An answer goes back to who called and has not been answered yet.',
  source: 'UML 2.5.1, 17.4.3 (reply messages)',
  check: inSequences((sequence) => {
    const found = new Map<Id, Found>()
    const key = (asker: Lifeline, asked: Lifeline, nth: number) => `${asker.id} ${asked.id} ${nth}`
    const countOf = (open: ReadonlySet<string>, asker: Lifeline, asked: Lifeline): number => {
      let count = 0
      while (open.has(key(asker, asked, count))) count++
      return count
    }
    follow<ReadonlySet<string>>(
      sequence.list,
      new Set(),
      (open, call) => {
        if (call.sort === 'asks' || call.sort === 'makes')
          return new Set([...open, key(call.from, call.to, countOf(open, call.from, call.to))])
        if (call.sort !== 'answers') return open
        const count = countOf(open, call.to, call.from)
        if (count > 0) return new Set([...open].filter((one) => one !== key(call.to, call.from, count - 1)))
        found.set(call.id, {
          message: `“${call.from.name}” answers “${call.to.name}”, who has asked nothing that is not answered yet.`,
          subjects: [call.id],
          fixes: [
            fix('It tells it', setField(call.id, 'sort', 'tells')),
            fix('Take the answer away', removeEntity(call.id)),
          ],
        })
        return open
      },
      common,
    )
    return [...found.values()]
  }),
}

/** What a machine may stand in, and how it came to it. */
interface Reached {
  readonly standing: Standing
  readonly moments: readonly Moment[]
}
type Standings = ReadonlyMap<string, Reached>

/** So many standings are followed at a time. */
const MOST_FOLLOWED = 400
const MOST_MOMENTS = 40

export const outOfState: Rule = {
  id: 'uml/message-out-of-state',
  severity: 'warning',
  title: 'A message that comes at the wrong time',
  why: 'The receiver’s class goes through states, and in none in which it can be by then it takes this message.',
  source: 'UML 2.5.1, 14.2.3.9.1 (event dispatch: an event that no transition takes is lost)',
  check: inSequences((sequence, model, day) => {
    const machines = [...machinesOn(model, day).values()]
    return sequence.lifelines.flatMap((one): Found[] => {
      const machine = machineOf(one.class, machines)
      if (!machine) return []
      const events = new Set(
        machine.vertices.flatMap(({ out, internal }) =>
          [...out, ...internal].flatMap(({ triggers }) => triggers.map(eventName)),
        ),
      )
      return firstRefused(sequence, one, machine, events)
    })
  }),
}

/** The machine that a class goes through, or one that it is a kind of. */
function machineOf(one: Classifier | undefined, machines: readonly Machine[]): Machine | undefined {
  if (!one) return undefined
  for (const each of [one, ...ancestorsOf(one)]) {
    const found = machines.find(({ entity }) => entity.fields['class'] === each.id)
    if (found) return found
  }
  return undefined
}

function firstRefused(sequence: Interaction, one: Lifeline, machine: Machine, events: ReadonlySet<string>): Found[] {
  const runs = runsIn(machine)
  const [begun] = runs.standings
  if (!begun || runs.isCut) return []
  let found: Found | undefined
  const isMade = sequence.calls.some((call) => call.sort === 'makes' && call.to === one)
  const fresh = (at: Id): Standings =>
    settled(new Map([[begun.key, { standing: begun, moments: [{ at: [at], words: `“${one.name}” begins.` }] }]]))
  // What is there already may stand anywhere.
  const anywhere: Standings = new Map(
    runs.standings.map((standing) => [
      standing.key,
      { standing, moments: [{ at: [one.id], words: `“${one.name}” is in ${inWords(standing)}.` }] },
    ]),
  )
  const step = (at: Standings, call: Call): Standings => {
    if (found || call.to !== one) return at
    if (call.sort === 'makes') return fresh(call.id)
    if (call.sort !== 'asks' && call.sort !== 'tells') return at
    const name = eventName(messageOf(call.text).name)
    // What the machine answers to nowhere is none of its events.
    if (!events.has(name)) return at
    const next = new Map<string, Reached>()
    for (const { standing, moments } of at.values()) {
      const isTakenInside = [...standing.active].some(({ internal }) =>
        internal.some(({ triggers }) => triggers.some((each) => eventName(each) === name)),
      )
      const taken = happeningsAt(standing).filter(({ trigger }) => trigger !== undefined && eventName(trigger) === name)
      for (const happening of taken)
        if (next.size < MOST_FOLLOWED && !next.has(happening.to.key))
          next.set(happening.to.key, {
            standing: happening.to,
            moments: [...moments, { at: [call.id, ...momentAt(happening.to)], words: happeningWords(happening) }].slice(
              -MOST_MOMENTS,
            ),
          })
      if (taken.length === 0 && isTakenInside) next.set(standing.key, { standing, moments })
    }
    if (next.size > 0) return settled(next)
    const [last] = [...at.values()]
    if (at.size === 0 || !last) return at
    const states = [...new Set([...at.values()].map(({ standing }) => inWords(standing)))]
    found = {
      message: `“${one.name}” cannot take “${call.text}” there: by then it is in ${states.slice(0, 3).join(' or ')}${states.length > 3 ? ' …' : ''}, and “${machine.name}” says that nothing happens on it.`,
      subjects: [call.id, one.id, machine.id],
      fixes: [fix('Take the message away', removeEntity(call.id))],
      trace: [...last.moments, { at: [call.id], words: `Nothing takes “${call.text}” in ${inWords(last.standing)}.` }],
    }
    return at
  }
  const merged = (ways: readonly Standings[]): Standings =>
    new Map(ways.flatMap((way) => [...way]).slice(0, MOST_FOLLOWED))
  follow<Standings>(sequence.list, isMade ? new Map() : settled(anywhere), step, merged)
  return found ? [found] : []
}

const momentAt = ({ active }: Standing): readonly Id[] => active.map(({ id }) => id)
const inWords = ({ active }: Standing): string =>
  active.map(({ name, form }) => (form === 'state' ? `“${name}”` : `the ${form}`)).join(' and ')

/** With everything that comes about by itself. */
function settled(from: Standings): Standings {
  const found = new Map(from)
  for (const { standing, moments } of found.values())
    for (const happening of happeningsAt(standing))
      if (happening.trigger === undefined && !found.has(happening.to.key) && found.size < MOST_FOLLOWED)
        found.set(happening.to.key, {
          standing: happening.to,
          moments: [...moments, { at: momentAt(happening.to), words: happeningWords(happening) }].slice(-MOST_MOMENTS),
        })
  // Where one only passes through nothing is taken.
  return new Map(
    [...found].filter(([, { standing }]) => standing.active.some(({ form }) => form === 'state' || form === 'final')),
  )
}

export const sequenceRules: readonly Rule[] = [unknownOperation, afterDestroy, replyUnmatched, outOfState]
