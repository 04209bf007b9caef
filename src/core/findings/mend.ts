import { actOf, apply, endsOf, ModelError, type Change, type Day, type Id, type Model, type Step } from '../model'
import type { Finding, Fix, Rule } from '../notation'
import { foundBy, isOpen, judged, keyOf } from './findings'

/** What mending many findings of a rule comes to. */
interface Mended {
  readonly steps: readonly Step[]
  /** What is done, one fix a line. */
  readonly lines: readonly string[]
  /** How many findings of those asked about remain: nothing mends them, or what does contradicts another fix. */
  readonly left: number
}

/** Fixes that reach the same facts are made one after another, each round on what the one before has left. */
const MOST_ROUNDS = 40

/**
 * Mends findings of a rule, each by the first of its fixes, and looks again after each round, so that no fix is made to
 * what another has mended. O(rounds × (rule + facts)); a round mends all that do not reach the same facts.
 */
export function mendAll(rule: Rule, keys: ReadonlySet<string>, model: Model, day: Day): Mended {
  const steps: Step[] = []
  const lines: string[] = []
  let now = model
  let open = openOnes(rule, keys, now, day)
  for (let round = 0; round < MOST_ROUNDS && open.length > 0; round++) {
    const made = mendOnce(open, now)
    if (made.fixes.length === 0) break
    now = made.model
    for (const { label, change } of made.fixes) {
      lines.push(label)
      steps.push(...change.steps)
    }
    open = openOnes(rule, keys, now, day)
  }
  return { steps, lines, left: open.length }
}

const openOnes = (rule: Rule, keys: ReadonlySet<string>, model: Model, day: Day): Finding[] =>
  foundBy(rule, model, day).filter((one) => keys.has(keyOf(one)) && isOpen(judged(one, model, day)))

/** The fixes that do not reach the same facts, made together; where they cannot be, one by one, without those that cannot be made. */
function mendOnce(open: readonly Finding[], before: Model): { fixes: readonly Fix[]; model: Model } {
  const reached = new Set<Id>()
  const chosen: Fix[] = []
  for (const {
    fixes: [fix],
    subjects,
  } of open) {
    if (!fix || subjects.some((id) => reached.has(id))) continue
    for (const step of fix.change.steps) for (const id of reachedBy(step)) reached.add(id)
    chosen.push(fix)
  }
  const together = made(before, { label: '', steps: chosen.flatMap(({ change }) => change.steps) })
  if (together) return { fixes: chosen, model: together }
  let model = before
  const fixes = chosen.filter(({ change }) => {
    const next = made(model, change)
    model = next ?? model
    return next !== undefined
  })
  return { fixes, model }
}

/** The facts after a change; undefined where it cannot be made. */
function made(model: Model, change: Change): Model | undefined {
  try {
    return apply(model, change).model
  } catch (error) {
    if (!(error instanceof ModelError)) throw error
    return undefined
  }
}

function reachedBy(step: Step): readonly Id[] {
  const act = actOf(step)
  if (act.sort === 'workspace') return []
  return act.verb === 'add' ? [act.id, ...endsOf(act.sort, act.fact)] : [act.id]
}
