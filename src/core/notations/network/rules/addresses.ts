import { freeId, grouped, type Entity } from '../../../model'
import { addEntity, fixAs, listOf, removeEntity, setField, type Fix, type Found } from '../../../notation'
import { addressText, BITS, holds, hostsOf, prefixText, readInterface, scopeOf } from '../addresses'
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
  const scope = scopeOf(first.address)
  if (scope === 'link') {
    const ports = new Set(every.map(({ port }) => port))
    return every.filter(({ port }) => port?.cables.some((cable) => ports.has(acrossFrom(cable, port))))
  }
  // Who owns the address that others share may state it as its own, too.
  const sharers = new Set(every.filter(({ shared }) => shared).map(({ device }) => device))
  return scope === 'global' && every.some(({ device }) => !sharers.has(device)) ? every : []
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
  scopeOf(address) === 'global' &&
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
      // Its number comes first: what is cut off behind it tells none of them apart.
      const id = freeId(model.entities, `subnet-${at + 1}-${net.id ?? ''}`.slice(0, 56))
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
        if (scopeOf(stated.address) !== 'global') return []
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
      if (address?.family === 6 && prefix.family === 6 && scopeOf(address) === 'link') return []
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
