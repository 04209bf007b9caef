import { reading, type Reads, type Rule } from '../../../notation'
import { componentRules } from '../components/rules'
import { entityKinds, relationKinds } from '../kinds'
import {
  abstractInConcrete,
  generalizationCycle,
  isolated,
  leafSpecialised,
  missingOperation,
  packageCycle,
  schemaDrift,
} from './classes'
import {
  attributeShadows,
  compositeRing,
  compositeShared,
  duplicateName,
  multiplicity,
  overrideSignature,
  unknownType,
} from './members'

import { sequenceRules } from '../sequences/rules'
import { stateRules } from '../states/rules'
import { caseRules } from '../usecases/rules'

const kinds = [...entityKinds, ...relationKinds].map(({ id }) => id)
const everything: Reads = {
  facts: Object.fromEntries(kinds.map((id) => [id, true as const])),
  words: entityKinds.map(({ id }) => id),
}

export const rules: readonly Rule[] = [
  // What joins two of them depends on whatever names them.
  duplicateName,
  ...reading(
    everything,
    generalizationCycle,
    leafSpecialised,
    multiplicity,
    compositeRing,
    compositeShared,
    unknownType,
    missingOperation,
    abstractInConcrete,
    overrideSignature,
    attributeShadows,
    isolated,
    packageCycle,
    schemaDrift,
    ...stateRules,
    ...sequenceRules,
    ...caseRules,
    ...componentRules,
  ),
]
