import type { Day, Id, Model, Relation } from '../../model'
import {
  adding,
  between,
  endColumn,
  fieldColumn,
  fieldOf,
  fromColumn,
  GONE,
  nameColumn,
  referenceColumn,
  relationColumn,
  rowsOf,
  toColumn,
  tooLongName,
  type Column,
  type Outcome,
  type Register,
  type Wish,
} from '../../notation'
import { writeMember } from './members'
import { tieTo } from './ties'
import { homeFor, lastOrder, membersOf, modelIn } from './edits'
import { entityKinds, relationKinds } from './kinds'
import { renamed } from './renaming'
import { shownIn } from './structure'

const own = (kind: string, id: string, width?: number): Column => fieldColumn(fieldOf(entityKinds, kind, id), width)
const reference = (kind: string, id: string, width: number): Column =>
  referenceColumn(fieldOf(entityKinds, kind, id), width)

/** A column that only rows of one kind have. */
const only = (kind: string, what: string, column: Column): Column => ({
  ...column,
  write: (wish, row, text) =>
    (wish.model.entities.get(row) ?? wish.model.relations.get(row))?.kind === kind
      ? (column.write?.(wish, row, text) ?? GONE)
      : { refused: `Only ${what} has this.` },
})
const ofAttribute = (id: string): Column => only('attribute', 'an attribute', own('attribute', id, 110))

/** A member as the standard writes it. */
const memberColumn: Column = {
  id: 'text',
  label: 'Member',
  type: 'text',
  width: 280,
  mono: true,
  read: (model, row, day) => {
    const owner = model.entities.get(row)?.fields['class']
    const one = typeof owner === 'string' ? modelIn({ model, day }).byId.get(owner as Id) : undefined
    return (
      [...(one?.attributes ?? []), ...(one?.operations ?? [])].find(({ id }) => id === row)?.text ??
      model.entities.get(row)?.name
    )
  },
  write: writeMember,
}

const ofTie = (id: string, width: number): Column =>
  only(
    'association',
    'an association',
    relationColumn(fieldOf(relationKinds, 'association', id), width, between('is tied to')),
  )

const sortColumn: Column = {
  id: 'sort',
  label: 'Sort',
  type: 'text',
  width: 110,
  read: (model, row) => {
    const relation = model.relations.get(row)
    return relation && wordFor(relation)
  },
}

const wordFor = ({ kind, fields }: Relation): string =>
  kind === 'association'
    ? fields['aggregation'] === 'composite'
      ? 'owns'
      : fields['aggregation'] === 'shared'
        ? 'shares'
        : 'has'
    : kind === 'generalization'
      ? 'is a'
      : kind === 'realization'
        ? 'realises'
        : 'uses'

export const packageColumn = reference('class', 'package', 120)
const sizeOf = (model: Model, row: Id, day: Day): number | undefined => {
  const one = modelIn({ model, day }).byId.get(row)
  return one && one.attributes.length + one.operations.length + one.literals.length
}

/** A class is called otherwise wherever it is named. */
function writeName(wish: Wish, row: Id, text: string): Outcome {
  const entity = wish.model.entities.get(row)
  const name = text.trim()
  if (!entity) return GONE
  return name === '' ? { refused: 'It needs a name.' } : (tooLongName(name) ?? renamed(wish, entity, name))
}

/** What classes and packages are listed beside. */
const BOXES = ['classes', 'packages'] as const

export const registers: readonly Register[] = [
  {
    id: 'classes',
    title: 'Classes',
    kind: 'class',
    pictures: BOXES,
    columns: [
      { ...nameColumn('Class', 150), write: writeName },
      own('class', 'form', 100),
      packageColumn,
      own('class', 'abstract', 80),
      own('class', 'leaf', 70),
      own('class', 'stereotypes', 110),
      { id: 'members', label: 'Members', type: 'number', width: 80, mono: true, read: sizeOf },
      own('class', 'table', 100),
      own('class', 'key', 90),
      reference('class', 'system', 130),
      fromColumn,
      toColumn,
    ],
    rows: (model, view, day) => shownIn(model, view, day).classes.map(({ id }) => id),
    count: (model, view, day) => shownIn(model, view, day).classes.length,
    add: (wish) => {
      const home = homeFor(wish)
      const outcome = adding('class', 'NewClass', ({ model }) => ({
        ...(home.id === undefined ? {} : { package: home.id }),
        order: lastOrder(model.ofKind('class')) + 1,
      }))(wish)
      return 'refused' in outcome
        ? outcome
        : { ...outcome, change: { ...outcome.change, steps: [...home.steps, ...outcome.change.steps] } }
    },
  },
  {
    id: 'members',
    title: 'Members',
    kind: 'attribute',
    pictures: BOXES,
    columns: [
      reference('attribute', 'class', 140),
      memberColumn,
      ofAttribute('column'),
      ofAttribute('keptAs'),
      fromColumn,
      toColumn,
    ],
    rows: (model, view, day) =>
      shownIn(model, view, day).classes.flatMap((one) => [
        ...one.attributes.map(({ id }) => id),
        ...one.literals.map(({ id }) => id),
        ...one.operations.map(({ id }) => id),
      ]),
    count: (model, view, day) =>
      shownIn(model, view, day).classes.reduce(
        (sum, one) => sum + one.attributes.length + one.literals.length + one.operations.length,
        0,
      ),
    add: (wish) => {
      const shown = shownIn(wish.model, wish.view, wish.day).classes
      const [selected] = wish.selection
      const owner = shown.find(({ id }) => id === selected) ?? shown[0]
      if (!owner) return { refused: 'A member belongs to a class. Add one first.' }
      return adding('attribute', 'newMember', ({ model }) => ({
        class: owner.id,
        order: lastOrder(membersOf(model, owner.id)) + 1,
      }))(wish)
    },
  },
  {
    id: 'ties',
    title: 'Ties',
    kind: 'class',
    pictures: BOXES,
    columns: [
      endColumn('source', 'From', 130),
      sortColumn,
      endColumn('target', 'To', 130),
      { ...ofTie('targetRole', 90), label: 'As' },
      { ...ofTie('targetMultiplicity', 80), label: 'How many', mono: true },
      { ...ofTie('sourceRole', 90), label: 'Near role' },
      { ...ofTie('sourceMultiplicity', 118), label: 'Near: how many', mono: true },
      ofTie('targetNavigable', 90),
      { ...ofTie('label', 110), label: 'Name' },
      ofTie('column', 110),
      relationColumn({ id: 'from', label: 'Since', type: 'day' }, 96, between('is tied to')),
      relationColumn({ id: 'to', label: 'Until', type: 'day' }, 96, between('is tied to')),
    ],
    rows: (model, view, day) => shownIn(model, view, day).ties.map(({ id }) => id),
    count: (model, view, day) => shownIn(model, view, day).ties.length,
    add: (wish) => {
      const [a, b] = [
        ...wish.selection,
        ...shownIn(wish.model, wish.view, wish.day).classes.map(({ id }) => id),
      ].filter((id, at, list) => modelIn(wish).byId.has(id) && list.indexOf(id) === at)
      return a === undefined || b === undefined
        ? { refused: 'A tie leads from a class to another. Add them first.' }
        : tieTo(wish, 'association', a, b)
    },
  },
  {
    id: 'packages',
    title: 'Packages',
    kind: 'package',
    pictures: BOXES,
    columns: [
      nameColumn('Package', 170),
      { ...reference('package', 'package', 150), label: 'In' },
      {
        id: 'classes',
        label: 'Classes',
        type: 'number',
        width: 80,
        mono: true,
        read: (model, row, day) => modelIn({ model, day }).packageById.get(row)?.classes.length,
      },
      fromColumn,
      toColumn,
    ],
    rows: rowsOf('package'),
    add: adding('package', 'package', ({ model }) => ({ order: lastOrder(model.ofKind('package')) + 1 })),
  },
]
