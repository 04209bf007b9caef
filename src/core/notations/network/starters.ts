import { starterFrom, type Starter } from '../../notation'
import { handling } from './handling'
import { outline } from './outline'

const starter = starterFrom(outline, handling.view, { network: '' })

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
  ),
]
