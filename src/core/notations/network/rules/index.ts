import { reading, type Reads, type Rule } from '../../../notation'
import { entityKinds, relationKinds } from '../kinds'
import {
  duplicateAddress,
  gateway,
  networkOrBroadcast,
  noSubnets,
  outsideSubnet,
  sharedAlone,
  subnetOverlap,
} from './addresses'
import {
  duplexMismatch,
  mediumMismatch,
  mtuMismatch,
  poeBudget,
  portShared,
  speedMismatch,
  tooLong,
  unconnected,
  vlanMismatch,
} from './cabling'
import { blocked, noRules, shadowedRule, tooOpen } from './firewalls'
import { badHostname, duplicateHostname, duplicateMac } from './names'
import { bypass, noCritical, noPath, overload, singlePoint } from './paths'
import { rackOverlap, rackPower } from './racks'
import { seenUnstated, statedUnseen } from './seen'
import { endOfSupport, hostRetired, unhostedSystem } from './systems'
import { unread } from './unread'

const own = (...kinds: readonly string[]): Reads => ({
  facts: Object.fromEntries(
    [...entityKinds, ...relationKinds, { id: 'site' }, { id: 'system' }]
      .filter(({ id }) => kinds.length === 0 || kinds.includes(id))
      .map(({ id }) => [id, true as const]),
  ),
  words: kinds.length === 0 ? [...entityKinds.map(({ id }) => id), 'site', 'system'] : kinds,
})

/** Who has which address, and what it belongs to. */
const addresses = own('network', 'zone', 'device', 'port', 'subnet')
/** The same where it matters what a port leads to. */
const led = own('network', 'zone', 'device', 'port', 'subnet', 'cable')
const cables = own('network', 'zone', 'device', 'port', 'cable', 'site', 'rack')
const seen = own('network', 'device', 'port', 'cable', 'neighbours')
const flows = own('network', 'zone', 'device', 'port', 'cable', 'traffic', 'site', 'rack')
const filters = own('network', 'zone', 'device', 'port', 'subnet', 'cable', 'traffic', 'filter')

export const rules: readonly Rule[] = [
  // What joins two of them depends on whatever names them.
  duplicateHostname,
  ...reading(addresses, sharedAlone, networkOrBroadcast, subnetOverlap, gateway, duplicateMac, badHostname),
  ...reading(
    cables,
    portShared,
    speedMismatch,
    duplexMismatch,
    mtuMismatch,
    vlanMismatch,
    mediumMismatch,
    tooLong,
    poeBudget,
    singlePoint,
    noCritical,
    bypass,
    unconnected,
  ),
  ...reading(led, outsideSubnet, duplicateAddress, noSubnets),
  ...reading(flows, noPath, overload),
  ...reading(seen, seenUnstated, statedUnseen),
  ...reading(filters, unread, blocked, noRules, shadowedRule, tooOpen),
  ...reading(own(), rackOverlap, rackPower, endOfSupport, hostRetired, unhostedSystem),
]
