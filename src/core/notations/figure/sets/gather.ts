import { covers, FactRecall, type Day, type Entity, type Model } from '../../../model'

/** What a set can gather, by the word for several of it. */
const GATHERED: Readonly<Record<string, string>> = {
  people: 'person',
  positions: 'position',
  roles: 'role',
  units: 'unit',
  systems: 'system',
  sites: 'site',
  documents: 'document',
  devices: 'device',
  zones: 'zone',
  steps: 'step',
  tasks: 'task',
  classes: 'class',
}
export const GATHERABLE: readonly string[] = Object.keys(GATHERED)

/** `people with First aid`, `devices in VLAN 20`, `systems used by Sailing cancelled`. */
const QUERY = /^(\p{L}+)\s+(?:with|in|of|at|used by|tied to)\s+(\S.*)$/u

/**
 * The facts in force on a day that a set gathers: of a kind, and with a field that holds a value, a field of a name that does (`VLAN 20`), or a tie or
 * reference to a fact of that name, straight or by way of what stands in it. Undefined for words that say no such thing. O(facts + ties near)
 */
export function gathered(model: Model, words: string, day: Day): readonly Entity[] | undefined {
  const [, plural, value] = QUERY.exec(words.trim()) ?? []
  const kind = GATHERED[plural?.toLowerCase() ?? '']
  if (kind === undefined || value === undefined) return undefined
  return recalled.of(model, `${kind} ${day} ${value}`, () => {
    const wanted = value
      .trim()
      .replace(/^"(.*)"$/, '$1')
      .toLowerCase()
    const [, label, number] = /^(.*\S)\s+(-?\d+(?:\.\d+)?)$/.exec(wanted) ?? []
    const all = [...model.entities.values()].filter((one) => covers(one, day))
    const roots = new Set<unknown>(all.filter(({ name }) => name.toLowerCase() === wanted).map(({ id }) => id))
    // What stands in it, as steps in a process: what these are tied to counts as well.
    const near = all.filter(({ id, fields }) => roots.has(id) || Object.values(fields).some((held) => roots.has(held)))
    const reached = new Set<unknown>()
    for (const { id, fields } of near) {
      for (const held of Object.values(fields)) reached.add(held)
      for (const { source, target } of [...model.leaving(id), ...model.reaching(id)]) reached.add(source).add(target)
    }
    for (const root of roots) reached.delete(root)
    const holds = ({ fields }: Entity): boolean =>
      Object.entries(fields).some(
        ([key, held]) =>
          (typeof held === 'string' && held.toLowerCase() === wanted) ||
          (Array.isArray(held) && held.some((one) => String(one).toLowerCase() === wanted)) ||
          (typeof held === 'number' && key.toLowerCase() === label && held === Number(number)) ||
          roots.has(held),
      )
    return all.filter((one) => one.kind === kind && (holds(one) || reached.has(one.id)))
  })
}

const recalled = new FactRecall<readonly Entity[]>()
