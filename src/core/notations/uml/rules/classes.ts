import { driftIn } from '../schema/drift'
import { cyclicComponents } from '../../../graph'
import { covers, freeId, grouped, type Day, type Model } from '../../../model'
import { fix, removeRelation, setField, type Found, type Rule } from '../../../notation'
import { packageLinks } from '../packages'
import { ancestorsOf, classesOn, statedOperation, type ClassModel, type Classifier } from '../structure'
import { operationText } from '../syntax/members'
import { isSameType, namesIn, typeParametersOf, typesOf } from '../types'

const inModel =
  (find: (all: ClassModel, model: Model, day: Day) => readonly Found[]): Rule['check'] =>
  (model, day) =>
    find(classesOn(model, day), model, day)

const listed = (names: readonly string[]): string => names.map((name) => `“${name}”`).join(', ')

export const generalizationCycle: Rule = {
  id: 'uml/generalization-cycle',
  severity: 'error',
  title: 'Classes are kinds of each other',
  why: 'What is a kind of something is never, directly or around corners, what that is a kind of.',
  source: 'UML 2.5.1, 9.9.4 (no_cycles_in_generalization)',
  check: inModel((all) =>
    cyclicComponents(all.classes, ({ parents }) => parents).map((circle): Found => {
      const inside = new Set(circle)
      const ties = circle.flatMap((one) =>
        one.ties.filter(({ sort, a, b }) => sort === 'generalization' && a === one && inside.has(b)),
      )
      return {
        message: `${listed(circle.map(({ name }) => name))} ${circle.length === 1 ? 'is a kind of itself' : 'are kinds of each other'}.`,
        subjects: [...circle.map(({ id }) => id), ...ties.map(({ id }) => id)],
        fixes: ties.slice(0, 4).map(({ id, a, b }) => fix(`“${a.name}” is no kind of “${b.name}”`, removeRelation(id))),
      }
    }),
  ),
}

export const leafSpecialised: Rule = {
  id: 'uml/leaf-specialised',
  severity: 'error',
  title: 'A final class has kinds',
  why: 'A class that is final cannot be made more special.',
  source: 'UML 2.5.1, 9.9.4 (non_final_parents)',
  check: inModel((all) =>
    all.ties.flatMap(({ id, sort, a, b }): Found[] =>
      sort !== 'generalization' || !b.isLeaf
        ? []
        : [
            {
              message: `“${a.name}” is a kind of “${b.name}”, which is final.`,
              subjects: [b.id, a.id, id],
              fixes: [
                fix(`“${b.name}” is not final`, setField(b.id, 'leaf', null)),
                fix(`“${a.name}” is no kind of it`, removeRelation(id)),
              ],
            },
          ],
    ),
  ),
}

/** Concrete classes that leave open what an abstract parent or an interface asks for. */
export const missingOperation: Rule = {
  id: 'uml/missing-operation',
  severity: 'error',
  title: 'An operation is missing',
  why: 'A class that is not abstract has every operation that its interfaces name and its abstract parents leave open, of its own or inherited.',
  source: 'UML 2.5.1, 10.4.3 (interfaces) and 9.6.3 (abstract operations)',
  check: inModel((all, model, _day) =>
    all.classes.flatMap((one): Found[] => {
      if (one.isAbstract || one.form === 'interface') return []
      const above = ancestorsOf(one)
      const lines = [one, ...above]
      const bodies = lines
        .flatMap((each) => (each.form === 'interface' ? [] : each.operations))
        .filter((each) => !each.isAbstract)
      const [byName, openByName] = [bodies, bodies.filter(isOpen)].map((list) => grouped(list, ({ name }) => name))
      const wanted = [
        ...above.flatMap((each) =>
          each.operations.flatMap((operation) =>
            operation.isAbstract ? [{ operation, of: each, within: byName }] : [],
          ),
        ),
        // What an interface asks for is asked for from outside, of an instance.
        ...interfacesOf(lines).flatMap((each) =>
          each.operations.flatMap((operation) =>
            operation.isStatic ? [] : [{ operation, of: each, within: openByName }],
          ),
        ),
      ]
      const told = new Map<string, { readonly operation: Operation; readonly of: Classifier }[]>()
      return wanted.flatMap(({ operation, of, within }): Found[] => {
        if (within?.get(operation.name)?.some((each) => isBodyOf(each, operation, of))) return []
        const known = told.get(operation.name) ?? []
        if (known.some((each) => isBodyOf(each.operation, operation, each.of))) return []
        told.set(operation.name, [...known, { operation, of }])
        return [
          {
            message: `“${one.name}” is not abstract, but has no “${asked(operation)}”, which “${of.name}” ${of.form === 'interface' ? 'asks for' : 'leaves open'}.`,
            subjects: [one.id, of.id, operation.id],
            fixes: [
              fix('Write it here', writtenHere(model, one, operation)),
              ...(one.form === 'class' ? [fix('Make it abstract', setField(one.id, 'abstract', true))] : []),
            ],
          },
        ]
      })
    }),
  ),
}

/** An operation as a class that has it would state it. */
const asked = ({ entity }: Classifier['operations'][number]): string => {
  const { abstract: _, visibility: __, ...rest } = statedOperation(entity)
  return operationText(rest)
}

type Operation = Classifier['operations'][number]

const isOpen = ({ visibility, isStatic }: Operation): boolean => visibility !== 'private' && !isStatic

/** Whether an operation has the name and the types of parameters that another asks for; what says no type, or one that its class leaves open, fits any. */
function isBodyOf(body: Operation, wanted: Operation, of: Classifier): boolean {
  if (body.name !== wanted.name) return false
  const [own, asked] = [body.parameters, wanted.parameters]
  if (!own || !asked) return own === asked
  const isOpenType = (type: string) => namesIn(type).some((name) => typeParametersOf(of).has(name))
  const fits = (mine: string | undefined, theirs: string | undefined) =>
    mine === undefined || theirs === undefined || isSameType(mine, theirs) || isOpenType(theirs)
  return own.length === asked.length && own.every(({ type }, at) => fits(type, asked[at]?.type))
}

/** The interfaces that classes realise, with what these are kinds of. */
function interfacesOf(list: readonly Classifier[]): readonly Classifier[] {
  const own = list.flatMap(({ realises }) => realises)
  return [...new Set(own.flatMap((one) => [one, ...ancestorsOf(one)]))]
}

function writtenHere(model: Model, one: Classifier, { entity }: Classifier['operations'][number]) {
  const { abstract: _, class: __, order: ___, ...fields } = entity.fields
  const order = Math.max(0, ...one.operations.map((each) => Number(each.entity.fields['order'] ?? 0))) + 1
  const id = freeId(model.entities, `${one.id.slice(0, 28)}-${entity.id}`)
  return {
    do: 'add-entity',
    entity: { id, kind: 'operation', name: entity.name, fields: { ...fields, class: one.id, order } },
  } as const
}

export const abstractInConcrete: Rule = {
  id: 'uml/abstract-in-concrete',
  severity: 'error',
  title: 'An abstract operation in a class that is not',
  why: 'Of a class that is not abstract there are instances: each of its operations has a body.',
  source: 'UML 2.5.1, 9.6.3 (isAbstract)',
  check: inModel((all) =>
    all.classes.flatMap((one) =>
      one.isAbstract || one.form === 'interface'
        ? []
        : one.operations.flatMap(({ id, name, isAbstract }): Found[] =>
            isAbstract
              ? [
                  {
                    message: `“${name}” is abstract, but “${one.name}” is not.`,
                    subjects: [one.id, id],
                    fixes: [
                      fix(`Make “${one.name}” abstract`, setField(one.id, 'abstract', true)),
                      fix(`“${name}” is not abstract`, setField(id, 'abstract', null)),
                    ],
                  },
                ]
              : [],
          ),
    ),
  ),
}

export const isolated: Rule = {
  id: 'uml/isolated',
  severity: 'note',
  title: 'Nothing hangs on a class',
  why: 'A class that is tied to none, and that no member names as its type, may have been forgotten.',
  source: 'Common practice',
  check: inModel((all, model, day) => {
    const offered = new Set(
      ['provides', 'requires'].flatMap((kind) =>
        model.relationsOfKind(kind).flatMap((tie) => (covers(tie, day) ? (all.byId.get(tie.target) ?? []) : [])),
      ),
    )
    const named = new Set([
      ...all.classes.flatMap((one) => typesOf(all, one).filter((type) => type !== one)),
      ...offered,
    ])
    return all.classes.flatMap((one): Found[] =>
      one.ties.length > 0 || named.has(one) || all.classes.length < 2 || typesOf(all, one).length > 0
        ? []
        : [
            {
              message: `“${one.name}” is tied to no other class, and no member names it.`,
              subjects: [one.id],
              fixes: [],
            },
          ],
    )
  }),
}

export const packageCycle: Rule = {
  id: 'uml/package-cycle',
  severity: 'warning',
  title: 'Packages depend on each other',
  why: 'Packages that depend on each other in a circle can only be changed, tested and handed on together.',
  source: 'Martin 1994 (acyclic dependencies)',
  check: inModel((all) => {
    const { leads } = packageLinks(all)
    return cyclicComponents(all.packages, (one) => leads.get(one)?.keys() ?? []).map((circle): Found => {
      const inside = new Set(circle)
      const ties = circle.flatMap((one) =>
        [...(leads.get(one) ?? [])].flatMap(([to, by]) => (inside.has(to) ? by : [])),
      )
      return {
        message: `${listed(circle.map(({ name }) => name))} depend on each other, by ${ties.length} ${ties.length === 1 ? 'tie or type' : 'ties and types'} of their classes.`,
        subjects: [...new Set([...circle.map(({ id }) => id), ...ties])],
        fixes: [],
      }
    })
  }),
}

export const schemaDrift: Rule = {
  id: 'uml/schema-drift',
  severity: 'warning',
  title: 'The database differs',
  why: 'What the classes say of what is kept, and what the tables of the database keep, have come apart: one of the two has to follow.',
  source: 'Common practice',
  check: driftIn,
}
