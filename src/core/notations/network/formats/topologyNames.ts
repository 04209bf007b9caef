/**
 * A network topology by the data models of RFC 8345, written as JSON by RFC 7951: layer 2 with its augmentations of RFC 8944, above it layer
 * 3 with those of RFC 8346. What these have no place for stands in members of our own module.
 */
export const NETWORKS = 'ietf-network:networks'
export const LINK = 'ietf-network-topology:link'
export const POINT = 'ietf-network-topology:termination-point'
export const SUPPORTING = 'ietf-network-topology:supporting-termination-point'
export const L2 = 'ietf-l2-topology'
export const L3 = 'ietf-l3-unicast-topology'
export const OWN = 'skivel-network:facts'
