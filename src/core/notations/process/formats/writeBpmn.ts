import { covers, type Day, type Entity, type Id, type Model, type Relation, type View } from '../../../model'
import type { FileExport } from '../../../notation'
import { UNNAMED } from '../kinds'
import { drawFlow } from '../pictures/flow'
import { poolOf } from '../edits'
import { isForeign } from '../foreignPlaces'
import { placesOf } from '../pictures/foreign'
import { inFlowOrder, lanesDrawn, processOf, processOn, type FlowNode, type Process } from '../structure'
import { BPMN, BPMNDI, DC, DI, GATEWAY_TAGS, OWN, OWN_FIELDS, readKept, STEP_TAGS, TRIGGER_TAGS } from './names'

/** The process of a view as BPMN 2.0 XML with diagram interchange, valid against the OMG’s schemas; what another program’s file kept is in it again. O(layout). */
export const bpmnExport = {
  id: 'bpmn',
  title: 'BPMN 2.0',
  extension: '.bpmn',
  mediaType: 'application/xml',
  write: writeBpmn,
} satisfies FileExport

const escape = (text: string): string =>
  text
    // XML 1.0 has no place for control characters.
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, ' ')
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/>/g, '&gt;')
    .replace(/"/g, '&quot;')

type Attributes = Readonly<Record<string, string | number | boolean | undefined>>

/** An element; without children it closes itself. */
function element(tag: string, attributes: Attributes, children: readonly string[] = []): string {
  const written = Object.entries(attributes)
    .map(([name, value]) => (value === undefined ? '' : ` ${name}="${escape(String(value))}"`))
    .join('')
  const inner = children.filter((child) => child !== '')
  return inner.length === 0 ? `<${tag}${written}/>` : `<${tag}${written}>\n${inner.join('\n')}\n</${tag}>`
}

/** An identity that XML takes: it begins with a letter or underscore (NCName). */
const xmlId = (id: string): string => (/^[A-Za-z_][\w.-]*$/.test(id) ? id : `_${id.replace(/[^\w.-]/g, '-')}`)

const nameOf = (entity: Entity): string | undefined => (entity.name === UNNAMED ? undefined : entity.name)

function writeBpmn(model: Model, view: View, day: Day): string {
  const top = processOn(model, processOf(model, view), day)
  const parts = partsOf(top)
  const kept = readKept(top.process?.fields['kept'])
  const collaborates = top.pools.length > 0
  const collaboration = collaborates
    ? element('collaboration', { id: 'collaboration' }, [
        ...top.pools.map((pool) =>
          element(
            'participant',
            {
              id: xmlId(pool.id),
              name: pool.name,
              processRef: parts.find((part) => part.pool === pool.id)?.id,
            },
            [documentation(pool)],
          ),
        ),
        ...top.messages.map((message) =>
          element(
            'messageFlow',
            {
              id: xmlId(message.id),
              name: text(message.fields['label']),
              sourceRef: xmlId(message.source),
              targetRef: xmlId(message.target),
            },
            [documentation(message)],
          ),
        ),
      ])
    : ''
  const processes = parts.map((part) => processXml(model, day, top, part))
  const body = [kept.roots ?? '', collaboration, ...processes, diagram(model, view, day, top, parts)]
  const attributes: Attributes = {
    xmlns: BPMN,
    'xmlns:bpmndi': BPMNDI,
    'xmlns:dc': DC,
    'xmlns:di': DI,
    'xmlns:skivel': OWN,
    'xmlns:xsi': 'http://www.w3.org/2001/XMLSchema-instance',
    ...Object.fromEntries(Object.entries(kept.namespaces ?? {}).map(([prefix, uri]) => [`xmlns:${prefix}`, uri])),
    id: 'definitions',
    targetNamespace: OWN,
    exporter: 'Skivel',
  }
  return `<?xml version="1.0" encoding="UTF-8"?>\n${element('definitions', attributes, body)}\n`
}

/** The part of a process that one pool does, as a process of its own. */
interface Part {
  readonly id: string
  readonly pool: Id | undefined
  readonly nodes: readonly FlowNode[]
  readonly lanes: readonly Entity[]
  readonly first: boolean
}

function partsOf(process: Process): Part[] {
  const nodes = inFlowOrder(process)
  const id = xmlId(process.process?.id ?? 'process')
  if (process.pools.length === 0) return [{ id, pool: undefined, nodes, lanes: process.lanes, first: true }]
  const [main] = process.pools
  const parts = process.pools.map((pool, index): Part => ({
    id: index === 0 ? id : `${id}-${index + 1}`,
    pool: pool.id,
    // What is in no lane belongs to the first pool.
    nodes: nodes.filter((node) => (poolOf(process, node) ?? main?.id) === pool.id),
    lanes: process.lanes.filter((lane) => (lane.fields['pool'] ?? main?.id) === pool.id),
    first: index === 0,
  }))
  return parts.filter(({ nodes: own, first }) => own.length > 0 || first)
}

const text = (value: unknown): string | undefined => (typeof value === 'string' && value !== '' ? value : undefined)

function extensions(facts: Entity | Relation, kind: string, more: Attributes = {}): string {
  const own = Object.fromEntries(
    (OWN_FIELDS[kind] ?? []).flatMap((id) =>
      facts.fields[id] === undefined || id === 'label' ? [] : [[id, String(facts.fields[id])]],
    ),
  )
  const attributes = { ...own, ...more }
  const ours = Object.values(attributes).some((value) => value !== undefined) ? element('skivel:facts', attributes) : ''
  const kept = readKept(facts.fields['kept']).extensions ?? ''
  return ours === '' && kept === '' ? '' : element('extensionElements', {}, [ours, kept])
}

function processXml(model: Model, day: Day, process: Process, { id, nodes, lanes, first }: Part): string {
  const own = process.process
  const owner = text(own?.fields['owner'])
  const here = new Set(nodes.map((node) => node.id))
  const laneSet =
    lanes.length === 0
      ? ''
      : element(
          'laneSet',
          { id: `${id}-lanes` },
          lanes.map((lane) => {
            const of = text(lane.fields['of'])
            return element('lane', { id: xmlId(lane.id), name: lane.name, ...keptAttributes(lane, 'lane') }, [
              documentation(lane),
              extensions(lane, 'lane', { of: of && (model.entities.get(of as Id)?.name ?? of) }),
              ...nodes
                .filter((node) => node.lane === lane.id && node.kind !== 'data')
                .map((node) => `<flowNodeRef>${xmlId(node.id)}</flowNodeRef>`),
            ])
          }),
        )
  return element(
    'process',
    {
      id,
      name: first ? own?.name : undefined,
      isExecutable: false,
      ...(own && first ? keptAttributes(own, 'process') : {}),
    },
    [
      own && first ? documentation(own) : '',
      own && first
        ? extensions(own, 'process', { owner: owner && (model.entities.get(owner as Id)?.name ?? owner) })
        : '',
      laneSet,
      ...level(model, day, process, nodes, here),
    ],
  )
}

/** What another program said in attributes: those of BPMN only on the tag that they were on. */
function keptAttributes({ fields }: Entity | Relation, tag: string): Attributes {
  const { attributes, more, of } = readKept(fields['kept'])
  return { ...(of === tag ? more : {}), ...attributes }
}

/** A note is what BPMN calls documentation; it comes first. */
const documentation = ({ fields }: Entity | Relation): string => {
  const note = text(fields['note'])
  return note === undefined ? '' : `<documentation>${escape(note)}</documentation>`
}

/** The elements and lines of one level, subprocesses with their inside. */
function level(model: Model, day: Day, process: Process, nodes: readonly FlowNode[], here: ReadonlySet<Id>): string[] {
  const flows = process.flows.filter(({ source, target }) => here.has(source) && here.has(target))
  const into = (node: FlowNode) =>
    node.into.filter((flow) => flows.includes(flow)).map(({ id }) => `<incoming>${xmlId(id)}</incoming>`)
  const out = (node: FlowNode) =>
    node.out.filter((flow) => flows.includes(flow)).map(({ id }) => `<outgoing>${xmlId(id)}</outgoing>`)
  const phaseOf = (node: FlowNode) => (node.phase === undefined ? undefined : model.entities.get(node.phase)?.name)
  const written = nodes.flatMap((node): string[] => {
    const { entity, kind, type, id } = node
    const kept = readKept(entity.fields['kept'])
    const named = (tag: string) => ({ id: xmlId(id), name: nameOf(entity), ...keptAttributes(entity, tag) })
    const loop = (tag: string) => (kept.of === tag ? (kept.loop ?? '') : '')
    // A lane refers to no data, and to nothing inside a subprocess.
    const unsaid = kind === 'data' || process.inside !== undefined
    const lane = unsaid && node.lane !== undefined ? model.entities.get(node.lane)?.name : undefined
    const tool = text(entity.fields['tool'])
    const head = extensions(entity, kind, {
      phase: phaseOf(node),
      lane,
      tool: tool && (model.entities.get(tool as Id)?.name ?? tool),
      alt: text(entity.fields['alt']),
    })
    if (kind === 'data') {
      if (type === 'store')
        return [element('dataStoreReference', named('dataStoreReference'), [documentation(entity), head])]
      return [
        element('dataObject', { id: `${xmlId(id)}-object` }),
        element('dataObjectReference', { ...named('dataObjectReference'), dataObjectRef: `${xmlId(id)}-object` }, [
          documentation(entity),
          head,
        ]),
      ]
    }
    const children = [documentation(entity), head, ...into(node), ...out(node)]
    if (kind === 'gateway') {
      const byDefault = node.out.find(({ fields }) => fields['default'] === true)
      const allowed = byDefault && (type === 'exclusive' || type === 'inclusive')
      const tag = kept.tag ?? GATEWAY_TAGS[type] ?? 'exclusiveGateway'
      return [element(tag, { ...named(tag), default: allowed ? xmlId(byDefault.id) : undefined }, children)]
    }
    if (kind === 'event') {
      const said = text(entity.fields['trigger'])
      const trigger = TRIGGER_TAGS[said ?? 'none']
      // What another program said of the trigger holds as long as it is the trigger.
      const same = kept.definitions !== undefined && kept.trigger === (said === 'none' ? undefined : said)
      const definition = same
        ? (kept.definitions ?? '')
        : trigger
          ? element(trigger, { id: `${xmlId(id)}-trigger` })
          : ''
      const tag =
        type === 'start'
          ? 'startEvent'
          : type === 'end'
            ? 'endEvent'
            : (kept.tag ?? (trigger ? 'intermediateCatchEvent' : 'intermediateThrowEvent'))
      if (node.during && type === 'intermediate') {
        const during = {
          attachedToRef: xmlId(node.during.target),
          cancelActivity: node.during.fields['goesOn'] !== true,
        }
        return [element('boundaryEvent', { ...named('boundaryEvent'), ...during }, [...children, definition])]
      }
      return [element(tag, named(tag), [...children, definition])]
    }
    const data = dataXml(model, day, id, here)
    const inner = processOn(model, process.process?.id, day, id)
    const inside = inFlowOrder(inner)
    // Another process that is called is told by its name; once it has an inside here, that is what is written.
    if (type !== 'subprocess' || (kept.tag === 'callActivity' && inside.length === 0)) {
      const tag = kept.tag ?? STEP_TAGS[type] ?? 'task'
      return [element(tag, named(tag), [...children, ...data, loop(tag)])]
    }
    return [
      element('subProcess', named('subProcess'), [
        ...children,
        ...data,
        loop('subProcess'),
        ...level(model, day, inner, inside, new Set(inside.map((one) => one.id))),
      ]),
    ]
  })
  return [...written, ...flows.map(flowXml)]
}

function flowXml(flow: Relation): string {
  const condition = text(flow.fields['condition'])
  return element(
    'sequenceFlow',
    {
      id: xmlId(flow.id),
      name: text(flow.fields['label']),
      sourceRef: xmlId(flow.source),
      targetRef: xmlId(flow.target),
      ...keptAttributes(flow, 'sequenceFlow'),
    },
    [
      documentation(flow),
      extensions(flow, 'flow'),
      condition === undefined
        ? ''
        : `<conditionExpression xsi:type="tFormalExpression">${escape(condition)}</conditionExpression>`,
    ],
  )
}

/** What a step reads and writes: associations with a property of the step, as the schema asks for. */
function dataXml(model: Model, day: Day, step: Id, here: ReadonlySet<Id>): string[] {
  const ties = ['reads', 'writes'].flatMap((kind) =>
    model.leaving(step, kind).filter((tie) => covers(tie, day) && here.has(tie.target)),
  )
  const reads = ties.filter(({ kind }) => kind === 'reads')
  const properties = reads.map(({ id }) => element('property', { id: `${xmlId(id)}-place`, name: 'data' }))
  return [
    ...properties,
    ...reads.map(({ id, target }) =>
      element('dataInputAssociation', { id: xmlId(id) }, [
        `<sourceRef>${xmlId(target)}</sourceRef>`,
        `<targetRef>${xmlId(id)}-place</targetRef>`,
      ]),
    ),
    ...ties
      .filter(({ kind }) => kind === 'writes')
      .map(({ id, target }) =>
        element('dataOutputAssociation', { id: xmlId(id) }, [`<targetRef>${xmlId(target)}</targetRef>`]),
      ),
  ]
}

const HEAD = { pool: 30, lane: 130 }

/** Bounds of shapes and waypoints of lines, as the lanes picture draws them. */
function diagram(model: Model, view: View, day: Day, process: Process, parts: readonly Part[]): string {
  if (isForeign(view)) return foreignDiagram(view, process, parts)
  const pooled = process.pools.length > 0
  const left = 40 + (pooled ? HEAD.pool : 0) + (process.lanes.length > 0 ? HEAD.lane - HEAD.pool : 0)
  const top = 40
  const drawn = drawFlow(
    {
      model,
      view: { ...view, pins: {} },
      day,
      process,
      lanes: lanesDrawn(process),
      shapes: 'BPMN',
      down: false,
      showData: true,
      showPhases: true,
      showNumbers: false,
    },
    left,
    top,
  )
  const boxes = new Map(drawn.items.map(({ id, box }) => [id, box]))
  const bounds = (x: number, y: number, width: number, height: number) =>
    element('dc:Bounds', { x: round(x), y: round(y), width: round(width), height: round(height) })
  const laneArea = (index: number) => drawn.places.lanes[index] ?? { from: 0, to: 0 }
  const shapes: string[] = []
  const bands = lanesDrawn(process)
  process.pools.forEach((pool) => {
    const own = bands.flatMap((lane, index) => (lane.fields['pool'] === pool.id ? [laneArea(index)] : []))
    const [first, last] = [own[0], own.at(-1)]
    if (!first || !last) return
    shapes.push(
      element('bpmndi:BPMNShape', { id: `${xmlId(pool.id)}-shape`, bpmnElement: xmlId(pool.id), isHorizontal: true }, [
        bounds(left - HEAD.lane, top + first.from, drawn.places.length + HEAD.lane, last.to - first.from),
      ]),
    )
  })
  const written = new Set(parts.flatMap(({ lanes }) => lanes.map(({ id }) => id)))
  bands.forEach((lane, index) => {
    if (!written.has(lane.id)) return
    const { from, to } = laneArea(index)
    const inset = pooled ? HEAD.pool : 0
    shapes.push(
      element('bpmndi:BPMNShape', { id: `${xmlId(lane.id)}-shape`, bpmnElement: xmlId(lane.id), isHorizontal: true }, [
        bounds(left - HEAD.lane + inset, top + from, drawn.places.length + HEAD.lane - inset, to - from),
      ]),
    )
  })
  for (const node of process.nodes.values()) {
    const box = boxes.get(node.id)
    if (!box) continue
    const marker = node.kind === 'gateway' && node.type === 'exclusive' ? true : undefined
    shapes.push(
      element(
        'bpmndi:BPMNShape',
        {
          id: `${xmlId(node.id)}-shape`,
          bpmnElement: xmlId(node.id),
          isMarkerVisible: marker,
          isExpanded: node.type === 'subprocess' ? false : undefined,
        },
        [bounds(box.x, box.y, box.width, box.height)],
      ),
    )
  }
  // That an event happens during a step is no line in BPMN.
  const during = new Set([...process.nodes.values()].flatMap((node) => node.during?.id ?? []))
  const edges = [...drawn.ways].flatMap(([id, way]) => (during.has(id) ? [] : edgeXml(id, way)))
  return planeXml(process, parts, [...shapes, ...edges])
}

const edgeXml = (id: Id, way: readonly { readonly x: number; readonly y: number }[]): string =>
  element(
    'bpmndi:BPMNEdge',
    { id: `${xmlId(id)}-edge`, bpmnElement: xmlId(id) },
    way.map(({ x, y }) => element('di:waypoint', { x: round(x), y: round(y) })),
  )

function planeXml(process: Process, parts: readonly Part[], drawn: readonly string[]): string {
  const of = process.pools.length > 0 ? 'collaboration' : (parts[0]?.id ?? 'process')
  const plane = element('bpmndi:BPMNPlane', { id: 'plane', bpmnElement: of }, drawn)
  return element('bpmndi:BPMNDiagram', { id: 'diagram' }, [plane])
}

/** The places that a process had in the file it came from, as long as they are shown; what has come since stands where it is drawn. */
function foreignDiagram(view: View, process: Process, parts: readonly Part[]): string {
  const { boxes, ways } = placesOf(view, process)
  const shapes = [...boxes].map(([id, box]) => {
    const node = process.nodes.get(id)
    const kind = node?.kind
    return element(
      'bpmndi:BPMNShape',
      {
        id: `${xmlId(id)}-shape`,
        bpmnElement: xmlId(id),
        isHorizontal: kind === undefined ? true : undefined,
        isMarkerVisible: kind === 'gateway' && node?.type === 'exclusive' ? true : undefined,
        isExpanded: node?.type === 'subprocess' ? false : undefined,
      },
      [element('dc:Bounds', { x: round(box.x), y: round(box.y), width: round(box.width), height: round(box.height) })],
    )
  })
  return planeXml(process, parts, [...shapes, ...[...ways].map(([id, way]) => edgeXml(id, way))])
}

const round = (value: number): number => Math.round(value * 100) / 100
