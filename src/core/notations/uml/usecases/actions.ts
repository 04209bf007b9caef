import type { Entity, Fields, Id, Step } from '../../../model'
import {
  addEntity,
  changed,
  GONE,
  removeRelation,
  setEntity,
  setField,
  setRelation,
  setView,
  tie,
  tooLongName,
  type Action,
  type Outcome,
  type Wish,
} from '../../../notation'
import { casesIn, homeFor, lastOrder, removeParts, subjects } from './edits'
import { isCase, type Actor, type LinkSort, type UseCase } from './structure'

type Selecting = Omit<Wish, 'newId'>

const NOTHING = { refused: 'Select an actor or a use case first.' }
const oneIn = (wish: Selecting, id = wish.selection[0]): Actor | UseCase | undefined =>
  id === undefined ? undefined : casesIn(wish).byId.get(id)
const onCase = (wish: Selecting): boolean => {
  const one = oneIn(wish)
  return one !== undefined && isCase(one)
}
const onActor = (wish: Selecting): boolean => {
  const one = oneIn(wish)
  return one !== undefined && !isCase(one)
}

const WORD: Readonly<Record<LinkSort, string>> = {
  participation: 'takes part in',
  include: 'includes',
  extend: 'extends',
  generalization: 'is a',
}

/** What leads from one to another: an actor takes part, a use case includes, and actors are kinds of each other. */
export function leadTo(wish: Wish, from: Id, to: Id, wanted?: LinkSort): Outcome {
  const [a, b] = [oneIn(wish, from), oneIn(wish, to)]
  if (!a || !b) return GONE
  if (a === b) return { refused: 'It is the same.' }
  const [isA, isB] = [isCase(a), isCase(b)]
  // Drawn from either side, it is the actor that takes part.
  const [source, target] = isA && !isB ? [b, a] : [a, b]
  const sort = wanted ?? (isA !== isB ? 'participation' : isA ? 'include' : 'generalization')
  if (sort !== 'participation' && isA !== isB)
    return { refused: 'An actor takes part in a use case; nothing else is between them.' }
  if (casesIn(wish).links.some((link) => link.sort === sort && link.a === source && link.b === target))
    return { refused: `“${source.name}” ${WORD[sort]} “${target.name}” already.` }
  const id = wish.newId()
  return changed(`“${source.name}” ${WORD[sort]} “${target.name}”`, [tie(id, sort, source.id, target.id)], {
    select: id,
  })
}

function add(wish: Wish, kind: 'actor' | 'use-case' | 'subject', name: string, lead?: LinkSort | 'reached'): Outcome {
  const home = homeFor(wish)
  const from = oneIn(wish)
  const id = wish.newId()
  const subject = (from && isCase(from) ? from.subject?.id : undefined) ?? home.id
  const fields: Fields = {
    ...(kind === 'use-case' && subject !== undefined ? { subject } : {}),
    order: lastOrder(wish.model.ofKind(kind)) + 1,
  }
  const entity: Entity = { id, kind, name, fields }
  const steps: Step[] = [...home.steps, addEntity(entity)]
  if (from && lead === 'reached')
    steps.push(
      tie(wish.newId(), 'participation', ...(kind === 'actor' ? ([id, from.id] as const) : ([from.id, id] as const))),
    )
  else if (from && lead !== undefined && lead !== 'reached')
    steps.push(tie(wish.newId(), lead, ...(lead === 'extend' ? ([id, from.id] as const) : ([from.id, id] as const))))
  return changed(`“${name}”`, steps, { select: id, edit: 'name' })
}

/** A use case into another subject; on the ground, into none. */
export function dropCase(wish: Wish): Outcome {
  const { model, selection, target } = wish
  const cases = selection.filter((id) => model.entities.get(id)?.kind === 'use-case')
  if (cases.length === 0) return { refused: 'Use cases can be moved into another subject.' }
  const into = target === undefined ? undefined : model.entities.get(target)
  const subject = into?.kind === 'subject' ? into.id : into?.kind === 'use-case' ? into.fields['subject'] : undefined
  const [first] = cases
  const who =
    cases.length === 1 && first ? `“${model.entities.get(first)?.name ?? first}”` : `${cases.length} use cases`
  return changed(
    subject === undefined
      ? `Take ${who} out of its subject`
      : `Put ${who} into “${model.entities.get(subject as Id)?.name ?? ''}”`,
    cases.map((id) => setField(id, 'subject', (subject as string | undefined) ?? null)),
  )
}

export function writeName(wish: Wish, _part: string, text: string): Outcome {
  const [id] = wish.selection
  const entity = id === undefined ? undefined : wish.model.entities.get(id)
  const name = text.trim()
  if (!entity || name === '') return { refused: 'It needs a name.' }
  return tooLongName(name) ?? changed(`Rename “${entity.name}” to “${name}”`, [setEntity(entity.id, 'name', name)])
}

const KINDS = new Set(['actor', 'use-case', 'subject', 'participation', 'include', 'extend', 'generalization'])

export const caseActions: readonly Action[] = [
  {
    id: 'use-case',
    label: 'Use case',
    begins: true,
    applies: () => true,
    run: (wish) => add(wish, 'use-case', 'New use case'),
  },
  { id: 'actor', label: 'Actor', begins: true, applies: () => true, run: (wish) => add(wish, 'actor', 'Somebody') },
  {
    id: 'next',
    label: 'Takes part in…',
    key: 'n',
    verb: true,
    applies: onActor,
    run: (wish) => add(wish, 'use-case', 'New use case', 'reached'),
  },
  {
    id: 'included',
    label: 'Includes a new one',
    key: 'n',
    verb: true,
    applies: onCase,
    run: (wish) => add(wish, 'use-case', 'New use case', 'include'),
  },
  {
    id: 'extended',
    label: 'Extended by a new one',
    key: 'k',
    verb: true,
    applies: onCase,
    run: (wish) => add(wish, 'use-case', 'New use case', 'extend'),
  },
  {
    id: 'by',
    label: 'Actor of it',
    key: 'm',
    verb: true,
    applies: onCase,
    run: (wish) => add(wish, 'actor', 'Somebody', 'reached'),
  },
  {
    id: 'lead-to',
    label: 'Tie to…',
    key: 't',
    verb: true,
    applies: (wish) => oneIn(wish) !== undefined,
    picks: { kinds: ['use-case', 'actor'], prompt: 'To which use case or actor?' },
    run: (wish) => {
      const [from] = wish.selection
      return from === undefined || wish.target === undefined ? NOTHING : leadTo(wish, from, wish.target)
    },
  },
  {
    id: 'extends',
    label: 'Extends…',
    applies: onCase,
    picks: { kinds: ['use-case'], prompt: 'Which use case does it extend?' },
    run: (wish) => {
      const [from] = wish.selection
      return from === undefined || wish.target === undefined ? NOTHING : leadTo(wish, from, wish.target, 'extend')
    },
  },
  {
    id: 'turn-round',
    label: 'Turn it round',
    key: 'f',
    verb: true,
    applies: (wish) => casesIn(wish).links.some(({ id, sort }) => id === wish.selection[0] && sort !== 'participation'),
    run: (wish) => {
      const link = casesIn(wish).links.find(({ id }) => id === wish.selection[0])
      return link
        ? changed(`“${link.b.name}” ${WORD[link.sort]} “${link.a.name}”`, [
            setRelation(link.id, 'source', link.b.id),
            setRelation(link.id, 'target', link.a.id),
          ])
        : GONE
    },
  },
  { id: 'subject', label: 'Subject', applies: () => true, run: (wish) => add(wish, 'subject', 'New subject') },
  {
    id: 'remove',
    label: 'Remove',
    key: 'Delete',
    applies: ({ model, selection: [id] }) =>
      id !== undefined && KINDS.has((model.entities.get(id) ?? model.relations.get(id))?.kind ?? ''),
    run: ({ model, selection }) => {
      const steps = removeParts(model, ...selection.filter((id) => model.entities.has(id)))
      const gone = new Set(steps.flatMap((step) => (step.do === 'remove-relation' ? [step.id] : [])))
      const [first] = selection
      const who =
        selection.length === 1 && first
          ? `“${model.entities.get(first)?.name ?? 'a tie'}”`
          : `${selection.length} facts`
      return changed(`Remove ${who}`, [
        ...selection.filter((id) => model.relations.has(id) && !gone.has(id)).map(removeRelation),
        ...steps,
      ])
    },
  },
  subjects.show,
  {
    id: 'all',
    label: 'Show all subjects',
    begins: true,
    applies: ({ view }) => typeof view.scope['subject'] === 'string',
    run: (wish) => changed('Show all subjects', [setView(wish.view.id, 'scope.subject', null)]),
  },
]
