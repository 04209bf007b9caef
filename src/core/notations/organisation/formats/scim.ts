import { parseJson, type Day, type Model, type View } from '../../../model'
import type { FileExport, Refusal, Table, TableReader } from '../../../notation'
import { heldPosts, structureOn, unitName } from '../structure'

export const ENTERPRISE = 'urn:ietf:params:scim:schemas:extension:enterprise:2.0:User'
const USER = 'urn:ietf:params:scim:schemas:core:2.0:User'
const LIST = 'urn:ietf:params:scim:api:messages:2.0:ListResponse'

/** Users of System for Cross-domain Identity Management, as a list response, as an array or one alone (RFC 7643, RFC 7644). */
export const scimUsers: TableReader = {
  id: 'scim',
  title: 'SCIM users',
  extensions: ['.json', '.scim'],
  asked: 'directory',
  read: (text) => {
    let json: unknown
    try {
      json = parseJson(text)
    } catch (error) {
      return { refused: `This is not JSON: ${error instanceof Error ? error.message : String(error)}` }
    }
    return readUsers(json)
  },
}

const HEADING = ['Id', 'Name', 'Title', 'Manager id', 'Unit', 'Email', 'Active']

type Raw = Readonly<Record<string, unknown>>
const record = (value: unknown): Raw | undefined =>
  typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as Raw) : undefined
const text = (value: unknown): string => (typeof value === 'string' ? value.trim() : '')

/** O(users). @returns a refusal that names the first user at fault. */
function readUsers(json: unknown): Table | Refusal {
  const list = Array.isArray(json)
    ? (json as unknown[])
    : (record(json)?.['Resources'] ?? (record(json)?.['userName'] ? [json] : undefined))
  if (!Array.isArray(list)) return { refused: 'There are no SCIM users here: neither “Resources” nor “userName”.' }
  if (list.length === 0) return { refused: 'This list of SCIM users is empty.' }
  const rows: string[][] = []
  for (const [index, raw] of list.entries()) {
    const user = record(raw)
    const id = text(user?.['id']) || text(user?.['externalId']) || text(user?.['userName'])
    if (!user || id === '') return { refused: `Resources[${index}] has neither “id” nor “userName”.` }
    const name = record(user['name'])
    const own = record(user[ENTERPRISE])
    const written = [text(name?.['givenName']), text(name?.['familyName'])].filter(Boolean).join(' ')
    rows.push([
      id,
      text(user['displayName']) || text(name?.['formatted']) || written || text(user['userName']),
      text(user['title']),
      text(record(own?.['manager'])?.['value']),
      text(own?.['department']) || text(own?.['division']),
      emailOf(user['emails']),
      user['active'] === false ? 'no' : 'yes',
    ])
  }
  return { heading: HEADING, rows }
}

function emailOf(emails: unknown): string {
  const list = Array.isArray(emails) ? (emails as unknown[]).flatMap((one): Raw[] => [record(one) ?? {}]) : []
  return text((list.find((one) => one['primary'] === true) ?? list[0])?.['value'])
}

/** Every holder of a position as a SCIM user with the enterprise extension; the manager is the nearest position above that somebody holds. O(positions). */
export const scimExport = {
  id: 'scim',
  title: 'SCIM users',
  extension: '.json',
  mediaType: 'application/scim+json',
  write: writeUsers,
} satisfies FileExport

function writeUsers(model: Model, _view: View, day: Day): string {
  const structure = structureOn(model, day)
  const named = new Set<string>()
  const users = heldPosts(structure).map(({ id, post, person: { name, fields }, above }) => {
    const department = unitName(model, post.position)
    const email = text(fields['email'])
    const words = name.trim().split(/\s+/)
    // Unique among users (RFC 7643, 4.1.1): somebody with two posts is there twice.
    const userName = email !== '' && !named.has(email.toLowerCase()) ? email : id
    named.add(userName.toLowerCase())
    return {
      schemas: [USER, ENTERPRISE],
      id,
      userName,
      displayName: name,
      name: { formatted: name, familyName: words.at(-1), givenName: words.slice(0, -1).join(' ') },
      title: post.position.name,
      active: true,
      ...(email ? { emails: [{ value: email, primary: true }] } : {}),
      [ENTERPRISE]: { ...(department ? { department } : {}), ...(above ? { manager: { value: above } } : {}) },
    }
  })
  const list = {
    schemas: [LIST],
    totalResults: users.length,
    startIndex: 1,
    itemsPerPage: users.length,
    Resources: users,
  }
  return `${JSON.stringify(list, null, 1)}\n`
}
