/** Speed of state machines and sequences: growth with size, and against a layout library on the same graphs in the same run. */
import dagre from '@dagrejs/dagre'
import { asDay, asId, Model, type Entity, type Fields, type Relation, type View } from '../../src/core/model'
import { findingsOf } from '../../src/core/findings'
import { registry } from '../../src/core/notations'
import { median } from './organisations'

const DAY = asDay('2026-11-24')
const view = (picture: string, scope: View['scope']): View => ({
  id: asId('view'),
  notation: 'uml',
  picture,
  title: '',
  order: 1,
  scope,
  options: {},
  pins: {},
  look: {},
})
const pictureNamed = (name: string) => {
  const found = registry.notations.find(({ id }) => id === 'uml')?.pictures.find(({ id }) => id === name)
  if (!found) throw new Error(`no picture “${name}”`)
  return found
}

/** Facts that nothing is known of yet. */
const fresh = (model: Model): Model =>
  Model.of({ entities: model.entities.values(), relations: model.relations.values() })
const ms = (time: number): string => `${time.toFixed(0).padStart(7)} ms`

function sequenceOf(messages: number, lifelines: number): Model {
  const place = { interaction: 'i' }
  const entities: Entity[] = [{ id: asId('i'), kind: 'interaction', name: 'I', fields: {} }]
  for (let at = 0; at < lifelines; at++)
    entities.push({ id: asId(`l${at}`), kind: 'lifeline', name: `Part ${at}`, fields: { ...place, order: at } })
  for (let at = 0; at < messages; at++) {
    const [from, to] = [(at * 7) % lifelines, (at * 11 + 3) % lifelines]
    const isFragment = at % 25 === 0
    const within: Fields = at % 25 > 0 && at % 25 < 12 ? { within: `e${at - (at % 25)}` } : {}
    entities.push({
      id: asId(`e${at}`),
      kind: isFragment ? 'operand' : 'call',
      name: isFragment ? `condition ${at}` : `operation${at}(value)`,
      fields: { ...place, ...within, order: at, ...(isFragment ? { sort: 'if' } : { from: `l${from}`, to: `l${to}` }) },
    })
  }
  return Model.of({ entities })
}

function machineOf(states: number): Model {
  const entities: Entity[] = [{ id: asId('m'), kind: 'machine', name: 'M', fields: {} }]
  const relations: Relation[] = []
  const lead = (from: string, to: string, trigger?: string) =>
    relations.push({
      id: asId(`t${relations.length}`),
      kind: 'transition',
      source: asId(from),
      target: asId(to),
      fields: trigger === undefined ? {} : { trigger },
    })
  entities.push({ id: asId('b'), kind: 'state', name: 'initial', fields: { machine: 'm', form: 'initial' } })
  lead('b', 's0')
  for (let at = 0; at < states; at++) {
    entities.push({ id: asId(`s${at}`), kind: 'state', name: `State ${at}`, fields: { machine: 'm', order: at } })
    if (at + 1 < states) lead(`s${at}`, `s${at + 1}`, `go ${at}`)
    if (at % 3 === 0) lead(`s${at}`, `s${(at * 5 + 2) % states}`, `jump ${at}`)
  }
  return Model.of({ entities, relations })
}

function dagreTime(model: Model): number {
  const graph = new dagre.graphlib.Graph({ multigraph: true })
  graph.setGraph({})
  for (const { id, kind } of model.entities.values())
    if (kind === 'state') graph.setNode(id, { width: 110, height: 36 })
  for (const { id, source, target } of model.relations.values()) graph.setEdge(source, target, {}, id)
  const began = performance.now()
  dagre.layout(graph)
  return performance.now() - began
}

console.log('\nSequences, drawn (must be under 100 ms for 300 messages), and all rules')
const rules = { ...registry, rules: new Map([...registry.rules].filter(([id]) => id.startsWith('uml/'))) }
for (const [messages, lifelines] of [
  [300, 12],
  [1200, 12],
] as const) {
  const model = sequenceOf(messages, lifelines)
  const sequence = pictureNamed('sequence')
  const drawn = median(7, () => void sequence.draw(fresh(model), view('sequence', { interaction: 'i' }), DAY))
  const found = median(3, () => void findingsOf(rules, fresh(model), DAY))
  console.log(`  ${`${messages} messages`.padStart(16)}  drawn${ms(drawn)}  rules${ms(found)}`)
}

console.log('\nState machines, drawn, against dagre on the same graphs without words; and all rules')
for (const states of [25, 100]) {
  const model = machineOf(states)
  const picture = pictureNamed('states')
  const ours = median(3, () => void picture.draw(fresh(model), view('states', { machine: 'm' }), DAY))
  const other = median(3, () => void dagreTime(model))
  const found = median(3, () => void findingsOf(rules, fresh(model), DAY))
  console.log(
    `  ${`${states} states`.padStart(16)}  ours${ms(ours)}  dagre${ms(other)} (× ${(ours / other).toFixed(1)})  rules${ms(found)}`,
  )
}
