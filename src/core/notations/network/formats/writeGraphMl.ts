import { XMLBuilder } from 'fast-xml-parser'
import type { FileExport } from '../../../notation'
import { capacityOf, netShown, numberOf, textOf, type Net } from '../structure'

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

export const graphMlExport: FileExport = {
  id: 'graphml',
  title: 'GraphML',
  extension: '.graphml',
  mediaType: 'application/graphml+xml',
  write: (model, view, day) => written(netShown(model, view, day)),
}

type Raw = Record<string, unknown>
const element = (name: string, attributes: Raw, children: readonly Raw[] = []): Raw => ({
  [name]: children,
  ':@': attributes,
})
const dataOf = (values: Readonly<Record<string, string | number | boolean | undefined>>): Raw[] =>
  Object.entries(values).flatMap(([key, value]) =>
    value === undefined || value === '' ? [] : [element('data', { key }, [{ '#text': String(value) }])],
  )

function written(net: Net): string {
  const builder = new XMLBuilder({
    preserveOrder: true,
    ignoreAttributes: false,
    attributeNamePrefix: '',
    suppressEmptyNode: true,
    format: true,
    indentBy: ' ',
  })
  const nodes = net.devices.map((device) =>
    element('node', { id: device.id }, [
      ...dataOf({
        name: device.name,
        type: device.type,
        zone: device.zone?.name,
        site: device.site?.name,
        addresses: device.addresses.map(({ text }) => text).join(', '),
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
  return String(
    builder.build([
      element('?xml', { version: '1.0', encoding: 'UTF-8' }, [{ '#text': '' }]),
      element('graphml', { xmlns: NAMESPACE }, [
        ...KEYS.map(([id, of, type]) => element('key', { id, for: of, 'attr.name': id, 'attr.type': type })),
        element('graph', { id: net.entity?.name ?? 'network', edgedefault: 'undirected' }, [...nodes, ...edges]),
      ]),
    ]),
  )
}
