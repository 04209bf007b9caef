import { starterFrom, type Starter } from '../../notation'
import { handling } from './handling'
import { outline } from './outline'

const starter = starterFrom(outline, handling.view, { network: '' })
const onTheMap = starterFrom(outline, (newId, title) => ({ ...handling.view(newId, title), picture: 'sites' }), {
  network: '',
})

export const starters: readonly Starter[] = [
  starter(
    'office',
    'Office network',
    'Two providers, a firewall, two switches, servers and access points',
    `Outside  (zone, trust none)
  provider-a  cloud service  198.51.100.1/30
    ge0 to fw-1 wan1  1G  leased line
  provider-b  cloud service  203.0.113.1/30
    ge0 to fw-2 wan1  500M  leased line
Border  (zone, trust low)
  Border  (subnet 10.40.0.0/28, gateway 10.40.0.1)
  fw-1  firewall  10.40.0.1/28
    port wan1  198.51.100.2/30
    lan1 to sw-1 p1  10G
    lan2 to sw-2 p1  10G
    allow tcp 443 from Outside to web-1  called: Web in
    allow any from Office to any  called: Office out
    allow tcp 5432 from Border to Servers  called: Web to records
    deny any from any to any
  fw-2  firewall  10.40.0.2/28
    lan1 to sw-1 p2  10G
    lan2 to sw-2 p2  10G
    allow any from Office to any  called: Office out
    deny any from any to any
  web-1  server  10.40.0.5/28
    eth0 to fw-1 dmz1  1G
    flow to files-1  tcp 5432  40 Mbit/s
Office  (zone, trust medium)
  Office  (subnet 10.40.1.0/24, vlan 10, gateway 10.40.1.1)
  sw-1  switch  10.40.1.2/24
    p24 to sw-2 p24  10G
  sw-2  switch  10.40.1.3/24
  ap-1  access point  10.40.1.11/24
    eth0 to sw-1 p5  1G
  ap-2  access point  10.40.1.12/24
    eth0 to sw-2 p5  1G
  desk-1  endpoint  10.40.1.101/24
    eth0 to sw-2 p6  1G
    flow to files-1  tcp 445  200 Mbit/s
Servers  (zone, trust high)
  Servers  (subnet 10.40.2.0/24, vlan 20, gateway 10.40.2.1)
  files-1  server  10.40.2.10/24  critical
    eth0 to sw-1 p10  10G
    eth1 to sw-2 p10  10G
  backup-1  storage  10.40.2.20/24
    eth0 to sw-2 p11  10G`,
    'lan firewall topology vlan subnet',
  ),
  onTheMap(
    'branches',
    'Branches on a map',
    'A head office and three branches, each joined by two ways, with their racks',
    `Head office net  (zone, trust high)
  Head office net  (subnet 10.60.0.0/24, vlan 10, gateway 10.60.0.1)
  rt-head-1  router  10.60.0.1/24  at Head office  in H1 u 24
    wan1 to rt-north-1 wan1  1G  leased line
    wan2 to rt-east-1 wan1  1G  leased line
    lan1 to sw-head-1 p1  10G
  rt-head-2  router  10.60.0.2/24  at Head office  in H1 u 23
    wan1 to rt-west-1 wan1  1G  leased line
    lan1 to sw-head-1 p2  10G
  sw-head-1  switch  10.60.0.3/24  at Head office  in H1 u 22
  orders-1  server  10.60.0.10/24  critical  at Head office  in H1 u 10
    eth0 to sw-head-1 p10  10G
Branches  (zone, trust medium)
  North  (subnet 10.60.1.0/24, vlan 11, gateway 10.60.1.1)
  West  (subnet 10.60.2.0/24, vlan 12, gateway 10.60.2.1)
  East  (subnet 10.60.3.0/24, vlan 13, gateway 10.60.3.1)
  rt-north-1  router  10.60.1.1/24  at North branch
    wan2 to rt-west-1 wan2  200M  leased line
    lan1 to sw-north-1 p1  1G
  sw-north-1  switch  10.60.1.2/24  at North branch
  desk-north  endpoint  10.60.1.101/24  at North branch
    eth0 to sw-north-1 p5  1G
    flow to orders-1  tcp 443  60 Mbit/s  needed
  rt-west-1  router  10.60.2.1/24  at West branch
    wan3 to rt-east-1 wan2  200M  leased line
    lan1 to sw-west-1 p1  1G
  sw-west-1  switch  10.60.2.2/24  at West branch
  desk-west  endpoint  10.60.2.101/24  at West branch
    eth0 to sw-west-1 p5  1G
    flow to orders-1  tcp 443  60 Mbit/s  needed
  rt-east-1  router  10.60.3.1/24  at East branch
    lan1 to sw-east-1 p1  1G
  sw-east-1  switch  10.60.3.2/24  at East branch
  desk-east  endpoint  10.60.3.101/24  at East branch
    eth0 to sw-east-1 p5  1G
    flow to orders-1  tcp 443  60 Mbit/s
H1  (rack, units 24, watts 3000)  at Head office
Head office  (site, north 53.8, east -1.6)
North branch  (site, north 55.9, east -3.4)
West branch  (site, north 51.6, east -3.2)
East branch  (site, north 52.6, east 1.2)`,
    'rack racks wan map locations sites cables',
  ),
  starter(
    'small-office',
    'Small office',
    'One provider, one firewall, a switch and what hangs on it',
    `Outside  (zone, trust none)
  provider  cloud service  198.51.100.1/30
    ge0 to gate-1 wan1  500M  leased line
Inside  (zone, trust medium)
  Inside  (subnet 10.20.0.0/24, vlan 10, gateway 10.20.0.1)
  gate-1  firewall  10.20.0.1/24
    port wan1  198.51.100.2/30
    lan1 to sw-1 p1  1G
    allow any from Inside to any  called: Office out
    deny any from any to any
  sw-1  switch  10.20.0.2/24
  ap-1  access point  10.20.0.11/24
    eth0 to sw-1 p2  1G
  printer-1  endpoint  10.20.0.50/24
    eth0 to sw-1 p3  1G
  files-1  server  10.20.0.10/24
    eth0 to sw-1 p4  1G`,
    'home lan wifi small network router printer internet',
  ),
]
