import type { Entity, Fields, Id, Model, Relation, Step } from '../../model'
import {
  addEntity,
  changed,
  GONE,
  removal,
  removeRelation,
  rewrite,
  setEntity,
  setField,
  setRelation,
  tie,
  writing,
  type Action,
  type Outcome,
  type Wish,
} from '../../notation'
import { homeFor, lastOrder, membersOf, modelIn, packages, removeClasses, removePackage } from './edits'
import { isAssociation, type Classifier, type Tie, type TieSort } from './structure'
import { statedAttribute, statedOperation } from './structure'
import { readMember } from './syntax/members'
import { isFault } from './syntax/scan'
import { fieldsOf } from './words'

type Selecting = Omit<Wish, 'newId'>

const factOf = ({ model, selection: [id] }: Selecting): Entity | Relation | undefined =>
  id === undefined ? undefined : (model.entities.get(id) ?? model.relations.get(id))
const one = (wish: Selecting): Classifier | undefined => {
  const [id] = wish.selection
  return id === undefined ? undefined : modelIn(wish).byId.get(id)
}
const tieIn = (wish: Selecting): Tie | undefined => {
  const [id] = wish.selection
  return modelIn(wish).ties.find((tied) => tied.id === id)
}
const called = (model: Model, id: Id): string => `“${model.entities.get(id)?.name ?? id}”`
const NOTHING = { refused: 'Select a class first.' }

const WORD: Readonly<Record<TieSort, string>> = {
  association: 'has',
  generalization: 'is a',
  realization: 'realises',
  dependency: 'uses',
}

/** Which ties the standard allows from one class to another (UML 2.5.1, 9.9.7, 10.5.5 and 7.8.4). */
export function allowed(sort: TieSort, a: Classifier, b: Classifier): string | undefined {
  if (sort === 'generalization') {
    if (a === b) return 'Nothing is a kind of itself.'
    const sortOf = ({ form }: Classifier) => (form === 'enumeration' || form === 'primitive' ? 'data type' : form)
    if (sortOf(a) !== sortOf(b)) return `A ${a.form} is no kind of ${b.form}: both are of one sort.`
    if (b.isLeaf) return `“${b.name}” is final.`
  }
  if (sort === 'realization') {
    if (b.form !== 'interface') return `“${b.name}” is no interface: only an interface is realised.`
    if (a.form === 'interface') return 'An interface is a kind of another one; it realises none.'
  }
  if (sort === 'association' && a.form === 'primitive') return 'A primitive type has nothing.'
  return undefined
}

/** What a tie of a sort says as long as nobody says more. */
const usualFields = (sort: TieSort): Fields =>
  sort === 'association' ? { targetNavigable: 'yes' } : sort === 'dependency' ? { keyword: 'use' } : {}

/** A tie from one class to another. */
export function tieTo(wish: Wish, sort: TieSort, from: Id, to: Id): Outcome {
  const all = modelIn(wish)
  const [a, b] = [all.byId.get(from), all.byId.get(to)]
  if (!a || !b) return GONE
  // Between a class and an interface what is drawn upwards is that it realises it.
  const meant = sort === 'generalization' && b.form === 'interface' && a.form !== 'interface' ? 'realization' : sort
  const refused = allowed(meant, a, b)
  if (refused !== undefined) return { refused }
  if (meant !== 'association' && a.ties.some((tied) => tied.sort === meant && tied.a === a && tied.b === b))
    return { refused: `“${a.name}” ${WORD[meant]} “${b.name}” already.` }
  const id = wish.newId()
  return changed(`“${a.name}” ${WORD[meant]} “${b.name}”`, [tie(id, meant, from, to, usualFields(meant))], {
    select: id,
  })
}

/** What a member says, typed anew: refused with the place of the fault. */
export function writeMember({ model }: Wish, id: Id, text: string): Outcome {
  const entity = model.entities.get(id)
  if (!entity) return GONE
  if (entity.kind === 'literal') {
    const name = text.trim()
    return name === '' ? { refused: 'It needs a name.' } : changed(writing(text), [setEntity(id, 'name', name)])
  }
  const read = readMember(text)
  if (isFault(read)) return { refused: `At letter ${read.at + 1}: ${read.refused}` }
  const before = fieldsOf(entity.kind === 'operation' ? statedOperation(entity) : statedAttribute(entity))
  const after = fieldsOf(read)
  if (read.is !== entity.kind) {
    const { class: owner, order } = entity.fields
    return changed(writing(text), [
      ...removal(model, id),
      addEntity({
        ...entity,
        kind: read.is,
        name: read.name,
        fields: {
          ...after,
          ...(owner === undefined ? {} : { class: owner }),
          ...(order === undefined ? {} : { order }),
        },
      }),
    ])
  }
  return changed(writing(text), [
    ...rewrite('entity', id, { fields: before, ...dates(entity) }, { fields: after, ...dates(entity) }),
    ...(read.name === entity.name ? [] : [setEntity(id, 'name', read.name)]),
  ])
}

const dates = ({ from, to }: Entity) => ({
  ...(from === undefined ? {} : { from }),
  ...(to === undefined ? {} : { to }),
})

/** Members into another class, after those that it has. */
export function moveMembers({ model }: Wish, ids: readonly Id[], into: Id): Outcome {
  let order = lastOrder(membersOf(model, into))
  const [first] = ids
  const who = ids.length === 1 && first ? called(model, first) : `${ids.length} members`
  return changed(
    `Move ${who} to ${called(model, into)}`,
    ids.flatMap((id): Step[] => [setField(id, 'class', into), setField(id, 'order', ++order)]),
  )
}

/** A new class tied to the one that is selected, beside it or above it. */
function nextTied(wish: Wish, sort: 'association' | 'generalization', isAbove: boolean): Outcome {
  const from = one(wish)
  if (!from) return NOTHING
  const id = wish.newId()
  const home = from.package?.id
  const order = lastOrder(wish.model.ofKind('class')) + 1
  const entity: Entity = {
    id,
    kind: 'class',
    name: isAbove ? 'General' : sort === 'generalization' ? 'Special' : 'NewClass',
    fields: {
      ...(from.form === 'class' || sort === 'association' ? {} : { form: from.form }),
      ...(home === undefined ? {} : { package: home }),
      order,
    },
  }
  const [a, b] = sort === 'association' || isAbove ? [from.id, id] : [id, from.id]
  return changed(
    sort === 'association'
      ? `A class that “${from.name}” has`
      : isAbove
        ? `What “${from.name}” is a kind of`
        : `A kind of “${from.name}”`,
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

/** A tie as one of another sort, where the standard allows it. */
const asSort = (sort: TieSort, label: string, key?: string): Action => ({
  id: `as-${sort}`,
  label,
  ...(key === undefined ? {} : { key }),
  applies: (wish) => {
    const tied = tieIn(wish)
    return tied !== undefined && tied.sort !== sort && allowed(sort, tied.a, tied.b) === undefined
  },
  run: (wish) => {
    const tied = tieIn(wish)
    if (!tied) return GONE
    const id = wish.newId()
    const { from, to } = tied.relation
    const made = tie(id, sort, tied.a.id, tied.b.id, usualFields(sort))
    const dated =
      made.do === 'add-relation'
        ? { ...made, relation: { ...made.relation, ...(from ? { from } : {}), ...(to ? { to } : {}) } }
        : made
    return changed(`“${tied.a.name}” ${WORD[sort]} “${tied.b.name}”`, [removeRelation(tied.id), dated], { select: id })
  },
})

const ENDS = ['Role', 'Multiplicity', 'Navigable', 'Properties'] as const

/** A tie the other way round, with what is said of its ends. */
function flip(wish: Wish): Outcome {
  const tied = tieIn(wish)
  if (!tied) return GONE
  const { relation, a, b, sort } = tied
  const refused = allowed(sort, b, a)
  if (refused !== undefined) return { refused }
  const ends = ENDS.flatMap((key): Step[] => {
    const [near, far] = [relation.fields[`source${key}`], relation.fields[`target${key}`]]
    return near === far
      ? []
      : [
          setRelation(relation.id, `fields.source${key}`, far ?? null),
          setRelation(relation.id, `fields.target${key}`, near ?? null),
        ]
  })
  return changed(`“${b.name}” ${WORD[sort]} “${a.name}”`, [
    setRelation(relation.id, 'source', b.id),
    setRelation(relation.id, 'target', a.id),
    ...(isAssociation(tied) ? ends : []),
  ])
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
    run: (wish) => nextTied(wish, 'association', false),
  },
  {
    id: 'kind-of',
    label: 'Kind of it',
    key: 'k',
    verb: true,
    applies: isClass,
    run: (wish) => nextTied(wish, 'generalization', false),
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
  asSort('association', 'Make it an association'),
  asSort('generalization', 'Make it “is a”'),
  asSort('realization', 'Make it “realises”'),
  asSort('dependency', 'Make it “uses”'),
  {
    id: 'whole',
    label: 'Owns it',
    key: 'o',
    verb: true,
    applies: (wish) => {
      const tied = tieIn(wish)
      return tied?.sort === 'association'
    },
    run: (wish) => {
      const tied = tieIn(wish)
      if (!tied) return GONE
      const now = tied.relation.fields['aggregation']
      const next = now === 'composite' ? null : 'composite'
      return changed(
        next === null ? `“${tied.a.name}” no longer owns “${tied.b.name}”` : `“${tied.a.name}” owns “${tied.b.name}”`,
        [setRelation(tied.id, 'fields.aggregation', next)],
      )
    },
  },
  {
    id: 'flip',
    label: 'Turn it round',
    key: 'f',
    verb: true,
    applies: (wish) => tieIn(wish) !== undefined,
    run: flip,
  },
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
        : changed(`Show only the neighbours of ${called(wish.model, id)}`, [
            { do: 'set-view', id: wish.view.id, path: 'scope.class', value: id },
          ])
    },
  },
  {
    id: 'all',
    label: 'Show all classes',
    begins: true,
    applies: ({ view }) => typeof view.scope['class'] === 'string' || typeof view.scope['package'] === 'string',
    run: (wish) =>
      changed('Show all classes', [
        { do: 'set-view', id: wish.view.id, path: 'scope.class', value: null },
        { do: 'set-view', id: wish.view.id, path: 'scope.package', value: null },
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
