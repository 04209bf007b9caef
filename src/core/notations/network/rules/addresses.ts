import { freeId, grouped, type Entity, type Id } from '../../../model'
import {
  addEntity,
  fixAs,
  joinFix,
  listOf,
  removeEntity,
  setEntity,
  setField,
  textOf,
  type Fix,
  type Found,
} from '../../../notation'
import { addressText, BITS, holds, hostsOf, prefixText, reachOf as addressReach, readInterface } from '../addresses'
import { inNet } from '../edits'
import { acrossFrom, type Net, type Stated } from '../structure'
import { nextFree, overlapping, subnetsOf, subnetWith, type Subnet } from '../subnets'
import { finding, inEach, listed } from './found'

/** What states an address: a port, or the device itself. */
const holder = ({ port, device }: Stated): Entity => port?.entity ?? device.entity
const called = ({ port, device }: Stated): string => (port ? `${device.name} ${port.name}` : device.name)

/** Writes an address in the place of another one. */
function readdress(stated: Stated, text: string, button: string): Fix {
  const entity = holder(stated)
  const field = stated.shared ? 'shared' : 'addresses'
  const list = listOf(entity, field)
  const at = list.indexOf(stated.text)
  return fixAs(button, `Give “${called(stated)}” ${text}`, setField(entity.id, field, list.toSpliced(at, 1, text)))
}

const takeNext = (stated: Stated, subnet: Subnet | undefined): Fix[] => {
  const free = subnet && nextFree(subnet)
  return free === undefined || !subnet
    ? []
    : [readdress(stated, `${free}/${subnet.prefix.length}`, `Give “${called(stated)}” ${free}`)]
}

/** Those who state an address that others are in the way of: all that state the same in one VRF are given. O(given × their cables) */
function doubled(every: readonly Stated[]): readonly Stated[] {
  const [first] = every
  if (!first || !every.some((one) => holder(one) !== holder(first))) return []
  const reach = addressReach(first.address)
  if (reach === 'link') {
    const ports = new Set(every.map(({ port }) => port))
    return every.filter(({ port }) => port?.cables.some((cable) => ports.has(acrossFrom(cable, port))))
  }
  // Who owns the address that others share may state it as its own, too.
  const sharers = new Set(every.filter(({ shared }) => shared).map(({ device }) => device))
  return reach === 'all' && every.some(({ device }) => !sharers.has(device)) ? every : []
}

export const sharedAlone = inEach(
  {
    id: 'net/shared-alone',
    severity: 'warning',
    title: 'Shared with nobody',
    why: 'An address that several devices share stands in for whichever of them fails: with one alone nothing stands in.',
    source: 'RFC 5798, §1.1',
  },
  (net) => {
    const shared = net.devices.flatMap(({ addresses }) => addresses).filter((one) => one.shared)
    const same = grouped(shared, ({ address, vrf }) => `${address.family} ${address.value} ${vrf}`)
    return [...same.values()].flatMap((list): Found[] => {
      const [first] = list
      if (!first || list.some(({ device }) => device !== first.device)) return []
      const { address, device, port } = first
      return [
        finding(
          `No other device shares ${addressText(address)} with “${called(first)}”.`,
          port ? [device.id, port.id] : [device.id],
        ),
      ]
    })
  },
)

export const duplicateAddress = inEach(
  {
    id: 'net/duplicate-address',
    severity: 'error',
    title: 'An address is there twice',
    why: 'Two devices that answer to one address within one routing table (VRF) get each other’s traffic. What several share is stated as such; an address of a link may be there on another link again, and one within a device in every one.',
    source: 'RFC 791, §2.3; RFC 5227, §1; RFC 4291, §2.5.6; RFC 5798, §1.1',
  },
  (net) => {
    const all = net.devices.flatMap(({ addresses }) => addresses)
    const same = grouped(all, ({ address, vrf }) => `${address.family} ${address.value} ${vrf}`)
    return [...same.values()].flatMap((every): Found[] => {
      const list = doubled(every)
      const [first, ...others] = list
      if (!first) return []
      const where = first.vrf === '' ? '' : ` in VRF ${first.vrf}`
      const last = others.at(-1) ?? first
      return [
        finding(
          `${addressText(first.address)} is stated at ${listed(list.map(called))}${where}.`,
          [...list.map(({ device }) => device.id), ...list.flatMap(({ port }) => port?.id ?? [])],
          takeNext(last, subnetWith(net, last)),
        ),
      ]
    })
  },
)

/** Whether an address is to be in the subnets that are stated: those of one link or one device and groups are in none; in zones without trust, and towards them, others give the addresses. */
const isOurs = ({ address, device, port }: Stated): boolean =>
  addressReach(address) === 'all' &&
  device.zone?.trust !== 'none' &&
  !(port?.cables.some((cable) => acrossFrom(cable, port).device.zone?.trust === 'none') ?? false)

export const outsideSubnet = inEach(
  {
    id: 'net/outside-subnet',
    severity: 'error',
    title: 'An address fits no subnet',
    why: 'A device reaches its neighbours only from an address of their subnet, with the same prefix length. Addresses in zones without trust, and of ports that lead there, are given by others and not asked about.',
    source: 'RFC 4632, §3.1; RFC 1122, §3.3.1',
  },
  (net) => {
    const subnets = subnetsOf(net)
    const families = new Set(subnets.map(({ prefix, vrf }) => `${prefix.family} ${vrf}`))
    return net.devices.flatMap(({ addresses, id }): Found[] =>
      addresses.filter(isOurs).flatMap((stated): Found[] => {
        const { address, prefix, vrf, port } = stated
        if (!families.has(`${address.family} ${vrf}`)) return []
        const subject = port ? [id, port.id] : [id]
        const subnet = subnetWith(net, stated)
        const vlan = port?.entity.fields['vlan']
        const meant = subnets.find(
          (one) =>
            vlan !== undefined &&
            one.entity.fields['vlan'] === vlan &&
            one.vrf === vrf &&
            one.prefix.family === address.family,
        )
        if (meant && meant !== subnet)
          return [
            finding(
              `${addressText(address)} of “${called(stated)}” is not in ${meant.entity.name}, the subnet of its VLAN ${String(vlan)}.`,
              [...subject, meant.entity.id],
              takeNext(stated, meant),
            ),
          ]
        // One that stands for itself, as a loopback does, is in no subnet.
        const isAlone = stated.long && prefix.length === BITS[address.family]
        if (!subnet)
          return isAlone
            ? []
            : [
                finding(
                  `${stated.text} of “${called(stated)}” is in none of the subnets that are stated.`,
                  subject,
                  takeNext(stated, nearest(net, stated)),
                ),
              ]
        if (!stated.long || isAlone || prefix.length === subnet.prefix.length) return []
        return [
          finding(
            `${stated.text} of “${called(stated)}” says /${prefix.length}, its subnet ${subnet.entity.name} is /${subnet.prefix.length}.`,
            [...subject, subnet.entity.id],
            [readdress(stated, `${addressText(address)}/${subnet.prefix.length}`, `Write /${subnet.prefix.length}`)],
          ),
        ]
      }),
    )
  },
)

/** A subnet that devices of the same zone are in: where an address may be meant to be. */
function nearest(net: Net, { address, device, vrf }: Stated): Subnet | undefined {
  const fits = subnetsOf(net).filter(({ prefix, vrf: own }) => prefix.family === address.family && own === vrf)
  const zone = device.zone?.id
  return (
    fits.find(({ entity }) => zone !== undefined && entity.fields['zone'] === zone) ??
    fits.find(({ used }) => zone !== undefined && used.some((one) => one.device.zone?.id === zone))
  )
}

/** At most so many subnets are stated at once. */
const MOST_STATED = 200

export const noSubnets = inEach(
  {
    id: 'net/no-subnets',
    severity: 'note',
    title: 'Addresses, and no subnet',
    why: 'Addresses with prefixes say which subnets there are. As long as none is stated nothing is found about gateways, about what is free and about addresses that fit nowhere.',
    source: 'RFC 4632, §3.1',
  },
  (net, model): Found[] => {
    if (net.subnets.length > 0) return []
    const said = net.devices
      .flatMap(({ addresses }) => addresses.filter(isOurs))
      .filter(({ long, prefix }) => long && prefix.length < BITS[prefix.family])
    const all = [...grouped(said, ({ prefix, vrf }) => `${prefixText(prefix)} ${vrf}`).values()]
    const [first] = said
    if (!first) return []
    const steps = all.slice(0, MOST_STATED).flatMap((list, at) => {
      const [one] = list
      if (!one) return []
      const name = prefixText(one.prefix)
      const id = freeId(
        model.entities,
        `subnet-${net.id ?? ''}-${name.replace(/[^\w.-]+/g, '-')}-${one.vrf}`.slice(0, 60),
      )
      const fields = {
        prefix: name,
        ...(one.vrf === '' ? {} : { vrf: one.vrf }),
        ...inNet(net.id),
        order: at + 1,
      }
      return addEntity({ id, kind: 'subnet', name, fields })
    })
    const count = `${all.length} ${all.length === 1 ? 'subnet' : 'subnets'}`
    return [
      finding(
        `${said.length} ${said.length === 1 ? 'address says the prefix' : 'addresses say the prefixes'} of ${count}, and no subnet is stated.`,
        [first.device.id],
        [fixAs(`State ${all.length > MOST_STATED ? `${MOST_STATED} of them` : count}`, `State ${count}`, ...steps)],
      ),
    ]
  },
)

export const networkOrBroadcast = inEach(
  {
    id: 'net/network-or-broadcast',
    severity: 'error',
    title: 'An address that no device may have',
    why: 'The first address of an IPv4 subnet is its own, the last one reaches all in it. A /31 has neither (RFC 3021); of IPv6 the first address is every router’s.',
    source: 'RFC 950, §2.1; RFC 4632, §3.1; RFC 3021; RFC 4291, §2.6.1',
  },
  (net) =>
    net.devices.flatMap(({ addresses, id }): Found[] =>
      addresses.flatMap((stated): Found[] => {
        if (addressReach(stated.address) !== 'all') return []
        const subnet = subnetWith(net, stated)
        const prefix = subnet?.prefix ?? (stated.long ? stated.prefix : undefined)
        if (!prefix) return []
        const { value } = stated.address
        const { first, last } = hostsOf(prefix)
        if (value >= first && value <= last) return []
        const what = value < first ? 'the network’s own address' : 'the broadcast address'
        return [
          finding(
            `${addressText(stated.address)} of “${called(stated)}” is ${what} of ${prefixText(prefix)}.`,
            stated.port ? [id, stated.port.id] : [id],
            takeNext(stated, subnet),
          ),
        ]
      }),
    ),
)

export const subnetOverlap = inEach(
  {
    id: 'net/subnet-overlap',
    severity: 'error',
    title: 'Two subnets share addresses',
    why: 'Where two subnets of one routing table hold the same address, nobody can tell which of them it is in.',
    source: 'RFC 4632, §3.1',
  },
  (net) =>
    overlapping(subnetsOf(net)).map(([a, b]) => {
      const isSame = a.prefix.first === b.prefix.first && a.prefix.length === b.prefix.length
      return finding(
        isSame
          ? `${prefixText(a.prefix)} is stated twice, as “${a.entity.name}” and “${b.entity.name}”.`
          : `${named(b)} lies within ${named(a)}.`,
        [b.entity.id, a.entity.id],
        isSame && b.used.length === 0
          ? [fixAs(`Remove “${b.entity.name}”`, `Remove subnet “${b.entity.name}”`, removeEntity(b.entity.id))]
          : [],
      )
    }),
)

/** A subnet by its name, with its prefix where the name does not say it. */
const named = ({ entity, prefix }: Subnet): string =>
  entity.name === prefixText(prefix) ? entity.name : `“${entity.name}” (${prefixText(prefix)})`

export const gateway = inEach(
  {
    id: 'net/gateway',
    severity: 'error',
    title: 'A subnet without a way out',
    why: 'What is in a subnet reaches others by its gateway, which has to have an address in it. A subnet of two addresses joins two routers and needs none.',
    source: 'RFC 1122, §3.3.1.1; RFC 4861, §4.2',
  },
  (net) =>
    subnetsOf(net).flatMap((subnet): Found[] => {
      const { entity, prefix, gateway: stated, used } = subnet
      const { first, last } = hostsOf(prefix)
      if (stated === undefined) {
        if (last - first < 2n) return []
        const router = used.find(({ device }) => device.type === 'router' || device.type === 'firewall')
        const suggested = router ? addressText(router.address) : nextFree(subnet)
        return [
          finding(
            `${named(subnet)} states no gateway.`,
            [entity.id],
            suggested === undefined
              ? []
              : [
                  fixAs(
                    `Take ${suggested}`,
                    `Gateway of “${entity.name}” is ${suggested}`,
                    setField(entity.id, 'gateway', suggested),
                  ),
                ],
          ),
        ]
      }
      const address = readInterface(stated)?.address
      // Routers of IPv6 say their address of the link (RFC 4861, §4.2).
      if (address?.family === 6 && prefix.family === 6 && addressReach(address) === 'link') return []
      if (address && holds(prefix, address) && address.value >= first && address.value <= last) return []
      const free = used.find(({ device }) => device.type === 'router' || device.type === 'firewall')
      const instead = free ? addressText(free.address) : nextFree(subnet)
      return [
        finding(
          `The gateway ${stated} of ${named(subnet)} is no address in it.`,
          [entity.id],
          instead === undefined
            ? []
            : [
                fixAs(
                  `Take ${instead}`,
                  `Gateway of “${entity.name}” is ${instead}`,
                  setField(entity.id, 'gateway', instead),
                ),
              ],
        ),
      ]
    }),
)

/** A hardware address without its marks, in lower case. */
const plainMac = (text: string): string => text.toLowerCase().replace(/[^0-9a-f]/g, '')

export const duplicateMac = inEach(
  {
    id: 'net/duplicate-mac',
    severity: 'warning',
    title: 'A hardware address is there twice',
    why: 'A switch learns one place for each hardware address: with two it forwards now to the one, now to the other.',
    source: 'IEEE 802.1Q, §8.7; IEEE 802, §8',
  },
  (net) => {
    const stated = [...net.ports.values()].filter(({ entity }) => plainMac(textOf(entity, 'mac') ?? '') !== '')
    return [...grouped(stated, ({ entity }) => plainMac(textOf(entity, 'mac') ?? '')).values()].flatMap(
      (ports): Found[] => {
        const [first, ...others] = ports
        if (!first || others.length === 0) return []
        return [
          finding(
            `${textOf(first.entity, 'mac')} is stated at ${listed(ports.map(({ device, name }) => `${device.name} ${name}`))}.`,
            [...ports.map(({ id }) => id), ...ports.map(({ device }) => device.id)],
            [
              fixAs(
                `Clear it at “${others.at(-1)?.device.name} ${others.at(-1)?.name}”`,
                'Clear a hardware address',
                setField(others.at(-1)?.id ?? first.id, 'mac', null),
              ),
            ],
          ),
        ]
      },
    )
  },
)

export const duplicateHostname = inEach(
  {
    id: 'net/duplicate-hostname',
    severity: 'warning',
    title: 'Two devices of one name',
    why: 'A name that means two devices leads to either of them. Names of hosts are the same in capitals and small letters.',
    source: 'RFC 1123, §2.1; RFC 4343',
  },
  (net, model) => {
    const names = new Set(net.devices.map(({ name }) => name.toLowerCase()))
    return [...grouped(net.devices, ({ name }) => name.toLowerCase()).values()].flatMap((devices): Found[] => {
      const [first, ...others] = devices
      const last = others.at(-1)
      if (!first || !last) return []
      let count = 2
      while (names.has(`${last.name.toLowerCase()}-${count}`)) count++
      const name = `${last.name}-${count}`
      return [
        finding(
          `${devices.length} devices are called “${first.name}”.`,
          devices.map(({ id }) => id),
          [
            fixAs(
              `Call the last one “${name}”`,
              `Rename a “${last.name}” to “${name}”`,
              setEntity(last.id, 'name', name),
            ),
            joinFix(model, first.entity, last.entity),
          ],
        ),
      ]
    })
  },
)

const LABEL = /^[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?$/i

/** Why a text is no name of a host. */
function faultOf(name: string): string | undefined {
  if (name.length > 253) return `has ${name.length} characters; 253 is the most`
  const label = name.split('.').find((one) => !LABEL.test(one))
  if (label === undefined) return undefined
  if (label === '') return 'has a part without letters'
  if (label.length > 63) return `has a part of ${label.length} characters; 63 is the most`
  if (/^-|-$/.test(label)) return 'has a part that begins or ends with a hyphen'
  return `has “${/[^a-z0-9-]/i.exec(label)?.[0] ?? label}” in it`
}

/** The nearest text that is a name of a host. */
const tidied = (name: string): string =>
  name
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .split('.')
    .map((label) =>
      label
        .replace(/[^a-z0-9-]+/g, '-')
        .slice(0, 63)
        .replace(/^-+|-+$/g, ''),
    )
    .filter(Boolean)
    .join('.')
    .slice(0, 253)

export const badHostname = inEach(
  {
    id: 'net/bad-hostname',
    severity: 'warning',
    title: 'No name for a host',
    why: 'Names of hosts are letters, digits and hyphens, in parts of up to 63 between dots: others cannot be looked up everywhere.',
    source: 'RFC 1123, §2.1; RFC 952',
  },
  (net) =>
    net.devices.flatMap(({ id, name }): Found[] => {
      const fault = faultOf(name)
      if (fault === undefined) return []
      const instead = tidied(name)
      const isTaken = net.devices.some((one) => one.id !== id && one.name.toLowerCase() === instead)
      return [
        finding(
          `“${name.slice(0, 80)}” ${fault}.`,
          [id],
          instead === '' || isTaken
            ? []
            : [
                fixAs(
                  `Call it “${instead}”`,
                  `Rename “${name.slice(0, 80)}” to “${instead}”`,
                  setEntity(id as Id, 'name', instead),
                ),
              ],
        ),
      ]
    }),
)
