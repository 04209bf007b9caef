import type { Entity, Fields, Id, Step } from '../../../model'
import {
  addEntity,
  changed,
  GONE,
  moved,
  setEntity,
  setField,
  tooLongName,
  type Action,
  type Outcome,
  type Wish,
} from '../../../notation'
import type { CallSort, OperandSort } from '../kinds'
import { lastOrder, putAfter, removeParts, shownTo, siblingsOf, withinOf } from './edits'
import { interaction, SILENT, type Call } from './structure'

type Selecting = Omit<Wish, 'newId'>

const NOTHING = { refused: 'Select a lifeline or a message first.' }
const entityIn = ({ model, selection: [id] }: Selecting, kind: string): Entity | undefined => {
  const entity = id === undefined ? undefined : model.entities.get(id)
  return entity?.kind === kind ? entity : undefined
}
const callIn = (wish: Selecting): Call | undefined => shownTo(wish)?.calls.find(({ id }) => id === wish.selection[0])
const nameOf = (wish: Selecting, id: unknown): string => wish.model.entities.get(id as Id)?.name ?? ''

/** A message after the selected one, or after all others. */
export function callTo(wish: Wish, from: Id, to: Id, sort: CallSort = 'asks', after = entityIn(wish, 'call')): Outcome {
  const home = shownTo(wish)
  if (!home) return GONE
  const id = wish.newId()
  const within = after && withinOf(after)
  const siblings = siblingsOf(wish.model, home.id, within)
  const fields: Fields = {
    from,
    ...(sort === 'asks' ? {} : { sort }),
    to,
    ...(within === undefined ? {} : { within }),
    interaction: home.id,
    order: siblings.length + 1,
  }
  return changed(
    `“${nameOf(wish, from)}” ${sort} “${nameOf(wish, to)}”`,
    [
      addEntity({ id, kind: 'call', name: SILENT, fields }),
      ...putAfter(siblings, after?.id ?? siblings.at(-1)?.id, [id]),
    ],
    { select: id, edit: 'text' },
  )
}

/** What a message says, the name of a lifeline, or when a fragment comes about. */
export function writePart(wish: Wish, part: string, text: string): Outcome {
  const [id] = wish.selection
  const entity = id === undefined ? undefined : wish.model.entities.get(id)
  if (!entity) return GONE
  const typed = text.trim()
  const name = typed === '' && part !== 'name' ? SILENT : part === 'guard' ? typed.replace(/^\[(.*)\]$/, '$1') : typed
  if (name === '') return { refused: 'It needs a name.' }
  return tooLongName(name) ?? changed(`Write “${name.slice(0, 60)}”`, [setEntity(entity.id, 'name', name)])
}

/** Lifelines dropped on another one stand before it; messages and fragments dropped on one stand after it, or in the fragment. */
export function dropPart(wish: Wish): Outcome {
  const { model, selection, target } = wish
  const into = target === undefined ? undefined : model.entities.get(target)
  const home = shownTo(wish)
  const [first] = selection
  const one = first === undefined ? undefined : model.entities.get(first)
  if (!home || !one) return GONE
  if (one.kind === 'lifeline') {
    if (into?.kind !== 'lifeline' || into.id === one.id) return { refused: 'Drop it on another lifeline.' }
    const ids = home.lifelines.map(({ id }) => id).filter((id) => id !== one.id)
    ids.splice(ids.indexOf(into.id), 0, one.id)
    return changed(
      `Put “${one.name}” before “${into.name}”`,
      ids.map((id, at) => setField(id, 'order', at + 1)),
    )
  }
  const moving = selection.filter((id) => ['call', 'operand'].includes(model.entities.get(id)?.kind ?? ''))
  if (into?.kind !== 'call' && into?.kind !== 'operand') return { refused: 'Drop it on a message or into a fragment.' }
  const within = into.kind === 'operand' ? into.id : withinOf(into)
  for (let at: Id | undefined = within; at !== undefined;) {
    if (moving.includes(at)) return { refused: 'A fragment does not stand within itself.' }
    const holder = model.entities.get(at)
    at = holder && withinOf(holder)
  }
  const siblings = siblingsOf(model, home.id, within)
  return changed(into.kind === 'operand' ? 'Put it into the fragment' : 'Put it after this message', [
    ...moving.map((id) => setField(id, 'within', within ?? null)),
    ...putAfter(siblings, into.kind === 'operand' ? siblings.at(-1)?.id : into.id, moving),
  ])
}

/** A fragment around the selected messages, which stand side by side. */
const aroundThem = (id: string, label: string, sort: OperandSort, guard: string): Action => ({
  id,
  label,
  applies: (wish) => entityIn(wish, 'call') !== undefined || entityIn(wish, 'operand') !== undefined,
  run: (wish) => {
    const home = shownTo(wish)
    const one = entityIn(wish, 'call') ?? entityIn(wish, 'operand')
    if (!home || !one) return NOTHING
    const within = withinOf(one)
    const siblings = siblingsOf(wish.model, home.id, within)
    const chosen = siblings.filter((each) => wish.selection.includes(each.id))
    const made = wish.newId()
    const before = siblings[siblings.indexOf(chosen[0] ?? one) - 1]
    const rest = siblings.filter((each) => !chosen.includes(each))
    return changed(
      `${label.replace('…', '')} ${chosen.length === 1 ? 'a message' : `${chosen.length} messages`}`,
      [
        addEntity({
          id: made,
          kind: 'operand',
          name: guard,
          fields: { sort, ...(within === undefined ? {} : { within }), interaction: home.id, order: 0 },
        }),
        ...chosen.map((each, at): Step => setField(each.id, 'order', at + 1)),
        ...chosen.map((each): Step => setField(each.id, 'within', made)),
        ...putAfter(rest, before?.id, [made]),
      ],
      { select: made, edit: 'guard' },
    )
  },
})

const onLifeline = (wish: Selecting) => entityIn(wish, 'lifeline') !== undefined
const onCall = (wish: Selecting) => callIn(wish) !== undefined

const asSort = (sort: CallSort, label: string): Action => ({
  id: `as-${sort}`,
  label,
  applies: (wish) => onCall(wish) && callIn(wish)?.sort !== sort,
  run: (wish) => {
    const one = callIn(wish)
    return one
      ? changed(`“${one.from.name}” ${sort} “${one.to.name}”`, [
          setField(one.id, 'sort', sort === 'asks' ? null : sort),
        ])
      : GONE
  },
})

function addLifeline(wish: Wish, isActor: boolean): Outcome {
  const home = interaction.forWish(wish)
  const id = wish.newId()
  const order = lastOrder(wish.model, ['lifeline'], home.id) + 1
  return changed(
    isActor ? 'An actor' : 'A lifeline',
    [
      ...home.steps,
      addEntity({
        id,
        kind: 'lifeline',
        name: isActor ? 'Somebody' : 'Something',
        fields: { ...(isActor ? { actor: true } : {}), interaction: home.id, order },
      }),
    ],
    { select: id, edit: 'name' },
  )
}

const toLifeline =
  (prompt: string): NonNullable<Action['picks']> =>
  (wish) => ({
    kinds: ['lifeline'],
    prompt,
    offers: shownTo(wish)?.lifelines.map(({ id }) => id) ?? [],
  })

export const sequenceActions: readonly Action[] = [
  { id: 'lifeline', label: 'Lifeline', begins: true, applies: () => true, run: (wish) => addLifeline(wish, false) },
  { id: 'actor', label: 'Actor', begins: true, applies: () => true, run: (wish) => addLifeline(wish, true) },
  {
    id: 'asks',
    label: 'Asks…',
    key: 't',
    verb: true,
    applies: onLifeline,
    picks: toLifeline('Whom does it ask?'),
    run: (wish) => {
      const from = entityIn(wish, 'lifeline')
      return from && wish.target !== undefined ? callTo(wish, from.id, wish.target) : NOTHING
    },
  },
  {
    id: 'next-message',
    label: 'Next message…',
    key: 'n',
    verb: true,
    applies: onCall,
    picks: toLifeline('Whom does the receiver ask next?'),
    run: (wish) => {
      const one = callIn(wish)
      return one && wish.target !== undefined ? callTo(wish, one.to.id, wish.target) : NOTHING
    },
  },
  {
    id: 'answer',
    label: 'Answer it',
    key: 'a',
    verb: true,
    applies: (wish) => callIn(wish)?.sort === 'asks',
    run: (wish) => {
      const one = callIn(wish)
      return one ? callTo(wish, one.to.id, one.from.id, 'answers') : NOTHING
    },
  },
  aroundThem('either', 'Either these…', 'either', SILENT),
  aroundThem('if', 'Only if…', 'if', SILENT),
  aroundThem('while', 'While…', 'while', SILENT),
  {
    id: 'or',
    label: 'Or else…',
    applies: (wish) => ['either', 'or'].includes(String(entityIn(wish, 'operand')?.fields['sort'])),
    run: (wish) => {
      const one = entityIn(wish, 'operand')
      const home = shownTo(wish)
      if (!one || !home) return NOTHING
      const id = wish.newId()
      const within = withinOf(one)
      return changed(
        'Another way',
        [
          addEntity({
            id,
            kind: 'operand',
            name: 'else',
            fields: { sort: 'or', ...(within === undefined ? {} : { within }), interaction: home.id, order: 0 },
          }),
          ...putAfter(siblingsOf(wish.model, home.id, within), one.id, [id]),
        ],
        { select: id, edit: 'guard' },
      )
    },
  },
  ...(['earlier', 'later'] as const).map((way): Action => ({
    id: way,
    label: way === 'earlier' ? 'Earlier' : 'Later',
    applies: (wish) => onCall(wish) || entityIn(wish, 'operand') !== undefined,
    run: (wish) => {
      const one = entityIn(wish, 'call') ?? entityIn(wish, 'operand')
      const home = shownTo(wish)
      if (!one || !home) return NOTHING
      return changed(
        `Move it ${way}`,
        moved(siblingsOf(wish.model, home.id, withinOf(one)), one, way === 'earlier' ? -1 : 1),
      )
    },
  })),
  asSort('asks', 'It asks and waits'),
  asSort('tells', 'It tells and goes on'),
  asSort('answers', 'It answers'),
  asSort('makes', 'It makes it'),
  asSort('ends', 'It ends it'),
  {
    id: 'remove',
    label: 'Remove',
    key: 'Delete',
    applies: ({ model, selection: [id] }) =>
      id !== undefined && ['lifeline', 'call', 'operand'].includes(model.entities.get(id)?.kind ?? ''),
    run: ({ model, selection }) => {
      const [first] = selection
      const who =
        selection.length === 1 && first ? `“${model.entities.get(first)?.name ?? ''}”` : `${selection.length} facts`
      return changed(`Remove ${who}`, removeParts(model, ...selection))
    },
  },
  interaction.show,
]
