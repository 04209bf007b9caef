import { crossRules } from '../findings'
import { makeRegistry } from '../notation'
import { organisation } from './organisation'

const notations = [organisation]

/** All that Skivel can state, draw and check. */
export const registry = makeRegistry(notations, crossRules(notations.flatMap((notation) => notation.relationKinds)))
