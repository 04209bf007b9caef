import type { Acceptance, Entity, FieldValue, Relation, View } from './facts'
import type { Id } from './ids'
import type { Draft } from './draft'

/** What a `set` step writes; null clears. */
export type StepValue = FieldValue | readonly [number, number] | Acceptance | null

/**
 * The smallest edits of facts. Each is plain JSON, and each has an inverse.
 * Paths: `name`, `from`, `to`, `fields.KEY` of an entity; `source`, `target`, `from`, `to`, `fields.KEY` of a relation;
 * `title`, `caption`, `alt`, `order`, `picture`, `scope.KEY`, `options.KEY`, `pins.KEY`, `look.KEY` of a view;
 * `name`, `thresholds.RULE`, `accepted.FINDING` of the workspace.
 */
export type Step =
  | { readonly do: 'add-entity'; readonly entity: Entity }
  | { readonly do: 'remove-entity'; readonly id: Id }
  | { readonly do: 'set-entity'; readonly id: Id; readonly path: string; readonly value: StepValue }
  | { readonly do: 'add-relation'; readonly relation: Relation }
  | { readonly do: 'remove-relation'; readonly id: Id }
  | { readonly do: 'set-relation'; readonly id: Id; readonly path: string; readonly value: StepValue }
  | { readonly do: 'add-view'; readonly view: View }
  | { readonly do: 'remove-view'; readonly id: Id }
  | { readonly do: 'set-view'; readonly id: Id; readonly path: string; readonly value: StepValue }
  | { readonly do: 'set-workspace'; readonly path: string; readonly value: StepValue }

/** A step that does not fit the facts it meets. */
export class ModelError extends Error {
  override readonly name = 'ModelError'
  constructor(
    message: string,
    readonly code: 'missing' | 'exists' | 'bad-path',
    /** Index of the offending step within its change. */
    readonly step?: number,
  ) {
    super(message)
  }
}

/**
 * Applies one step to a draft and returns its inverse. O(1). A relation may be left leading to nothing: that is a finding, and
 * keeps every step invertible by itself. @throws ModelError, leaving the draft as it was.
 */
export function applyStep(draft: Draft, step: Step): Step {
  switch (step.do) {
    case 'add-entity':
      draft.entities.add(step.entity)
      return { do: 'remove-entity', id: step.entity.id }
    case 'remove-entity':
      return { do: 'add-entity', entity: draft.entities.remove(step.id) }
    case 'set-entity':
      return { ...step, value: draft.entities.set(step.id, step.path, step.value) }
    case 'add-relation':
      draft.relations.add(step.relation)
      return { do: 'remove-relation', id: step.relation.id }
    case 'remove-relation':
      return { do: 'add-relation', relation: draft.relations.remove(step.id) }
    case 'set-relation':
      return { ...step, value: draft.relations.set(step.id, step.path, step.value) }
    case 'add-view':
      draft.views.add(step.view)
      return { do: 'remove-view', id: step.view.id }
    case 'remove-view':
      return { do: 'add-view', view: draft.views.remove(step.id) }
    case 'set-view':
      return { ...step, value: draft.views.set(step.id, step.path, step.value) }
    case 'set-workspace':
      return { ...step, value: draft.setWorkspace(step.path, step.value) }
  }
}

/** What a step writes, as paths such as `entity/p1` (made or removed) or `entity/p1/fields.fte`, and what must exist for it. */
export function footprint(step: Step): { writes: string; needs: readonly string[] } {
  switch (step.do) {
    case 'add-entity':
      return { writes: `entity/${step.entity.id}`, needs: [] }
    case 'remove-entity':
      return { writes: `entity/${step.id}`, needs: [] }
    case 'set-entity':
      return { writes: `entity/${step.id}/${step.path}`, needs: [] }
    case 'add-relation':
      return {
        writes: `relation/${step.relation.id}`,
        needs: [`entity/${step.relation.source}`, `entity/${step.relation.target}`],
      }
    case 'remove-relation':
      return { writes: `relation/${step.id}`, needs: [] }
    case 'set-relation': {
      const end = step.path === 'source' || step.path === 'target'
      return { writes: `relation/${step.id}/${step.path}`, needs: end ? [`entity/${String(step.value)}`] : [] }
    }
    case 'add-view':
      return { writes: `view/${step.view.id}`, needs: [] }
    case 'remove-view':
      return { writes: `view/${step.id}`, needs: [] }
    case 'set-view':
      return { writes: `view/${step.id}/${step.path}`, needs: [] }
    case 'set-workspace':
      return { writes: `workspace/${step.path}`, needs: [] }
  }
}
