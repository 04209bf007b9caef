import { apply, asId, Model, type Entity, type Id, type Relation, type View } from '../../../src/core/model'
import { isRefusal, type Finding, type Notation, type Outcome, type Wish } from '../../../src/core/notation'
import { registry } from '../../../src/core/notations'
import { processOn, type Process } from '../../../src/core/notations/process/structure'
import { DAY, numbering } from '../../facts'

const found = registry.notations.find(({ id }) => id === 'process')
if (!found?.outline) throw new Error('no process notation with an outline')
export const process: Notation = found
export const outline = found.outline

export const flowView = (more: Partial<View> = {}): View => ({ ...process.view(() => asId('view'), 'Work'), ...more })

export const wishOf = (model: Model, more: Partial<Wish> = {}): Wish => {
  const view = model.views.get(asId('view')) ?? flowView()
  return { model, view, day: DAY, selection: [], newId: numbering('m'), ...more }
}

/** A process from its outline. */
export function told(text: string): Model {
  const empty = Model.of({ name: 'Test', views: [flowView()] })
  return after(empty, outline.paste(wishOf(empty, { newId: numbering('n') }), undefined, text))
}

export function after(model: Model, outcome: Outcome | undefined): Model {
  if (!outcome || isRefusal(outcome)) throw new Error(`refused: ${outcome?.refused ?? 'nothing'}`)
  return apply(model, outcome.change).model
}

export const shown = (model: Model): Process => processOn(model, model.ofKind('process')[0]?.id, DAY)

export const text = (model: Model): string =>
  outline
    .lines(model, model.views.get(asId('view')) ?? flowView(), DAY)
    .map(({ depth, text: line }) => '  '.repeat(depth) + line)
    .join('\n')

export function nodeNamed(model: Model, name: string): Id {
  const node = [...shown(model).nodes.values()].find(({ entity }) => entity.name === name)
  if (!node) throw new Error(`no “${name}”`)
  return node.id
}

export const act = (model: Model, id: string, selection: readonly Id[], more: Partial<Wish> = {}): Outcome => {
  const wish = wishOf(model, { selection, ...more })
  const action = process.actions.find((one) => one.id === id)
  if (!action) throw new Error(`no action ${id}`)
  return action.run(wish)
}

export const findings = (rule: string, model: Model, on = DAY): readonly Omit<Finding, 'rule' | 'severity'>[] =>
  registry.rules.get(rule)?.check(model, on) ?? []

/** Elements and lines stated one by one: `a>b` leads from a to b; kinds by the first letter of a key: s step, e end, b begin, x exclusive, p parallel, i inclusive. */
export function graph(lines: string, more: (Entity | Relation)[] = []): Model {
  const kinds: Readonly<Record<string, [string, string]>> = {
    s: ['step', 'task'],
    e: ['event', 'end'],
    b: ['event', 'start'],
    x: ['gateway', 'exclusive'],
    p: ['gateway', 'parallel'],
    i: ['gateway', 'inclusive'],
  }
  const flows = lines.split(/\s+/).filter(Boolean)
  const keys = [...new Set(flows.flatMap((flow) => flow.split('>').map((end) => end.split(':')[0] ?? '')))]
  const entities = keys.map((key, order): Entity => {
    const [kind = 'step', type = 'task'] = kinds[key[0] ?? 's'] ?? []
    return { id: asId(key), kind, name: key, fields: { type, process: 'p', order } }
  })
  const relations = flows.map((flow, order): Relation => {
    const [source = '', end = ''] = flow.split('>')
    const [target = '', share] = end.split(':')
    return {
      id: asId(`${source}>${target}`.replace('>', '-')),
      kind: 'flow',
      source: asId(source),
      target: asId(target),
      fields: { order, label: `l${order}`, ...(share ? { share: Number(share) } : {}) },
    }
  })
  return Model.of({
    name: 'Test',
    entities: [
      { id: asId('p'), kind: 'process', name: 'P', fields: {} },
      ...entities,
      ...more.filter((fact): fact is Entity => !('source' in fact)),
    ],
    relations: [...relations, ...more.filter((fact): fact is Relation => 'source' in fact)],
    views: [flowView()],
  })
}
