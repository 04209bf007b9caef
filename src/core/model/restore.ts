import { difference, type Delta } from './difference'
import type { Entity, Relation, View } from './facts'
import type { Model } from './model'
import type { Step, StepValue } from './step'

/** The steps that lead from the facts, views, name and settings of one model to those of another. O(facts). */
export function stepsBetween(from: Model, to: Model): Step[] {
  const { entities, relations } = difference(from, to)
  const views = viewSteps(from, to)
  return [
    ...relations.removed.map(({ id }): Step => ({ do: 'remove-relation', id })),
    ...entities.removed.map(({ id }): Step => ({ do: 'remove-entity', id })),
    ...entities.added.map((entity): Step => ({ do: 'add-entity', entity })),
    ...replaced(entities).flatMap(({ before, after }): Step[] => [
      { do: 'remove-entity', id: before.id },
      { do: 'add-entity', entity: after },
    ]),
    ...relations.added.map((relation): Step => ({ do: 'add-relation', relation })),
    ...replaced(relations).flatMap(({ before, after }): Step[] => [
      { do: 'remove-relation', id: before.id },
      { do: 'add-relation', relation: after },
    ]),
    ...sets(entities).map((set): Step => ({ do: 'set-entity', ...set })),
    ...sets(relations).map((set): Step => ({ do: 'set-relation', ...set })),
    ...views,
    ...workspaceSteps(from, to),
  ]
}

/** A kind is never set: what has another kind is another fact with the same identity. */
const replaced = <T extends Entity | Relation>({ altered }: Delta<T>) =>
  altered.filter(({ paths }) => paths.includes('kind'))

const sets = <T extends Entity | Relation>({ altered }: Delta<T>) =>
  altered
    .filter(({ paths }) => !paths.includes('kind'))
    .flatMap(({ after, paths }) => paths.map((path) => ({ id: after.id, path, value: valueAt(after, path) })))

function valueAt(fact: Entity | Relation, path: string): StepValue {
  const record = fact as unknown as Readonly<Record<string, unknown>>
  const value = path.startsWith('fields.') ? fact.fields[path.slice('fields.'.length)] : record[path]
  return (value ?? null) as StepValue
}

function viewSteps(from: Model, to: Model): Step[] {
  const same = (a: View, b: View) => JSON.stringify(a) === JSON.stringify(b)
  return [
    ...[...from.views.values()].flatMap((view): Step[] => {
      const other = to.views.get(view.id)
      return other && same(view, other) ? [] : [{ do: 'remove-view', id: view.id }]
    }),
    ...[...to.views.values()].flatMap((view): Step[] => {
      const other = from.views.get(view.id)
      return other && same(view, other) ? [] : [{ do: 'add-view', view }]
    }),
  ]
}

function workspaceSteps(from: Model, to: Model): Step[] {
  const name: Step[] = from.name === to.name ? [] : [{ do: 'set-workspace', path: 'name', value: to.name }]
  const parts = (['thresholds', 'accepted'] as const).flatMap((part) => {
    const [a, b] = [from.settings[part], to.settings[part]]
    return [...new Set([...Object.keys(a), ...Object.keys(b)])].flatMap((key): Step[] =>
      JSON.stringify(a[key]) === JSON.stringify(b[key])
        ? []
        : [{ do: 'set-workspace', path: `${part}.${key}`, value: b[key] ?? null }],
    )
  })
  return [...name, ...parts]
}
