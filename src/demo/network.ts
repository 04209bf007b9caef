import { apply, asDay, asId, Model, type Entity, type Relation, type View } from '../core/model'
import { entityKinds } from '../core/notations/network/kinds'
import { outline } from '../core/notations/network/outline'
import { calledByName } from './named'

/** The port network of Marram Sound Ferries, as its outline: one line a fact. Addresses are those kept for documentation, and private ones. */
const NETWORK = `
Outside  (zone, trust none)
  isp-north  cloud service  198.51.100.1/30  mtbf: 8000  mttr: 3
    ge0 to fw-quay-1 wan1  1G  leased line  mtbf: 12000  mttr: 8
  isp-mobile  cloud service  203.0.113.9/30  mtbf: 4000  mttr: 6
    lte0 to fw-quay-2 wan1  200M  radio
  card-gate  cloud service  192.0.2.40/32
    ge0 to isp-north ge1  1G
    ge1 to isp-mobile ge1  100M
Edge  (zone, trust low)
  Edge  (subnet 10.20.0.0/24, vlan 10, gateway 10.20.0.1)
  Shop front  (subnet 10.20.4.0/24, vlan 14, gateway 10.20.4.1, reserved 10.20.4.200-10.20.4.254)
  Shop front, six  (subnet 2001:db8:20:4::/64, vlan 14, gateway 2001:db8:20:4::1)
  fw-quay-1  firewall  10.20.0.1/24, 10.20.8.1/25  critical  at Marram Quay  mtbf: 90000  mttr: 4
    port wan1  198.51.100.2/30  1G
    lan1 to sw-edge-1 p1  10G
    lan2 to sw-edge-2 p1  10G
    lan3 to sw-tick-1 p1  10G  single-mode fibre  2400 m
    lan4 to sw-tick-2 p1  10G  single-mode fibre  2400 m
    allow tcp 443 from Outside to Shop front  called: Shop, from anywhere
    allow tcp 443 from Outside to 10.20.4.0/25  called: Old shop address
    allow tcp 8443 from Shop front to Ticketing  called: Shop to ticketing
    allow tcp 8443 from Quays to Ticketing  called: Quays to ticketing
    allow tcp 443 from Ticketing to card-gate  called: Card payments
    allow tcp 5432 from 10.20.16.0/24 to Ledger  called: Desks to the ledger
    allow tcp 587 from Ticketing to mail-1  called: Notices by mail
    allow udp 53 from Ticketing to proxy-1  called: Names
    allow tcp 443 from Ticketing to proxy-1  called: Updates
    deny any from any to any  called: Nothing else
  fw-quay-2  firewall  10.20.0.2/24, 10.20.8.2/25  critical  at Marram Quay  mtbf: 90000  mttr: 4
    port wan1  203.0.113.10/30  200M
    lan1 to sw-edge-1 p2  10G
    lan2 to sw-edge-2 p2  10G
    lan3 to sw-tick-1 p2  10G  single-mode fibre  2600 m
    lan4 to sw-tick-2 p2  10G  single-mode fibre  2600 m
    allow tcp 443 from Outside to Shop front  called: Shop, from anywhere
    allow tcp 8443 from Shop front to Ticketing  called: Shop to ticketing
    allow tcp 8443 from Quays to Ticketing  called: Quays to ticketing
    allow tcp 443 from Ticketing to card-gate  called: Card payments
    allow tcp 5432 from 10.20.16.0/24 to Ledger  called: Desks to the ledger
    allow tcp 587 from Ticketing to mail-1  called: Notices by mail
    allow udp 53 from Ticketing to proxy-1  called: Names
    allow tcp 443 from Ticketing to proxy-1  called: Updates
    allow icmp from Quays to any  called: Reachability
    deny any from any to any  called: Nothing else
  sw-edge-1  switch  10.20.0.3/24  critical  at Marram Quay  mtbf: 180000  mttr: 4
    p24 to sw-edge-2 p24  10G
  sw-edge-2  switch  10.20.0.4/24  critical  at Marram Quay  mtbf: 180000  mttr: 4
  web-1  server  10.20.4.11/24, 2001:db8:20:4::11/64  at Marram Quay  mtbf: 60000  mttr: 6
    eth0 to sw-edge-1 p11  10G
    eth1 to sw-edge-2 p11  10G
    flow to tick-app-1  tcp 8443  180 Mbit/s  needed  with answers
    flow to tick-app-2  tcp 8443  180 Mbit/s  with answers
  web-2  server  10.20.4.12/24, 2001:db8:20:4::12/64  at Marram Quay  mtbf: 60000  mttr: 6
    eth0 to sw-edge-1 p12  10G
    eth1 to sw-edge-2 p12  10G
    flow to tick-app-2  tcp 8443  180 Mbit/s  needed  with answers
  proxy-1  server  10.20.4.20/24  at Marram Quay
    eth0 to sw-edge-2 p13  1G
  mail-1  server  10.20.4.25/24  at Marram Quay
    eth0 to sw-edge-1 p13  1G
Public  (zone, trust low)
  Passenger wireless  (subnet 10.20.32.0/22, vlan 42, gateway 10.20.32.1, reserved 10.20.32.2-10.20.32.9)
  ap-hall-1  access point  10.20.32.11/22  at Gull Bay hall
    eth0 to sw-hall p1  1G  copper  45 m  category: 6A
  ap-hall-2  access point  10.20.32.12/22  at Gull Bay hall
    eth0 to sw-hall p2  1G  copper  70 m  category: 6A
  kiosk-1  endpoint  10.20.32.21/22  at Gull Bay hall
    eth0 to sw-hall p3  1G
    flow to web-1  tcp 443  5 Mbit/s
  sw-hall  switch  10.20.32.10/22  at Gull Bay hall
    up1 to sw-edge-2 p20  1G
Quays  (zone, trust medium)
  Marram Quay  (subnet 10.20.16.0/24, vlan 26, gateway 10.20.16.1, reserved 10.20.16.2-10.20.16.9)
  Skerry Point  (subnet 10.20.17.0/24, vlan 27, gateway 10.20.17.1)
  Tern Island  (subnet 10.20.18.0/25, gateway 10.20.18.1)
  Holm Ferry  (subnet 10.20.18.128/25, gateway 10.20.18.129)
  Radio  (subnet 10.20.255.0/31)
  rt-marram  router  10.20.16.1/24  critical  at Marram Quay  mtbf: 120000  mttr: 5
    wan1 to sw-edge-1 p3  10G
    wan2 to sw-edge-2 p3  10G
    lan1 to sw-marram-1 p1  10G
    lan2 to sw-marram-1 p2  10G
  sw-marram-1  switch  10.20.16.10/24  at Marram Quay  poe budget: 370
    port p11  1G  gives poe: at
    port p12  1G  gives poe: at
    port p14  1G  gives poe: af
  berth-1  server  10.20.16.31/24  at Marram Quay  mtbf: 60000  mttr: 6
    eth0 to rt-marram p7  1G
    eth1 to rt-marram p8  1G
    hosts Berth planner
  gate-marram-1  endpoint  10.20.16.41/24  at Marram Quay
    port eth0  draws poe: 14
    eth0 to sw-marram-1 p11  1G  copper  85 m  category: 6
    flow to tick-app-1  tcp 8443  2 Mbit/s  needed
  gate-marram-2  endpoint  10.20.16.42/24  at Marram Quay
    port eth0  draws poe: 14
    eth0 to sw-marram-1 p12  1G  copper  92 m  category: 6
    flow to tick-app-2  tcp 8443  2 Mbit/s  needed
  cam-marram-1  endpoint  10.20.16.61/24  at Marram Quay
    port eth0  draws poe: 9
    eth0 to sw-marram-1 p14  1G  copper  60 m  category: 6
    flow to berth-1  tcp 554  12 Mbit/s
  desk-marram-1  endpoint  10.20.16.51/24  at Marram Quay
    eth0 to sw-marram-1 p21  1G
    flow to tick-app-1  tcp 8443  4 Mbit/s  needed  with answers
    flow to ledger-1  tcp 5432  1 Mbit/s
  desk-marram-2  endpoint  10.20.16.52/24  at Marram Quay
    eth0 to sw-marram-1 p22  1G
    flow to tick-app-1  tcp 8443  4 Mbit/s  with answers
    flow to berth-1  tcp 443  2 Mbit/s
  radio-marram  radio  10.20.255.0/31  at Marram Quay  mtbf: 30000  mttr: 12
    air0 to radio-tern air0  300M  radio  9400 m
    eth0 to rt-marram lan3  1G
  rt-skerry  router  10.20.17.1/24  at Skerry Point  mtbf: 80000  mttr: 9
    up1 to sw-edge-1 p4  1G  leased line  mtbf: 15000  mttr: 10
    up2 to sw-edge-2 p4  1G  leased line  mtbf: 15000  mttr: 10
  gate-skerry-1  endpoint  10.20.17.41/24  critical  at Skerry Point
    eth0 to rt-skerry lan1  1G
    eth1 to rt-skerry lan2  1G
    flow to tick-app-1  tcp 8443  2 Mbit/s  needed
  desk-skerry-1  endpoint  10.20.17.51/24  at Skerry Point
    eth0 to rt-skerry lan3  1G
    flow to tick-app-2  tcp 8443  4 Mbit/s  needed  with answers
    flow to ledger-1  tcp 8443  1 Mbit/s
  ap-skerry-1  access point  10.20.17.61/24  at Skerry Point
    eth0 to rt-skerry lan4  1G
  radio-tern  radio  10.20.255.1/31  at Tern Island  mtbf: 30000  mttr: 24
    eth0 to rt-tern wan1  1G
  rt-tern  router  10.20.18.1/25  at Tern Island
    lan1 to desk-tern-1 eth0  1G
  desk-tern-1  endpoint  10.20.18.51/25  at Tern Island
    flow to tick-app-1  tcp 8443  3 Mbit/s  with answers
  rt-holm  router  10.20.18.129/25  at Holm Ferry
    wan1 to sw-edge-2 p5  100M  leased line
    lan1 to desk-holm-1 eth0  1G
  desk-holm-1  endpoint  10.20.18.151/25  at Holm Ferry
    flow to tick-app-2  tcp 8443  3 Mbit/s  with answers
Ticketing  (zone, trust high)
  Ticketing  (subnet 10.20.8.0/25, vlan 18, gateway 10.20.8.1, reserved 10.20.8.100-10.20.8.126)
  Ledger  (subnet 10.20.8.128/26, vlan 19, gateway 10.20.8.129)
  Ticketing, six  (subnet 2001:db8:20:8::/64, vlan 18, gateway 2001:db8:20:8::1)
  sw-tick-1  switch  10.20.8.3/25  critical  in A1 u 22  mtbf: 180000  mttr: 6  power: 120
    p24 to sw-tick-2 p24  40G
  sw-tick-2  switch  10.20.8.4/25  critical  in A2 u 22  mtbf: 180000  mttr: 6  power: 120
  tick-app-1  server  10.20.8.21/25, 2001:db8:20:8::21/64  critical  in A1 u 10  mtbf: 60000  mttr: 6  units: 2  power: 450  until 2027-09-30
    eth0 to sw-tick-1 p3  10G
    eth1 to sw-tick-2 p3  10G
    hosts Booking service
    flow to tick-db-1  tcp 1521  400 Mbit/s  needed  with answers
    flow to card-gate  tcp 443  10 Mbit/s  needed
    flow to notice-1  tcp 8443  5 Mbit/s  until 2026-09-30
    flow to notice-2  tcp 8443  5 Mbit/s
  tick-app-2  server  10.20.8.22/25, 2001:db8:20:8::22/64  critical  in A2 u 10  mtbf: 60000  mttr: 6  units: 2  power: 450  until 2027-09-30
    eth0 to sw-tick-1 p4  10G
    eth1 to sw-tick-2 p4  10G
    hosts Booking service
    flow to tick-db-1  tcp 1521  400 Mbit/s  needed  with answers
  tick-db-1  storage  10.20.8.31/25  critical  in A1 u 4  mtbf: 100000  mttr: 8  units: 4  power: 900
    eth0 to sw-tick-1 p5  10G
    eth1 to sw-tick-2 p5  10G
    flow to backup-1  tcp 9000  2000 Mbit/s
  ledger-1  server  10.20.8.140/26  critical  in A2 u 14  mtbf: 60000  mttr: 6  power: 300
    eth0 to sw-tick-1 p6  1G
    eth1 to sw-tick-2 p6  1G
    hosts Ledger
  notice-1  server  10.20.8.24/25  in A1 u 14  power: 280  since 2021-06-01  until 2026-09-30
    eth0 to sw-tick-1 p7  1G
    hosts Notice sender
    flow to mail-1  tcp 587  3 Mbit/s
  notice-2  server  10.20.8.25/25  in A2 u 16  power: 280
    eth0 to sw-tick-2 p7  1G
    flow to mail-1  tcp 587  3 Mbit/s
  backup-1  storage  10.20.8.40/25  in A2 u 2  units: 4  power: 700
    eth0 to sw-tick-2 p8  10G
  tick-new-1  server  10.20.8.26/25  critical  in A1 u 16  units: 2  power: 380  since 2027-01-15
    eth0 to sw-tick-1 p9  10G
    eth1 to sw-tick-2 p9  10G
    hosts New ticketing
    flow to tick-new-2  tcp 5432  300 Mbit/s  needed  with answers
  tick-new-2  storage  10.20.8.31/25  critical  in A2 u 18  units: 2  power: 420  since 2027-01-15
    eth0 to sw-tick-1 p10  10G
    eth1 to sw-tick-2 p10  10G
A1  (rack, units 24, watts 3000)  at Northfield hall
A2  (rack, units 24, watts 3000)  at Northfield hall
Marram Quay  (site, north 57.58, east -7.16)
Skerry Point  (site, north 57.42, east -6.52)
Tern Island  (site, north 57.86, east -6.9)
Holm Ferry  (site, north 57.1, east -7.3)
Gull Bay hall  (site, north 57.6, east -6.3)
Northfield hall  (site, north 57.15, east -5.1)
`

const VIEW: View = {
  id: asId('port-network'),
  notation: 'network',
  picture: 'zones',
  title: 'Port network',
  order: 11,
  scope: { network: 'network-port' },
  options: {},
  pins: {},
  look: {},
}

/** Ports are named by their devices: they keep their numbers. */
const NAMED = [...entityKinds.map(({ id }) => id).filter((kind) => kind !== 'port'), 'site', 'system']

/** The day that the outline is read on: what begins later is stated as well. */
const DAY = asDay('2026-01-01')

/** The network, and the system that is to come. Other systems are those of the processes. */
export function networkFacts(systems: readonly Entity[]): { entities: Entity[]; relations: Relation[] } {
  const port: Entity = { id: asId('network-port'), kind: 'network', name: 'Port network', fields: {} }
  const coming: Entity = {
    id: asId('sys-ticketing'),
    kind: 'system',
    name: 'New ticketing',
    fields: { owner: 'po' },
    from: asDay('2027-03-01'),
  }
  const begun = Model.of({ entities: [...systems, port, coming], views: [VIEW] })
  let count = 0
  const newId = () => asId(`net-${++count}`)
  const outcome = outline.paste({ model: begun, view: VIEW, day: DAY, selection: [], newId }, undefined, NETWORK)
  if ('refused' in outcome) throw new RangeError(`the demo’s network: ${outcome.refused}`)
  const model = calledByName(apply(begun, outcome.change).model, /^net-\d+$/, NAMED)
  const known = new Set(systems.map(({ id }) => id))
  return {
    entities: [...model.entities.values()].filter(({ id }) => !known.has(id)),
    relations: [...model.relations.values()],
  }
}

export const networkViews: readonly View[] = [
  VIEW,
  { ...VIEW, id: asId('port-addresses'), picture: 'addresses', title: 'Addresses', order: 12 },
  { ...VIEW, id: asId('port-sites'), picture: 'sites', title: 'Ports on the map', order: 13 },
  { ...VIEW, id: asId('port-racks'), picture: 'racks', title: 'Racks at Northfield hall', order: 14 },
]
