import { cut, isDay, type Id, type Model, type Step, type View } from '../model'
import { fieldsOfKind, fieldsOfRelation, LIMITS, optionsOf, pictureOf, type Field, type Registry } from '../notation'
import {
  checkAcceptance,
  checkLoose,
  checkNumber,
  checkField,
  checkId,
  checkPin,
  checkText,
  Faults,
  isRecord,
  onlyKeys,
  quote,
  readEntity,
  readRelation,
  readView,
  textOf,
  type Fault,
} from './check'

/** A change that holds something that is not a step, with paths such as `steps[2].value`. */
export class StepsError extends Error {
  override readonly name = 'StepsError'
  constructor(readonly faults: readonly Fault[]) {
    super(`${cut(faults[0]?.path ?? 'steps', 200)} ${faults[0]?.message ?? 'is wrong'}`)
  }
}

/**
 * Reads steps that came from outside, checked against the kinds of the facts they meet, those added by earlier steps included.
 * O(steps). @throws StepsError with all faults.
 */
export function readSteps(raw: unknown, model: Model, registry: Registry): Step[] {
  if (!Array.isArray(raw)) throw new StepsError([{ path: 'steps', message: 'is not a list' }])
  const faults = new Faults()
  const kinds = new Map<string, string>()
  const steps = raw.flatMap(
    (step: unknown, index) => readStep(step, `steps[${index}]`, { model, registry, faults, kinds }) ?? [],
  )
  if (faults.list.length > 0) throw new StepsError(faults.list)
  return steps
}

/**
 * Reads every fact that steps touched, as it stands after them, just as a file is read: what passes can be opened again.
 * O(steps). @throws StepsError with all faults.
 */
export function checkTouched(model: Model, steps: readonly Step[], registry: Registry): void {
  const faults = new Faults()
  const read = { entity: readEntity, relation: readRelation }
  for (const [fact, index] of touched(steps)) {
    const [sort, id] = fact
    const path = `steps[${index}].${sort}`
    if (sort === 'view') {
      const view = model.views.get(id)
      if (view) readView(view, path, 1, registry, faults)
    } else {
      const stated = sort === 'entity' ? model.entities.get(id) : model.relations.get(id)
      if (stated) read[sort](stated, path, registry, faults)
    }
  }
  if (faults.list.length > 0) throw new StepsError(faults.list)
}

/** The facts that steps add or write, each once, with the index of the last step that does. */
function touched(steps: readonly Step[]): Iterable<[readonly ['entity' | 'relation' | 'view', Id], number]> {
  const found = new Map<string, [readonly ['entity' | 'relation' | 'view', Id], number]>()
  const add = (sort: 'entity' | 'relation' | 'view', id: Id, index: number) =>
    found.set(`${sort}/${id}`, [[sort, id], index])
  steps.forEach((step, index) => {
    if (step.do === 'add-entity') add('entity', step.entity.id, index)
    else if (step.do === 'set-entity') add('entity', step.id, index)
    else if (step.do === 'add-relation') add('relation', step.relation.id, index)
    else if (step.do === 'set-relation') add('relation', step.id, index)
    else if (step.do === 'add-view') add('view', step.view.id, index)
    else if (step.do === 'set-view') add('view', step.id, index)
  })
  return found.values()
}

interface Setting {
  readonly model: Model
  readonly registry: Registry
  readonly faults: Faults
  /** Kinds of what earlier steps add, by `entity/ID` and `relation/ID`. */
  readonly kinds: Map<string, string>
}

const KEYS: ReadonlyMap<string, readonly string[]> = new Map(
  Object.entries({
    'add-entity': ['entity'],
    'add-relation': ['relation'],
    'add-view': ['view'],
    'remove-entity': ['id'],
    'remove-relation': ['id'],
    'remove-view': ['id'],
    'set-entity': ['id', 'path', 'value'],
    'set-relation': ['id', 'path', 'value'],
    'set-view': ['id', 'path', 'value'],
    'set-workspace': ['path', 'value'],
  }),
)

function readStep(raw: unknown, path: string, setting: Setting): Step | undefined {
  const { registry, faults, kinds } = setting
  if (!isRecord(raw)) return void faults.add(path, 'is not an object')
  const sort = textOf(raw['do'])
  const keys = KEYS.get(sort)
  if (!keys) return void faults.add(`${path}.do`, `is not a kind of step: ${quote(raw['do'])}`)
  onlyKeys(raw, ['do', ...keys], path, faults)
  switch (sort) {
    case 'add-entity': {
      const entity = readEntity(raw['entity'], `${path}.entity`, registry, faults)
      if (entity) kinds.set(`entity/${entity.id}`, entity.kind)
      return entity && { do: sort, entity }
    }
    case 'add-relation': {
      const relation = readRelation(raw['relation'], `${path}.relation`, registry, faults)
      if (relation) kinds.set(`relation/${relation.id}`, relation.kind)
      return relation && { do: sort, relation }
    }
    case 'add-view': {
      const view = readView(raw['view'], `${path}.view`, 1, registry, faults)
      return view && { do: sort, view }
    }
    case 'set-workspace':
      checkWorkspace(raw['path'], raw['value'], path, setting)
      break
    default:
      checkId(raw['id'], `${path}.id`, faults)
      if (sort.startsWith('set-')) checkSet(sort, textOf(raw['id']), raw['path'], raw['value'], path, setting)
  }
  return raw as unknown as Step
}

function checkSet(sort: string, id: string, at: unknown, value: unknown, path: string, setting: Setting): void {
  const { faults } = setting
  if (typeof at !== 'string') return faults.add(`${path}.path`, `is not a text: ${quote(at)}`)
  if (value === undefined) return faults.add(`${path}.value`, 'is missing; null clears')
  if (value === null) return
  const where = `${path}.value`
  if (at === 'source' || at === 'target') return checkId(value, where, faults)
  if (at === 'name' || at === 'title') return checkText(value, where, LIMITS.name, faults, true)
  if (at === 'caption' || at === 'alt') return checkText(value, where, LIMITS.note, faults)
  if (at === 'from' || at === 'to') {
    if (!isDay(value)) faults.add(where, `is not a day such as 2026-11-24: ${quote(value)}`)
    return
  }
  if (at === 'order') return void checkNumber(value, where, faults)
  if (at.startsWith('pins.')) return checkPin(value, where, faults)
  if (at === 'picture') return checkPicture(id, value, where, setting)
  if (/^(scope|look)\./.test(at)) return checkLoose(value, where, faults)
  const known = fieldsAt(sort, id, setting)
  // A fact that is not there is refused by the step itself, which says so better.
  if (known === undefined) return
  const field = known.find((one) => at === `fields.${one.id}` || at === `options.${one.id}`)
  if (field) checkField(value, field, where, faults)
  else faults.add(`${path}.path`, `is not a known field: ${quote(at)}`)
}

function checkPicture(id: string, value: unknown, where: string, { model, registry, faults }: Setting): void {
  const view = (model.views as ReadonlyMap<string, View>).get(id)
  if (view && !pictureOf(registry, { notation: view.notation, picture: textOf(value) }))
    faults.add(where, `is not a picture of ${view.notation}: ${quote(value)}`)
}

function fieldsAt(sort: string, id: string, { model, registry, kinds }: Setting): readonly Field[] | undefined {
  const find = <T extends { id: string }>(map: ReadonlyMap<string, T>): T | undefined => map.get(id)
  if (sort === 'set-view') {
    const view = find(model.views)
    return view && optionsOf(registry, view)
  }
  if (sort === 'set-entity') {
    const kind = registry.kinds.get(kinds.get(`entity/${id}`) ?? find(model.entities)?.kind ?? '')
    return kind && fieldsOfKind(kind)
  }
  const kind = registry.relationKinds.get(kinds.get(`relation/${id}`) ?? find(model.relations)?.kind ?? '')
  return kind && fieldsOfRelation(kind)
}

function checkWorkspace(at: unknown, value: unknown, path: string, { registry, faults }: Setting): void {
  if (at === 'name') return checkText(value, `${path}.value`, 200, faults, true)
  const finding = typeof at === 'string' ? /^accepted\.(.+)$/s.exec(at)?.[1] : undefined
  if (finding !== undefined) {
    if (value !== null) checkAcceptance(finding, value, `${path}.value`, registry, faults)
    return
  }
  const rule = typeof at === 'string' ? /^thresholds\.(.+)$/.exec(at)?.[1] : undefined
  if (rule === undefined || !registry.rules.get(rule)?.threshold)
    return faults.add(`${path}.path`, `is neither the name nor a threshold: ${quote(at)}`)
  if (value !== null && (typeof value !== 'number' || !Number.isFinite(value)))
    faults.add(`${path}.value`, 'is not a number')
}
