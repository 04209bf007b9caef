import {
  adding,
  fieldOf,
  fromColumn,
  nameColumn,
  referenceColumn,
  toColumn,
  type Column,
  type Register,
} from '../../../notation'
import { entityKinds } from '../kinds'
import { homeFor, lastOrder } from './edits'
import { casesOn, casesShown, type LinkSort } from './structure'

const reference = (kind: string, id: string, width: number): Column =>
  referenceColumn(fieldOf(entityKinds, kind, id), width)

/** The names at the other ends of ties of one sort. */
const others = (id: string, label: string, sort: LinkSort, end: 'a' | 'b'): Column => ({
  id,
  label,
  type: 'text',
  width: 180,
  read: (model, row, day) => {
    const [own, other] = end === 'a' ? (['b', 'a'] as const) : (['a', 'b'] as const)
    const names = casesOn(model, day)
      .linksAt.get(row)
      ?.flatMap((link) => (link.sort === sort && link[own].id === row ? [link[other].name] : []))
    return names?.join(', ') || undefined
  },
})

export const caseRegisters: readonly Register[] = [
  {
    id: 'use-cases',
    title: 'Use cases',
    kind: 'use-case',
    pictures: ['use-cases'],
    columns: [
      nameColumn('Use case', 180),
      reference('use-case', 'subject', 140),
      others('actors', 'Actors', 'participation', 'a'),
      others('includes', 'Includes', 'include', 'b'),
      others('extends', 'Extends', 'extend', 'b'),
      fromColumn,
      toColumn,
    ],
    rows: (model, view, day) => casesShown(model, view, day).cases.map(({ id }) => id),
    count: (model, view, day) => casesShown(model, view, day).cases.length,
    add: (wish) => {
      const home = homeFor(wish)
      const outcome = adding('use-case', 'New use case', ({ model }) => ({
        ...(home.id === undefined ? {} : { subject: home.id }),
        order: lastOrder(model.ofKind('use-case')) + 1,
      }))(wish)
      return 'refused' in outcome
        ? outcome
        : { ...outcome, change: { ...outcome.change, steps: [...home.steps, ...outcome.change.steps] } }
    },
  },
  {
    id: 'actors',
    title: 'Actors',
    kind: 'actor',
    pictures: ['use-cases'],
    columns: [
      nameColumn('Actor', 160),
      reference('actor', 'role', 160),
      others('takes-part', 'Takes part in', 'participation', 'b'),
      others('is-a', 'Is a', 'generalization', 'b'),
      fromColumn,
      toColumn,
    ],
    rows: (model, view, day) => casesShown(model, view, day).actors.map(({ id }) => id),
    count: (model, view, day) => casesShown(model, view, day).actors.length,
    add: adding('actor', 'Somebody', ({ model }) => ({ order: lastOrder(model.ofKind('actor')) + 1 })),
  },
]
