import { numberOf, textOf } from '../../../notation'
import type { FileExport } from '../../../notation'
import { capacityOf, netShown, type Net } from '../structure'

/** GraphML (graphml.graphdrawing.org, 1.0rc): devices as nodes with their ports, cables as edges between ports. */
const NAMESPACE = 'http://graphml.graphdrawing.org/xmlns'
const KEYS = [
  ['name', 'node', 'string'],
  ['type', 'node', 'string'],
  ['zone', 'node', 'string'],
  ['site', 'node', 'string'],
  ['addresses', 'node', 'string'],
  ['critical', 'node', 'boolean'],
  ['capacity', 'edge', 'double'],
  ['medium', 'edge', 'string'],
  ['length', 'edge', 'double'],
] as const

export const graphMlExport = {
  id: 'graphml',
  title: 'GraphML',
  extension: '.graphml',
  mediaType: 'application/graphml+xml',
  write: (model, view, day) => written(netShown(model, view, day)),
} satisfies FileExport

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign] ?? sign)

/** An element on lines of its own, with what it holds between them. */
function element(
  name: string,
  attributes: Readonly<Record<string, string>>,
  inner: readonly string[] | string = [],
): string {
  const stated = Object.entries(attributes).map(([key, value]) => ` ${key}="${escaped(value)}"`)
  const open = `<${name}${stated.join('')}`
  if (typeof inner === 'string') return `${open}>${escaped(inner)}</${name}>`
  if (inner.length === 0) return `${open}/>`
  return [`${open}>`, ...inner, `</${name}>`].join('\n')
}

const dataOf = (values: Readonly<Record<string, string | number | boolean | undefined>>): string[] =>
  Object.entries(values).flatMap(([key, value]) =>
    value === undefined || value === '' ? [] : [element('data', { key }, String(value))],
  )

function written(net: Net): string {
  const nodes = net.devices.map((device) =>
    element('node', { id: device.id }, [
      ...dataOf({
        name: device.name,
        type: device.type,
        zone: device.zone?.name,
        site: device.site?.name,
        addresses: device.addresses
          .filter(({ shared }) => !shared)
          .map(({ text }) => text)
          .join(', '),
        critical: device.critical ? true : undefined,
      }),
      ...device.ports.map(({ name }) => element('port', { name })),
    ]),
  )
  const edges = net.cables.map((cable) =>
    element(
      'edge',
      {
        id: cable.id,
        source: cable.a.device.id,
        target: cable.b.device.id,
        sourceport: cable.a.name,
        targetport: cable.b.name,
      },
      dataOf({
        capacity: capacityOf(cable),
        medium: textOf(cable.relation, 'medium'),
        length: numberOf(cable.relation, 'length'),
      }),
    ),
  )
  const keys = KEYS.map(([id, of, type]) => element('key', { id, for: of, 'attr.name': id, 'attr.type': type }))
  const graph = element('graph', { id: net.entity?.name ?? 'network', edgedefault: 'undirected' }, [...nodes, ...edges])
  return `<?xml version="1.0" encoding="UTF-8"?>\n${element('graphml', { xmlns: NAMESPACE }, [...keys, graph])}\n`
}
