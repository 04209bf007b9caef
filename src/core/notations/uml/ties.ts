import type { Fields, Id, Step } from '../../model'
import { changed, GONE, removeRelation, setRelation, tie, type Action, type Outcome, type Wish } from '../../notation'
import { modelIn } from './edits'
import { isAssociation, type Classifier, type Tie, type TieSort } from './structure'

/** What is drawn between two classes, made another sort of tie and turned round. */

const tieIn = (wish: Omit<Wish, 'newId'>): Tie | undefined => {
  const [id] = wish.selection
  return modelIn(wish).ties.find((tied) => tied.id === id)
}

const WORD: Readonly<Record<TieSort, string>> = {
  association: 'has',
  generalization: 'is a',
  realization: 'realises',
  dependency: 'uses',
}

/** Which ties the standard allows from one class to another (UML 2.5.1, 9.9.7, 10.5.5 and 7.8.4). */
function allowed(sort: TieSort, a: Classifier, b: Classifier): string | undefined {
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
export const usualFields = (sort: TieSort): Fields =>
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

/** A tie as one of another sort, where the standard allows it. */
const asSort = (sort: TieSort, label: string, key: string): Action => ({
  id: `as-${sort}`,
  label,
  key,
  verb: true,
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

/** What can be done to a tie that is selected. */
export const tieActions: readonly Action[] = [
  asSort('association', 'Has', 'h'),
  asSort('generalization', 'Is a', 'k'),
  asSort('realization', 'Realises', 'r'),
  asSort('dependency', 'Uses', 'u'),
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
]
