import { counted, asId, covers, isId, type Day, type Id, type Model, type Step } from '../../../../model'
import {
  addEntity,
  addRelation,
  inOrder,
  LIMITS,
  rewrite,
  setEntity,
  setRelation,
  type ImportedFile,
  type Refusal,
  type Wish,
} from '../../../../notation'
import { rootsOf, written as xmlOf, type Node } from '../../../../tabular/xml'
import { lastOrder } from '../../edits'
import { relationKinds } from '../../kinds'
import { besideOf, linked, readBeside, toldBy, type Told } from './beside'
import { Reader, type ReadFact } from './read'
import { el, keptEl, OWN, printed, UML, XMI, type El } from './tree'
import { keptOf } from './pen'
import { showing, type Fact } from './shown'
import { Writer } from './write'

/** All software of a day as XMI 2.5.1 of UML 2.5.1, without diagrams; what another program’s file kept is in it again. O(facts) */
export function writeXmi(model: Model, day: Day): string {
  const writer = new Writer(model, day)
  const document = writer.document()
  const kept = inOrder(model.ofKind('model-file').filter((one) => covers(one, day))).map((one) =>
    keptEl(keptOf(one.fields['kept']).xml),
  )
  const back = rootsOf(textOf([document]))
  if ('refused' in back) throw new Error(back.refused)
  const beside = besideOf(model, writer.pen, readIn(back).facts)
  const own = el('xmi:Extension', { extender: EXTENDER }, [el('skivel:facts', {}, [], JSON.stringify(beside))])
  return textOf([document, ...kept.filter((one) => one !== undefined), own])
}

const EXTENDER = 'Skivel'
const textOf = (inner: readonly El[]): string =>
  `<?xml version="1.0" encoding="UTF-8"?>\n${printed(
    el('xmi:XMI', { 'xmlns:xmi': XMI, 'xmlns:uml': UML, 'xmlns:skivel': OWN }, inner),
  )}\n`

/** O(length). @returns a refusal in words for what is no XMI of UML. */
export function read(wish: Wish, text: string): ImportedFile | Refusal {
  const roots = rootsOf(text)
  if ('refused' in roots) return roots
  const { models, facts, rest, lost, beside } = readIn(roots)
  if (models === 0) return { refused: 'This is XML, but no XMI of UML: there is no “uml:Model” in it.' }
  const told = toldBy(wish.model, facts, beside)
  if (told.size === 0 && rest.length === 0) return { refused: 'There is nothing in this model that could be read.' }
  return brought(wish, told, { rest, lost, isWhole: beside !== undefined })
}

interface InFile {
  readonly models: number
  readonly facts: readonly ReadFact[]
  readonly rest: readonly string[]
  readonly lost: readonly string[]
  readonly beside: ReturnType<typeof readBeside>
}

function readIn(roots: readonly Node[]): InFile {
  const isModel = ({ name, space = '' }: Node) => (name === 'Model' || name === 'Package') && /uml/i.test(space)
  const top = roots.flatMap((root) => (isModel(root) ? [root] : root.children))
  const [facts, rest, lost]: [ReadFact[], string[], string[]] = [[], [], []]
  let beside: InFile['beside']
  let models = 0
  for (const node of top) {
    if (isModel(node)) {
      const reader = new Reader(node, ++models === 1 ? '' : `model-${models}.`)
      facts.push(...reader.facts)
      rest.push(...reader.rest)
      lost.push(...reader.lost)
    } else if (node.name === 'Extension' && node.attributes['extender'] === EXTENDER) {
      const said = node.children.find(({ name, space }) => name === 'facts' && space === OWN)
      beside = said && readBeside(said.text)
    } else if (!isOfDiagrams(node) && node.name !== 'Documentation') {
      const xml = xmlOf(node)
      if (xml.length <= LIMITS.note - 100) rest.push(xml)
      else lost.push(`“${node.name}”`)
    }
  }
  return { models, facts, rest, lost, beside }
}

/** Diagram interchange: how another program drew it. */
const isOfDiagrams = ({ space = '', name }: Node): boolean =>
  /\/(?:DD|UMLDI|DI|DC)\b/i.test(space) || name === 'Diagram'

const TIES = new Set(relationKinds.map(({ id }) => id))

/** Facts as steps: what is there by its identity and kind is altered, all else is made. */
function brought(
  wish: Wish,
  told: ReadonlyMap<string, Told>,
  {
    rest,
    lost,
    isWhole,
  }: { readonly rest: readonly string[]; readonly lost: readonly string[]; readonly isWhole: boolean },
): ImportedFile {
  const { model } = wish
  const steps: Step[] = []
  const [entities, relations] = [false, true].map((isTie) =>
    [...told].filter(([, one]) => TIES.has(one.kind) === isTie),
  )
  const here = new Map<string, Id>()
  const taken = new Set<string>()
  const counts = { added: 0, altered: 0 }
  const idFor = (one: Told, isFree: (id: Id) => boolean): Id => {
    const id = isId(one.id) && !taken.has(one.id) && isFree(asId(one.id)) ? asId(one.id) : wish.newId()
    taken.add(id)
    return id
  }
  for (const [key, one] of entities ?? [])
    here.set(
      key,
      idFor(one, (id) => model.entities.get(id)?.kind === one.kind || !model.entities.has(id)),
    )
  const dates = ({ from, to }: Pick<Told, 'from' | 'to'>) => ({
    ...(from === undefined ? {} : { from }),
    ...(to === undefined ? {} : { to }),
  })
  const count = (made: readonly Step[], isNew: boolean) => {
    steps.push(...made)
    if (isNew) counts.added++
    else if (made.length > 0) counts.altered++
  }
  const facts: Fact[] = []
  for (const [key, one] of entities ?? []) {
    const id = here.get(key) ?? wish.newId()
    const fields = linked(one.kind, one.fields, here)
    facts.push({ id, kind: one.kind, fields })
    const before = model.entities.get(id)
    if (!before) count([addEntity({ id, kind: one.kind, name: one.name, fields, ...dates(one) })], true)
    else {
      // Elements alone say nothing of our own.
      const after = isWhole ? { fields, ...dates(one) } : { fields: { ...before.fields, ...fields }, ...dates(before) }
      const renamed = before.name === one.name ? [] : [setEntity(id, 'name', one.name)]
      count([...renamed, ...rewrite('entity', id, { fields: before.fields, ...dates(before) }, after)], false)
    }
  }
  taken.clear()
  for (const [, one] of relations ?? []) {
    const [source, target] = [here.get(one.source ?? ''), here.get(one.target ?? '')]
    if (source === undefined || target === undefined) continue
    const id = idFor(one, (free) => model.relations.get(free)?.kind === one.kind || !model.relations.has(free))
    const fields = linked(one.kind, one.fields, here)
    const before = model.relations.get(id)
    if (!before) count([addRelation({ id, kind: one.kind, source, target, fields, ...dates(one) })], true)
    else {
      const after = isWhole ? { fields, ...dates(one) } : { fields: { ...before.fields, ...fields }, ...dates(before) }
      const ends = [
        ...(before.source === source ? [] : [setRelation(id, 'source', source)]),
        ...(before.target === target ? [] : [setRelation(id, 'target', target)]),
      ]
      count([...ends, ...rewrite('relation', id, { fields: before.fields, ...dates(before) }, after)], false)
    }
  }
  const known = new Set(model.ofKind('model-file').map(({ fields }) => keptOf(fields['kept']).xml))
  for (const xml of rest) {
    if (known.has(xml)) continue
    const order = lastOrder(model.ofKind('model-file')) + steps.length + 1
    const fields = { kept: JSON.stringify({ xml }), order }
    steps.push(addEntity({ id: wish.newId(), kind: 'model-file', name: 'What a model file says besides', fields }))
  }
  steps.push(...showing(wish, facts))
  return {
    change: { label: `Bring in a model of ${counted(told.size, 'fact')}`, steps },
    facts: [
      steps.length === 0 ? 'Nothing differs from the facts.' : `${counts.added} new, ${counts.altered} changed.`,
      ...(rest.length > 0
        ? [`${counted(rest.length, 'element has', 'elements have')} no place among the facts: kept, and written again.`]
        : []),
      ...(lost.length > 0 ? [`Left out, since it is too large: ${lost.slice(0, 8).join(', ')}.`] : []),
    ],
  }
}
