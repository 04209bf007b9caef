import Joi from 'joi'
import type { Table } from '../../core/notation'
import { registry } from '../../core/notations'
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
const PATIENCE_MS = 10_000

/**
 * Everyone in the SCIM directory at `SKIVEL_DIRECTORY_URL`, or in the one that ships with the program, as a table.
 * @throws Unreachable when it does not answer, or not with SCIM users.
 */
export async function directoryUsers(): Promise<Table> {
  const base = process.env['SKIVEL_DIRECTORY_URL'] ?? `${process.env['SKIVEL_SELF'] ?? ''}/standins/directory/scim/v2`
  const users: object[] = []
  for (let start = 1, total = 1; start <= total && users.length < MOST_USERS;) {
    const { totalResults, Resources = [] } = await pageAt(base, start)
    users.push(...Resources)
    total = totalResults
    // A page without users would be asked for for ever.
    if (Resources.length === 0) break
    start += Resources.length
  }
  const reader = registry.notations
    .flatMap(({ imports }) => imports.flatMap(({ readers }) => readers))
    .find(({ ofDirectory }) => ofDirectory)
  const table = reader?.read(JSON.stringify({ Resources: users })) ?? {
    refused: 'Nothing here reads what a directory answers.',
  }
  if ('refused' in table) throw new Unreachable(`The directory’s answer is not understood: ${table.refused}`)
  return table
}

async function pageAt(base: string, start: number): Promise<Page> {
  const address = `${base.replace(/\/$/, '')}/Users?startIndex=${start}&count=${PAGE}`
  let answer: unknown
  try {
    const response = await fetch(address, {
      headers: { accept: 'application/scim+json' },
      signal: AbortSignal.timeout(PATIENCE_MS),
    })
    if (!response.ok) throw new Unreachable(`The directory answered ${response.status}.`)
    answer = await response.json()
  } catch (error) {
    if (error instanceof Unreachable) throw error
    throw new Unreachable(`The directory does not answer: ${error instanceof Error ? error.message : String(error)}`)
  }
  const { error, value } = page.validate(answer)
  if (error) throw new Unreachable(`The directory’s answer is not understood: ${error.message}.`)
  return value
}
