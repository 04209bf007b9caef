import Joi from 'joi'
import type { Table } from '../../core/notation'
import { addressOf, askedOf, tableOf } from './asked'
import { Unreachable } from './errors'

interface Page {
  readonly totalResults: number
  readonly Resources?: readonly object[]
}

const page = Joi.object<Page>({
  totalResults: Joi.number().integer().min(0).max(1_000_000).required(),
  Resources: Joi.array().items(Joi.object().unknown(true)).max(10_000),
}).unknown(true)

const PAGE = 100
const MOST_USERS = 50_000

/**
 * Everyone in the SCIM directory at `SKIVEL_DIRECTORY_URL`, or in the one that ships with the program, as a table.
 * @throws Unreachable when it does not answer, or not with SCIM users.
 */
export async function directoryUsers(): Promise<Table> {
  const base = addressOf('SKIVEL_DIRECTORY_URL', '/standins/directory/scim/v2')
  const users: object[] = []
  for (let start = 1, total = 1; start <= total && users.length < MOST_USERS;) {
    const { totalResults, Resources = [] } = await pageAt(base, start)
    users.push(...Resources)
    total = totalResults
    // A page without users would be asked for for ever.
    if (Resources.length === 0) break
    start += Resources.length
  }
  return tableOf(WHO, 'directory', { Resources: users })
}

const WHO = 'The directory'

async function pageAt(base: string, start: number): Promise<Page> {
  const answer = await askedOf(WHO, `${base}/Users?startIndex=${start}&count=${PAGE}`, 'application/scim+json')
  const { error, value } = page.validate(answer)
  if (error) throw new Unreachable(`What the directory answers is not understood: ${error.message}.`)
  return value
}
