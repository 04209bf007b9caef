import { difference, type Delta } from './difference'
import type { Model } from './model'
import { at, SORTS, type Fact, type Sort, type Stated } from './sorts'
import { addStep, removeStep, setStep, type Step } from './step'
import type { StepValue } from './stepValue'

/** The steps that lead from the facts, views, name and settings of one model to those of another. O(facts). */
export function stepsBetween(from: Model, to: Model): Step[] {
  const deltas = difference(from, to)
  const all = <T>(read: <S extends Sort>(sort: S, delta: Delta<Stated[S]>) => readonly T[]): readonly T[] => [
    ...read('entity', deltas.entities),
    ...read('relation', deltas.relations),
    ...read('view', deltas.views),
  ]
  return [
    ...all((sort, { removed }) => removed.map(({ id }) => removeStep(sort, id))),
    ...all((sort, { added }) => added.map((fact) => addStep(sort, fact))),
    ...all((sort, { altered }) =>
      altered.flatMap(({ after, paths }): Step[] =>
        isAnother(sort, paths)
          ? [removeStep(sort, after.id), addStep(sort, after)]
          : paths.map((path) => setStep(sort, after.id, path, valueAt(after, path))),
      ),
    ),
    ...workspaceSteps(from, to),
  ]
}

/** What is said once is never set: what has another kind is another fact with the same identity. */
const isAnother = (sort: Sort, paths: readonly string[]): boolean =>
  SORTS[sort].fixed.some((path) => paths.includes(path))

const valueAt = (fact: Fact, path: string): StepValue => (at(fact, path) ?? null) as StepValue

function workspaceSteps(from: Model, to: Model): Step[] {
  const name: Step[] = from.name === to.name ? [] : [{ do: 'set-workspace', path: 'name', value: to.name }]
  const parts = (['thresholds', 'accepted', 'look', 'themes'] as const).flatMap((part) => {
    const [a = {}, b = {}] = [from.settings[part], to.settings[part]]
    return [...new Set([...Object.keys(a), ...Object.keys(b)])].flatMap((key): Step[] =>
      JSON.stringify(a[key]) === JSON.stringify(b[key])
        ? []
        : [{ do: 'set-workspace', path: `${part}.${key}`, value: b[key] ?? null }],
    )
  })
  return [...name, ...parts]
}
