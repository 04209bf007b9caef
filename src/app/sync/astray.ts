import { clashes, compose, type Change } from '../../core/model'
import type { SharedChange } from './api'
import type { Pending } from './outbox'

/** What a page knows of the last changes of a workspace. */
interface Known {
  /** The marks of states that it has seen, by revision. */
  readonly lineages: ReadonlyMap<number, string>
  /** The changes that they came about by, the oldest first. */
  readonly heard: readonly SharedChange[]
  readonly pending: readonly Pending[]
}

/** How a page goes on whose server has lost changes. */
interface Way {
  /** What was lost, as one change; nothing where this page has heard of none of it. */
  readonly lost: Change | undefined
  /** What is not sent yet: what touches none of that, and what does. */
  readonly free: readonly Pending[]
  readonly doubtful: readonly Pending[]
}

/**
 * What became of the changes that a page knows, by the history that the server has now, the newest first: what lies behind the last state that both know is
 * lost. Where the history reaches back less far than what is known, all that it reaches is. O(changes known)
 */
export function wayFrom(
  { lineages, heard, pending }: Known,
  history: readonly Pick<SharedChange, 'revision' | 'lineage'>[],
): Way {
  const shared = history.find(({ revision, lineage }) => lineages.get(revision) === lineage)
  const last = shared?.revision ?? (history.at(-1)?.revision ?? 1) - 1
  const gone = heard.filter(({ revision }) => revision > last)
  const touched = gone.flatMap(({ steps }) => steps)
  const isDoubtful = ({ steps }: Pending) => clashes(steps, touched).length > 0
  return {
    lost: gone.length === 0 ? undefined : asOne(gone),
    free: pending.filter((one) => !isDoubtful(one)),
    doubtful: pending.filter(isDoubtful),
  }
}

function asOne(changes: readonly Change[]): Change {
  const whole = changes.reduce<Change>((sum, one) => compose(sum, one), { label: '', steps: [] })
  return {
    ...whole,
    label: changes.length === 1 ? whole.label : `${changes.length} changes, the last: ${whole.label}`,
  }
}
