import type { Entity, Fields, Id, Model } from '../../model'
import { lineFor, unquoted, type ListLine, type OutlineLine, type Unquoted } from '../../notation'
import { TRIGGERS, UNNAMED, WORTH } from './kinds'
import type { FlowNode, Process } from './structure'

/** Begins what a copied process says besides its lines: times, phases, pools, what lanes stand for, data and messages, a fact a line. */
export const BESIDES = 'besides:'

/** An element that is named in such a line: by its name, or by the number of its own line. */
export type Ref = { readonly name: string } | { readonly line: number }
/** Where a message begins or ends. */
export type MessageEnd = Ref | { readonly pool: string }

/** A fact that other chapters share. */
export interface Shared {
  readonly kind: string
  readonly name: string
}

/** What a line says besides. */
export type Beside =
  | { readonly of: 'process'; readonly fields: Fields; readonly owner: Shared | undefined }
  /** In the order in which they are drawn. */
  | { readonly of: 'lanes'; readonly names: readonly string[] }
  | { readonly of: 'pool'; readonly name: string; readonly lanes: readonly string[] }
  | { readonly of: 'lane'; readonly name: string; readonly kind: string; readonly standsFor: string }
  | { readonly of: 'phase'; readonly name: string; readonly members: readonly Ref[] }
  | { readonly of: 'element'; readonly element: Ref; readonly fields: Fields; readonly uses: string | undefined }
  | {
      readonly of: 'data'
      readonly name: string
      readonly type: string
      readonly lane: string | undefined
      readonly phase: string | undefined
      readonly reads: readonly Ref[]
      readonly writes: readonly Ref[]
    }
  | { readonly of: 'message'; readonly label: string; readonly from: MessageEnd; readonly to: MessageEnd }
  | { readonly of: 'way'; readonly from: Ref; readonly to: Ref; readonly condition: string }
  | { readonly of: 'apart'; readonly a: Ref; readonly b: Ref }

/** The kinds that a lane can stand for. */
const BEHIND = ['role', 'position', 'unit', 'system']
const OWNERS = ['person', 'position', 'role', 'unit']

/** Numbers that elements have, in the words that say them. */
const NUMBERS = [
  ['duration', 'takes', 'min'],
  ['least', 'at least', 'min'],
  ['most', 'at most', 'min'],
  ['wait', 'waits', 'min'],
  ['cost', 'costs', ''],
] as const

/** A phase of many elements is told on several lines. */
const MOST_ON_A_LINE = 6

/** All that the lines of a process do not say, where there is any. O(facts of the process) */
export function besidesOf(model: Model, process: Process, lines: readonly OutlineLine[]): ListLine[] {
  const facts = factsBesides(model, process, lines)
  const told = facts.map((fact) =>
    lineFor(
      (name) => written(fact, name),
      (text) => JSON.stringify(readBeside(text)) === JSON.stringify(fact),
    ),
  )
  return told.length === 0 ? [] : [{ depth: 0, text: BESIDES }, ...told.map((text) => ({ depth: 1, text }))]
}

function factsBesides(model: Model, process: Process, lines: readonly OutlineLine[]): Beside[] {
  const { nodes, lanes, pools, phases, messages, flows } = process
  const names = new Map<string, number>()
  for (const { entity } of nodes.values())
    names.set(entity.name.toLowerCase(), (names.get(entity.name.toLowerCase()) ?? 0) + 1)
  const rows = new Map(lines.map(({ id }, index) => [id, index + 1]))
  const ref = (id: Id): Ref[] => {
    const name = nodes.get(id)?.entity.name ?? UNNAMED
    const line = rows.get(id)
    if (name !== UNNAMED && names.get(name.toLowerCase()) === 1) return [{ name }]
    return line === undefined ? [] : [{ line }]
  }
  const end = (id: Id): MessageEnd[] => {
    const pool = pools.find((one) => one.id === id)
    return pool ? [{ pool: pool.name }] : ref(id)
  }
  const pair = (a: readonly MessageEnd[], b: readonly MessageEnd[]) => (a[0] && b[0] ? [[a[0], b[0]] as const] : [])
  const nameOf = (id: unknown): string | undefined => model.entities.get(id as Id)?.name
  const all = [...nodes.values()]
  const elements = all.filter(({ kind }) => kind !== 'data')
  return [
    ...processFields(model, process.process),
    ...pools.map(({ id, name }): Beside => ({
      of: 'pool',
      name,
      lanes: lanes.filter(({ fields }) => fields['pool'] === id).map((lane) => lane.name),
    })),
    ...(lanes.length > 1 ? [{ of: 'lanes' as const, names: lanes.map(({ name }) => name) }] : []),
    ...lanes.flatMap((lane): Beside[] => {
      const of = model.entities.get(lane.fields['of'] as Id)
      return of && BEHIND.includes(of.kind) ? [{ of: 'lane', name: lane.name, kind: of.kind, standsFor: of.name }] : []
    }),
    ...phases.flatMap(({ id, name }): Beside[] => {
      const members = elements.filter(({ phase }) => phase === id).flatMap((node) => ref(node.id))
      const lines = Math.max(1, Math.ceil(members.length / MOST_ON_A_LINE))
      return Array.from({ length: lines }, (_, at) => ({
        of: 'phase',
        name,
        members: members.slice(at * MOST_ON_A_LINE, (at + 1) * MOST_ON_A_LINE),
      }))
    }),
    ...elements.flatMap((node): Beside[] => {
      const fields = ownFields(node)
      const uses = nameOf(node.entity.fields['tool'])
      const [element] = ref(node.id)
      return element && (Object.keys(fields).length > 0 || uses !== undefined)
        ? [{ of: 'element', element, fields, uses }]
        : []
    }),
    ...all.flatMap((node): Beside[] =>
      node.kind === 'data'
        ? [
            {
              of: 'data',
              name: node.entity.name,
              type: node.type,
              lane: nameOf(node.lane),
              phase: nameOf(node.phase),
              reads: model.reaching(node.id, 'reads').flatMap(({ source }) => ref(source)),
              writes: model.reaching(node.id, 'writes').flatMap(({ source }) => ref(source)),
            },
          ]
        : [],
    ),
    ...messages.flatMap(({ source, target, fields }) =>
      pair(end(source), end(target)).map(([from, to]): Beside => ({
        of: 'message',
        label: String(fields['label'] ?? ''),
        from,
        to,
      })),
    ),
    ...flows.flatMap(({ source, target, fields }) => {
      const condition = String(fields['condition'] ?? '')
      return condition === ''
        ? []
        : pair(ref(source), ref(target)).map(([from, to]) => ({ of: 'way', from, to, condition }) as Beside)
    }),
    ...elements.flatMap(({ id }) =>
      model
        .leaving(id, 'kept-apart')
        .flatMap(({ target }) => pair(ref(id), ref(target)).map(([a, b]) => ({ of: 'apart', a, b }) as Beside)),
    ),
  ]
}

function processFields(model: Model, process: Entity | undefined): Beside[] {
  const { version, trigger, arrivals, owner: named } = process?.fields ?? {}
  const found = model.entities.get(named as Id)
  const owner = found && OWNERS.includes(found.kind) ? { kind: found.kind, name: found.name } : undefined
  const fields: Fields = {
    ...(typeof version === 'string' && version !== '' ? { version } : {}),
    ...(typeof trigger === 'string' && trigger !== '' ? { trigger } : {}),
    ...(typeof arrivals === 'number' ? { arrivals } : {}),
  }
  return Object.keys(fields).length === 0 && !owner ? [] : [{ of: 'process', fields, owner }]
}

function ownFields({ entity: { fields }, kind }: FlowNode): Fields {
  const { trigger, worth } = fields
  return {
    ...Object.fromEntries(NUMBERS.flatMap(([id]) => (typeof fields[id] === 'number' ? [[id, fields[id]]] : []))),
    ...(kind === 'event' && typeof trigger === 'string' ? { trigger } : {}),
    ...(typeof worth === 'string' ? { worth } : {}),
  }
}

type Name = (text: string) => string

function written(fact: Beside, name: Name): string {
  const ref = (one: MessageEnd): string =>
    'line' in one ? `line ${one.line}` : 'pool' in one ? `pool ${name(one.pool)}` : name(one.name)
  const refs = (list: readonly Ref[]): string => list.map(ref).join(', ')
  switch (fact.of) {
    case 'process': {
      const { version, trigger, arrivals } = fact.fields
      const parts = [
        version === undefined ? '' : `version ${name(String(version))}`,
        trigger === undefined ? '' : `begins with ${name(String(trigger))}`,
        arrivals === undefined ? '' : `${String(arrivals)} cases an hour`,
        fact.owner === undefined ? '' : `owned by ${fact.owner.kind} ${name(fact.owner.name)}`,
      ]
      return `process: ${parts.filter(Boolean).join('; ')}`
    }
    case 'pool':
      return `pool ${name(fact.name)}: ${fact.lanes.map(name).join(', ')}`.trim()
    case 'lanes':
      return `lanes: ${fact.names.map(name).join(', ')}`
    case 'lane':
      return `lane ${name(fact.name)}: stands for ${fact.kind} ${name(fact.standsFor)}`
    case 'phase':
      return `phase ${name(fact.name)}: ${refs(fact.members)}`.trim()
    case 'element': {
      const { trigger, worth } = fact.fields
      const parts = [
        ...NUMBERS.flatMap(([id, word, unit]) =>
          fact.fields[id] === undefined ? [] : [`${word} ${String(fact.fields[id])} ${unit}`.trim()],
        ),
        ...(trigger === undefined ? [] : [`trigger ${String(trigger)}`]),
        ...(worth === undefined ? [] : [`worth ${String(worth)}`]),
        ...(fact.uses === undefined ? [] : [`uses ${name(fact.uses)}`]),
      ]
      return `of ${ref(fact.element)}: ${parts.join('; ')}`
    }
    case 'data': {
      const parts = [
        fact.type,
        ...(fact.lane === undefined ? [] : [`in lane ${name(fact.lane)}`]),
        ...(fact.phase === undefined ? [] : [`in phase ${name(fact.phase)}`]),
        ...(fact.reads.length > 0 ? [`read by ${refs(fact.reads)}`] : []),
        ...(fact.writes.length > 0 ? [`written by ${refs(fact.writes)}`] : []),
      ]
      return `data ${name(fact.name)}: ${parts.join('; ')}`
    }
    case 'message':
      return `message ${fact.label === '' ? '' : name(fact.label)}: ${ref(fact.from)}; to ${ref(fact.to)}`
    case 'way':
      return `way ${ref(fact.from)}; to ${ref(fact.to)}: if ${name(fact.condition)}`
    case 'apart':
      return `apart ${ref(fact.a)}; from ${ref(fact.b)}`
  }
}

const HEAD = /^(process|pool|lanes|lane|phase|of|data|message|way|apart)\b\s*([^:]*?)\s*(?::\s*(.*))?$/s

/** A line beneath `besides:` as it is meant; undefined for what is none. */
export function readBeside(line: string): Beside | undefined {
  const { text, plain } = unquoted(line)
  const [, of, head = '', rest = ''] = HEAD.exec(text.trim()) ?? []
  const parts = rest.split(';').map((part) => part.trim())
  const name = plain(head)
  switch (of) {
    case 'process':
      return processRead(parts, plain)
    case 'pool':
      return { of, name, lanes: listed(rest).map(plain) }
    case 'lanes':
      return { of, names: listed(rest).map(plain) }
    case 'lane': {
      const [, kind = '', standsFor = ''] = /^stands for (\w+) (.+)$/s.exec(rest) ?? []
      return BEHIND.includes(kind) ? { of, name, kind, standsFor: plain(standsFor) } : undefined
    }
    case 'phase':
      return { of, name, members: listed(rest).map((one) => refIn(one, plain)) }
    case 'of':
      return elementRead(refIn(head, plain), parts, plain)
    case 'data':
      return dataRead(name, parts, plain)
    case 'message': {
      const [from, to] = [parts[0] ?? '', /^to (.+)$/s.exec(parts[1] ?? '')?.[1]]
      return to === undefined || from === ''
        ? undefined
        : { of, label: name, from: endIn(from, plain), to: endIn(to, plain) }
    }
    case 'way': {
      const [, from, to] = /^(.+?)\s*;\s*to (.+)$/s.exec(head) ?? []
      const [, condition] = /^if (.+)$/s.exec(rest) ?? []
      if (from === undefined || to === undefined || condition === undefined) return undefined
      return { of, from: refIn(from, plain), to: refIn(to, plain), condition: plain(condition) }
    }
    case 'apart': {
      const [, a, b] = /^(.+?)\s*;\s*from (.+)$/s.exec(head) ?? []
      return a === undefined || b === undefined ? undefined : { of, a: refIn(a, plain), b: refIn(b, plain) }
    }
    default:
      return undefined
  }
}

type Plain = Unquoted['plain']

const listed = (text: string): string[] => text.split(',').flatMap((part) => part.trim() || [])

function refIn(text: string, plain: Plain): Ref {
  const [, line] = /^line (\d{1,6})$/.exec(text.trim()) ?? []
  return line === undefined ? { name: plain(text.trim()) } : { line: Number(line) }
}

function endIn(text: string, plain: Plain): MessageEnd {
  const [, pool] = /^pool (.+)$/s.exec(text.trim()) ?? []
  return pool === undefined ? refIn(text, plain) : { pool: plain(pool.trim()) }
}

function processRead(parts: readonly string[], plain: Plain): Beside | undefined {
  const fields: Record<string, string | number> = {}
  let owner: Shared | undefined
  for (const part of parts) {
    const [, kind = '', owned] = /^owned by (\w+) (.+)$/s.exec(part) ?? []
    const [, version] = /^version (.+)$/s.exec(part) ?? []
    const [, trigger] = /^begins with (.+)$/s.exec(part) ?? []
    const [, arrivals] = /^(\d+(?:\.\d+)?(?:e[+-]?\d+)?) cases an hour$/.exec(part) ?? []
    if (owned !== undefined && OWNERS.includes(kind)) owner = { kind, name: plain(owned) }
    else if (version !== undefined) fields['version'] = plain(version)
    else if (trigger !== undefined) fields['trigger'] = plain(trigger)
    else if (arrivals !== undefined) fields['arrivals'] = Number(arrivals)
    else return undefined
  }
  return { of: 'process', fields, owner }
}

function elementRead(element: Ref, parts: readonly string[], plain: Plain): Beside | undefined {
  const fields: Record<string, string | number> = {}
  let uses: string | undefined
  for (const part of parts) {
    const number = NUMBERS.flatMap(([id, word, unit]) => {
      const [, value] =
        new RegExp(`^${word} (\\d+(?:\\.\\d+)?(?:e[+-]?\\d+)?)${unit ? ` ${unit}` : ''}$`).exec(part) ?? []
      return value === undefined ? [] : [[id, Number(value)] as const]
    })[0]
    const [, trigger] = /^trigger (.+)$/.exec(part) ?? []
    const [, worth] = /^worth (.+)$/.exec(part) ?? []
    const [, tool] = /^uses (.+)$/s.exec(part) ?? []
    if (number) fields[number[0]] = number[1]
    else if (TRIGGERS.some((one) => one === trigger)) fields['trigger'] = trigger ?? ''
    else if (WORTH.some((one) => one === worth)) fields['worth'] = worth ?? ''
    else if (tool !== undefined) uses = plain(tool)
    else return undefined
  }
  return { of: 'element', element, fields, uses }
}

function dataRead(name: string, parts: readonly string[], plain: Plain): Beside | undefined {
  const [type = '', ...more] = parts
  if (type !== 'document' && type !== 'store') return undefined
  let [lane, phase]: (string | undefined)[] = []
  let [reads, writes]: (readonly Ref[])[] = [[], []]
  for (const part of more) {
    const [, where, place = ''] = /^in (lane|phase) (.+)$/s.exec(part) ?? []
    const [, how, by = ''] = /^(read|written) by (.+)$/s.exec(part) ?? []
    const refs = listed(by).map((one) => refIn(one, plain))
    if (where === 'lane') lane = plain(place)
    else if (where === 'phase') phase = plain(place)
    else if (how === 'read') reads = refs
    else if (how === 'written') writes = refs
    else return undefined
  }
  return { of: 'data', name, type, lane, phase, reads: reads ?? [], writes: writes ?? [] }
}
