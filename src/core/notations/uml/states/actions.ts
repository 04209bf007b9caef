import type { Entity, Id, Step } from '../../../model'
import {
  addEntity,
  changed,
  GONE,
  removeRelation,
  setEntity,
  setField,
  setRelation,
  tie,
  tooLongName,
  type Action,
  type Outcome,
  type Wish,
} from '../../../notation'
import type { StateForm } from '../kinds'
import { isFault } from '../syntax/scan'
import { readTransition } from '../syntax/transition'
import { holderOf, insideOf, lastOrder, removeStates, shownTo } from './edits'
import { NEW_STATE } from './outline'
import { isState, machine, machinesOn, vertexWords, type Transition, type Vertex } from './structure'

type Selecting = Omit<Wish, 'newId'>

const NOTHING = { refused: 'Select a state first.' }
const vertexIn = (wish: Selecting, id = wish.selection[0]): Vertex | undefined =>
  id === undefined ? undefined : shownTo(wish)?.byId.get(id)
const transitionIn = (wish: Selecting): Transition | undefined => {
  const [id] = wish.selection
  const shown = shownTo(wish)
  return (
    shown?.transitions.find((one) => one.id === id) ??
    shown?.vertices.flatMap(({ internal }) => internal).find((one) => one.id === id)
  )
}

const nameFor = (form: StateForm): string => (form === 'state' ? NEW_STATE : form)

const newState = (wish: Wish, home: Id, holder: Id | undefined, form: StateForm): Entity => ({
  id: wish.newId(),
  kind: 'state',
  name: nameFor(form),
  fields: {
    ...(form === 'state' ? {} : { form }),
    machine: home,
    ...(holder === undefined ? {} : { within: holder }),
    order: lastOrder(wish.model) + 1,
  },
})

const selecting = ({ id, fields }: Entity) =>
  fields['form'] === undefined ? { select: id, edit: 'name' } : { select: id }

/** A state beside the selected one, or the first. */
function addState(wish: Wish, form: StateForm): Outcome {
  const home = machine.forWish(wish)
  const beside = vertexIn(wish)
  const made = newState(wish, home.id, beside && holderOf(beside.entity), form)
  return changed(`A ${form}`, [...home.steps, addEntity(made)], selecting(made))
}

/** A state to which the selected one leads. */
function addNext(wish: Wish, form: StateForm): Outcome {
  const from = vertexIn(wish)
  if (!from) return NOTHING
  if (from.form === 'final' || from.form === 'terminate') return { refused: 'From an end nothing leads on.' }
  const made = newState(wish, from.machine.id, holderOf(from.entity), form)
  const leading = tie(wish.newId(), 'transition', from.id, made.id)
  return changed(
    `A ${form === 'state' ? 'state' : form} after ${vertexWords(from)}`,
    [addEntity(made), leading],
    selecting(made),
  )
}

/** A state within the selected one, with a beginning where it is the first. */
function addInside(wish: Wish): Outcome {
  const outer = vertexIn(wish)
  if (!outer) return NOTHING
  if (!isState(outer)) return { refused: `Nothing stands in a ${outer.form}.` }
  const made = newState(wish, outer.machine.id, outer.id, 'state')
  const steps: Step[] = [addEntity(made)]
  if (outer.regions.length === 0) {
    const initial = newState(wish, outer.machine.id, outer.id, 'initial')
    steps.unshift(addEntity({ ...initial, fields: { ...initial.fields, order: lastOrder(wish.model) } }))
    steps.push(tie(wish.newId(), 'transition', initial.id, made.id))
  }
  return changed(`A state in “${outer.name}”`, steps, { select: made.id, edit: 'name' })
}

/** Why no transition leads from one vertex to another; undefined where it may. */
function refusalOf(a: Vertex, b: Vertex): string | undefined {
  if (a.form === 'final' || a.form === 'terminate') return 'From an end nothing leads on.'
  if (b.form === 'initial') return 'Nothing leads to a beginning.'
  if (a.form === 'initial' && a.out.length > 0) return 'From a beginning one way leads on, and there is one.'
  return undefined
}

export function leadTo(wish: Wish, from: Id, to: Id): Outcome {
  const [a, b] = [vertexIn(wish, from), vertexIn(wish, to)]
  if (!a || !b) return GONE
  const refused = refusalOf(a, b)
  if (refused !== undefined) return { refused }
  const id = wish.newId()
  return changed(`From ${vertexWords(a)} to ${vertexWords(b)}`, [tie(id, 'transition', from, to)], {
    select: id,
    edit: 'text',
  })
}

/** What is written at a transition, as the standard writes it. */
export function writeTransition(wish: Wish, id: Id, text: string): Outcome {
  const relation = wish.model.relations.get(id)
  if (relation?.kind !== 'transition') return GONE
  const long = tooLongName(text, 'What is written at a transition')
  if (long) return long
  const read = readTransition(text.trim())
  if (isFault(read)) return { refused: `At letter ${read.at + 1}: ${read.refused}` }
  const { triggers, guard, effect } = read
  if (relation.fields['internal'] === true && triggers.length === 0)
    return { refused: 'What a state does by itself is on an event.' }
  const want = { trigger: triggers.join(', ') || null, guard: guard ?? null, effect: effect ?? null }
  return changed(
    `Write “${text.trim().slice(0, 60)}”`,
    Object.entries(want).flatMap(([field, value]) =>
      (relation.fields[field] ?? null) === value ? [] : [setRelation(id, `fields.${field}`, value)],
    ),
  )
}

export function writeState(wish: Wish, part: string, text: string): Outcome {
  const [id] = wish.selection
  if (id !== undefined && wish.model.relations.has(id)) return writeTransition(wish, id, text)
  const inner = part === 'name' ? undefined : wish.model.relations.get(part as Id)
  if (inner) return writeTransition(wish, inner.id, text)
  const entity = id === undefined ? undefined : wish.model.entities.get(id)
  const name = text.trim()
  if (!entity || name === '') return { refused: 'It needs a name.' }
  return tooLongName(name) ?? changed(`Rename “${entity.name}” to “${name}”`, [setEntity(entity.id, 'name', name)])
}

/** States dropped on another one stand in it; on the ground, or on a state that they stand in already, they stand where that stands. */
export function dropState(wish: Wish): Outcome {
  const { model, selection, target } = wish
  const moving = selection.filter((id) => ['state', 'region'].includes(model.entities.get(id)?.kind ?? ''))
  if (moving.length === 0) return { refused: 'States can be moved into another one.' }
  const into = target === undefined ? undefined : model.entities.get(target)
  const isHolder = into?.kind === 'region' || (into?.kind === 'state' && (into.fields['form'] ?? 'state') === 'state')
  const holder = !into ? undefined : isHolder ? into.id : holderOf(into)
  if (moving.some((id) => id === holder || insideOf(model, id).some((one) => one.id === holder)))
    return { refused: 'A state does not stand within itself.' }
  const [first] = moving
  const who = moving.length === 1 && first ? `“${model.entities.get(first)?.name ?? first}”` : `${moving.length} states`
  return changed(
    holder === undefined ? `Take ${who} out` : `Put ${who} into “${model.entities.get(holder)?.name ?? holder}”`,
    moving.map((id) => setField(id, 'within', holder ?? null)),
  )
}

/** A transition with its ends the other way round. */
function turnRound(wish: Wish): Outcome {
  const one = transitionIn(wish)
  if (!one) return GONE
  const refused = refusalOf(one.target, one.source)
  if (refused !== undefined) return { refused }
  return changed(`From ${vertexWords(one.target)} to ${vertexWords(one.source)}`, [
    setRelation(one.id, 'source', one.target.id),
    setRelation(one.id, 'target', one.source.id),
  ])
}

const onState = (wish: Selecting) => vertexIn(wish) !== undefined
const onTransition = (wish: Selecting) => transitionIn(wish) !== undefined

export const stateActions: readonly Action[] = [
  { id: 'state', label: 'State', begins: true, applies: () => true, run: (wish) => addState(wish, 'state') },
  {
    id: 'next-state',
    label: 'Next state',
    key: 'n',
    verb: true,
    applies: onState,
    run: (wish) => addNext(wish, 'state'),
  },
  {
    id: 'lead-to',
    label: 'Leads to…',
    key: 't',
    verb: true,
    applies: onState,
    picks: (wish) => ({
      kinds: ['state'],
      prompt: 'To which state does it lead?',
      offers: shownTo(wish)?.vertices.map(({ id }) => id) ?? [],
    }),
    run: (wish) => {
      const [from] = wish.selection
      return from === undefined || wish.target === undefined ? NOTHING : leadTo(wish, from, wish.target)
    },
  },
  { id: 'inside', label: 'State inside', key: 'i', verb: true, applies: onState, run: addInside },
  {
    id: 'next-choice',
    label: 'Choice after it',
    key: 'k',
    verb: true,
    applies: onState,
    run: (wish) => addNext(wish, 'choice'),
  },
  { id: 'next-end', label: 'End after it', applies: onState, run: (wish) => addNext(wish, 'final') },
  { id: 'beginning', label: 'Beginning', applies: () => true, run: (wish) => addState(wish, 'initial') },
  {
    id: 'lead-on',
    label: 'Make it lead to…',
    applies: onTransition,
    picks: (wish) => ({
      kinds: ['state'],
      prompt: 'To which state does it lead instead?',
      offers: shownTo(wish)?.vertices.map(({ id }) => id) ?? [],
    }),
    run: (wish) => {
      const one = transitionIn(wish)
      const to = vertexIn(wish, wish.target)
      if (!one || !to) return GONE
      const refused = refusalOf({ ...one.source, out: [] }, to)
      return refused === undefined
        ? changed(`From ${vertexWords(one.source)} to ${vertexWords(to)}`, [setRelation(one.id, 'target', to.id)])
        : { refused }
    },
  },
  { id: 'turn-round', label: 'Turn it round', key: 'f', verb: true, applies: onTransition, run: turnRound },
  {
    id: 'region',
    label: 'Another region',
    applies: (wish) => vertexIn(wish)?.form === 'state',
    run: (wish) => {
      const one = vertexIn(wish)
      if (!one) return NOTHING
      const place = { machine: one.machine.id, within: one.id }
      const order = lastOrder(wish.model)
      const make = (name: string, at: number): Entity => ({
        id: wish.newId(),
        kind: 'region',
        name,
        fields: { ...place, order: order + at },
      })
      const made = make('Beside', 2)
      // What stood in it stands in a region of its own.
      const loose = one.regions.find(({ entity }) => !entity)
      const first = loose ? make('First', 1) : undefined
      return changed(
        `Another region of “${one.name}”`,
        [
          ...(first ? [addEntity(first)] : []),
          ...(first && loose ? loose.vertices.map(({ id }) => setField(id, 'within', first.id)) : []),
          addEntity(made),
        ],
        { select: made.id, edit: 'name' },
      )
    },
  },
  {
    id: 'remove',
    label: 'Remove',
    key: 'Delete',
    applies: ({ model, selection: [id] }) =>
      id !== undefined &&
      ['state', 'region', 'transition'].includes((model.entities.get(id) ?? model.relations.get(id))?.kind ?? ''),
    run: ({ model, selection }) => {
      const states = selection.filter((id) => model.entities.has(id))
      const removed = removeStates(model, ...states)
      const gone = new Set(removed.flatMap((step) => (step.do === 'remove-relation' ? [step.id] : [])))
      const ties = selection.filter((id) => model.relations.has(id) && !gone.has(id)).map(removeRelation)
      const [first] = selection
      const who =
        selection.length === 1 && first
          ? (model.entities.get(first)?.name ?? 'a transition')
          : `${selection.length} facts`
      return changed(`Remove “${who}”`, [...ties, ...removed])
    },
  },
  {
    id: 'life-of',
    label: 'It is the life of…',
    applies: (wish) => shownTo(wish) !== undefined,
    picks: { kinds: ['class'], prompt: 'Of which class are these the states?' },
    run: (wish) => {
      const shown = shownTo(wish)
      if (!shown || wish.target === undefined) return GONE
      return changed(`“${shown.name}” is the life of “${wish.model.entities.get(wish.target)?.name ?? wish.target}”`, [
        setField(shown.id, 'class', wish.target),
      ])
    },
  },
  machine.show,
]

/** The machine that a fact of it stands in. */
export function machineOf(wish: Pick<Wish, 'model' | 'day'>, id: Id): string | undefined {
  const home = wish.model.entities.get(id)?.fields['machine']
  return typeof home === 'string' ? machinesOn(wish.model, wish.day).get(home as Id)?.name : undefined
}
