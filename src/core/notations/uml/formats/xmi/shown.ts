import { asId, type FieldValue, type Id, type Step } from '../../../../model'
import { setView, type Wish } from '../../../../notation'

/** What each picture draws, and the key of a view’s scope that narrows it to one of its container. */
const DRAWN = [
  { pictures: ['classes', 'packages'], kinds: ['class', 'package'], key: 'package' },
  { pictures: ['states'], kinds: ['machine'], key: 'machine' },
  { pictures: ['sequence'], kinds: ['interaction'], key: 'interaction' },
  { pictures: ['use-cases'], kinds: ['use-case', 'actor', 'subject'], key: 'subject' },
  { pictures: ['components'], kinds: ['component'], key: undefined },
] as const

export interface Fact {
  readonly id: Id
  readonly kind: string
  readonly fields: Readonly<Record<string, FieldValue>>
}

/**
 * Steps by which the open view shows something of what was brought in, where it would show nothing of it: its scope is led there, and one that has shown nothing
 * yet becomes a picture of it. O(facts)
 */
export function showing({ view }: Wish, facts: readonly Fact[]): Step[] {
  if (view.notation !== 'uml') return []
  const here = DRAWN.map((one) => ({
    ...one,
    facts: facts.filter(({ kind }) => one.kinds.some((other) => other === kind)),
  }))
  const own = here.find(({ pictures }) => pictures.some((one) => one === view.picture))
  const isBlank = own?.key !== undefined && view.scope[own.key] === ''
  const found = own && own.facts.length > 0 ? own : isBlank ? here.find((one) => one.facts.length > 0) : undefined
  if (!found) return []
  const turned = found === own ? [] : [setView(view.id, 'picture', found.pictures[0])]
  if (found.key === undefined) return turned
  const scope = view.scope[found.key]
  const wanted = scopeFor(found.key, found.facts)
  const isThere =
    scope === undefined
      ? !isOne(found.key)
      : found.facts.some((one) => one.id === scope || one.fields[found.key] === scope)
  return isThere ? turned : [...turned, setView(view.id, `scope.${found.key}`, wanted ?? null)]
}

/** Whether a view of it always shows one container alone. */
const isOne = (key: string): boolean => key === 'machine' || key === 'interaction'

/** The one container that holds all of it; the first of those that are shown one by one; undefined for all there are. */
function scopeFor(key: string, facts: readonly Fact[]): Id | undefined {
  if (isOne(key)) return facts[0]?.id
  const holders = facts.filter(({ kind, fields }) => kind === key && fields[key] === undefined)
  const [first, second] = holders
  const isLoose = facts.some(({ kind, fields }) => kind !== key && typeof fields[key] !== 'string')
  return first && !second && !isLoose ? asId(first.id) : undefined
}
