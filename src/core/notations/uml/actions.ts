import type { Entity, Id, Model, Relation, Step } from '../../model'
import {
  addEntity,
  changed,
  removal,
  removeRelation,
  setField,
  setView,
  tie,
  type Action,
  type Outcome,
  type Wish,
} from '../../notation'
import { homeFor, lastOrder, membersOf, modelIn, packages, removeClasses, removePackage } from './edits'
import type { Classifier } from './structure'
import { tieActions, tieTo, usualFields } from './ties'

type Selecting = Omit<Wish, 'newId'>

const factOf = ({ model, selection: [id] }: Selecting): Entity | Relation | undefined =>
  id === undefined ? undefined : (model.entities.get(id) ?? model.relations.get(id))
const one = (wish: Selecting): Classifier | undefined => {
  const [id] = wish.selection
  return id === undefined ? undefined : modelIn(wish).byId.get(id)
}
const called = (model: Model, id: Id): string => `“${model.entities.get(id)?.name ?? id}”`
const NOTHING = { refused: 'Select a class first.' }

/** A new class that the selected one has, or a kind of it. */
function nextTied(wish: Wish, sort: 'association' | 'generalization'): Outcome {
  const from = one(wish)
  if (!from) return NOTHING
  const id = wish.newId()
  const home = from.package?.id
  const order = lastOrder(wish.model.ofKind('class')) + 1
  const entity: Entity = {
    id,
    kind: 'class',
    name: sort === 'generalization' ? 'Special' : 'NewClass',
    fields: {
      ...(from.form === 'class' || sort === 'association' ? {} : { form: from.form }),
      ...(home === undefined ? {} : { package: home }),
      order,
    },
  }
  const [a, b] = sort === 'association' ? [from.id, id] : [id, from.id]
  return changed(
    sort === 'association' ? `A class that “${from.name}” has` : `A kind of “${from.name}”`,
    [addEntity(entity), tie(wish.newId(), sort, a, b, usualFields(sort))],
    { select: id, edit: 'name' },
  )
}

/** A class of what several share: attributes and operations that all of them state alike move up. */
function drawOut(wish: Wish): Outcome {
  const all = modelIn(wish)
  const chosen = wish.selection.flatMap((id) => all.byId.get(id) ?? [])
  const [first, ...others] = chosen
  if (!first || others.length === 0) return { refused: 'Select two classes or more.' }
  if (chosen.some(({ form }) => form !== first.form)) return { refused: 'They are not of one sort.' }
  const membersIn = (one: Classifier) => [...one.attributes, ...one.operations]
  const shared = membersIn(first).filter(({ text }) =>
    others.every((other) => membersIn(other).some((member) => member.text === text)),
  )
  const id = wish.newId()
  const home = first.package?.id
  const entity: Entity = {
    id,
    kind: 'class',
    name: 'General',
    fields: {
      abstract: true,
      ...(first.form === 'class' ? {} : { form: first.form }),
      ...(home === undefined ? {} : { package: home }),
      order: lastOrder(wish.model.ofKind('class')) + 1,
    },
  }
  const texts = new Set(shared.map(({ text }) => text))
  const doubled = others.flatMap((other) => membersIn(other).filter(({ text }) => texts.has(text)))
  // What all of them are a kind of already, the new one is instead of them.
  const above = first.parents.filter((parent) => others.every(({ parents }) => parents.includes(parent)))
  const old = chosen.flatMap(({ ties, id: own }) =>
    ties.filter(({ sort, a, b }) => sort === 'generalization' && a.id === own && above.includes(b)),
  )
  return changed(
    `Draw out what ${chosen.length} classes share`,
    [
      addEntity(entity),
      ...shared.map((member) => setField(member.id, 'class', id)),
      ...removal(wish.model, ...doubled.map((member) => member.id)),
      ...old.map((tied) => removeRelation(tied.id)),
      ...above.map((parent) => tie(wish.newId(), 'generalization', id, parent.id)),
      ...chosen.map((child) => tie(wish.newId(), 'generalization', child.id, id)),
    ],
    { select: id, edit: 'name' },
  )
}

const isClass = (wish: Selecting) => one(wish) !== undefined

export const actions: readonly Action[] = [
  {
    id: 'class',
    label: 'Class',
    begins: true,
    applies: () => true,
    run: (wish) => {
      const home = homeFor(wish)
      const id = wish.newId()
      const within = one(wish)?.package?.id ?? home.id
      const order = lastOrder(wish.model.ofKind('class')) + 1
      const entity: Entity = {
        id,
        kind: 'class',
        name: 'NewClass',
        fields: { ...(within === undefined ? {} : { package: within }), order },
      }
      return changed('A class', [...home.steps, addEntity(entity)], { select: id, edit: 'name' })
    },
  },
  {
    id: 'member',
    label: 'Member',
    key: 'm',
    verb: true,
    applies: isClass,
    run: (wish) => {
      const owner = one(wish)
      if (!owner) return NOTHING
      const id = wish.newId()
      const order = lastOrder(membersOf(wish.model, owner.id)) + 1
      const isLiteral = owner.form === 'enumeration'
      const entity: Entity = {
        id,
        kind: isLiteral ? 'literal' : 'attribute',
        name: isLiteral ? 'NewLiteral' : 'newMember',
        fields: { class: owner.id, order },
      }
      return changed(`A member of “${owner.name}”`, [addEntity(entity)], { select: owner.id, edit: id })
    },
  },
  {
    id: 'next',
    label: 'Next class',
    key: 'n',
    verb: true,
    applies: isClass,
    run: (wish) => nextTied(wish, 'association'),
  },
  {
    id: 'kind-of',
    label: 'Kind of it',
    key: 'k',
    verb: true,
    applies: isClass,
    run: (wish) => nextTied(wish, 'generalization'),
  },
  {
    id: 'tie-to',
    label: 'Tie to…',
    key: 't',
    verb: true,
    applies: isClass,
    picks: { kinds: ['class'], prompt: 'Tie it to which class?' },
    run: (wish) => {
      const [from] = wish.selection
      return from === undefined || wish.target === undefined ? NOTHING : tieTo(wish, 'association', from, wish.target)
    },
  },
  {
    id: 'is-a',
    label: 'Is a…',
    applies: isClass,
    picks: { kinds: ['class'], prompt: 'What is it a kind of, or which interface does it realise?' },
    run: (wish) => {
      const [from] = wish.selection
      return from === undefined || wish.target === undefined
        ? NOTHING
        : tieTo(wish, 'generalization', from, wish.target)
    },
  },
  {
    id: 'uses',
    label: 'Uses…',
    applies: isClass,
    picks: { kinds: ['class'], prompt: 'Which class does it use?' },
    run: (wish) => {
      const [from] = wish.selection
      return from === undefined || wish.target === undefined ? NOTHING : tieTo(wish, 'dependency', from, wish.target)
    },
  },
  {
    id: 'draw-out',
    label: 'Draw out what they share',
    key: 'u',
    verb: true,
    applies: (wish) => wish.selection.filter((id) => modelIn(wish).byId.has(id)).length > 1,
    run: drawOut,
  },
  ...tieActions,
  {
    id: 'package',
    label: 'Package around it',
    applies: isClass,
    run: (wish) => {
      const all = modelIn(wish)
      const chosen = wish.selection.flatMap((id) => all.byId.get(id) ?? [])
      const [first] = chosen
      if (!first) return NOTHING
      const id = wish.newId()
      const outer = first.package?.id
      const order = lastOrder(wish.model.ofKind('package')) + 1
      const entity: Entity = {
        id,
        kind: 'package',
        name: 'package',
        fields: { ...(outer === undefined ? {} : { package: outer }), order },
      }
      return changed(
        `A package around ${chosen.length === 1 ? `“${first.name}”` : `${chosen.length} classes`}`,
        [addEntity(entity), ...chosen.map((one) => setField(one.id, 'package', id))],
        { select: id, edit: 'name' },
      )
    },
  },
  {
    id: 'remove',
    label: 'Remove',
    key: 'Delete',
    applies: (wish) => {
      const kind = factOf(wish)?.kind
      return kind !== undefined && REMOVABLE.has(kind)
    },
    run: (wish) => {
      const { model, selection } = wish
      const steps = selection.flatMap((id): Step[] => {
        const entity = model.entities.get(id)
        if (entity?.kind === 'class') return removeClasses(model, id)
        if (entity?.kind === 'package') return removePackage(model, id)
        if (entity && REMOVABLE.has(entity.kind)) return removal(model, id)
        return model.relations.has(id) ? [removeRelation(id)] : []
      })
      const [first] = selection
      const who =
        selection.length === 1 && first ? (model.entities.get(first)?.name ?? 'a tie') : `${selection.length} facts`
      return changed(`Remove “${who}”`, steps)
    },
  },
  packages.show,
  {
    id: 'around',
    label: 'Only its neighbours',
    applies: isClass,
    run: (wish) => {
      const [id] = wish.selection
      return id === undefined
        ? NOTHING
        : changed(`Show only the neighbours of ${called(wish.model, id)}`, [setView(wish.view.id, 'scope.class', id)])
    },
  },
  {
    id: 'all',
    label: 'Show all classes',
    begins: true,
    applies: ({ view }) => typeof view.scope['class'] === 'string' || typeof view.scope['package'] === 'string',
    run: (wish) =>
      changed('Show all classes', [
        setView(wish.view.id, 'scope.class', null),
        setView(wish.view.id, 'scope.package', null),
      ]),
  },
]

const REMOVABLE = new Set([
  'class',
  'package',
  'attribute',
  'operation',
  'literal',
  'association',
  'generalization',
  'realization',
  'dependency',
])
