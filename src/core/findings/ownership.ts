import { covers, dayInWords, freeId, type Day, type Entity, type Id, type Model } from '../model'
import {
  fix,
  fixAs,
  tenuresOf,
  isInPost,
  COMMON,
  type Field,
  type Fix,
  type Found,
  type Kind,
  type RelationKind,
  type Rule,
} from '../notation'

const OWNING = new Set(['owner', 'custodian', 'assignee'])

/** Rules about what the reference fields of entities name: by identity, or by a name. The kinds say which fields refer to what. */
export const ownershipRules = (
  kinds: ReadonlyMap<string, Kind>,
  relationKinds: readonly RelationKind[],
): readonly Rule[] => [ownerGone(kinds, relationKinds), undefinedRole(kinds)]

interface Reference {
  readonly entity: Entity
  readonly field: Field
  readonly text: string
  readonly named: Entity | undefined
}

const memory = new WeakMap<Model, readonly Reference[]>()

/** Every reference field that holds something, with what it names. O(entities that may have one), remembered by model. */
function references(model: Model, kinds: ReadonlyMap<string, Kind>): readonly Reference[] {
  const known = memory.get(model) ?? referencesOf(model, kinds)
  memory.set(model, known)
  return known
}

function referencesOf(model: Model, kinds: ReadonlyMap<string, Kind>): Reference[] {
  const nameOf = namesIn(model)
  const fields = new Map(
    [...kinds.values()].map((kind) => [kind.id, kind.fields.filter(({ type }) => type === 'reference')]),
  )
  const found: Reference[] = []
  for (const entity of model.entities.values())
    for (const field of fields.get(entity.kind) ?? []) {
      const text = entity.fields[field.id]
      if (typeof text !== 'string') continue
      const byId = model.entities.get(text as Id)
      const named = byId && field.refers?.includes(byId.kind) ? byId : nameOf(field, text)
      found.push({ entity, field, text, named })
    }
  return found
}

/** Finds what a field names by its name; the names of a kind are gathered when one is first asked for. */
function namesIn(model: Model): (field: Field, text: string) => Entity | undefined {
  const names = new Map<string, Map<string, Entity>>()
  const namesOf = (kind: string) => {
    const known =
      names.get(kind) ?? new Map([...model.ofKind(kind)].reverse().map((one) => [one.name.toLowerCase(), one]))
    names.set(kind, known)
    return known
  }
  return ({ refers = [] }, text) => {
    for (const kind of refers) {
      const named = namesOf(kind).get(text.toLowerCase())
      if (named) return named
    }
    return undefined
  }
}

const clear = ({ entity, field }: Reference): Fix =>
  fixAs(`Clear the ${field.label.toLowerCase()}`, `Clear the ${field.label.toLowerCase()} of “${entity.name}”`, {
    do: 'set-entity',
    id: entity.id,
    path: `fields.${field.id}`,
    value: null,
  })

const ownerGone = (kinds: ReadonlyMap<string, Kind>, relationKinds: readonly RelationKind[]): Rule => ({
  id: 'x/owner-gone',
  severity: 'error',
  title: 'Owner no longer in post',
  why: 'Somebody who has left cannot answer for anything.',
  source: COMMON,
  check: (model, day) => [
    ...assigneesGone(model, relationKinds, day),
    ...references(model, kinds).flatMap((reference) => {
      const { entity, field, named } = reference
      if (!named || !OWNING.has(field.id) || !covers(entity, day)) return []
      const gone = goneOn(model, named, day)
      if (gone === undefined) return []
      const message = `The ${field.label.toLowerCase()} of “${entity.name}”, “${named.name}”, ${gone}.`
      return { message, subjects: [entity.id, named.id], fixes: [clear(reference)] }
    }),
  ],
})

/** Whoever is tied to something as its owner, and is gone while it is still to be done. People who never held a position come from elsewhere. */
function assigneesGone(model: Model, relationKinds: readonly RelationKind[], day: Day): Found[] {
  return relationKinds.flatMap(({ id, answers }) =>
    answers === undefined
      ? []
      : model.relationsOfKind(id).flatMap((tie): Found[] => {
          const [owner, owned] = [model.entities.get(tie.source), model.entities.get(tie.target)]
          if (!owner || !owned || !covers(tie, day) || !covers(owned, day)) return []
          if (owned.fields[answers.until] !== undefined) return []
          if (owner.kind === 'person' && tenuresOf(model, owner.id).length === 0) return []
          const gone = goneOn(model, owner, day)
          if (gone === undefined) return []
          return [
            {
              message: `“${owner.name}”, who is named for “${owned.name}”, ${gone}.`,
              subjects: [owned.id, owner.id],
              fixes: [
                fixAs(`Take “${owner.name}” off`, `Take “${owner.name}” off “${owned.name}”`, {
                  do: 'remove-relation',
                  id: tie.id,
                }),
              ],
            },
          ]
        }),
  )
}

/** Why somebody or something cannot own anything on a day; undefined when it can. */
function goneOn(model: Model, owner: Entity, day: Day): string | undefined {
  if (!covers(owner, day)) return owner.to && owner.to < day ? `ended on ${dayInWords(owner.to)}` : 'has not begun yet'
  if (owner.kind !== 'person') return undefined
  return isInPost(model, owner.id, day) ? undefined : `holds no position on ${dayInWords(day)}`
}

const undefinedRole = (kinds: ReadonlyMap<string, Kind>): Rule => ({
  id: 'x/undefined-role',
  severity: 'warning',
  title: 'Names what is not defined',
  why: 'A text that names no fact cannot be followed: nobody can tell who is meant, or when that changes.',
  source: COMMON,
  check: (model) =>
    references(model, kinds).flatMap((reference) => {
      const { entity, field, text, named } = reference
      if (named || !field.refers?.includes('role')) return []
      const id = freeId(model.entities, `role-${entity.id}`)
      return {
        message: `“${entity.name}” names “${text}” as its ${field.label.toLowerCase()}, and nothing here is called that.`,
        subjects: [entity.id],
        fixes: [
          fix(`Define the role “${text}”`, {
            do: 'add-entity' as const,
            entity: { id, kind: 'role', name: text, fields: {} },
          }),
          clear(reference),
        ],
      }
    }),
})

/** Entities that nothing is tied to, no field names, and no view draws. The kinds a view draws are its picture's. O(facts). */
export const unused = (kinds: ReadonlyMap<string, Kind>, drawnKinds: (model: Model) => ReadonlySet<string>): Rule => ({
  id: 'x/unused',
  severity: 'note',
  title: 'Used nowhere',
  why: 'A fact that nothing is tied to and no view shows is easily forgotten, and then wrong.',
  source: COMMON,
  check: (model) => {
    if (model.views.size === 0) return []
    const named = new Set(references(model, kinds).flatMap(({ named: one }) => one?.id ?? []))
    const drawn = drawnKinds(model)
    return [...model.entities.values()].flatMap((entity) => {
      if (drawn.has(entity.kind) || named.has(entity.id)) return []
      if (model.leaving(entity.id).length + model.reaching(entity.id).length > 0) return []
      return {
        message: `“${entity.name}” is tied to nothing and shown in no view.`,
        subjects: [entity.id],
        fixes: [fixAs('Remove it', `Remove “${entity.name}”`, { do: 'remove-entity' as const, id: entity.id })],
      }
    })
  },
})
