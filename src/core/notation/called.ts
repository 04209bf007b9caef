import { covers, FactRecall, type Entity, type Id, type Model } from '../model'
import type { Refusal, Wish } from './wish'

/**
 * Whom a name means. Names are compared without case and without how many spaces stand in them; those of people also without the order of their parts,
 * for `Abel, Ruth` is Ruth Abel. Where several are called so, `Ruth Abel #2` means the second of them.
 */

/** The same for names that mean the same. O(name) */
export function calledKey(kind: string, name: string): string {
  const plain = name.normalize('NFKC').trim().toLowerCase().replace(/\s+/g, ' ')
  if (kind !== 'person') return plain
  return plain.replace(/[,.]/g, ' ').trim().split(/\s+/).sort().join(' ') || plain
}

const called = new FactRecall<ReadonlyMap<string, readonly Entity[]>>()

function everyCalled(model: Model, kind: string): ReadonlyMap<string, readonly Entity[]> {
  return called.of(model, kind, () => {
    const found = new Map<string, Entity[]>()
    for (const one of model.ofKind(kind)) {
      const key = calledKey(kind, one.name)
      const there = found.get(key)
      if (there) there.push(one)
      else found.set(key, [one])
    }
    return found
  })
}

const NTH = /^(.*\S)\s+#(\d{1,3})$/s

/** All of a kind who are called so, the first stated first; by `#2` the second of them alone. O(facts of the kind), once for a model */
function allCalled(model: Model, kind: string, name: string): readonly Entity[] {
  const known = everyCalled(model, kind)
  const plain = known.get(calledKey(kind, name)) ?? []
  const [, bare, nth] = NTH.exec(name.trim()) ?? []
  if (plain.length > 0 || bare === undefined) return plain
  const one = known.get(calledKey(kind, bare))?.[Number(nth) - 1]
  return one ? [one] : []
}

/** Everybody who is called so, of the first of the kinds that has somebody of that name; those who are written just so before all others. */
export function everyoneCalled(model: Model, kinds: readonly string[], name: string): readonly Entity[] {
  const all = kinds.map((kind) => allCalled(model, kind, name)).find((some) => some.length > 0) ?? []
  const exact = all.filter((one) => one.name.trim() === name.trim())
  return exact.length > 0 ? exact : all
}

/**
 * Who is called so, of the first of the kinds that has somebody of that name; undefined for nobody. Of several one who is `near` already is meant, else the
 * one who is there on the day shown; else it is asked which.
 */
export function oneCalled(
  { model, day }: Pick<Wish, 'model' | 'day'>,
  kinds: readonly string[],
  name: string,
  near: (id: Id) => boolean = () => false,
): Entity | Refusal | undefined {
  const meant = everyoneCalled(model, kinds, name)
  const [first, second] = meant
  if (!second) return first
  const nearest = meant.find(({ id }) => near(id))
  const there = meant.filter((one) => covers(one, day))
  if (nearest || there.length === 1) return nearest ?? there[0]
  const short = name.trim().slice(0, 60)
  return {
    refused: `${meant.length} ${first?.kind === 'person' ? 'people' : 'facts'} are called “${short}”: write “${short} #1” or “#2” for the one that is meant, or join them into one.`,
  }
}
