import { cyclicComponents } from '../../../graph'
import { freeId, grouped, type Id, type Model } from '../../../model'
import {
  addEntity,
  clip,
  fix,
  joinFix,
  removeEntity,
  setEntity,
  setField,
  setRelation,
  type Fix,
  type Found,
  type Rule,
} from '../../../notation'
import { ancestorsOf, classesOn, endOf, type Classifier, type ClassModel, type Tie } from '../structure'
import { readMultiplicity, isMany } from '../syntax/multiplicity'
import { isFault } from '../syntax/scan'
import { classNamed, isSameType, namesIn, PRIMITIVE_TYPES, signatureOf, typeParametersOf } from '../types'

type Named = { readonly id: Id; readonly name: string }

export const duplicateName: Rule = {
  id: 'uml/duplicate-name',
  severity: 'error',
  title: 'Two of one name',
  why: 'What stands in one package or one class is told apart by its name; operations also by the types of their parameters.',
  source: 'UML 2.5.1, 7.4.3 (members_distinguishable) and 9.6.3',
  check: (model, day) => {
    const all = classesOn(model, day)
    const found: Found[] = []
    const look = <T extends Named>(list: readonly T[], where: string, key: (one: T) => string = ({ name }) => name) => {
      const first = new Map<string, T>()
      const names = new Set(list.map(({ name }) => name))
      for (const one of list) {
        const known = first.get(key(one))
        if (!known) {
          first.set(key(one), one)
          continue
        }
        let count = 2
        while (names.has(`${one.name}${count}`)) count++
        found.push({
          message: `“${key(one)}” stands twice in ${where}.`,
          subjects: [one.id, known.id],
          fixes: [
            fix(`Call it “${one.name}${count}”`, setEntity(one.id, 'name', `${one.name}${count}`)),
            ...joining(model, known.id, one.id),
          ],
        })
      }
    }
    const homes = new Set(all.classes.map((one) => one.package))
    for (const home of homes)
      look(
        all.classes.filter((one) => one.package === home),
        home ? `package “${home.name}”` : 'the model',
      )
    for (const outer of new Set(all.packages.map(({ parent }) => parent)))
      look(
        all.packages.filter(({ parent }) => parent === outer),
        outer ? `package “${outer.name}”` : 'the model',
      )
    for (const one of all.classes) {
      look(one.attributes, `“${one.name}”`)
      found.push(...rolesTwice(one))
      look(one.literals, `“${one.name}”`)
      look(one.operations, `“${one.name}”`, signatureOf)
    }
    return found
  },
}

/** The roles of a class at the far ends of its ties, beside each other and beside its attributes: all of them are its properties. */
function rolesTwice(one: Classifier): Found[] {
  const attributes = new Map(one.attributes.map(({ id, name }) => [name, id]))
  const known = new Map<string, Id>()
  return one.ties.flatMap(({ id, sort, relation, a, b }): Found[] => {
    if (sort !== 'association') return []
    const ends = (['target', 'source'] as const).filter((end) => (end === 'target' ? a : b) === one)
    return ends.flatMap((end): Found[] => {
      const { role } = endOf(relation, end)
      if (role === undefined) return []
      const other = attributes.get(role) ?? known.get(role)
      known.set(role, id)
      if (other === undefined) return []
      const far = end === 'target' ? b : a
      const what = attributes.has(role) ? 'an attribute and a role' : 'two roles'
      return [
        {
          message: `“${role}” is the name of ${what} of “${one.name}”.`,
          subjects: [one.id, id, other, far.id],
          fixes: [fix(`Leave the role at “${far.name}” out`, setRelation(id, `fields.${end}Role`, null))],
        },
      ]
    })
  })
}

/** Two of one name in the model may be one; two members of a class are told apart by hand. */
function joining(model: Model, into: Id, other: Id): Fix[] {
  const [first, second] = [model.entities.get(into), model.entities.get(other)]
  return first && second && JOINABLE.has(first.kind) && first.kind === second.kind
    ? [joinFix(model, first, second)]
    : []
}
const JOINABLE = new Set(['class', 'package'])

export const multiplicity: Rule = {
  id: 'uml/multiplicity',
  severity: 'error',
  title: 'Not a multiplicity',
  why: 'How many there are is a number, a range from the least to the most, or * for any number.',
  source: 'UML 2.5.1, 7.5.4 and 7.8.8 (lower_ge_0, upper_ge_lower)',
  check: (model, day) => {
    const all = classesOn(model, day)
    const found: Found[] = []
    const look = (text: unknown, where: string, subjects: readonly Id[], clear: Parameters<typeof fix>[1]) => {
      if (typeof text !== 'string' || text === '') return
      const read = readMultiplicity(text)
      if (isFault(read))
        found.push({ message: `${where}: ${read.refused}`, subjects, fixes: [fix('Leave it out', clear)] })
    }
    for (const one of all.classes)
      for (const { id, name, entity } of [...one.attributes, ...one.operations])
        look(
          entity.fields['multiplicity'],
          `“${name}” of “${one.name}”`,
          [one.id, id],
          setField(id, 'multiplicity', null),
        )
    for (const { id, sort, relation, a, b } of all.ties)
      if (sort === 'association')
        for (const end of ['source', 'target'] as const)
          look(
            endOf(relation, end).multiplicity,
            `The end at “${(end === 'source' ? a : b).name}” of what joins it with “${(end === 'source' ? b : a).name}”`,
            [id, a.id, b.id],
            setRelation(id, `fields.${end}Multiplicity`, null),
          )
    return found
  },
}

/** Ties by which a whole owns its parts. */
const ownedIn = ({ ties }: ClassModel): readonly Tie[] =>
  ties.filter(({ sort, relation }) => sort === 'association' && relation.fields['aggregation'] === 'composite')

export const compositeShared: Rule = {
  id: 'uml/composite-shared',
  severity: 'error',
  title: 'A part with two owners',
  why: 'A part belongs to one whole at a time: its owner’s end is 1 or 0..1, and where two sorts of wholes own it, neither may ask for each part.',
  source: 'UML 2.5.1, 9.5.3 and 9.9.17 (multiplicity_of_composite)',
  check: (model, day) => {
    const all = classesOn(model, day)
    const owned = ownedIn(all)
    const many = owned.flatMap(({ id, relation, a, b }): Found[] => {
      const text = endOf(relation, 'source').multiplicity
      const read = text === undefined ? undefined : readMultiplicity(text)
      if (!read || isFault(read) || !isMany(read)) return []
      return [
        {
          message: `A “${b.name}” would belong to ${text ?? ''} “${a.name}” at once, which own it.`,
          subjects: [id, b.id, a.id],
          fixes: [
            fix('At most one', setRelation(id, 'fields.sourceMultiplicity', '0..1')),
            fix(`“${a.name}” shares it`, setRelation(id, 'fields.aggregation', 'shared')),
          ],
        },
      ]
    })
    const parts = new Map<Classifier, (typeof owned)[number][]>()
    for (const tie of owned) parts.set(tie.b, [...(parts.get(tie.b) ?? []), tie])
    const twice = [...parts].flatMap(([part, ties]): Found[] => {
      // An owner that may be missing leaves room for another one.
      const firm = ties.filter(({ relation }) => {
        const text = endOf(relation, 'source').multiplicity
        const read = text === undefined ? undefined : readMultiplicity(text)
        return !read || isFault(read) || read.lower !== 0
      })
      const owners = [...new Set(ties.map(({ a }) => a))]
      const [last] = firm.slice(-1)
      if (owners.length < 2 || firm.length === 0 || !last) return []
      return [
        {
          message: `“${part.name}” is owned by ${owners.map(({ name }) => `“${name}”`).join(' and by ')}; by ${firm.length === 1 ? `“${last.a.name}”` : 'each of them'} always.`,
          subjects: [part.id, ...owners.map(({ id }) => id), ...ties.map(({ id }) => id)],
          fixes: ties.map(({ id, a }) => fix(`“${a.name}” shares it`, setRelation(id, 'fields.aggregation', 'shared'))),
        },
      ]
    })
    return [...many, ...twice]
  },
}

export const compositeRing: Rule = {
  id: 'uml/composite-ring',
  severity: 'error',
  title: 'Parts without an end',
  why: 'Where each of a ring of wholes has at least one part that is a whole in its turn, or each part has always an owner, there is no first and no last: nothing of it can be.',
  source: 'UML 2.5.1, 9.5.3 (composite aggregation is acyclic)',
  check: (model, day) => {
    const all = classesOn(model, day)
    const owned = ownedIn(all)
    return (['target', 'source'] as const).flatMap((end) => {
      const firm = owned.filter(({ relation }) => {
        const text = endOf(relation, end).multiplicity
        const read = text === undefined ? undefined : readMultiplicity(text)
        return read !== undefined && !isFault(read) && typeof read.lower === 'number' && read.lower > 0
      })
      const parts = grouped(firm, ({ a }) => a)
      return cyclicComponents(all.classes, (one) => (parts.get(one) ?? []).map(({ b }) => b)).map((ring): Found => {
        const inside = new Set(ring)
        const ties = firm.filter(({ a, b }) => inside.has(a) && inside.has(b))
        const names = ring.map(({ name }) => `“${name}”`).join(', ')
        return {
          message:
            end === 'target'
              ? `Each of ${names} always owns another of them: their parts have no end.`
              : `Each of ${names} is always owned by another of them: there is no first one.`,
          about: end,
          subjects: [...ring.map(({ id }) => id), ...ties.map(({ id }) => id)],
          fixes: ties
            .slice(0, 4)
            .map(({ id, a, b }) =>
              fix(
                end === 'target' ? `“${a.name}” may own no “${b.name}”` : `A “${b.name}” may have no “${a.name}”`,
                setRelation(id, `fields.${end}Multiplicity`, end === 'target' ? '*' : '0..1'),
              ),
            ),
        }
      })
    })
  },
}

export const unknownType: Rule = {
  id: 'uml/unknown-type',
  severity: 'warning',
  title: 'Nobody states this type',
  why: 'The type of a member is a class of the model, or one of the types that the standard defines: Boolean, Integer, Real, String, UnlimitedNatural.',
  source: 'UML 2.5.1, 7.8.23 (TypedElement) and 21.1 (primitive types)',
  check: (model, day) => {
    const all = classesOn(model, day)
    const users = new Map<string, { one: Classifier; member: Id }[]>()
    for (const one of all.classes) {
      // What its own brackets leave open is known in it.
      const open = typeParametersOf(one)
      const look = (member: Id, type: string | undefined) => {
        for (const name of type === undefined ? [] : namesIn(type))
          if (!PRIMITIVE_TYPES.has(name) && !open.has(name) && !classNamed(all, name))
            users.set(name, [...(users.get(name) ?? []), { one, member }])
      }
      for (const { id, type } of one.attributes) look(id, type)
      for (const { id, type, parameters } of one.operations) {
        look(id, type)
        for (const each of parameters ?? []) look(id, each.type)
      }
    }
    return [...users].map(([name, list]): Found => {
      const owners = [...new Set(list.map(({ one }) => one))]
      const close = all.classes.find((one) => one.name.toLowerCase() === name.toLowerCase())
      const [first] = owners
      const home = first?.package?.id
      const id = freeId(model.entities, `type-${name.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '-')}`)
      const fields = { form: 'data type', ...(home === undefined ? {} : { package: home }) }
      return {
        message: `“${clip(name)}” is the type of ${list.length === 1 ? 'a member' : `${list.length} members`} of ${owners
          .slice(0, 3)
          .map((one) => `“${one.name}”`)
          .join(
            ', ',
          )}${owners.length > 3 ? ' and others' : ''}, and nobody states it${close ? `; there is “${close.name}”` : ''}.`,
        subjects: [...owners.map((one) => one.id), ...list.map(({ member }) => member)],
        fixes: [fix('State it as a data type', addEntity({ id, kind: 'class', name, fields }))],
      }
    })
  },
}

export const overrideSignature: Rule = {
  id: 'uml/override-signature',
  severity: 'warning',
  title: 'An operation is stated anew with other types',
  why: 'An operation that redefines an inherited one takes the same parameters and answers with the same type, or a more special one.',
  source: 'UML 2.5.1, 9.6.3 (isConsistentWith)',
  check: (model, day) => {
    const all = classesOn(model, day)
    const isKind = (a: string | undefined, b: string | undefined): boolean => {
      if (a === b) return true
      const [one, other] = [
        a === undefined ? undefined : classNamed(all, a),
        b === undefined ? undefined : classNamed(all, b),
      ]
      return one !== undefined && other !== undefined && ancestorsOf(one).includes(other)
    }
    // A type that the parent leaves open is any.
    const isAlike = (own: string | undefined, other: string | undefined, parent: Classifier) =>
      own === other ||
      (own !== undefined &&
        other !== undefined &&
        (isSameType(own, other) || namesIn(other).some((name) => typeParametersOf(parent).has(name))))
    return all.classes.flatMap((one) => {
      const above = ancestorsOf(one)
      return one.operations.flatMap((own): Found[] => {
        for (const parent of above)
          for (const other of parent.operations) {
            if (other.name !== own.name || other.parameters?.length !== own.parameters?.length) continue
            const isSame =
              (own.parameters ?? []).every(({ type }, at) => isAlike(type, other.parameters?.[at]?.type, parent)) &&
              isKind(own.type, other.type)
            if (isSame) continue
            const { parameters, type } = other.entity.fields
            return [
              {
                message: `“${own.text}” of “${one.name}” differs from “${other.text}” of “${parent.name}”, which it redefines.`,
                subjects: [one.id, own.id, parent.id, other.id],
                fixes: [
                  fix(
                    'Take over what is inherited',
                    setField(own.id, 'parameters', (parameters as string | undefined) ?? null),
                    setField(own.id, 'type', (type as string | undefined) ?? null),
                  ),
                ],
              },
            ]
          }
        return []
      })
    })
  },
}

export const attributeShadows: Rule = {
  id: 'uml/attribute-shadows',
  severity: 'warning',
  title: 'An attribute hides an inherited one',
  why: 'Two attributes of one name, one of them inherited, are read for each other.',
  source: 'UML 2.5.1, 9.2.3 (inherited members are distinguishable)',
  check: (model, day) =>
    classesOn(model, day).classes.flatMap((one) => {
      const above = ancestorsOf(one)
      return one.attributes.flatMap((own): Found[] => {
        const parent = above.find(({ attributes }) =>
          attributes.some(({ name, visibility }) => name === own.name && visibility !== 'private'),
        )
        return parent
          ? [
              {
                message: `“${own.name}” of “${one.name}” hides that of “${parent.name}”.`,
                subjects: [one.id, own.id, parent.id],
                fixes: [fix(`Leave it to “${parent.name}”`, removeEntity(own.id))],
              },
            ]
          : []
      })
    }),
}
