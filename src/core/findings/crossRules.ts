import { covers, dayInWords, setStep, type Entity, type Id, type Model, type Relation, type View } from '../model'
import { fixAs, COMMON, fix, judging, type Fix, type Kind, type RelationKind, type Rule } from '../notation'
import { lookRules, type Drawing } from './lookRules'
import { ownershipRules, unused } from './ownership'

/** What the cross rules need to know of the notations, gathered by the registry. */
interface CrossFacts {
  readonly kinds: readonly Kind[]
  readonly relationKinds: readonly RelationKind[]
  /** The kinds that the views of a model draw. */
  readonly drawnKinds: (model: Model) => ReadonlySet<string>
  readonly drawn: Drawing
  readonly spaced: (view: View) => boolean
}

/** Rules about any fact, whatever its notation. The relation kinds tell which targets have a stricter rule of their own. */
export function crossRules({ kinds, relationKinds, drawnKinds, drawn, spaced }: CrossFacts): readonly Rule[] {
  const byId = new Map(kinds.map((kind) => [kind.id, kind]))
  const relations = new Map(relationKinds.map((kind) => [kind.id, kind]))
  return [
    datesInverted,
    dangling(relations),
    ...ownershipRules(byId, relationKinds),
    unused(byId, drawnKinds),
    ...lookRules({ drawn, spaced, kinds: byId }),
  ]
}

const datesInverted = judging<Entity | Relation>(
  {
    id: 'x/dates-inverted',
    severity: 'error',
    title: 'Ends before it begins',
    why: 'A fact whose last day lies before its first day is in force on no day at all.',
    source: 'ISO 8601-1: an interval’s end does not precede its start',
    reads: { facts: { '*': ['from', 'to'] }, names: ['*'] },
  },
  (model) => [...model.entities.values(), ...model.relations.values()],
  (model, fact) => {
    const { id, from, to } = fact
    if (from === undefined || to === undefined || from <= to) return []
    const sort = 'name' in fact ? 'entity' : 'relation'
    const set = (path: string, value: string | null) => setStep(sort, id, path, value)
    const message = `${named(model, fact)} begins on ${dayInWords(from)} and ends on ${dayInWords(to)}.`
    const fixes = [fix('Swap the days', set('from', to), set('to', from)), fix('Leave the end open', set('to', null))]
    return [{ message, subjects: [id], fixes }]
  },
)

const dangling = (kinds: ReadonlyMap<string, RelationKind>): Rule =>
  judging<Relation>(
    {
      id: 'x/dangling',
      severity: 'error',
      title: 'Tied to something that is not there',
      why: 'A relation leads to a fact that does not exist, or no longer exists on this day, so whatever is drawn from it is wrong.',
      source: COMMON,
      reads: { facts: { '*': ['from', 'to', 'source', 'target'] }, names: ['*'] },
    },
    (model) => model.relations.values(),
    (model, relation, day) => {
      const stands = (end: Id) => {
        const entity = model.entities.get(end)
        return entity !== undefined && covers(entity, day)
      }
      const { id, source, target } = relation
      if (stands(source) && stands(target)) return []
      const missing = [source, target].filter((end) => !model.entities.has(end))
      const remove: Fix = fixAs('Remove the relation', 'Remove a relation to nothing', { do: 'remove-relation', id })
      if (missing.length > 0) {
        const there = [source, target].filter((end) => model.entities.has(end))
        const message = `${named(model, relation)} leads to “${missing.join('” and “')}”, which is not in this workspace.`
        return [{ message, subjects: [...there, id], fixes: [remove] }]
      }
      const runsOn = covers(relation, day) && stands(source) && !stands(target)
      if (!runsOn || kinds.get(relation.kind)?.targetRule) return []
      const end = model.entities.get(target)?.to
      const ended = end !== undefined && end < day
      const fixes: Fix[] = ended
        ? [
            fixAs(`End it on ${dayInWords(end)} too`, 'End a relation with its target', {
              do: 'set-relation',
              id,
              path: 'to',
              value: end,
            }),
          ]
        : [remove]
      const state = ended ? `ended on ${dayInWords(end)}` : 'does not exist'
      const message = `${named(model, relation)} is in force on ${dayInWords(day)}, but ${nameOf(model, target)} ${state}.`
      return [{ message, subjects: [target, source, id], fixes }]
    },
  )

const nameOf = (model: Model, id: Id): string => {
  const name = model.entities.get(id)?.name
  return name === undefined ? `“${id}”` : `“${name}”`
}

function named(model: Model, fact: Entity | Relation): string {
  if ('name' in fact) return `“${fact.name}”`
  return `${nameOf(model, fact.source)} ${fact.kind.replaceAll('-', ' ')} ${nameOf(model, fact.target)}`
}
