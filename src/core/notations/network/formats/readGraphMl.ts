import type { Fields } from '../../../model'
import { clip, LIMITS, type ImportedFile, type Refusal, type Wish } from '../../../notation'
import { rootsOf, type Node } from '../../../tabular/xml'
import { readInterface } from '../addresses'
import { DEVICE_TYPES } from '../kinds'
import { bring, wordsOf, type ToldCable, type ToldDevice } from './bring'

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
      .map(({ attributes }) => [
        attributes['id'] ?? '',
        (attributes['attr.name'] ?? attributes['id'] ?? '').toLowerCase(),
      ]),
  )
  const names = new Map<string, string>()
  const devices: ToldDevice[] = []
  const nodes = all(graph, 'node')
  for (const [at, node] of nodes.entries()) {
    const id = node.attributes['id']
    if (id === undefined) return { refused: `The node number ${at + 1} has no id. Nothing was changed.` }
    const device = deviceOf(node, valuesOf(node, keys), id)
    if ('refused' in device) return device
    names.set(id, device.name)
    devices.push(device)
  }
  const cables: ToldCable[] = []
  for (const [at, edge] of all(graph, 'edge').entries()) {
    const ends = ['source', 'target'].map((end) => names.get(edge.attributes[end] ?? ''))
    const [a, b] = ends
    if (a === undefined || b === undefined) {
      const missing = edge.attributes[a === undefined ? 'source' : 'target']
      return {
        refused: `The edge number ${at + 1} names the node “${clip(missing ?? '')}”, which this graph does not have. Nothing was changed.`,
      }
    }
    if (a === b) continue
    cables.push({
      a: { device: a, ...(edge.attributes['sourceport'] === undefined ? {} : { port: edge.attributes['sourceport'] }) },
      b: { device: b, ...(edge.attributes['targetport'] === undefined ? {} : { port: edge.attributes['targetport'] }) },
      fields: cableFields(valuesOf(edge, keys)),
    })
  }
  const brought = bring(wish, { devices, cables })
  return {
    change: { label: `Bring in a graph of ${devices.length} devices`, steps: brought.steps },
    facts: [`${devices.length} nodes, ${cables.length} edges.`, ...wordsOf(brought)],
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

const valuesOf = (node: Node, keys: ReadonlyMap<string, string>): ReadonlyMap<string, string> =>
  new Map(
    node.children
      .filter(({ name }) => name === 'data')
      .map(({ attributes, text }) => [
        keys.get(attributes['key'] ?? '') ?? (attributes['key'] ?? '').toLowerCase(),
        text.trim(),
      ]),
  )

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
