import {
  adding,
  fieldColumn,
  fieldOf,
  fromColumn,
  nameColumn,
  referenceColumn,
  toColumn,
  type Column,
  type Register,
} from '../../../notation'
import { entityKinds } from '../kinds'
import { callTo } from './actions'
import { lastOrder } from './edits'
import { interaction, interactionShown } from './structure'

const own = (kind: string, id: string, width: number): Column => fieldColumn(fieldOf(entityKinds, kind, id), width)
const reference = (kind: string, id: string, width: number): Column =>
  referenceColumn(fieldOf(entityKinds, kind, id), width)

export const sequenceRegisters: readonly Register[] = [
  {
    id: 'messages',
    title: 'Messages',
    kind: 'call',
    pictures: ['sequence'],
    columns: [
      reference('call', 'from', 130),
      own('call', 'sort', 90),
      reference('call', 'to', 130),
      { ...nameColumn('Says', 280), mono: true },
      fromColumn,
      toColumn,
    ],
    rows: (model, view, day) => interactionShown(model, view, day)?.calls.map(({ id }) => id) ?? [],
    count: (model, view, day) => interactionShown(model, view, day)?.calls.length ?? 0,
    add: (wish) => {
      const all = interactionShown(wish.model, wish.view, wish.day)?.lifelines ?? []
      const from = all.find(({ id }) => id === wish.selection[0]) ?? all[0]
      const to = all.find((one) => one !== from) ?? from
      return from && to
        ? callTo(wish, from.id, to.id)
        : { refused: 'A message leads from a lifeline to another. Add them first.' }
    },
  },
  {
    id: 'lifelines',
    title: 'Lifelines',
    kind: 'lifeline',
    pictures: ['sequence'],
    columns: [
      nameColumn('Lifeline', 170),
      reference('lifeline', 'class', 150),
      own('lifeline', 'actor', 80),
      fromColumn,
      toColumn,
    ],
    rows: (model, view, day) => interactionShown(model, view, day)?.lifelines.map(({ id }) => id) ?? [],
    count: (model, view, day) => interactionShown(model, view, day)?.lifelines.length ?? 0,
    add: (wish) => {
      const home = interaction.forWish(wish)
      const order = lastOrder(wish.model, ['lifeline'], home.id) + 1
      const outcome = adding('lifeline', 'Something', () => ({ interaction: home.id, order }))(wish)
      return 'refused' in outcome
        ? outcome
        : { ...outcome, change: { ...outcome.change, steps: [...home.steps, ...outcome.change.steps] } }
    },
  },
]
