import Joi from 'joi'
import type { Table } from '../../core/notation'
import { addressOf, askedOf, tableOf } from './asked'
import { Unreachable } from './errors'

const MOST_SYSTEMS = 20_000

const tables = Joi.object({
  lldpSystems: Joi.array().items(Joi.object().unknown(true)).max(MOST_SYSTEMS).required(),
}).unknown(true)

/**
 * What the devices at `SKIVEL_NEIGHBOURS_URL`, or those of the stand-in that ships with the program, say of their neighbours, as a table of
 * cables. @throws Unreachable when they do not answer, or not with neighbour tables.
 */
export async function networkNeighbours(): Promise<Table> {
  const who = 'The network'
  const answer = await askedOf(who, addressOf('SKIVEL_NEIGHBOURS_URL', '/standins/neighbours/lldp'), 'application/json')
  const { error, value } = tables.validate(answer)
  if (error) throw new Unreachable(`What the network answers is not understood: ${error.message}.`)
  return tableOf(who, 'network', value)
}
