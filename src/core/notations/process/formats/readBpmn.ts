import { XMLValidator } from 'fast-xml-parser'
import {
  cut,
  isId,
  wordsOf,
  type Entity,
  type Fields,
  type Id,
  type Relation,
  type Step,
  type View,
} from '../../../model'
import { LIMITS, type ImportedFile, type Refusal, type Wish } from '../../../notation'
import { UNNAMED } from '../kinds'
import { keptText, TRIGGERS, WRITTEN } from './kept'
import { BPMN, BPMNDI, GATEWAY_TAGS, OWN, OWN_FIELDS, STEP_TAGS } from './names'
import { nodesOf, parser, written, type Node } from '../../../tabular/xml'

const FLOW_TAGS = new Map<string, { kind: string; type: string; kept?: string }>([
  ...Object.entries(STEP_TAGS).map(([type, tag]) => [tag, { kind: 'step', type }] as const),
  ...['sendTask', 'receiveTask', 'scriptTask', 'businessRuleTask'].map(
    (tag) => [tag, { kind: 'step', type: 'service task', kept: tag }] as const,
  ),
  ...['callActivity', 'transaction', 'adHocSubProcess'].map(
    (tag) => [tag, { kind: 'step', type: 'subprocess', ...(tag === 'callActivity' ? { kept: tag } : {}) }] as const,
  ),
  ...Object.entries(GATEWAY_TAGS).map(([type, tag]) => [tag, { kind: 'gateway', type }] as const),
  ['complexGateway', { kind: 'gateway', type: 'inclusive', kept: 'complexGateway' }],
  ['startEvent', { kind: 'event', type: 'start' }],
  ['endEvent', { kind: 'event', type: 'end' }],
  ['intermediateThrowEvent', { kind: 'event', type: 'intermediate', kept: 'intermediateThrowEvent' }],
  ['intermediateCatchEvent', { kind: 'event', type: 'intermediate', kept: 'intermediateCatchEvent' }],
  ['boundaryEvent', { kind: 'event', type: 'intermediate', kept: 'intermediateCatchEvent' }],
  ['dataObjectReference', { kind: 'data', type: 'document' }],
  ['dataStoreReference', { kind: 'data', type: 'store' }],
])
/** Read elsewhere, or of no weight here. */
const KNOWN = new Set([
  'laneSet',
  'multiInstanceLoopCharacteristics',
  'standardLoopCharacteristics',
  'terminateEventDefinition',
  'extensionElements',
  'sequenceFlow',
  'dataObject',
  'documentation',
  'incoming',
  'outgoing',
  'property',
  'ioSpecification',
  'dataInputAssociation',
  'dataOutputAssociation',
  ...TRIGGERS.keys(),
])

const MOST = 20_000_000

/** O(length). @returns a refusal in words for what is no BPMN. */
export function read(wish: Wish, text: string): ImportedFile | Refusal {
  if (text.length > MOST) return { refused: 'This file has more than 20 million characters.' }
  const valid = XMLValidator.validate(text)
  if (valid !== true) return { refused: `This is no well-formed XML: line ${valid.err.line}, ${valid.err.msg}` }
  let roots: Node[]
  try {
    roots = nodesOf(parser.parse(text), new Map())
  } catch (error) {
    return { refused: `This XML is not read: ${wordsOf(error)}.` }
  }
  const [definitions] = roots.filter(({ name }) => name === 'definitions')
  if (!definitions || definitions.space !== BPMN)
    return { refused: 'This is XML, but no BPMN 2.0: its root is not “definitions” of BPMN.' }
  const processes = definitions.children.filter(({ name, space }) => name === 'process' && space === BPMN)
  if (processes.length === 0) return { refused: 'There is no process in this BPMN file.' }
  return new Reader(wish, definitions, processes).result()
}

class Reader {
  private readonly steps: Step[] = []
  private readonly ids = new Map<string, Id>()
  private readonly taken = new Set<string>()
  private readonly laneOf = new Map<string, Id>()
  private readonly defaults = new Set<string>()
  private readonly skipped = new Map<string, number>()
  private readonly phases = new Map<string, Id>()
  private readonly flows: { raw: Node; source: string; target: string }[] = []
  private order = 0
  private lanes = 0
  private process: Id

  constructor(
    private readonly wish: Wish,
    private readonly definitions: Node,
    private readonly processes: readonly Node[],
  ) {
    this.process = this.idFor(processes[0]?.attributes['id'] ?? 'process')
  }

  result(): ImportedFile {
    const { definitions, processes } = this
    const collaboration = definitions.children.find(({ name }) => name === 'collaboration')
    const participants = collaboration?.children.filter(({ name }) => name === 'participant') ?? []
    const [first] = processes
    const title = first?.attributes['name'] ?? participants[0]?.attributes['name'] ?? 'Process from a file'
    const own = first ? ownFacts(first) : {}
    const namespaces = Object.fromEntries(
      Object.entries(definitions.attributes).flatMap(([name, uri]) =>
        name.startsWith('xmlns:') && !WRITTEN.has(name.slice(6)) ? [[name.slice(6), uri]] : [],
      ),
    )
    this.add({
      id: this.process,
      kind: 'process',
      name: title,
      fields: {
        ...numbersOf(own, 'process'),
        ...(own['owner'] ? { owner: this.named(own['owner'], ['person', 'position', 'role', 'unit']) } : {}),
        ...this.noteOf(first),
        ...this.kept(first, undefined, namespaces, this.rootsOf()),
      },
    })
    const poolOf = new Map<string, Id>()
    participants.forEach((participant, index) => {
      const id = this.idFor(participant.attributes['id'] ?? `pool-${index}`)
      const ref = participant.attributes['processRef']
      if (ref !== undefined) poolOf.set(ref, id)
      this.add({
        id,
        kind: 'pool',
        name: participant.attributes['name'] ?? `Pool ${index + 1}`,
        fields: { process: this.process, order: index + 1, ...this.noteOf(participant), ...this.kept(participant) },
      })
    })
    for (const process of processes) this.readLanes(process, poolOf.get(process.attributes['id'] ?? ''))
    // A pool without lanes still has to be drawn: it gets one of its own name.
    participants.forEach((participant) => {
      const ref = participant.attributes['processRef']
      const process = processes.find(({ attributes }) => attributes['id'] === ref)
      if (process?.children.some(({ name }) => name === 'laneSet')) return
      const pool = this.ids.get(participant.attributes['id'] ?? '')
      const id = this.wish.newId()
      this.add({
        id,
        kind: 'lane',
        name: participant.attributes['name'] ?? 'Lane',
        fields: { process: this.process, order: ++this.lanes, ...(pool ? { pool } : {}) },
      })
      for (const child of process?.children ?? [])
        if (child.attributes['id'] && FLOW_TAGS.has(child.name)) this.laneOf.set(child.attributes['id'], id)
    })
    for (const process of processes) this.readLevel(process, undefined)
    this.connect()
    for (const message of collaboration?.children.filter(({ name }) => name === 'messageFlow') ?? []) {
      const [source, target] = [
        this.ids.get(message.attributes['sourceRef'] ?? ''),
        this.ids.get(message.attributes['targetRef'] ?? ''),
      ]
      if (!source || !target) {
        this.skip('message to or from what is not there')
        continue
      }
      const label = message.attributes['name']
      this.relate({
        id: this.idFor(message.attributes['id'] ?? ''),
        kind: 'message',
        source,
        target,
        fields: { ...(label ? { label: cut(label, 400) } : {}), ...this.noteOf(message), ...this.kept(message) },
      })
    }
    const view = this.view(title)
    this.steps.push({ do: 'add-view', view })
    const count = (kind: string) =>
      this.steps.filter((step) => step.do === 'add-entity' && step.entity.kind === kind).length
    const lines = this.steps.filter((step) => step.do === 'add-relation' && step.relation.kind === 'flow').length
    const notes = [...this.skipped].map(
      ([name, number]) => `${number} × “${name}” has no place among the facts and is left out.`,
    )
    return {
      change: { label: `Bring in the process “${title}”`, steps: this.steps },
      view: view.id,
      facts: [
        `${count('step')} steps, ${count('event')} events, ${count('gateway')} gateways, ${count('lane')} lanes and ${lines} lines are new, as process “${title}”.`,
        ...notes,
      ],
    }
  }

  private skip(what: string): void {
    this.skipped.set(what, (this.skipped.get(what) ?? 0) + 1)
  }

  /** What a file says about an element in words is its note. */
  private noteOf(node: Node | undefined): Fields {
    const words = node?.children.filter(({ name, space }) => name === 'documentation' && space === BPMN) ?? []
    const note = words
      .map(({ text }) => text.trim())
      .filter(Boolean)
      .join('\n\n')
    return note === '' ? {} : { note: cut(note, LIMITS.note) }
  }

  /** What a file defines beside its processes: messages, errors and the like, which elements refer to. */
  private rootsOf(): string {
    const apart = new Set(['process', 'collaboration', 'BPMNDiagram', 'extensionElements', 'documentation'])
    return this.definitions.children
      .filter(({ name }) => !apart.has(name))
      .map(written)
      .join('')
  }

  /** What an element says beyond the facts; where that is more than a fact holds, it is counted as left out. */
  private kept(
    node: Node | undefined,
    tag?: string,
    namespaces: Readonly<Record<string, string>> = {},
    roots = '',
  ): Fields {
    const text = node ? keptText(node, tag, namespaces, roots) : '{}'
    if (text === '{}') return {}
    if (text.length <= LIMITS.note) return { kept: text }
    this.skip('extension that is longer than a fact holds')
    return {}
  }

  private add(entity: Entity): void {
    this.steps.push({ do: 'add-entity', entity })
  }
  private relate(relation: Relation): void {
    this.steps.push({ do: 'add-relation', relation })
  }

  /** The file’s own identity where it is free here, else a new one. */
  private idFor(key: string): Id {
    const known = this.ids.get(key)
    if (known !== undefined) return known
    const { entities, relations } = this.wish.model
    const own = key.startsWith('_') && isId(key.slice(1)) ? key.slice(1) : key
    const free = isId(own) && !entities.has(own) && !relations.has(own) && !this.taken.has(own)
    const id = free ? own : this.wish.newId()
    this.taken.add(id)
    if (key !== '') this.ids.set(key, id)
    return id
  }

  /** What a text names among the facts, by identity where it is known. */
  private named(text: string, kinds: readonly string[]): string {
    return (
      kinds.flatMap((kind) => this.wish.model.ofKind(kind)).find(({ name, id }) => name === text || id === text)?.id ??
      text
    )
  }

  private readLanes(process: Node, pool: Id | undefined): void {
    const visit = (set: Node) => {
      for (const lane of set.children.filter(({ name }) => name === 'lane')) {
        const inner = lane.children.find(({ name }) => name === 'childLaneSet')
        if (inner) {
          this.skip('lane around other lanes')
          visit(inner)
          continue
        }
        const id = this.idFor(lane.attributes['id'] ?? '')
        const own = ownFacts(lane)
        const title = lane.attributes['name'] ?? 'Lane'
        const of = own['of'] ?? this.wish.model.ofKind('role').find(({ name }) => name === title)?.name
        this.add({
          id,
          kind: 'lane',
          name: title,
          fields: {
            process: this.process,
            order: ++this.lanes,
            ...(pool ? { pool } : {}),
            ...(of ? { of: this.named(of, ['role', 'position', 'unit', 'system']) } : {}),
            ...this.noteOf(lane),
            ...this.kept(lane),
          },
        })
        for (const ref of lane.children.filter(({ name }) => name === 'flowNodeRef')) this.laneOf.set(ref.text, id)
      }
    }
    for (const set of process.children.filter(({ name }) => name === 'laneSet')) visit(set)
  }

  private readLevel(level: Node, inside: Id | undefined): void {
    for (const child of level.children) {
      const known = FLOW_TAGS.get(child.name)
      if (known && child.space === BPMN) this.readNode(child, known, inside)
      else if (child.name === 'sequenceFlow')
        this.flows.push({
          raw: child,
          source: child.attributes['sourceRef'] ?? '',
          target: child.attributes['targetRef'] ?? '',
        })
      else if (!KNOWN.has(child.name)) this.skip(child.name)
    }
  }

  private readNode(node: Node, known: { kind: string; type: string; kept?: string }, inside: Id | undefined): void {
    const { kind, type } = known
    const key = node.attributes['id'] ?? ''
    const id = this.idFor(key)
    const own = ownFacts(node)
    const trigger = kind === 'event' ? node.children.flatMap(({ name }) => TRIGGERS.get(name) ?? [])[0] : undefined
    const byDefault = node.attributes['default']
    if (byDefault !== undefined) this.defaults.add(byDefault)
    this.add({
      id,
      kind,
      name: cut(node.attributes['name']?.replace(/\s+/g, ' ').trim() ?? '', 400) || UNNAMED,
      fields: {
        type,
        ...(trigger ? { trigger } : {}),
        process: this.process,
        ...(inside ? { inside } : {}),
        order: ++this.order,
        ...(own['phase'] ? { phase: this.phase(own['phase']) } : {}),
        ...(own['tool'] ? { tool: this.named(own['tool'], ['system']) } : {}),
        ...(own['alt'] ? { alt: own['alt'] } : {}),
        ...numbersOf(own, kind),
        ...this.noteOf(node),
        ...this.kept(node, known.kept),
      },
    })
    const host = node.attributes['attachedToRef']
    if (host !== undefined) this.attached.push({ id, host, goesOn: node.attributes['cancelActivity'] === 'false' })
    const lane = this.laneOf.get(key) ?? (own['lane'] ? this.laneNamed(own['lane']) : undefined)
    if (lane) this.relate({ id: this.wish.newId(), kind: 'performed-in', source: id, target: lane, fields: {} })
    if (type === 'subprocess')
      this.readLevel(
        { ...node, children: node.children.filter(({ name }) => !KNOWN.has(name) || name === 'sequenceFlow') },
        id,
      )
    for (const child of node.children)
      if (child.name === 'dataInputAssociation' || child.name === 'dataOutputAssociation') {
        const reads = child.name === 'dataInputAssociation'
        const ref = child.children.find(({ name }) => name === (reads ? 'sourceRef' : 'targetRef'))?.text
        if (ref)
          this.later.push({
            id: this.idFor(child.attributes['id'] ?? ''),
            kind: reads ? 'reads' : 'writes',
            source: id,
            ref,
          })
      }
  }
  private readonly attached: { id: Id; host: string; goesOn: boolean }[] = []
  private readonly later: { id: Id; kind: string; source: Id; ref: string }[] = []

  private laneNamed(name: string): Id | undefined {
    for (const step of this.steps)
      if (step.do === 'add-entity' && step.entity.kind === 'lane' && step.entity.name === name) return step.entity.id
    return undefined
  }

  private phase(name: string): Id {
    const known = this.phases.get(name)
    if (known) return known
    const id = this.wish.newId()
    this.phases.set(name, id)
    this.add({ id, kind: 'phase', name, fields: { process: this.process, order: this.phases.size } })
    return id
  }

  private connect(): void {
    this.flows.forEach(({ raw, source, target }, index) => {
      const [from, to] = [this.ids.get(source), this.ids.get(target)]
      if (!from || !to) return this.skip('line to or from what is not there')
      const own = ownFacts(raw)
      const condition = raw.children.find(({ name }) => name === 'conditionExpression')?.text
      const label = raw.attributes['name']
      const key = raw.attributes['id'] ?? ''
      const fields: Fields = {
        ...(label ? { label: cut(label, 400) } : {}),
        ...(condition ? { condition: cut(condition, 400) } : {}),
        ...numbersOf(own, 'flow'),
        ...(this.defaults.has(key) ? { default: true } : {}),
        order: index + 1,
        ...this.noteOf(raw),
        ...this.kept(raw),
      }
      this.relate({ id: this.idFor(key), kind: 'flow', source: from, target: to, fields })
    })
    for (const { id, host, goesOn } of this.attached) {
      const target = this.ids.get(host)
      if (!target) this.skip('event at a step that is not there')
      else
        this.relate({
          id: this.wish.newId(),
          kind: 'attached-to',
          source: id,
          target,
          fields: goesOn ? { goesOn: true } : {},
        })
    }
    for (const { id, kind, source, ref } of this.later) {
      const target = this.ids.get(ref)
      if (target) this.relate({ id, kind, source, target, fields: {} })
    }
  }

  /** A view that shows the file’s own places, where it has them. */
  private view(title: string): View {
    const pins: Record<string, readonly [number, number]> = {}
    const walk = (node: Node) => {
      const id = this.ids.get(node.attributes['bpmnElement'] ?? '')
      if (node.space === BPMNDI && id) {
        const bounds = node.children.find(({ name }) => name === 'Bounds')?.attributes
        if (node.name === 'BPMNShape' && bounds) {
          pins[`at ${id}`] = [Number(bounds['x']), Number(bounds['y'])]
          pins[`size ${id}`] = [Number(bounds['width']), Number(bounds['height'])]
        }
        if (node.name === 'BPMNEdge')
          node.children
            .filter(({ name }) => name === 'waypoint')
            .forEach(
              ({ attributes }, index) =>
                (pins[`way ${id} ${index}`] = [Number(attributes['x']), Number(attributes['y'])]),
            )
      }
      node.children.forEach(walk)
    }
    this.definitions.children.filter(({ name }) => name === 'BPMNDiagram').forEach(walk)
    const finite = Object.fromEntries(Object.entries(pins).filter(([, pair]) => pair.every(Number.isFinite)))
    const placed = Object.keys(finite).some((key) => key.startsWith('at '))
    const order = Math.max(0, ...[...this.wish.model.views.values()].map((one) => one.order)) + 1
    return {
      id: this.wish.newId(),
      notation: 'process',
      picture: 'lanes',
      title,
      order,
      scope: { process: this.process },
      options: placed ? { places: 'as in the file' } : {},
      pins: finite,
      look: {},
    }
  }
}

/** The attributes of our own element among the extensions. */
function ownFacts(node: Node): Readonly<Record<string, string>> {
  const extensions = node.children.find(({ name }) => name === 'extensionElements')
  return extensions?.children.find(({ name, space }) => name === 'facts' && space === OWN)?.attributes ?? {}
}

function numbersOf(own: Readonly<Record<string, string>>, kind: string): Fields {
  return Object.fromEntries(
    (OWN_FIELDS[kind] ?? []).flatMap((id) => {
      const written = own[id]
      if (written === undefined || id === 'label') return []
      const number = Number(written)
      return [[id, Number.isFinite(number) && !['version', 'trigger', 'worth'].includes(id) ? number : written]]
    }),
  )
}
