import { counted, type Fields } from '../../../model'
import { clip, LIMITS, type ImportedFile, type Refusal, type Wish } from '../../../notation'
import { rootsOf, type Node } from '../../../tabular/xml'
import { readInterface } from '../addresses'
import { DEVICE_TYPES } from '../kinds'
import { bring, Unplaced, wordsOf, type ToldCable, type ToldDevice } from './bring'

/** O(file). @returns a refusal that names what is at fault, and where. */
export function read(wish: Wish, text: string): ImportedFile | Refusal {
  const roots = rootsOf(text)
  if ('refused' in roots) return roots
  const [root] = roots.filter(({ name }) => name === 'graphml')
  const graph = root?.children.find(({ name }) => name === 'graph')
  if (!root || !graph) return { refused: 'There is no graph in this file: GraphML has “graphml” with “graph” in it.' }
  const keys = new Map(
    root.children
      .filter(({ name }) => name === 'key')
      .map(({ attributes, children }): [string, Key] => [
        attributes['id'] ?? '',
        {
          name: (attributes['attr.name'] ?? attributes['id'] ?? '').toLowerCase(),
          of: attributes['for'] ?? 'all',
          initial: children.find(({ name }) => name === 'default')?.text.trim(),
        },
      ]),
  )
  const unplaced = new Unplaced()
  const known = new Set<string>()
  const devices: ToldDevice[] = []
  const nodes = all(graph, 'node')
  for (const [at, node] of nodes.entries()) {
    const id = node.attributes['id']
    if (id === undefined) return { refused: `The node number ${at + 1} has no id. Nothing was changed.` }
    if (known.has(id)) return { refused: `Two nodes have the id “${clip(id)}”. Nothing was changed.` }
    const values = valuesOf(node, keys)
    const device = deviceOf(node, values, id)
    if ('refused' in device) return device
    known.add(id)
    devices.push(device)
    for (const key of values.keys()) if (!NODE_KEYS.has(key)) unplaced.add(`“${clip(key)}” of nodes`)
  }
  const cables: ToldCable[] = []
  for (const [at, edge] of all(graph, 'edge').entries()) {
    const [a, b] = ['source', 'target'].map((end) => edge.attributes[end] ?? '')
    if (a === undefined || b === undefined || !known.has(a) || !known.has(b)) {
      const missing = known.has(a ?? '') ? b : a
      return {
        refused: `The edge number ${at + 1} names the node “${clip(missing ?? '')}”, which this graph does not have. Nothing was changed.`,
      }
    }
    const values = valuesOf(edge, keys)
    if (a === b) {
      unplaced.add('edges from a node to itself')
      continue
    }
    for (const key of values.keys()) if (!EDGE_KEYS.has(key)) unplaced.add(`“${clip(key)}” of edges`)
    cables.push({
      a: { device: a, ...(edge.attributes['sourceport'] === undefined ? {} : { port: edge.attributes['sourceport'] }) },
      b: { device: b, ...(edge.attributes['targetport'] === undefined ? {} : { port: edge.attributes['targetport'] }) },
      fields: cableFields(values),
    })
  }
  unplaced.add('edges of more than two ends', all(graph, 'hyperedge').length)
  const brought = bring(wish, { devices, cables, isEach: true })
  return {
    change: { label: `Bring in a graph of ${counted(devices.length, 'device')}`, steps: brought.steps },
    facts: [
      `${counted(devices.length, 'node')}, ${counted(cables.length, 'edge')}.`,
      ...wordsOf(brought),
      ...unplaced.words(),
    ],
  }
}

/** Elements of a name, those of graphs within nodes as well. */
const all = (graph: Node, name: string): Node[] =>
  graph.children.flatMap((child) => [
    ...(child.name === name ? [child] : []),
    ...(child.name === 'node'
      ? child.children.filter((one) => one.name === 'graph').flatMap((one) => all(one, name))
      : []),
  ])

interface Key {
  readonly name: string
  /** What may have it: nodes, edges, others, or all. */
  readonly of: string
  /** What counts where nothing is said. */
  readonly initial: string | undefined
}

const NODE_KEYS = new Set(['name', 'label', 'hostname', 'type', 'zone', 'site', 'addresses', 'address', 'critical'])
const EDGE_KEYS = new Set(['capacity', 'medium', 'length'])

function valuesOf(node: Node, keys: ReadonlyMap<string, Key>): ReadonlyMap<string, string> {
  const initial = [...keys.values()].flatMap(({ name, of, initial: value }): [string, string][] =>
    value !== undefined && (of === 'all' || of === node.name) ? [[name, value]] : [],
  )
  const said = node.children
    .filter(({ name }) => name === 'data')
    .map(({ attributes, text }): [string, string] => {
      const key = attributes['key'] ?? ''
      return [keys.get(key)?.name ?? key.toLowerCase(), text.trim()]
    })
  return new Map([...initial, ...said])
}

function deviceOf(node: Node, values: ReadonlyMap<string, string>, id: string): ToldDevice | Refusal {
  const name = (
    ['name', 'label', 'hostname'].map((key) => values.get(key)).find((one) => one !== undefined && one !== '') ?? id
  ).slice(0, LIMITS.name)
  const addresses = (values.get('addresses') ?? values.get('address') ?? '').split(/[,;\s]+/).filter(Boolean)
  const wrong = addresses.find((one) => !readInterface(one))
  if (wrong !== undefined)
    return { refused: `The node “${clip(name)}” has “${clip(wrong)}”, which is no address. Nothing was changed.` }
  const type = DEVICE_TYPES.find((one) => one === values.get('type')?.toLowerCase())
  const fields: Fields = {
    ...(type === undefined ? {} : { type }),
    ...(addresses.length > 0 ? { addresses } : {}),
    ...(values.get('critical') === 'true' ? { critical: true } : {}),
  }
  return {
    key: id,
    name,
    fields,
    zone: values.get('zone'),
    site: values.get('site'),
    ports: node.children
      .filter((one) => one.name === 'port' && one.attributes['name'] !== undefined)
      .map(({ attributes }) => ({ name: (attributes['name'] ?? '').slice(0, LIMITS.name), fields: {} })),
  }
}

function cableFields(values: ReadonlyMap<string, string>): Fields {
  const fields: Record<string, Fields[string]> = {}
  for (const key of ['capacity', 'length'] as const) {
    const number = Number(values.get(key) ?? '')
    if (values.get(key) !== undefined && values.get(key) !== '' && Number.isFinite(number)) fields[key] = number
  }
  const medium = values.get('medium')
  if (medium !== undefined && medium !== '') fields['medium'] = medium
  return fields
}
