import {
  cut,
  MOST_THEMES,
  SORTS,
  splitPath,
  STEPS,
  sorts,
  touchedBy,
  type Fact,
  type Id,
  type Model,
  type Sort,
  type Step,
} from '../model'
import { fieldAt, partsOf, type Registry } from '../notation'
import {
  checkAcceptance,
  checkField,
  checkId,
  checkLook,
  checkTheme,
  checkPicture,
  checkShape,
  checkText,
  Faults,
  isRecord,
  onlyKeys,
  quote,
  readFact,
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
  const added = new Map<string, Fact>()
  const steps = raw.flatMap(
    (step: unknown, index) => readStep(step, `steps[${index}]`, { model, registry, faults, added }) ?? [],
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
  const touched = touchedBy(steps)
  for (const sort of sorts)
    for (const [id, index] of touched[sort].written) {
      const stated = model[SORTS[sort].list].get(id)
      if (stated) readFact(sort, stated, `steps[${index}].${sort}`, registry, faults)
    }
  if (faults.list.length > 0) throw new StepsError(faults.list)
}

interface Setting {
  readonly model: Model
  readonly registry: Registry
  readonly faults: Faults
  /** What earlier steps add, by `SORT/ID`. */
  readonly added: Map<string, Fact>
}

function readStep(raw: unknown, path: string, setting: Setting): Step | undefined {
  const { registry, faults, added } = setting
  if (!isRecord(raw)) return void faults.add(path, 'is not an object')
  const name = textOf(raw['do'])
  const shape = STEPS.get(name)
  if (!shape) return void faults.add(`${path}.do`, `is not a kind of step: ${quote(raw['do'])}`)
  const { verb, sort, keys } = shape
  onlyKeys(raw, ['do', ...keys], path, faults)
  if (sort === 'workspace') checkWorkspace(raw['path'], raw['value'], path, setting)
  else if (verb === 'add') {
    const fact = readFact(sort, raw[sort], `${path}.${sort}`, registry, faults)
    if (fact) added.set(`${sort}/${fact.id}`, fact)
    return fact && ({ do: name, [sort]: fact } as unknown as Step)
  } else {
    checkId(raw['id'], `${path}.id`, faults)
    if (verb === 'set') checkSet(sort, textOf(raw['id']) as Id, raw['path'], raw['value'], path, setting)
  }
  return raw as unknown as Step
}

function checkSet(sort: Sort, id: Id, at: unknown, value: unknown, path: string, setting: Setting): void {
  const { model, registry, faults, added } = setting
  if (typeof at !== 'string') return faults.add(`${path}.path`, `is not a text: ${quote(at)}`)
  if (value === undefined) return faults.add(`${path}.value`, 'is missing; null clears')
  if (value === null) return
  const where = `${path}.value`
  const { paths } = SORTS[sort]
  const stands = Object.hasOwn(paths, at) ? paths[at] : undefined
  // A fact that is not there is refused by the step itself, which says so better.
  const fact = added.get(`${sort}/${id}`) ?? model[SORTS[sort].list].get(id)
  if (stands?.shape === 'picture')
    return fact && 'notation' in fact ? checkPicture(value, fact.notation, where, registry, faults) : undefined
  if (stands) return checkShape(value, stands.shape, where, faults, stands.needed)
  const known = fact && partsOf(registry, sort, fact)
  if (!known) return
  const { head, key } = splitPath(at)
  const field = key !== undefined && Object.hasOwn(known, head) ? fieldAt(known[head] ?? [], key) : undefined
  if (field) checkField(value, field, where, faults)
  else faults.add(`${path}.path`, `is not a known field: ${quote(at)}`)
}

function checkWorkspace(at: unknown, value: unknown, path: string, { model, registry, faults }: Setting): void {
  if (at === 'name') return checkText(value, `${path}.value`, 200, faults, true)
  const finding = typeof at === 'string' ? /^accepted\.(.+)$/s.exec(at)?.[1] : undefined
  if (finding !== undefined) {
    if (value !== null) checkAcceptance(finding, value, `${path}.value`, registry, faults)
    return
  }
  const [, part, key] = typeof at === 'string' ? (/^(look|themes)\.(.+)$/.exec(at) ?? []) : []
  if (part === 'look' && key !== undefined) return checkLook(key, value ?? undefined, `${path}.value`, faults)
  if (part === 'themes' && key !== undefined) {
    const own = model.settings.themes ?? {}
    if (value !== null && !Object.hasOwn(own, key) && Object.keys(own).length >= MOST_THEMES)
      return faults.add(`${path}.path`, `is one more than the ${MOST_THEMES} themes that a workspace may have`)
    checkId(key, `${path}.path`, faults)
    if (value !== null) checkTheme(key, value, `${path}.value`, faults)
    return
  }
  const rule = typeof at === 'string' ? /^thresholds\.(.+)$/.exec(at)?.[1] : undefined
  if (rule === undefined || !registry.rules.get(rule)?.threshold)
    return faults.add(`${path}.path`, `is neither the name nor a threshold: ${quote(at)}`)
  if (value !== null && (typeof value !== 'number' || !Number.isFinite(value)))
    faults.add(`${path}.value`, 'is not a number')
}
