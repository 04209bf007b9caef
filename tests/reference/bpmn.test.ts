import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import { readFileSync } from 'node:fs'
import { BpmnModdle } from 'bpmn-moddle'
import { XmlDocument, XsdValidator } from 'libxml2-wasm'
import { xmlRegisterFsInputProviders } from 'libxml2-wasm/lib/nodejs.mjs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { parseWorkspace } from '../../src/core/file'
import { findingsOf } from '../../src/core/findings'
import { apply, Model, type Entity, type Relation } from '../../src/core/model'
import { registry } from '../../src/core/notations'
import { decodeText } from '../../src/core/tabular'
import { processOn } from '../../src/core/notations/process/structure'
import { marramSoundFerries } from '../../src/demo'
import { after, flowView, nodeNamed, process, told, text, wishOf, act } from '../core/process/facts'
import { DAY, numbering, writtenAtOnce } from '../facts'

const [writer] = process.exports
const reader = await process.files[0]?.load()
if (!writer || !reader) throw new Error('no BPMN')
const written = (
  model: Model,
  view = [...model.views.values()].find(({ notation }) => notation === 'process') ?? flowView(),
): string => writtenAtOnce(writer.write(model, view, DAY))
function read(xml: string, into = Model.of({ name: 'Read' })) {
  const found = reader?.read(wishOf(into, { newId: numbering('r') }), xml)
  if (!found || 'refused' in found) throw new Error(found?.refused ?? 'nothing')
  return { model: apply(into, found.change).model, facts: found.facts }
}

/** The schemas of the OMG (formal/13-12-09; ISO/IEC 19510) as npm bpmn-moddle ships them, validated with libxml2. */
const folder = join(
  dirname(createRequire(import.meta.url).resolve('bpmn-moddle/package.json')),
  'resources',
  'bpmn',
  'xsd',
)
let validator: XsdValidator
beforeAll(() => {
  xmlRegisterFsInputProviders()
  const schema = XmlDocument.fromBuffer(readFileSync(join(folder, 'BPMN20.xsd')), { url: join(folder, 'BPMN20.xsd') })
  validator = XsdValidator.fromDoc(schema)
  schema.dispose()
})
afterAll(() => validator.dispose())
function expectValid(xml: string): void {
  const document = XmlDocument.fromString(xml)
  try {
    validator.validate(document)
  } finally {
    document.dispose()
  }
}

/** Facts with what differs by file left out: identities, orders and where each line is kept. */
function facts(model: Model) {
  const name = (id: string) => model.entities.get(id as Entity['id'])?.name ?? id
  const clean = (fields: Entity['fields']) =>
    Object.fromEntries(
      Object.entries(fields)
        .filter(([key]) => !['order', 'process', 'kept'].includes(key))
        .map(([key, value]) => [key, typeof value === 'string' ? name(value) : value])
        .sort(([a], [b]) => String(a).localeCompare(String(b))),
    )
  const kinds = new Set(['process', 'pool', 'lane', 'phase', 'step', 'event', 'gateway', 'data'])
  const ties = new Set(['flow', 'message', 'performed-in', 'reads', 'writes'])
  return {
    entities: [...model.entities.values()]
      .filter(({ kind }) => kinds.has(kind))
      .map(({ kind, name: own, fields }) => JSON.stringify([kind, own, clean(fields)]))
      .sort(),
    relations: [...model.relations.values()]
      .filter(({ kind }) => ties.has(kind))
      .map(({ kind, source, target, fields }: Relation) =>
        JSON.stringify([kind, name(source), name(target), clean(fields)]),
      )
      .sort(),
  }
}
/** The demo’s process alone, as a file knows it. */
function alone(model: Model, id: string): Model {
  const own = (entity: Entity) => entity.id === id || entity.fields['process'] === id
  const entities = [...model.entities.values()].filter(
    (entity) => own(entity) || ['role', 'system', 'position', 'person'].includes(entity.kind),
  )
  const here = new Set(entities.map((entity) => entity.id))
  const views = [...model.views.values()].filter((view) => view.scope['process'] === id)
  return Model.of({
    entities,
    relations: [...model.relations.values()].filter(({ source, target }) => here.has(source) && here.has(target)),
    views,
  })
}

describe('BPMN 2.0 that is written', () => {
  const demo = marramSoundFerries()
  it.each(['process-sc', 'process-fp'])(
    'of %s is valid against the OMG’s schemas, and bpmn-moddle reads it without a warning',
    async (id) => {
      const xml = written(alone(demo, id))
      expectValid(xml)
      const { warnings } = await new BpmnModdle().fromXML(xml)
      expect(warnings).toEqual([])
    },
  )
  it('is refused by the schemas when it is broken, so that the check can fail', () => {
    expect(() => expectValid(written(alone(demo, 'process-fp')).replace('<startEvent', '<begin'))).toThrow()
  })
  it.each(['process-sc', 'process-fp'])('of %s is read back as the same facts', (id) => {
    const own = alone(demo, id)
    const shared = Model.of({
      entities: [...own.entities.values()].filter(({ kind }) =>
        ['role', 'system', 'position', 'person'].includes(kind),
      ),
    })
    expect(facts(read(written(own), shared).model)).toEqual(facts(own))
  })
  it('of a subprocess holds its inside, valid and read back', () => {
    const model = told('Pick goods @ Store\nPack goods\nSend goods @ Desk')
    const wrapped = after(
      model,
      act(
        model,
        'wrap',
        ['Pick goods', 'Pack goods'].map((name) => nodeNamed(model, name)),
      ),
    )
    const xml = written(wrapped)
    expectValid(xml)
    const { model: again } = read(xml)
    expect(facts(again)).toEqual(facts(wrapped))
    expect(processOn(again, again.ofKind('process')[0]?.id, DAY).nodes.size).toBe(4)
  })
})

/** A file of another program’s sort, made up here: prefixes, unknown extensions, its own places. */
const FOREIGN = `<?xml version="1.0" encoding="UTF-8"?>
<b:definitions xmlns:b="http://www.omg.org/spec/BPMN/20100524/MODEL" xmlns:di="http://www.omg.org/spec/BPMN/20100524/DI" xmlns:dc="http://www.omg.org/spec/DD/20100524/DC" xmlns:dd="http://www.omg.org/spec/DD/20100524/DI" xmlns:acme="urn:acme:made-up" id="d" targetNamespace="urn:x">
  <b:process id="p1" name="Small" isExecutable="false">
    <b:laneSet id="ls"><b:lane id="l1" name="Desk"><b:flowNodeRef>s</b:flowNodeRef><b:flowNodeRef>t</b:flowNodeRef><b:flowNodeRef>e</b:flowNodeRef></b:lane></b:laneSet>
    <b:startEvent id="s"><b:outgoing>f1</b:outgoing></b:startEvent>
    <b:scriptTask id="t" name="Count &amp; sort" acme:colour="green">
      <b:extensionElements><acme:budget currency="EUR"><acme:line>12 &lt; 13</acme:line></acme:budget></b:extensionElements>
      <b:incoming>f1</b:incoming><b:outgoing>f2</b:outgoing>
    </b:scriptTask>
    <b:endEvent id="e"><b:incoming>f2</b:incoming></b:endEvent>
    <b:sequenceFlow id="f1" sourceRef="s" targetRef="t"/>
    <b:sequenceFlow id="f2" sourceRef="t" targetRef="e"/>
    <b:textAnnotation id="note"><b:text>remember</b:text></b:textAnnotation>
  </b:process>
  <di:BPMNDiagram id="dg"><di:BPMNPlane id="pl" bpmnElement="p1">
    <di:BPMNShape id="s_" bpmnElement="s"><dc:Bounds x="100" y="90" width="36" height="36"/></di:BPMNShape>
    <di:BPMNShape id="t_" bpmnElement="t"><dc:Bounds x="200" y="68" width="100" height="80"/></di:BPMNShape>
    <di:BPMNShape id="e_" bpmnElement="e"><dc:Bounds x="380" y="90" width="36" height="36"/></di:BPMNShape>
    <di:BPMNEdge id="f1_" bpmnElement="f1"><dd:waypoint x="136" y="108"/><dd:waypoint x="200" y="108"/></di:BPMNEdge>
    <di:BPMNEdge id="f2_" bpmnElement="f2"><dd:waypoint x="300" y="108"/><dd:waypoint x="380" y="108"/></di:BPMNEdge>
  </di:BPMNPlane></di:BPMNDiagram>
</b:definitions>`

describe('BPMN 2.0 of another program', () => {
  it('opens where the file put it, and “arrange” puts it where we do', () => {
    const { model, facts: words } = read(FOREIGN)
    const [view] = model.views.values()
    if (!view) throw new Error('no view')
    const [lanes] = process.pictures
    const item = (in_: Model) =>
      lanes?.draw(in_, in_.views.get(view.id) ?? view, DAY).items.find(({ id }) => id === 't')
    expect(item(model)?.box).toEqual({ x: 200, y: 68, width: 100, height: 80 })
    const arranged = after(model, act(model, 'arrange', [], { view }))
    expect(item(arranged)?.box.width).toBe(112)
    expect(words).toEqual([
      '1 steps, 2 events, 0 gateways, 1 lanes and 2 lines are new, as process “Small”.',
      '1 × “textAnnotation” has no place among the facts and is left out.',
    ])
  })
  it('keeps elements and attributes that are unknown here, and its own sort of task', () => {
    const xml = written(read(FOREIGN).model)
    expectValid(xml)
    expect(xml).toContain('xmlns:acme="urn:acme:made-up"')
    expect(xml).toContain('acme:colour="green"')
    const bare = xml.replace(/ xmlns:\w+="[^"]*"/g, '').replace(/\s+/g, '')
    expect(bare).toContain('<acme:budgetcurrency="EUR"><acme:line>12&lt;13</acme:line></acme:budget>')
    expect(xml).toContain('<scriptTask id="t" name="Count &amp; sort"')
  })
  it('that is none is refused in words', () => {
    const refused = (xml: string) => {
      const found = reader?.read(wishOf(Model.empty), xml)
      return found && 'refused' in found ? found.refused : ''
    }
    expect(refused('hello')).toContain('no well-formed XML')
    expect(refused('<a><b></a>')).toContain('no well-formed XML')
    expect(refused('<a/>')).toContain('no BPMN 2.0')
    expect(refused('<definitions xmlns="http://www.omg.org/spec/BPMN/20100524/MODEL"/>')).toContain('no process')
  })
  it('is read twice as two processes, not over each other', () => {
    const once = read(FOREIGN).model
    const twice = read(FOREIGN, once).model
    expect(twice.ofKind('process')).toHaveLength(2)
    expect(twice.ofKind('step')).toHaveLength(2)
  })
  it('is told as text like any other', () => {
    const { model } = read(FOREIGN)
    const view = [...model.views.values()][0]
    expect(process.outline?.lines(model, view ?? flowView(), DAY).map((line) => line.text)).toEqual([
      'start @ Desk',
      'system: Count & sort',
      'end',
    ])
    expect(text(told('A b'))).toContain('A b')
  })
})

/** A legal file with what other programs write, made up for this test. */
const RICH = `<?xml version="1.0" encoding="UTF-8"?>
<bpmn:definitions xmlns:bpmn="http://www.omg.org/spec/BPMN/20100524/MODEL" xmlns:bpmndi="http://www.omg.org/spec/BPMN/20100524/DI" xmlns:dc="http://www.omg.org/spec/DD/20100524/DC" xmlns:di="http://www.omg.org/spec/DD/20100524/DI" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance" id="d" targetNamespace="urn:made-up">
  <bpmn:message id="msg" name="Answer"/>
  <bpmn:process id="p" name="Claims" isExecutable="false">
    <bpmn:documentation>Of the harbour company.</bpmn:documentation>
    <bpmn:laneSet id="ls"><bpmn:lane id="outer" name="Service"><bpmn:childLaneSet id="cls">
      <bpmn:lane id="desk" name="Desk"><bpmn:flowNodeRef>s</bpmn:flowNodeRef><bpmn:flowNodeRef>check</bpmn:flowNodeRef><bpmn:flowNodeRef>late</bpmn:flowNodeRef><bpmn:flowNodeRef>remind</bpmn:flowNodeRef><bpmn:flowNodeRef>call</bpmn:flowNodeRef><bpmn:flowNodeRef>e</bpmn:flowNodeRef><bpmn:flowNodeRef>stop</bpmn:flowNodeRef></bpmn:lane>
    </bpmn:childLaneSet></bpmn:lane></bpmn:laneSet>
    <bpmn:startEvent id="s" name="Claim"><bpmn:outgoing>f1</bpmn:outgoing><bpmn:messageEventDefinition id="md" messageRef="msg"/></bpmn:startEvent>
    <bpmn:userTask id="check" name="Check the claim"><bpmn:documentation>By two people.</bpmn:documentation>
      <bpmn:extensionElements><x:form xmlns:x="urn:made-up:forms" x:id="7"><x:field/></x:form></bpmn:extensionElements>
      <bpmn:incoming>f1</bpmn:incoming><bpmn:outgoing>f2</bpmn:outgoing>
      <bpmn:multiInstanceLoopCharacteristics isSequential="true"/></bpmn:userTask>
    <bpmn:boundaryEvent id="late" name="Three days" attachedToRef="check"><bpmn:outgoing>f3</bpmn:outgoing><bpmn:timerEventDefinition id="td"><bpmn:timeDuration xsi:type="bpmn:tFormalExpression">P3D</bpmn:timeDuration></bpmn:timerEventDefinition></bpmn:boundaryEvent>
    <bpmn:task id="remind" name="Remind the assessor"><bpmn:incoming>f3</bpmn:incoming><bpmn:outgoing>f5</bpmn:outgoing></bpmn:task>
    <bpmn:callActivity id="call" name="Pay the claim" calledElement="payment"><bpmn:incoming>f2</bpmn:incoming><bpmn:outgoing>f4</bpmn:outgoing></bpmn:callActivity>
    <bpmn:endEvent id="e" name="Paid"><bpmn:incoming>f4</bpmn:incoming></bpmn:endEvent>
    <bpmn:endEvent id="stop" name="Stopped"><bpmn:incoming>f5</bpmn:incoming><bpmn:terminateEventDefinition id="ted"/></bpmn:endEvent>
    <bpmn:sequenceFlow id="f1" sourceRef="s" targetRef="check"/><bpmn:sequenceFlow id="f2" sourceRef="check" targetRef="call"/>
    <bpmn:sequenceFlow id="f3" sourceRef="late" targetRef="remind"/><bpmn:sequenceFlow id="f4" sourceRef="call" targetRef="e"/><bpmn:sequenceFlow id="f5" sourceRef="remind" targetRef="stop"/>
    <bpmn:sequenceFlow id="f9" sourceRef="remind" targetRef="nowhere"/>
  </bpmn:process>
  <bpmndi:BPMNDiagram id="dia"><bpmndi:BPMNPlane id="pl" bpmnElement="p">
    <bpmndi:BPMNShape id="s_di" bpmnElement="s"><dc:Bounds x="111" y="222" width="36" height="36"/></bpmndi:BPMNShape>
    <bpmndi:BPMNEdge id="f1_di" bpmnElement="f1"><di:waypoint x="147" y="240"/><di:waypoint x="333" y="240"/></bpmndi:BPMNEdge>
  </bpmndi:BPMNPlane></bpmndi:BPMNDiagram>
</bpmn:definitions>`

describe('a legal file of another program', () => {
  const { model, facts: notes } = read(RICH)
  const xml = written(model)
  it('is no error, although a case may leave a step by an event during it', () => {
    const errors = findingsOf(registry, model, DAY).filter(
      ({ severity, rule }) => severity === 'error' && rule !== 'x/dangling',
    )
    expect(errors.map(({ message }) => message)).toEqual([])
  })
  it('is written again with all of it, valid against the schemas', () => {
    expectValid(xml)
    for (const kept of [
      'attachedToRef="check"',
      'cancelActivity="true"',
      'P3D',
      'terminateEventDefinition',
      'multiInstanceLoopCharacteristics',
      'isSequential="true"',
      '<documentation>By two people.</documentation>',
      '<documentation>Of the harbour company.</documentation>',
      'calledElement="payment"',
      'name="Answer"',
      'messageRef="msg"',
      'xmlns:x="urn:made-up:forms"',
    ])
      expect(xml, kept).toContain(kept)
    expect(facts(read(xml).model)).toEqual(facts(model))
  })
  it('keeps its own places as long as these are shown', () => {
    expect(xml).toMatch(/bpmnElement="s"[^>]*>\s*<dc:Bounds x="111" y="222" width="36" height="36"/)
    expect(xml).toContain('<di:waypoint x="333" y="240"/>')
  })
  it('says what has no place among the facts', () => {
    expect(notes.join(' ')).toContain('1 × “lane around other lanes”')
    expect(notes.join(' ')).toContain('1 × “line to or from what is not there”')
  })
  it('is drawn with its event behind the step, and with pools that have no lanes', () => {
    const lanes = process.pictures.find(({ id }) => id === 'lanes')
    const { items, links } = lanes?.draw(model, flowView({ picture: 'lanes' }), DAY) ?? { items: [], links: [] }
    const x = (id: string) => items.find((item) => item.id === id)?.box.x ?? 0
    expect(x('late')).toBeGreaterThan(x('check'))
    expect(links.some(({ source, target }) => source === 'late' && target === 'check')).toBe(true)
    const pool = parseWorkspace(readFileSync('tests/cases/pool.skivel.json', 'utf8'), registry).model
    const drawn = lanes?.draw(pool, [...pool.views.values()][0] ?? flowView(), DAY)
    expect(drawn?.links.map(({ id }) => id)).toContain('m')
    expect(drawn?.items.map(({ id }) => id)).toContain('pb')
    expectValid(written(pool))
  })
  it('is read in older encodings as well', () => {
    const old = RICH.replace('encoding="UTF-8"', 'encoding="ISO-8859-1"').replace(
      'Check the claim',
      'Prüfe die Überfahrt',
    )
    const decoded = decodeText(Buffer.from(old, 'latin1'))
    if ('refused' in decoded) throw new Error(decoded.refused)
    expect(nodeNamed(read(decoded.text).model, 'Prüfe die Überfahrt')).toBe('check')
  })
})
