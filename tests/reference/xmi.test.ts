import fc from 'fast-check'
import { XmlDocument } from 'libxml2-wasm'
import { describe, expect, it } from 'vitest'
import { parseWorkspace, writeWorkspace } from '../../src/core/file'
import { apply, asId, Model } from '../../src/core/model'
import { registry } from '../../src/core/notations'
import { removePackage } from '../../src/core/notations/uml/edits'
import { read, writeXmi } from '../../src/core/notations/uml/formats/xmi'
import { interactionsOn } from '../../src/core/notations/uml/sequences/structure'
import { marramSoundFerries } from '../../src/demo'
import { classModel, textOf } from '../core/uml/facts'
import { classView } from '../classShapes'
import { DAY, numbering, wishFor } from '../facts'
import { softwareModels } from '../umlShapes'

/**
 * XMI 2.5.1 (OMG formal/15-06-07) of UML 2.5.1 (OMG formal/17-12-05), read by libxml2 beside our own reader: well-formed, every identity once,
 * every reference to something that is there. Names of elements and attributes are from memory.
 */

/** Attributes by which elements lead to others. */
const LEADING = [
  'type',
  'general',
  'contract',
  'client',
  'supplier',
  'memberEnd',
  'navigableOwnedEnd',
  'association',
  'source',
  'target',
  'subject',
  'addition',
  'extendedCase',
  'extensionLocation',
  'sendEvent',
  'receiveEvent',
  'represents',
  'coveredBy',
  'covered',
  'message',
  'event',
  'location',
  'deployedArtifact',
  'utilizedElement',
  'instance',
  'signal',
]

function expectSound(xml: string): void {
  const document = XmlDocument.fromString(xml)
  try {
    const spaces = { xmi: 'http://www.omg.org/spec/XMI/20131001' }
    const values = (path: string) => document.find(path, spaces).map((one) => one.content)
    const ids = values('//@xmi:id')
    expect(new Set(ids).size).toBe(ids.length)
    for (const id of ids) expect(id).toMatch(/^[A-Za-z_][\w.-]*$/)
    const known = new Set(ids)
    for (const name of LEADING)
      for (const list of values(`//@${name}`))
        for (const one of list.split(' ')) expect(known, `${name}="${list}"`).toContain(one)
    for (const one of values('//@xmi:type')) expect(one).toMatch(/^uml:[A-Z]\w+$/)
    for (const one of values('//@href')) expect(one).toMatch(/PrimitiveTypes\.xmi#\w+$/)
  } finally {
    document.dispose()
  }
}

const begun = Model.of({ views: [classView()] })
let runs = 0
function brought(xml: string, onto = begun) {
  const found = read(wishFor(onto, { view: classView(), newId: numbering(`new${++runs}-`) }), xml)
  if ('refused' in found) throw new Error(found.refused)
  return { model: apply(onto, found.change).model, facts: found.facts, steps: found.change.steps }
}
/** Facts whatever their order. */
const facts = (model: Model) => ({
  entities: [...model.entities.values()].sort((a, b) => (a.id < b.id ? -1 : 1)),
  relations: [...model.relations.values()].sort((a, b) => (a.id < b.id ? -1 : 1)),
})

describe('software as XMI', () => {
  it('comes back as it was, every fact of every kind, and stands in a sound file', () => {
    fc.assert(
      fc.property(softwareModels(12), (model) => {
        const xml = writeXmi(model, DAY)
        expectSound(xml)
        expect(facts(brought(xml).model)).toEqual(facts(model))
      }),
      { numRuns: 80 },
    )
  })
  it('of the demo says in elements of UML all but what UML has no word for', () => {
    const demo = marramSoundFerries()
    const xml = writeXmi(demo, DAY)
    expectSound(xml)
    const again = brought(xml, demo)
    expect(again.steps).toEqual([])
    // Elements alone: what stands beside them is taken away.
    const plain = brought(xml.replace(/<xmi:Extension[\s\S]*<\/xmi:Extension>/, '')).model
    expect(textOf(plain)).toBe(
      textOf(demo)
        .replace(/ {2}(?:table|system): \S.*?(?= {2}|$)/gm, '')
        .replace(/\n$/, ''),
    )
    const calls = (model: Model) =>
      [...interactionsOn(model, DAY).values()].map(({ name, calls: list }) => [
        name,
        list.map(({ from, sort, to, text }) => `${from.name} ${sort} ${to.name}: ${text}`),
      ])
    expect(calls(plain)).toEqual(calls(demo))
    const counts = (model: Model) =>
      ['state', 'region', 'use-case', 'actor', 'component', 'component-port', 'deployment-node', 'operand'].map(
        (kind) => model.ofKind(kind).length,
      )
    expect(counts(plain)).toEqual(counts(demo))
    const ties = (model: Model) =>
      [
        'transition',
        'include',
        'extend',
        'participation',
        'provides',
        'requires',
        'deploys',
        'association',
        'dependency',
      ].map((kind) => model.relationsOfKind(kind).length)
    expect(ties(plain)).toEqual(ties(demo))
  })
  it('knows facts again by their identities: what was changed in the file is changed, and nothing twice', () => {
    const model = classModel('Ticket\n  - seats : Integer = 1\n  has 1..* Leg as legs\nLeg')
    const xml = writeXmi(model, DAY)
    const changed = brought(xml.replace('name="Ticket"', 'name="Pass"').replace('value="*"', 'value="5"'), model)
    expect(changed.facts).toEqual(['0 new, 2 changed.'])
    expect(textOf(changed.model)).toBe('Pass\n  - seats : Integer = 1\n  has 1..5 Leg as legs\nLeg')
  })
  it('is what is in force on the day, and names of what is elsewhere go along', () => {
    const demo = marramSoundFerries()
    const there = brought(writeXmi(demo, DAY)).model
    expect(there.ofKind('class').find(({ name }) => name === 'Ticket')?.fields['system']).toBe('Booking service')
    const dated = apply(demo, {
      label: 'x',
      steps: [{ do: 'set-entity', id: asId('class-vehicle'), path: 'to', value: '2026-01-01' }],
    }).model
    expect(writeXmi(dated, DAY)).not.toContain('xmi:id="class-vehicle"')
  })
})

/** A file as another program may write it: other prefixes, ends that classes own, elements that lead by idref, activities, comments, profiles, diagrams. */
const FOREIGN = `<?xml version='1.0' encoding='UTF-8'?>
<xmi:XMI xmlns:xmi='http://www.omg.org/spec/XMI/20131001' xmlns:uml='http://www.omg.org/spec/UML/20161101' xmlns:p='http://example.org/profile' xmlns:umldi='http://www.omg.org/spec/UML/20161101/UMLDI'>
  <xmi:Documentation exporter='Something'/>
  <uml:Model xmi:type='uml:Model' xmi:id='{M}' name='Shop'>
    <ownedComment xmi:type='uml:Comment' xmi:id='c1' body='of the shop'/>
    <packageImport xmi:type='uml:PackageImport' xmi:id='i1'><importedPackage href='http://www.omg.org/spec/UML/20161101/PrimitiveTypes.xmi#_0'/></packageImport>
    <packagedElement xmi:type='uml:Package' xmi:id='{0A0}' name='orders'>
      <packagedElement xmi:type='uml:Class' xmi:id='{0A1}' name='Order' visibility='public' isActive='true'>
        <ownedComment xmi:type='uml:Comment' xmi:id='c2' body='an order' annotatedElement='{0A1}'/>
        <ownedAttribute xmi:type='uml:Property' xmi:id='p1' name='total' visibility='private' isReadOnly='true'>
          <type xmi:idref='d1'/>
          <lowerValue xmi:type='uml:LiteralInteger' xmi:id='l1'/>
          <upperValue xmi:type='uml:LiteralUnlimitedNatural' xmi:id='u1' value='1'/>
          <defaultValue xmi:type='uml:LiteralInteger' xmi:id='v1' value='0'/>
        </ownedAttribute>
        <ownedAttribute xmi:type='uml:Property' xmi:id='p2' name='lines' aggregation='composite' association='a1'>
          <type xmi:idref='{0A2}'/>
          <lowerValue xmi:type='uml:LiteralInteger' xmi:id='l2' value='1'/>
          <upperValue xmi:type='uml:LiteralUnlimitedNatural' xmi:id='u2' value='*'/>
        </ownedAttribute>
        <ownedOperation xmi:type='uml:Operation' xmi:id='o1' name='add' visibility='public'>
          <ownedParameter xmi:type='uml:Parameter' xmi:id='q1' name='count' direction='inout' type='d1'>
            <defaultValue xmi:type='uml:LiteralString' xmi:id='v2' value='x'/>
          </ownedParameter>
          <ownedParameter xmi:type='uml:Parameter' xmi:id='q2' direction='return'>
            <type xmi:type='uml:PrimitiveType' href='http://www.omg.org/spec/UML/20161101/PrimitiveTypes.xmi#Boolean'/>
          </ownedParameter>
        </ownedOperation>
      </packagedElement>
      <packagedElement xmi:type='uml:Class' xmi:id='{0A2}' name='Line'/>
      <packagedElement xmi:type='uml:PrimitiveType' xmi:id='d1' name='Money'/>
      <packagedElement xmi:type='uml:Association' xmi:id='a1'>
        <memberEnd xmi:idref='p2'/>
        <memberEnd xmi:idref='e1'/>
        <ownedEnd xmi:type='uml:Property' xmi:id='e1' type='{0A1}' association='a1'/>
      </packagedElement>
      <packagedElement xmi:type='uml:Activity' xmi:id='act' name='Pack'><node xmi:type='uml:InitialNode' xmi:id='n1'/></packagedElement>
    </packagedElement>
    <packagedElement xmi:type='uml:StateMachine' xmi:id='sm' name='Life'>
      <region xmi:type='uml:Region' xmi:id='rg' name='only'>
        <subvertex xmi:type='uml:Pseudostate' xmi:id='s0'/>
        <subvertex xmi:type='uml:State' xmi:id='s1' name='Open'/>
        <transition xmi:type='uml:Transition' xmi:id='t0' source='s0' target='s1'/>
        <transition xmi:type='uml:Transition' xmi:id='t1' source='s1' target='s1' kind='internal' guard='g1'>
          <ownedRule xmi:type='uml:Constraint' xmi:id='g1'><specification xmi:type='uml:OpaqueExpression' xmi:id='x1'><language>OCL</language><body>n &gt; 1</body></specification></ownedRule>
          <trigger xmi:type='uml:Trigger' xmi:id='tr' event='ev'/>
        </transition>
      </region>
    </packagedElement>
    <packagedElement xmi:type='uml:SignalEvent' xmi:id='ev' name='poke'/>
  </uml:Model>
  <p:Entity xmi:id='st1' base_Class='{0A1}'/>
  <umldi:UMLClassDiagram xmi:id='dg' name='Picture'/>
</xmi:XMI>`

describe('a model of another program', () => {
  it('is read as far as it is understood', () => {
    const { model } = brought(FOREIGN)
    expect(textOf(model)).toBe(
      [
        'orders  (package)',
        '  Order',
        '    - total : Money [0..1] = 0 {readOnly}',
        '    + add(inout count : Money = "x") : Boolean',
        '    owns 1..* Line as lines',
        '  Line',
        '  Money  (primitive)',
      ].join('\n'),
    )
    const [loop] = model.relationsOfKind('transition').filter(({ fields }) => fields['internal'] === true)
    expect(loop?.fields).toMatchObject({ trigger: 'poke', guard: 'n > 1' })
    expect(parseWorkspace(JSON.stringify(writeWorkspace(model)), registry)).toBeDefined()
  })
  it('keeps what is not understood, and says it again where it stood', () => {
    const { model, facts: words } = brought(FOREIGN)
    expect(words.join(' ')).toContain('have no place among the facts')
    const xml = writeXmi(model, DAY)
    const document = XmlDocument.fromString(xml)
    const spaces = { xmi: 'http://www.omg.org/spec/XMI/20131001', p: 'http://example.org/profile' }
    const has = (path: string) => document.find(path, spaces).length
    expect(has("//packagedElement[@name='Order']/ownedComment[@body='an order']")).toBe(1)
    expect(has("//packagedElement[@name='Order'][@isActive='true']")).toBe(1)
    expect(has("//node[@xmi:type='uml:InitialNode']")).toBe(1)
    expect(has("//ownedComment[@body='of the shop']")).toBe(1)
    expect(has('//p:Entity')).toBe(1)
    expect(has("//*[contains(name(), 'Diagram')]")).toBe(0)
    document.dispose()
    const again = brought(xml, model)
    expect(again.steps).toEqual([])
  })
  it('is written soundly though somebody put into a fact what is no XML, or copied what was kept', () => {
    const { model } = brought(FOREIGN)
    const order = [...model.entities.values()].find(({ name }) => name === 'Order')
    if (!order) throw new Error('no order')
    for (const kept of [
      '<a>',
      '{"xml":"<a>"}',
      '{"xml":"<!DOCTYPE x>"}',
      '{"xml":7,"attributes":{"a b":"c","x":1}}',
      '[]',
      'null',
      order.fields['kept'],
    ]) {
      const other = apply(model, {
        label: 'x',
        steps: [
          { do: 'add-entity', entity: { ...order, id: asId('copy'), fields: { ...order.fields, kept: kept ?? '' } } },
        ],
      }).model
      expectSound(writeXmi(other, DAY).replace(/<\/?p:[^>]*>/g, ''))
    }
  })
  it('is refused in words where it is none', () => {
    const refused = (xml: string) => {
      const found = read(wishFor(begun, { view: classView() }), xml)
      return 'refused' in found ? found.refused : ''
    }
    expect(refused('')).toMatch(/not XML|no XMI/)
    expect(refused('<a><b></a>')).toMatch(/line 1/)
    expect(refused('<a/>')).toMatch(/no “uml:Model”/)
    expect(
      refused(
        '<!DOCTYPE x [<!ENTITY e SYSTEM "file:///etc/passwd">]><uml:Model xmlns:uml="http://www.omg.org/spec/UML/20161101">&e;</uml:Model>',
      ),
    ).toMatch(/entities of its own/)
    expect(refused('x'.repeat(20_000_001))).toMatch(/20 million/)
    expect(
      refused(
        `<uml:Model xmlns:uml="http://www.omg.org/spec/UML/20161101">${'<packagedElement xmi:type="uml:Package" xmlns:xmi="http://www.omg.org/spec/XMI/20131001">'.repeat(300)}${'</packagedElement>'.repeat(300)}</uml:Model>`,
      ),
    ).toMatch(/nested/)
    expect(refused('<uml:Model xmlns:uml="http://www.omg.org/spec/UML/20161101"/>')).toMatch(/nothing in this model/)
  })
  it('takes nothing for a fact that no fact may be, whatever stands beside the elements', () => {
    const model = classModel('Ticket')
    const xml = writeXmi(model, DAY)
    for (const beside of [
      '',
      '{',
      '[]',
      '{"facts":{"a":{"kind":"person","name":"x"},"b":1,"c":{"id":"<x>"}}}',
      '{"facts":{"a":{"kind":"class","name":"Own","fields":{"nothing":1,"form":"unicorn","order":"x"}}}}',
    ]) {
      const other = xml.replace(
        /(<skivel:facts>)[\s\S]*(<\/skivel:facts>)/,
        `$1${beside.replaceAll('"', '&quot;').replaceAll('<', '&lt;')}$2`,
      )
      const { model: after } = brought(other)
      expect(after.ofKind('person')).toEqual([])
      expect(parseWorkspace(JSON.stringify(writeWorkspace(after)), registry)).toBeDefined()
    }
  })
})

/** A file of another program with what each of these says in its own way: literals as instances, packages, pseudostates without names, events. */
const SAID = `<xmi:XMI xmlns:xmi='http://www.omg.org/spec/XMI/20131001' xmlns:uml='http://www.omg.org/spec/UML/20161101'>
  <uml:Model xmi:id='m' name='Shop'>
    <packagedElement xmi:type='uml:Enumeration' xmi:id='en' name='Size'>
      <ownedLiteral xmi:type='uml:EnumerationLiteral' xmi:id='big' name='LARGE'/>
    </packagedElement>
    <packagedElement xmi:type='uml:Signal' xmi:id='sg' name='Paid'/>
    <packagedElement xmi:type='uml:Class' xmi:id='cl' name='Box'>
      <ownedAttribute xmi:type='uml:Property' xmi:id='at' name='size' type='en'>
        <defaultValue xmi:type='uml:InstanceValue' xmi:id='iv' instance='big'/>
      </ownedAttribute>
    </packagedElement>
    <packagedElement xmi:type='uml:Package' xmi:id='pk' name='Desk'>
      <packagedElement xmi:type='uml:Actor' xmi:id='ac' name='Clerk'/>
      <packagedElement xmi:type='uml:UseCase' xmi:id='uc' name='Sell'/>
    </packagedElement>
    <packagedElement xmi:type='uml:StateMachine' xmi:id='sm' name='Life'>
      <region xmi:type='uml:Region' xmi:id='rg'>
        <subvertex xmi:type='uml:Pseudostate' xmi:id='s0'/>
        <subvertex xmi:type='uml:Pseudostate' xmi:id='s2' kind='choice'/>
        <subvertex xmi:type='uml:FinalState' xmi:id='s3'/>
        <subvertex xmi:type='uml:State' xmi:id='s1' name='Open'/>
        <transition xmi:type='uml:Transition' xmi:id='t0' source='s0' target='s1'/>
        <transition xmi:type='uml:Transition' xmi:id='t1' source='s1' target='s2'>
          <trigger xmi:type='uml:Trigger' xmi:id='tr1' name='trigger1' event='e1'/>
          <trigger xmi:type='uml:Trigger' xmi:id='tr2' event='e2'/>
        </transition>
        <transition xmi:type='uml:Transition' xmi:id='t2' source='s2' target='s3'/>
      </region>
    </packagedElement>
    <packagedElement xmi:type='uml:SignalEvent' xmi:id='e1' signal='sg'/>
    <packagedElement xmi:type='uml:TimeEvent' xmi:id='e2' isRelative='true'>
      <when xmi:type='uml:TimeExpression' xmi:id='w'><expr xmi:type='uml:LiteralString' xmi:id='x' value='14 d'/></when>
    </packagedElement>
  </uml:Model>
</xmi:XMI>`

describe('what a model says by leading elsewhere', () => {
  const has = (xml: string, path: string) => {
    const document = XmlDocument.fromString(xml)
    const found = document.find(path, { xmi: 'http://www.omg.org/spec/XMI/20131001' }).length
    document.dispose()
    return found
  }
  it('is read by what it leads to: literals, packages, signals and times; what has no name gets none', () => {
    const { model, facts: words } = brought(SAID)
    const one = (kind: string, name: string) => model.ofKind(kind).find((each) => each.name === name)
    expect(one('attribute', 'size')?.fields).toMatchObject({ type: 'Size', default: 'LARGE' })
    const desk = one('package', 'Desk')?.id
    expect([one('actor', 'Clerk')?.fields['package'], one('use-case', 'Sell')?.fields['package']]).toEqual([desk, desk])
    expect(model.ofKind('state').map(({ name }) => name)).toEqual(['initial', 'choice', 'final', 'Open'])
    expect(model.relationsOfKind('transition').flatMap(({ fields }) => fields['trigger'] ?? [])).toEqual([
      'Paid, after 14 d',
    ])
    expect(words.join(' ')).not.toContain('no place')
  })
  it('is written so again', () => {
    const { model } = brought(SAID)
    const xml = writeXmi(model, DAY)
    expectSound(xml)
    expect(has(xml, "//defaultValue[@xmi:type='uml:InstanceValue'][@instance='big']")).toBe(1)
    expect(has(xml, "//packagedElement[@name='Desk']/packagedElement[@xmi:type='uml:Actor'][@name='Clerk']")).toBe(1)
    expect(has(xml, "//packagedElement[@name='Desk']/packagedElement[@xmi:type='uml:UseCase']")).toBe(1)
    expect(has(xml, "//subvertex[@xmi:type='uml:Pseudostate' or @xmi:type='uml:FinalState'][@name]")).toBe(0)
    expect(has(xml, '//trigger')).toBe(2)
    expect(has(xml, "//packagedElement[@xmi:type='uml:SignalEvent'][@signal='sg']")).toBe(1)
    expect(has(xml, "//packagedElement[@xmi:type='uml:TimeEvent'][@isRelative='true']/when/expr[@value='14 d']")).toBe(
      1,
    )
    const plain = brought(xml.replace(/<xmi:Extension[\s\S]*<\/xmi:Extension>/, '')).model
    expect(facts(plain)).toEqual(facts(model))
    // An event that nothing waits for is kept as it was.
    const idle = SAID.replace('</uml:Model>', "<packagedElement xmi:type='uml:CallEvent' xmi:id='e9'/></uml:Model>")
    expect(has(writeXmi(brought(idle).model, DAY), "//packagedElement[@xmi:type='uml:CallEvent']")).toBe(1)
    const unnamed = brought(SAID.replace("name='Sell'", '')).model
    expect(writeXmi(unnamed, DAY)).not.toContain('name="…"')
  })
  it('stands where the package stood that is taken away', () => {
    const { model } = brought(SAID)
    const desk = model.ofKind('package')[0]?.id ?? asId('')
    const left = apply(model, { label: '', steps: removePackage(model, desk) }).model
    expect(['actor', 'use-case'].map((kind) => left.ofKind(kind)[0]?.fields['package'])).toEqual([undefined, undefined])
  })
  it.each([
    ['classes', { package: '', machine: '', interaction: '', subject: '' }, {}, 'classes'],
    ['states', { machine: '' }, { machine: 'sm' }, 'states'],
    ['use-cases', { subject: '' }, {}, 'use-cases'],
    ['sequence', { interaction: '' }, {}, 'classes'],
    ['classes', {}, {}, 'classes'],
    ['classes', { package: 'elsewhere' }, {}, 'classes'],
  ])('shows in the open view: %s of %j', (picture, scope, after, drawn) => {
    const view = { ...classView(), picture, scope }
    const onto = Model.of({ views: [view] })
    const found = read(wishFor(onto, { view, newId: numbering(`shown${++runs}-`) }), SAID)
    if ('refused' in found) throw new Error(found.refused)
    const shown = apply(onto, found.change).model.views.get(view.id)
    const { package: _package, ...rest } = { ...shown?.scope }
    const left = Object.fromEntries(Object.entries(rest).filter(([, value]) => value !== ''))
    expect([left, shown?.picture, shown?.scope['package']]).toEqual([after, drawn, undefined])
    const scene = registry.notations
      .find(({ id }) => id === 'uml')
      ?.pictures.find(({ id }) => id === shown?.picture)
      ?.draw(apply(onto, found.change).model, shown ?? view, DAY)
    expect(scene?.items.length).toBeGreaterThan(0)
  })
})
