import type { Day, Id, Model } from '../../model'
import { plainView, type Column, type Handling, numberOf, textOf } from '../../notation'
import { actions } from './actions'
import { addresses, racks, sites, zones } from './gestures'
import { entityKinds, network, relationKinds } from './kinds'
import { lists } from './lists'
import { outline } from './outline'
import { cabledColumn, deviceTies, registers } from './registers'
import { netsOn, netWith } from './structure'

/** Columns of a register as ties in the margin. */
const tiesOf = (register: string, ids: readonly string[]): readonly Column[] =>
  registers.find(({ id }) => id === register)?.columns.filter(({ id }) => ids.includes(id)) ?? []

const TIES: Readonly<Record<string, readonly Column[]>> = {
  device: deviceTies,
  port: [...tiesOf('ports', ['device']), cabledColumn, ...tiesOf('ports', ['addresses', 'speed'])],
  filter: tiesOf('rules', ['device', 'source', 'destination']),
  subnet: tiesOf('subnets', ['prefix', 'gateway', 'zone', 'reserved']),
  zone: tiesOf('zones', ['devices']),
  rack: tiesOf('racks', ['site']),
}

/** How it is stated what is joined to what, on any day. */
export const handling: Handling = {
  id: 'network',
  title: 'Network',
  chapter: 'Networks',
  entityKinds,
  relationKinds,
  pictures: [zones, addresses, sites, racks],
  scope: [network],
  actions,
  registers,
  outline,
  lists,
  describe,
  ties: (_model, { kind }) => TIES[kind] ?? [],
  view: plainView('network', 'zones'),
  blank: { network: '' },
}

function describe(model: Model, id: Id, day: Day): string | undefined {
  const entity = model.entities.get(id)
  if (!entity) return undefined
  if (entity.kind === 'device') {
    const device = netWith(model, day, id)?.byId.get(id)
    if (!device) return 'Not in force on the day shown'
    const type = device.type ?? 'device'
    const unit = numberOf(entity, 'unit')
    const where = [
      device.site?.name,
      device.rack && `rack ${device.rack.name}${unit === undefined ? '' : ` u ${unit}`}`,
    ]
    return [type.charAt(0).toUpperCase() + type.slice(1), device.zone?.name, where.filter(Boolean).join(', ')]
      .filter(Boolean)
      .join(' · ')
  }
  if (entity.kind === 'port') {
    const port = netsOn(model, day).flatMap(({ ports }) => ports.get(id) ?? [])[0]
    if (!port) return 'Port'
    const state = port.cables.length === 0 ? 'free' : 'cabled'
    return `Port of ${port.device.name} · ${state}`
  }
  if (entity.kind === 'zone') return `Zone · trust ${textOf(entity, 'trust') ?? 'not stated'}`
  if (entity.kind === 'subnet') return `Subnet · ${textOf(entity, 'prefix') ?? 'no prefix'}`
  if (entity.kind === 'filter') return 'Rule of a firewall'
  return undefined
}
