import type { Id, Step } from '../../model'
import {
  changed,
  clip,
  GONE,
  moved,
  readList,
  removal,
  rewrite,
  setEntity,
  setField,
  setRelation,
  writing,
  type Outcome,
  type Outline,
  type Refusal,
  type Wish,
} from '../../notation'
import { isBeneath, netFor, netIn, removeDevice, removeTie, removeZone, Scribe, type Place } from './edits'
import type { Net } from './structure'
import { linesOf, ruleName, told, type Told } from './telling'
import { readLine, type Typed } from './words'

export const NEW_DEVICE = 'new-device'

/** A network as text: one line a fact. */
export const outline: Outline = {
  hint: 'fw-quay-1  firewall  10.20.0.1/24',
  lines: (model, view, day) => linesOf(model, netIn({ model, view, day }), day),
  write: (wish, line, text) => {
    const net = netIn(wish)
    const before = told(wish.model, net, wish.day).find(({ id }) => id === line)
    if (!before) return GONE
    const read = readLine(text, beneathDevice(before) ? 'device' : 'elsewhere')
    return 'refused' in read ? read : writeLine(wish, net, before, read, text)
  },
  insert: insertLine,
  indent: (wish, line) => {
    const net = netIn(wish)
    const lines = told(wish.model, net, wish.day)
    const at = lines.findIndex(({ id }) => id === line)
    const one = lines[at]
    if (!one) return GONE
    if (one.typed.is !== 'device' && one.typed.is !== 'subnet')
      return { refused: 'Only devices and subnets stand in a zone.' }
    const zone = lines.slice(0, at).findLast(({ typed }) => typed.is === 'zone')
    if (one.zone !== undefined) return { refused: 'It stands in a zone already.' }
    if (!zone) return { refused: 'There is no zone above it that it could stand in.' }
    return intoZone(wish, [line], zone.id)
  },
  outdent: (wish, line) => {
    const one = told(wish.model, netIn(wish), wish.day).find(({ id }) => id === line)
    if (!one) return GONE
    if (one.zone === undefined || (one.typed.is !== 'device' && one.typed.is !== 'subnet'))
      return { refused: 'It cannot stand further out.' }
    return intoZone(wish, [line], undefined)
  },
  move: (wish, line, by) => {
    const net = netIn(wish)
    const one = told(wish.model, net, wish.day).find(({ id }) => id === line)
    const entity = wish.model.entities.get(line)
    if (!one || !entity) return { refused: 'Cables, flows and what is hosted follow the order of devices and ports.' }
    const siblings = siblingsOf(wish, net, one)
    return changed(`Move “${entity.name}” ${by < 0 ? 'up' : 'down'}`, moved(siblings, entity, by))
  },
  remove: (wish, line) => {
    const one = told(wish.model, netIn(wish), wish.day).find(({ id }) => id === line)
    return one ? changed('Remove a line', removeSteps(wish, one)) : GONE
  },
  paste: pasteLines,
}

const beneathDevice = ({ device, typed }: Told): boolean => device !== undefined && typed.is !== 'device'

function siblingsOf({ model }: Wish, net: Net, { typed, device, zone }: Told) {
  const entities = (list: readonly { readonly entity: { id: Id } }[]) =>
    list.flatMap(({ entity }) => model.entities.get(entity.id) ?? [])
  switch (typed.is) {
    case 'zone':
      return entities(net.zones)
    case 'device':
      return entities(net.devices.filter((one) => one.zone?.id === zone))
    case 'port':
      return entities(device?.ports ?? [])
    case 'subnet':
      return net.subnets.filter(({ fields }) => (fields['zone'] ?? undefined) === zone)
    case 'filter':
      return net.filters.filter(({ fields }) => (fields['device'] ?? undefined) === device?.id)
    default:
      return []
  }
}

/** Puts devices and subnets into a zone, or into none. */
export function intoZone({ model }: Wish, ids: readonly Id[], zone: Id | undefined): Outcome {
  const into = zone === undefined ? undefined : model.entities.get(zone)
  const [first] = ids
  const who =
    ids.length === 1 && first !== undefined ? `“${model.entities.get(first)?.name ?? first}”` : `${ids.length} devices`
  return changed(
    into ? `Put ${who} into “${into.name}”` : `Take ${who} out of its zone`,
    ids.map((id) => setField(id, 'zone', zone ?? null)),
  )
}

/** The change that makes a fact say what its line says. */
function writeLine(wish: Wish, net: Net, before: Told, after: Typed, text: string): Outcome {
  const { model } = wish
  const { id, typed: was, device, zone } = before
  const place: Place = { device: device?.id, zone }
  const scribe = new Scribe(wish, net, netFor(wish).id, false)
  if (was.is !== after.is) {
    if (!isBeneath(was) || !isBeneath(after))
      return { refused: `This line states a ${WORDS[was.is]}; a ${WORDS[after.is]} is a line of its own.` }
    const old = removeSteps(wish, before)
    const made = scribe.make(after, place)
    const refused = scribe.tie(after, made, place)
    return refused ?? changed(writing(text), [...old, ...scribe.steps])
  }
  const relation = model.relations.get(id)
  if (relation) {
    const steps: Step[] = rewrite('relation', id, was, after)
    if (was.is === 'cable') {
      const [from, to] = [model.entities.get(relation.source), model.entities.get(relation.target)]
      const other = scribe.device(after.refs['device'])
      if (typeof other !== 'string') return other
      if (!from || !to || device === undefined) return GONE
      const source = scribe.portInstead(from, device.id, after.name, id)
      const target = scribe.portInstead(to, other, after.refs['port'] ?? after.name, id)
      if (source === target) return { refused: 'A cable joins two ports.' }
      if (source !== relation.source) scribe.steps.push(setRelation(id, 'source', source))
      if (target !== relation.target) scribe.steps.push(setRelation(id, 'target', target))
    } else {
      const target =
        was.is === 'hosts' ? scribe.shared('system', after.refs['system']) : scribe.device(after.refs['device'])
      if (typeof target !== 'string') return target
      if (target !== relation.target) steps.push(setRelation(id, 'target', target))
    }
    return changed(writing(text), [...scribe.steps, ...steps, ...scribe.later])
  }
  const entity = model.entities.get(id)
  if (!entity) return GONE
  const steps = rewrite('entity', id, was, after)
  const name =
    after.name.name !== ''
      ? after.name.name
      : after.is === 'filter'
        ? ruleName({
            fields: {
              ...entity.fields,
              ...after.fields,
              protocol: after.fields['protocol'] ?? 'any',
              port: after.fields['port'] ?? '',
            },
          })
        : entity.name
  if (name !== entity.name) steps.push(setEntity(id, 'name', name))
  const refused = scribe.names(after, id, was.refs)
  return refused ?? changed(writing(text), [...steps, ...scribe.steps])
}

const WORDS: Readonly<Record<Typed['is'], string>> = {
  zone: 'zone',
  subnet: 'subnet',
  site: 'site',
  rack: 'rack',
  device: 'device',
  port: 'port',
  cable: 'cable',
  traffic: 'flow',
  filter: 'rule',
  hosts: 'system that is hosted',
}

function removeSteps({ model }: Wish, { id, typed }: Told): Step[] {
  const relation = model.relations.get(id)
  if (relation) return removeTie(model, relation)
  if (typed.is === 'device') return removeDevice(model, id)
  if (typed.is === 'zone') return removeZone(model, id)
  return removal(model, id)
}

/** A new line after another one: what is typed beneath a device belongs to it; without words it is a device, or a port beneath one. */
function insertLine(wish: Wish, line: Id | undefined, text: string): Outcome {
  const net = netIn(wish)
  const above = line === undefined ? undefined : told(wish.model, net, wish.day).find(({ id }) => id === line)
  const made = netFor(wish)
  const beneath = above !== undefined && beneathDevice(above)
  const typed =
    text.trim() === ''
      ? readLine(beneath ? `port ${freePortName(net, above.device?.id)}` : NEW_DEVICE, beneath ? 'device' : 'elsewhere')
      : readInserted(text, above)
  if ('refused' in typed) return typed
  const place: Place = isBeneath(typed)
    ? { device: above?.device?.id, zone: above?.zone }
    : { device: undefined, zone: typed.is === 'device' || typed.is === 'subnet' ? above?.zone : undefined }
  const scribe = new Scribe(wish, net, made.id, false)
  const id = scribe.make(typed, place)
  const refused = scribe.tie(typed, id, place)
  if (refused) return refused
  const steps: Step[] = [...made.steps, ...scribe.steps]
  const device = typed.is === 'device' && above?.device ? net.byId.get(above.device.id) : undefined
  if (id !== undefined && device) steps.push(...after(wish, net, device.entity.id, id))
  const last = scribe.steps.findLast((step) => step.do === 'add-relation')
  const select = id ?? (last?.do === 'add-relation' ? last.relation.id : undefined)
  return changed('Add a line', steps, select === undefined ? {} : { select })
}

/** What is typed after a line of a device, or after the device itself, is read as something beneath it before it is read as a device. */
function readInserted(text: string, above: Told | undefined): Typed | Refusal {
  if (above?.device === undefined) return readLine(text, 'elsewhere')
  const inner = readLine(text, 'device')
  return 'refused' in inner && above.typed.is === 'device' ? readLine(text, 'elsewhere') : inner
}

/** Gives a new device the order behind another one, where orders leave room; else they are numbered anew. */
function after({ model }: Wish, net: Net, before: Id, id: Id): Step[] {
  const list = net.devices.map(({ entity }) => entity)
  const at = list.findIndex((one) => one.id === before)
  const [own, next] = [list[at]?.fields['order'], list[at + 1]?.fields['order']]
  if (typeof own === 'number' && (next === undefined || (typeof next === 'number' && next > own)))
    return [setField(id, 'order', next === undefined ? own + 1 : (own + next) / 2)]
  return [
    ...list.flatMap((one, i) =>
      model.entities.has(one.id) ? [setField(one.id, 'order', i <= at ? i + 1 : i + 2)] : [],
    ),
    setField(id, 'order', at + 2),
  ]
}

/** The first of `p1`, `p2` … that a device does not have. */
export function freePortName(net: Net, device: Id | undefined): string {
  const names = new Set(device === undefined ? [] : net.byId.get(device)?.ports.map(({ name }) => name.toLowerCase()))
  let count = 1
  while (names.has(`p${count}`)) count++
  return `p${count}`
}

/** Lines of a list, after a line; what any of them cannot be read as is said, and nothing is changed. O(lines + network) */
function pasteLines(wish: Wish, line: Id | undefined, text: string): Outcome {
  const list = readList(text)
  if ('refused' in list) return list
  if (list.length === 0) return { refused: 'There is no line in what was pasted.' }
  const net = netIn(wish)
  const above = line === undefined ? undefined : told(wish.model, net, wish.day).find(({ id }) => id === line)
  const made = netFor(wish)
  const scribe = new Scribe(wish, net, made.id, true)
  const path: { readonly is: Typed['is']; readonly place: Place; readonly id: Id | undefined }[] = []
  const read: { typed: Typed; place: Place; id: Id | undefined; at: number }[] = []
  const fault = (at: number, { refused }: Refusal): Refusal => ({
    refused: `Line ${at + 1}, “${clip(list[at]?.text ?? '')}”: ${refused} Nothing was changed.`,
  })
  for (const [at, one] of list.entries()) {
    path.length = one.depth
    const holder = path.findLast(({ is }) => is === 'device' || is === 'zone')
    const outer: Place =
      holder === undefined
        ? { device: above && beneathDevice(above) ? above.device?.id : undefined, zone: above?.zone }
        : holder.is === 'device'
          ? { ...holder.place, device: holder.id }
          : { device: undefined, zone: holder.id }
    const within = outer.device === undefined ? 'elsewhere' : 'device'
    const typed = readLine(one.text, within)
    if ('refused' in typed) return fault(at, typed)
    const place = typed.is === 'device' || typed.is === 'subnet' ? { device: undefined, zone: outer.zone } : outer
    const id = scribe.make(typed, place)
    path.push({ is: typed.is, place, id })
    read.push({ typed, place, id, at })
  }
  for (const { typed, place, id, at } of read) {
    const refused = scribe.tie(typed, id, place)
    if (refused) return fault(at, refused)
  }
  const first = read.find(({ id }) => id !== undefined)?.id
  return changed(`Paste ${list.length} ${list.length === 1 ? 'line' : 'lines'}`, [...made.steps, ...scribe.steps], {
    ...(first === undefined ? {} : { select: first }),
  })
}
